"""What a sheet has a place for."""

from rogatum.core.formats.shared.base import Carries

CARRIES = Carries(
    types=frozenset({"multiple_choice", "multiple_response", "true_false", "fill_in", "numeric", "essay", "information"}),
    points=True,
    feedback=frozenset({"general", "correct", "incorrect", "choice"}),
    formulas=True,
    metadata=True,
    titles=True,
    all_or_nothing=True,
    exact_bounds=True,
    sample_answer=True,
)

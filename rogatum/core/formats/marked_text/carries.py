"""What marked text has a place for."""

from rogatum.core.formats.shared.base import Carries
from rogatum.core.formats.shared.document_writing import HELD

CARRIES = Carries(
    types=HELD,
    points=True,
    feedback=frozenset({"general", "correct", "incorrect"}),
    formulas=True,
    metadata=True,
    titles=True,
    pools=True,
    stimuli=True,
    all_or_nothing=True,
    sample_answer=True,
)

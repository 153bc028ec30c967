"""What a page of paper shows."""

from rogatum.core.formats.shared.base import Carries
from rogatum.core.formats.shared.document_writing import HELD, PRINTED

# A person marks what is on paper, with the key beside it.
_MARKED_BY_A_PERSON = (
    "part-marks",
    "below-zero",
    "each-choice",
    "all-or-nothing",
    "no-lowest",
    "pattern",
    "word-list",
    "contains",
    "case",
    "exact-bounds",
    "all-parts",
    "each-part",
    "shares",
    "alt",
    # What stands on paper stands in one order.
    "order-set",
)
CARRIES = Carries(
    types=HELD,
    printed=PRINTED | {"parts", "pages"},
    points=True,
    formatting=True,
    formulas=True,
    media=True,
    pools=True,
    stimuli=True,
    choice_blanks=True,
    sample_answer=True,
    otherwise=dict.fromkeys(_MARKED_BY_A_PERSON, {}),
)

"""What a page of paper shows."""

from rogatum.core.formats.shared.base import Carries
from rogatum.core.formats.shared.document_writing import HELD

CARRIES = Carries(
    types=HELD,
    points=True,
    formatting=True,
    formulas=True,
    media=True,
    pools=True,
    stimuli=True,
    choice_blanks=True,
    sample_answer=True,
)

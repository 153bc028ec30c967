"""What documents that people read have a place for."""

from dataclasses import replace

from rogatum.core.formats.shared.base import Carries
from rogatum.core.formats.shared.document_writing import HELD

_CARRIES = Carries(
    types=HELD,
    points=True,
    feedback=frozenset({"general", "correct", "incorrect"}),
    formatting=True,
    formulas=True,
    media=True,
    metadata=True,
    titles=True,
    pools=True,
    stimuli=True,
    all_or_nothing=True,
    sample_answer=True,
)

# By the kind of document: only some keep the text that stands for a picture, and a Markdown file has no room for pictures.
CARRIES = {
    "docx": replace(_CARRIES, alt_texts=True),
    "odt": _CARRIES,
    "rtf": _CARRIES,
    "html": replace(_CARRIES, alt_texts=True),
    "markdown": replace(_CARRIES, media=False),
}

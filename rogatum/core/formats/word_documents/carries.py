"""What documents that people read have a place for."""

from dataclasses import replace

from rogatum.core.formats.shared import document_writing

_CARRIES = replace(document_writing.CARRIES, formatting=True, media=True)

# Where a picture comes back as another one.
_DRAWN_ANEW = {**_CARRIES.otherwise, "media": {"media": "changed"}, "alt": {}}

# By the kind of document: only some keep the text that stands for a picture, and a Markdown file has no room for pictures.
CARRIES = {
    "docx": replace(_CARRIES, alt_texts=True),
    "odt": _CARRIES,
    "rtf": replace(_CARRIES, otherwise=_DRAWN_ANEW),
    "html": replace(_CARRIES, alt_texts=True),
    "markdown": replace(_CARRIES, media=False, otherwise=_DRAWN_ANEW),
}

"""Of content: pictures, formulas, letters, markup."""

from __future__ import annotations

from rogatum.core.findings.catalogue import finding_kind

MEDIA_MISSING = finding_kind(
    "media-missing",
    "error",
    "The picture or file {name} is named but not in the source.",
    "Add it by hand, or export the source again with its pictures.",
    settled_by="media",
)
PICTURE_DAMAGED = finding_kind(
    "picture-damaged",
    "warning",
    "The picture {name} is damaged: it cannot be shown whole.",
    "Replace it, or export the source again with its pictures.",
)
MEDIA_UNUSED = finding_kind(
    "media-unused",
    "note",
    "The picture or file {name} is in the source, and no item uses it.",
    "Look whether an item lost its picture.",
)
FORMULA_BROKEN = finding_kind(
    "formula-broken",
    "warning",
    "The formula {tex} cannot be set.",
    "Correct the formula.",
)
ENCODING_GUESSED = finding_kind(
    "encoding-guessed",
    "note",
    "The text is not UTF-8; it was read as {encoding}.",
    "Look at accented letters and signs.",
)
ENCODING_DAMAGE = finding_kind(
    "encoding-damage",
    "warning",
    "Letters are damaged: “{text}”.",
    "Correct them, or export the source again as UTF-8.",
    "mend-encoding",
    by="item check",
)
CONTENT_REMOVED = finding_kind(
    "content-removed",
    "note",
    "{what} was removed from the content.",
    "Nothing to do: an item needs none.",
)
CHARACTERS_REMOVED = finding_kind(
    "characters-removed",
    "note",
    "Control characters, which no format can hold, were removed.",
    "Look whether letters are missing there.",
)
MARKUP_DROPPED = finding_kind(
    "markup-dropped",
    "note",
    "Formatting that is not kept: {tags}.",
    "Look whether it mattered.",
)

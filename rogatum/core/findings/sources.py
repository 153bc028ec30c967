"""Of a source: its files, what they name, what was not read."""

from __future__ import annotations

from rogatum.core.findings.catalogue import finding_kind

BROKEN_XML = finding_kind(
    "broken-xml",
    "error",
    "The XML breaks off: {detail}",
    "What stands before the break was read; export the source again to get the rest.",
)
ENTITIES_REPLACED = finding_kind(
    "entities-replaced",
    "note",
    "The XML uses names of characters that it does not declare ({names}); they were put in.",
    "Nothing to do.",
)
ENTITIES_REMOVED = finding_kind(
    "entities-removed",
    "warning",
    "The XML declares entities of its own; they were not expanded.",
    "Look whether text is missing; export the source without a document type.",
)
MANIFEST_DIFFERS = finding_kind(
    "manifest-differs",
    "warning",
    "The manifest names {name}, and the package has no such file.",
    "Export the package again if questions are missing.",
)
REFERENCE_MISSING = finding_kind(
    "reference-missing",
    "warning",
    "A test names {name}, and the source has nothing of that name.",
    "Export the source again with all of its questions.",
)
DRAW_WIDER = finding_kind(
    "draw-wider",
    "warning",
    "The draw “{title}” is of {count} items that share no pool of their own; it draws from {pool}, which holds {held}.",
    "Put its items into a pool of their own, and draw from that.",
)
CHANGE_SET_ASIDE = finding_kind(
    "change-set-aside",
    "warning",
    "“{stem}” was changed by hand, and reads differently now: the change no longer stands.",
    "Look whether it still matters, and change the item again.",
)
FILE_UNREAD = finding_kind(
    "file-unread",
    "warning",
    "{name} was not read: {detail}",
    "Read it on its own, or leave it out.",
)
LEFT_OUT = finding_kind(
    "left-out",
    "warning",
    "{detail}",
    "Compare with the source.",
)

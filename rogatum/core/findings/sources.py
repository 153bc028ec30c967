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
ENTITIES_UNKNOWN = finding_kind(
    "entities-unknown",
    "error",
    "The XML uses names ({names}) for text that stands elsewhere; that is not fetched, and the names stand in its place.",
    "Type in what is missing there, or export the source without a document type.",
)
MANIFEST_DIFFERS = finding_kind(
    "manifest-differs",
    "warning",
    "The manifest names {name}, and the package has no such file.",
    "Export the package again if questions are missing.",
)
QUESTIONS_MISSING = finding_kind(
    "questions-missing",
    "error",
    "The package names {count} that it does not hold: {names}.",
    "Export the package again with all of its questions.",
)
REFERENCE_MISSING = finding_kind(
    "reference-missing",
    "error",
    "A test names {count} that the source does not hold: {names}.",
    "Export the source again with all of its questions.",
)
DRAW_WIDER = finding_kind(
    "draw-wider",
    "warning",
    "The draw “{title}” is of {count} items that share no pool of their own; it draws from {pool}, which holds {held}.",
    "Put its items into a pool of their own, and draw from that.",
)
DRAW_SHORT = finding_kind(
    "draw-short",
    "warning",
    "The draw “{title}” takes {pick} of a pool of which {held} {are} in this export.",
    "Hand on the quiz together with the pools that it draws from.",
)
CHANGE_SET_ASIDE = finding_kind(
    "change-set-aside",
    "warning",
    "“{stem}” was changed by hand, and reads differently now: the change no longer stands.",
    "Look whether it still matters, and change the item again.",
)
TAKEN_BEFORE = finding_kind(
    "taken-before",
    "warning",
    "“{stem}” was taken, and reads differently now: in its pool it is as it was.",
    "Take it anew, or leave it out here.",
)
LEFT_OUT_BEFORE = finding_kind(
    "left-out-before",
    "warning",
    "“{stem}” was left out, and reads differently now: it is in again.",
    "Leave it out again, or take it.",
)
FILE_UNREAD = finding_kind(
    "file-unread",
    "warning",
    "{name} was not read: {detail}",
    "Read it on its own, or leave it out.",
)
QUESTIONS_UNREAD = finding_kind(
    "questions-unread",
    "error",
    "{name} was not read, and its questions are missing here: {detail}",
    "Mend the file or export it again, and read the whole once more.",
)
LEFT_OUT = finding_kind(
    "left-out",
    "warning",
    "{detail}",
    "Compare with the source.",
)

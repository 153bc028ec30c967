"""Of the count and the numbers of items."""

from __future__ import annotations

from rogatum.core.findings.catalogue import finding_kind

COUNT_DIFFERS = finding_kind(
    "count-differs",
    "error",
    "{expected} items were expected and {found} were found.",
    "Look where two questions ran together or one came apart; the numbering findings say where.",
    by="bank check",
)
COUNT_RAN_TOGETHER = finding_kind(
    "count-ran-together",
    "warning",
    "Items are missing, and two questions may have run together here: {why}.",
    "Look at the source beside it; say which line begins a question, or divide the item.",
    by="bank check",
)
COUNT_CAME_APART = finding_kind(
    "count-came-apart",
    "warning",
    "There are too many items, and this may be a part of the one before it: {why}.",
    "Look at the source beside it; say which line goes on with the one above.",
    by="bank check",
)
FEEDBACK_BEHIND = finding_kind(
    "feedback-behind",
    "note",
    "What stands behind “{sign}” on each choice was taken for its feedback.",
    "Look whether it belongs to the choices.",
)
ITEM_DOUBLED = finding_kind(
    "item-doubled",
    "warning",
    "It asks the same, with the same choices, as the item at {other}.",
    "Leave one of them out where that was not meant.",
    by="bank check",
)
ITEM_DOUBLED_KEY = finding_kind(
    "item-doubled-key",
    "warning",
    "It asks the same as the item at {other}, with the same choices, and its key is another.",
    "Look at both: one of the keys is wrong, or something that tells them apart was not read.",
    by="bank check",
)
ITEM_TRANSLATED = finding_kind(
    "item-translated",
    "note",
    "It seems to be the item at {other} in another language ({language}).",
    "Leave one of them out, or take them into pools of their own.",
)
STEM_BILINGUAL = finding_kind(
    "stem-bilingual",
    "note",
    "Its stem seems to stand in two languages ({languages}).",
    "Nothing to do where students are to see both.",
)
NO_ITEMS = finding_kind(
    "no-items",
    "error",
    "No question was found in this source.",
    "Check that it is the right file, or number the questions.",
    by="bank check",
)
NUMBER_GAP = finding_kind(
    "number-gap",
    "warning",
    "The numbering goes from {before} to {after}.",
    "Look whether a question between them ran into its neighbour or is missing.",
)
NUMBER_DOUBLE = finding_kind(
    "number-double", "warning", "The number {number} stands twice.", "Look whether both are questions of their own."
)
NUMBER_RESTART = finding_kind(
    "number-restart",
    "note",
    "The numbering starts again at {number}.",
    "Nothing to do where a new section begins here.",
)

NUMBERS_ABSENT = finding_kind(
    "numbers-absent",
    "warning",
    "The questions have no numbers; {count} were told apart by their form.",
    "Look whether each begins and ends where it should.",
)

COLUMNS_TAKEN = finding_kind(
    "columns-taken", "note", "The columns were taken so: {taken}.", "Rename a heading that was taken for another thing."
)
COLUMNS_GUESSED = finding_kind(
    "columns-guessed",
    "warning",
    "The table has no headings; its columns were told by what stands in them: {taken}.",
    "Put headings above the columns.",
)
POINTS_UNSHARED = finding_kind(
    "points-unshared",
    "warning",
    "The section is worth {points} points, and it is not said how its {count} items share them.",
    "Set the points of each.",
)

"""Findings: what a reader or a check noticed about an item. This file is the catalogue; codes are never renamed or reused."""

from __future__ import annotations

from rogatum.core.finding import NEED_LOOK, FindingKind, Level, Maker, Settling

CATALOGUE: dict[str, FindingKind] = {}


def finding_kind(
    code: str,
    level: Level,
    why: str,
    fix: str,
    repair: str | None = None,
    by: Maker = "reader",
    settled_by: Settling | None = None,
) -> FindingKind:
    """Registers a kind of finding; a code that is taken is a programming error."""
    if code in CATALOGUE:
        raise ValueError(f"The finding code {code} is taken.")
    CATALOGUE[code] = FindingKind(code, level, why, fix, repair, by, settled_by)
    return CATALOGUE[code]


def is_checked(code: str) -> bool:
    """Whether a finding of this code is made by a check, which finds it anew."""
    return code in CATALOGUE and CATALOGUE[code].checked


def needs_look(level: str) -> bool:
    """Whether a finding of this level is one to look at."""
    return level in NEED_LOOK


# The count
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

# The key
KEY_HABIT = finding_kind(
    "key-habit",
    "note",
    "The key is shown by {habit}: on {items} of {of} items with choices; {without} have none.",
    "Nothing to do where that is so; else correct the keys.",
)
NO_KEY = finding_kind(
    "no-key",
    "error",
    "No choice is marked correct.",
    "Mark the right choice, or make the item an essay.",
    "to-essay",
    by="item check",
)
NO_ANSWER = finding_kind(
    "no-answer",
    "error",
    "The item has no accepted answer.",
    "Type in the answer, or make the item an essay.",
    "to-essay",
    by="item check",
)
TWO_KEYS = finding_kind(
    "two-keys",
    "error",
    "{count} choices are marked correct on an item that takes one.",
    "Unmark the wrong ones, or make the item a multiple response.",
    "to-multiple-response",
    by="item check",
)
KEY_UNKNOWN = finding_kind(
    "key-unknown",
    "error",
    "The key names “{key}”, and there is no such choice.",
    "Mark the right choice, or look whether a choice is missing.",
    settled_by="key",
)
KEYS_DISAGREE = finding_kind(
    "keys-disagree",
    "error",
    "The item is keyed twice, and the keys differ: {first} and {second}.",
    "Choose the right one.",
    settled_by="key",
)
KEY_UNREAD = finding_kind(
    "key-unread",
    "error",
    "“{text}” is no number with a tolerance or a range.",
    "Type in the number that is right.",
)
KEYS_BESIDE = finding_kind(
    "keys-beside",
    "note",
    "Its keys were taken from {file}, which lists {count}.",
    "Nothing to do where that is the key of this test.",
)
KEYS_WITHOUT_TEST = finding_kind(
    "keys-without-test",
    "error",
    "{file} lists {count} keys, and it is not plain which test they are for.",
    "Read it together with its test alone, or join it to the test.",
)
KEY_WITHOUT_ITEM = finding_kind(
    "key-without-item",
    "warning",
    "The key list has an answer for number {number}, and there is no such question.",
    "Look whether a question was missed.",
)
SEVERAL_COMBINATIONS = finding_kind(
    "several-combinations",
    "warning",
    "The source accepts several different combinations of choices; the smallest was taken.",
    "Compare the key with the source.",
    settled_by="key",
)
MARKING_APPROXIMATED = finding_kind(
    "marking-approximated",
    "warning",
    "The source marks in a way that the item cannot hold exactly: {detail}",
    "Compare the marks with the source, and set the weights.",
    settled_by="key",
)
MARKING_UNDECIDED = finding_kind(
    "marking-undecided",
    "warning",
    "The source's marking uses {detail}, which cannot be decided.",
    "Set the key by hand.",
    settled_by="key",
)
BOUND_EXCLUDED = finding_kind(
    "bound-excluded",
    "note",
    "The source leaves out the very bound of a range of right numbers; here the bound counts too.",
    "Nothing to do where a response never falls on the bound.",
)
MARKING_ASSUMED = finding_kind(
    "marking-assumed",
    "note",
    "The source names the right response and does not say what it earns.",
    "Set the points.",
)
OVERPICKING_FREE = finding_kind(
    "overpicking-free",
    "note",
    "The source also gives full marks when wrong choices are picked along with the right ones.",
    "Nothing to do where that was not meant; here the whole key and nothing else earns the points.",
)

# The item
NO_STEM = finding_kind("no-stem", "error", "The item has no stem.", "Type in the stem, or drop the item.", by="item check")
FEW_CHOICES = finding_kind(
    "few-choices",
    "warning",
    "The item has too few choices: {count}.",
    "Look whether choices ran into the stem or into one another.",
    by="item check",
)
EMPTY_CHOICE = finding_kind(
    "empty-choice", "warning", "Choice {label} is empty.", "Fill it in or remove it.", "drop-empty-choices", by="item check"
)
EQUAL_CHOICES = finding_kind(
    "equal-choices",
    "warning",
    "Choices {first} and {second} read the same.",
    "Reword one of them, or look whether formatting that told them apart was lost.",
    by="item check",
)
CHOICE_RUNS_ON = finding_kind(
    "choice-runs-on",
    "warning",
    "Choice {label} seems to hold the start of another question or choice: “{text}”.",
    "Split it in the source.",
    by="item check",
)
LABEL_SKIPPED = finding_kind(
    "label-skipped",
    "warning",
    "The choices go from {before} to {after}.",
    "Look whether a choice is missing.",
)
PATTERN_UNUSABLE = finding_kind(
    "pattern-unusable",
    "warning",
    "The answer pattern {pattern} cannot be used, so it accepts nothing.",
    "Write it without looking around and back, or type in the answers that it stands for.",
    by="item check",
)
BLANKS_DIFFER = finding_kind(
    "blanks-differ",
    "warning",
    "The stem has {blanks} blanks and there are answers for {answers}.",
    "Match them up.",
    by="item check",
)
WEIGHTS_SUM = finding_kind(
    "weights-sum",
    "warning",
    "The weights of the key add up to {total}, not to 1.",
    "Share the points out evenly over the key, or set the weights.",
    "even-weights",
    by="item check",
)
TYPE_GUESSED = finding_kind(
    "type-guessed",
    "note",
    "The type was worked out from the form: {detail}",
    "Change the type if it is another.",
)
TYPE_UNSURE = finding_kind(
    "type-unsure",
    "warning",
    "The type is a guess: {detail}",
    "Look at the source, and change the type if it is another.",
    settled_by="key",
)
NUMBER_DOUBTFUL = finding_kind(
    "number-doubtful",
    "warning",
    "“{text}” was read with its comma as a sign for thousands; it may be a decimal comma.",
    "Look at the source, and correct the value if it is another.",
)
PRESERVED_KIND = finding_kind(
    "preserved-kind",
    "warning",
    "This kind of item is kept as it is, but not understood: {detail}",
    "It can be handed on in its own format; otherwise write it anew.",
)
ANSWER_LINE = finding_kind(
    "answer-line",
    "warning",
    "This looks like an answer line but was not read as one: “{text}”.",
    "Correct it in the source.",
)
LINE_OUTSIDE = finding_kind(
    "line-outside",
    "warning",
    "This line belongs to no question: “{text}”.",
    "Look whether it is part of the question above it.",
)
DOUBLE_ID = finding_kind(
    "double-id",
    "note",
    "The identifier {identifier} stands twice; this item was renamed.",
    "Nothing to do.",
)
INVALID_ITEM = finding_kind(
    "invalid-item",
    "error",
    "An item could not be read: {detail}",
    "Look at its place in the source.",
)

INVALID_QUIZ = finding_kind(
    "invalid-quiz",
    "error",
    "A quiz could not be read: {detail}",
    "Look at its place in the source, or make the quiz anew of its items.",
)

# Points
POINTS_ODD = finding_kind(
    "points-odd",
    "warning",
    "All {count} items have {points} points.",
    "If that is the generator's scale and not yours, set them to 1.",
    "points-to-1",
    by="bank check",
    settled_by="points",
)
POINTS_ZERO = finding_kind("points-zero", "warning", "The item has 0 points.", "Set its points.", "points-to-1", by="item check")
POINTS_MISSING = finding_kind(
    "points-missing",
    "note",
    "The source gives no points.",
    "Set them, or let the quiz decide.",
    "points-to-1",
    by="bank check",
    settled_by="points",
)

# Content
MEDIA_MISSING = finding_kind(
    "media-missing",
    "error",
    "The picture or file {name} is named but not in the source.",
    "Add it by hand, or export the source again with its pictures.",
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

# The source
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

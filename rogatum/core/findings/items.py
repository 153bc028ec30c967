"""Of an item: its stem, choices, type and points."""

from __future__ import annotations

from rogatum.core.findings.catalogue import finding_kind

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
READ_OTHERWISE = finding_kind(
    "read-otherwise",
    "warning",
    "It can be read in another way that is nearly as likely. Choices now: {now}. Or: {then}.",
    "Look at the source, and read it the other way if that is what it says.",
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
SAMPLE_WRONG = finding_kind(
    "sample-wrong",
    "warning",
    "In a sample of what nothing was said about, this was found wrong.",
    "Correct it, or say that it is right so.",
    settled_by="key",
)

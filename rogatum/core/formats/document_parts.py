"""What an item is in a document that people read: labels, choices, key, feedback. Shared by all writers of documents."""

from __future__ import annotations

from rogatum.core.content import escape
from rogatum.core.formats.numbers import exact_number
from rogatum.core.items import (
    Essay,
    FillIn,
    Item,
    ItemType,
    MultipleChoice,
    MultipleResponse,
    Numeric,
    NumericAnswer,
    TrueFalse,
)
from rogatum.core.type_words import TYPE_LABELS

HELD: frozenset[ItemType] = frozenset(
    {"multiple_choice", "multiple_response", "true_false", "fill_in", "numeric", "essay", "information"}
)
FEEDBACK = {"general": "Feedback", "correct": "Correct feedback", "incorrect": "Incorrect feedback"}
METADATA = {
    "difficulty": "Difficulty",
    "page": "Page",
    "outcome": "Outcome",
    "topic": "Topic",
    "level": "Level of thinking",
    "hint": "Hint",
}

Labelled = list[tuple[str, str]]


def head_labels(item: Item) -> Labelled:
    """Title, type, points and metadata, as (label, content)."""
    found: Labelled = [("Title", escape(item.title))] if item.title else []
    # The form says the type of a question with choices or an answer; these others look like one another.
    if item.type in ("multiple_response", "essay", "information", "fill_in"):
        found.append(("Type", TYPE_LABELS[item.type]))
    if item.points is not None:
        found.append(("Points", f"{item.points:g}"))
    return found + [(METADATA[label], escape("; ".join(values))) for label, values in item.metadata.items() if label in METADATA]


def feedback_labels(item: Item) -> Labelled:
    return [(FEEDBACK[kind], text) for kind, text in item.feedback.items() if text]


def choices_of(item: Item) -> list[tuple[bool, str]]:
    """The choices as (whether it is in the key, content)."""
    if isinstance(item, MultipleResponse):
        return [(choice.weight > 0, choice.content) for choice in item.choices]
    return [(choice.weight == 1, choice.content) for choice in item.choices] if isinstance(item, MultipleChoice) else []


def key_text(item: Item) -> str:
    """What stands behind “Answer:”; empty where there is no such line."""
    if isinstance(item, TrueFalse):
        return "" if item.answer is None else str(item.answer)
    if isinstance(item, FillIn):
        return "; ".join(answer.text for answer in item.answers if answer.weight == 1)
    if isinstance(item, Numeric):
        return _numeric_key(item)
    return ""


def key_letters(item: Item) -> str:
    """The letters of the key of an item with choices: "B", "A, C"."""
    return ", ".join(chr(ord("A") + n) for n, (right, _) in enumerate(choices_of(item)) if right)


def _numeric_key(item: Numeric) -> str:
    full = next((answer for answer in item.answers if answer.weight == 1), None)
    if full is None or float("inf") in map(abs, full.bounds()):
        return ""
    return _number_key(full) + (f" {item.unit}" if item.unit else "")


def _number_key(answer: NumericAnswer) -> str:
    low, high = answer.bounds()
    if answer.value is None:
        return f"{exact_number(low)} to {exact_number(high)}"
    return f"{exact_number(answer.value)} ± {exact_number(answer.tolerance)}" if answer.tolerance else exact_number(answer.value)


def essay_labels(item: Item) -> Labelled:
    if not isinstance(item, Essay):
        return []
    found = [("Model answer", item.sample_answer or ""), ("Rubric", item.rubric or "")]
    return [(label, text) for label, text in found if text]


def shared_names(before: tuple[str, ...], path: tuple[str, ...]) -> int:
    """How many names at the start two pool paths share; the last name is always written."""
    count = 0
    for a, b in zip(before, path[:-1], strict=False):
        if a != b:
            break
        count += 1
    return count

"""What the columns of a table are: by their headings, else by what stands in them. The headings are data."""

from __future__ import annotations

import re
from collections.abc import Mapping
from dataclasses import dataclass, field

from rogatum.core.items.metadata import LABELS

HEADINGS: dict[str, tuple[str, ...]] = {
    "stem": (
        "question",
        "stem",
        "question text",
        "question stem",
        "item",
        "item text",
        "prompt",
        "text",
        "q",
        "statement",
        "problem",
        "task",
    ),
    "type": ("type", "question type", "item type", "qtype", "format", "kind"),
    "choices": (
        "choices",
        "options",
        "alternatives",
        "answer choices",
        "answer options",
        "possible answers",
        "responses",
        "distractors",
    ),
    "key": (
        "answer",
        "answers",
        "correct answer",
        "correct answers",
        "correct",
        "key",
        "answer key",
        "right answer",
        "solution",
        "correct option",
        "correct choice",
        "correct response",
        "ans",
        "accepted answers",
        "correct letter",
    ),
    "points": ("points", "point", "pts", "marks", "mark", "score", "point value", "max points", "worth", "weight", "value"),
    "feedback": ("feedback", "explanation", "rationale", "comment", "comments", "general feedback", "why", "justification"),
    "correct": ("correct feedback", "feedback correct", "feedback if correct"),
    "incorrect": ("incorrect feedback", "feedback incorrect", "wrong feedback", "feedback if incorrect"),
    "title": ("title", "name", "question title", "question name", "short name"),
    "number": ("number", "no", "nr", "#", "num", "question number", "id", "item id", "identifier", "code", "question no"),
    "pool": ("pool", "chapter", "section", "unit", "category", "bank", "module", "lesson", "week"),
    "image": ("image", "picture", "figure", "image file", "media", "image url", "graphic"),
    "tolerance": ("tolerance", "margin", "error", "±", "accepted error"),
    "unit": ("unit of measure", "units", "unit of answer"),
    "model": ("model answer", "sample answer", "suggested answer"),
    "rubric": ("rubric", "marking scheme", "grading notes"),
}
_MEANING = {word: meaning for meaning, words in HEADINGS.items() for word in words}
_MEANING |= {word: label.name for label in LABELS for word in (*label.words, *label.short)}
_CHOICE = re.compile(
    r"^(?:(?:choice|option|answer|alternative|response|alt|opt|distractor)\s*+[#:]?\s*+)?[(\[]?([a-h]|\d{1,2})[)\].]?$", re.I
)
_WRONG = re.compile(r"^(?:wrong|incorrect|false|distractor)\s*+(?:answer|choice|option)?s?\s*+#?\s*+\d*+$", re.I)
_CHOICE_FEEDBACK = re.compile(
    r"^(?:feedback|explanation|rationale)\s*+(?:for\s+)?(?:choice|option|answer)?\s*+[#:]?\s*+([a-h]|\d{1,2})$", re.I
)


@dataclass
class Columns:
    """Columns by meaning; choices and their feedback in order. `guessed` says that no headings were found."""

    by_meaning: dict[str, int] = field(default_factory=dict)
    choices: list[int] = field(default_factory=list)
    wrong: list[int] = field(default_factory=list)
    choice_feedback: dict[int, int] = field(default_factory=dict)
    unknown: list[int] = field(default_factory=list)
    guessed: bool = False

    def put(self, meaning: str, index: int) -> None:
        """Sets what a column is; an empty meaning sets it aside."""
        if meaning == CHOICE:
            self.choices.append(index)
        elif meaning == METADATA:
            self.unknown.append(index)
        elif meaning:
            self.by_meaning[meaning] = index

    def meaning_of(self, index: int) -> str:
        """What a column was taken for; empty for one that was set aside, "metadata" for one that nothing names."""
        named = next((meaning for meaning, column in self.by_meaning.items() if column == index), "")
        if index in self.choices or index in self.wrong:
            return CHOICE
        return named or (METADATA if index in self.unknown else "")

    @property
    def known(self) -> int:
        return len(self.by_meaning) + len(self.choices) + len(self.wrong)

    @property
    def usable(self) -> bool:
        return "stem" in self.by_meaning and (self.known >= 2)


CHOICE, METADATA = "choice", "metadata"
# What a person can say that a column is, in words.
MEANING_WORDS: dict[str, str] = {
    "stem": "stem",
    CHOICE: "a choice",
    "choices": "all choices in one cell",
    "key": "key",
    "type": "type",
    "points": "points",
    "feedback": "feedback",
    "correct": "feedback for right responses",
    "incorrect": "feedback for wrong ones",
    "title": "title",
    "number": "number or identifier",
    "pool": "pool",
    **{label.name: label.shown.lower() for label in LABELS},
    "image": "picture file",
    "tolerance": "tolerance",
    "unit": "unit",
    "model": "model answer",
    "rubric": "rubric",
    METADATA: "metadata under its own name",
    "": "set aside",
}


def folded(heading: str, index: int) -> str:
    """A heading as overrides name it."""
    return re.sub(r"[\s_]+", " ", heading.strip().lower()).strip(" :*") or f"column {index + 1}"


def by_headings(row: list[str], said: Mapping[str, str] | None = None) -> Columns:
    """The columns that a row of headings names; `said` overrides. An empty heading beside choices is one of them."""
    columns = Columns()
    last = ""
    for index, cell in enumerate(row):
        text = re.sub(r"[\s_]+", " ", cell.strip().lower()).strip(" :*")
        override = (said or {}).get(folded(cell, index))
        if override is not None:
            columns.put(override, index)
            continue
        meaning = _MEANING.get(text)
        feedback, choice = _CHOICE_FEEDBACK.match(text), _CHOICE.match(text)
        if not text:
            if last == "choices":
                columns.choices.append(index)
            continue
        last = meaning or ""
        if feedback:
            columns.choice_feedback[_position(feedback[1])] = index
        elif choice and (not choice[1].isdigit() or len(text) > 2):
            columns.choices.append(index)
        elif _WRONG.match(text):
            columns.wrong.append(index)
        elif meaning is not None and meaning not in columns.by_meaning:
            columns.by_meaning[meaning] = index
        else:
            columns.unknown.append(index)
    if "choices" in columns.by_meaning and columns.choices:
        columns.choices.insert(0, columns.by_meaning.pop("choices"))
    return columns


def _position(label: str) -> int:
    return int(label) - 1 if label.isdigit() else ord(label.lower()) - ord("a")


def by_content(rows: list[list[str]], said: Mapping[str, str] | None = None) -> Columns:
    """The columns of a table without headings: the longest texts are stems, single letters a key, what lies between choices."""
    width = max((len(row) for row in rows), default=0)
    cells = [[row[c] for row in rows if c < len(row) and row[c]] for c in range(width)]
    columns = Columns(guessed=True)
    lengths = [sum(map(len, column)) / len(column) if column else 0.0 for column in cells]
    if not lengths or max(lengths) < 8:
        return columns
    columns.by_meaning["stem"] = lengths.index(max(lengths))
    for index, column in enumerate(cells):
        override = (said or {}).get(folded("", index))
        if override is not None:
            columns.put(override, index)
            continue
        if index == columns.by_meaning["stem"] or not column:
            continue
        letters = sum(bool(re.fullmatch(r"[A-Ha-h](?:\s*+[,;&]?\s*+[A-Ha-h])*+|true|false", text, re.I)) for text in column)
        if letters >= 0.7 * len(column) and "key" not in columns.by_meaning:
            columns.by_meaning["key"] = index
        elif index > columns.by_meaning["stem"] and "key" not in columns.by_meaning:
            columns.choices.append(index)
        else:
            columns.unknown.append(index)
    return columns

"""What the columns of a table are: by their headings, else by what stands in them. The headings are data."""

from __future__ import annotations

import re
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field

from rogatum.core.items import Scoring
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
        "question or statement",
        "wording",
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
        "right option",
        "right choice",
        "right answers",
        "letter",
        "correct number",
        "correct answer(s)",
        "solutions",
        "right",
    ),
    "points": ("points", "point", "pts", "marks", "mark", "score", "point value", "max points", "worth", "weight", "value"),
    "feedback": ("feedback", "explanation", "rationale", "comment", "comments", "general feedback", "why", "justification"),
    "correct": ("correct feedback", "feedback correct", "feedback if correct"),
    "incorrect": ("incorrect feedback", "feedback incorrect", "wrong feedback", "feedback if incorrect"),
    "title": ("title", "name", "question title", "question name", "short name"),
    "number": ("number", "no", "nr", "#", "num", "question number", "id", "item id", "identifier", "code", "question no"),
    "pool": ("pool", "chapter", "section", "unit", "category", "bank", "module", "lesson", "week"),
    "image": ("image", "picture", "figure", "image file", "media", "image url", "graphic"),
    "tolerance": ("tolerance", "margin", "error", "±", "+/-", "+/−", "accepted error", "precision"),
    "scoring": ("scoring", "scoring method", "partial credit", "partial marks"),
    "unit": ("unit of measure", "units", "unit of answer"),
    "model": ("model", "model answer", "sample answer", "suggested answer"),
    "rubric": ("rubric", "marking scheme", "grading notes"),
}
_MEANING = {word: meaning for meaning, words in HEADINGS.items() for word in words}
_MEANING |= {word: label.name for label in LABELS for word in (*label.words, *label.short)}
_LABEL = r"[(\[]?([a-h]|\d{1,2})[)\].]?"
_CHOICE = re.compile(rf"^(?:(?:choice|option|answer|alternative|response|alt|opt|possible answer)\s*+[#:]?\s*+)?{_LABEL}$", re.I)
_WRONG = re.compile(r"^(?:wrong|incorrect|false|distractor|distracter)\s*+(?:answer|choice|option)?s?\s*+#?\s*+\d*+$", re.I)
_MARKS = re.compile(
    rf"^(?:(?:is\s+)?(?:correct|right|true|key|marked?|ok)\??|(?:correct|right)\s+(?:answer|choice|option))\s*+[#:]?\s*+(?:{_LABEL})?\s*+\??$",
    re.I,
)
_CHOICE_FEEDBACK = re.compile(
    r"^(?:feedback|explanation|rationale)\s*+(?:for\s+)?(?:choice|option|answer)?\s*+[#:]?\s*+([a-h]|\d{1,2})$", re.I
)
# What says in a column of its own whether the choice beside it is right.
_MARK_CELL = re.compile(r"^(?:[01xX✓✔✗*+-]|true|false|yes|no|y|n|t|f|right|wrong|correct|wahr|falsch|ja|nein)$", re.I)


@dataclass
class Columns:
    """Columns by meaning; choices and their feedback in order. `guessed` says that no headings were found.

    `marks` are columns that say of each choice, in turn, whether it is right; `choice_names` what headings call the choices.
    """

    by_meaning: dict[str, int] = field(default_factory=dict)
    choices: list[int] = field(default_factory=list)
    wrong: list[int] = field(default_factory=list)
    marks: list[int] = field(default_factory=list)
    choice_names: list[str] = field(default_factory=list)
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
        if index in self.marks:
            return "key"
        return named or (METADATA if index in self.unknown else "")

    @property
    def known(self) -> int:
        return len(self.by_meaning) + len(self.choices) + len(self.wrong) + len(self.marks)

    @property
    def usable(self) -> bool:
        return "stem" in self.by_meaning and (self.known >= 2)


# How a multiple response is marked, as its column says it.
SCORING_WORDS: dict[Scoring, str] = {"all_or_nothing": "all or nothing", "per_choice": "each choice"}

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
    "scoring": "scoring of several choices",
    "unit": "unit",
    "model": "model answer",
    "rubric": "rubric",
    METADATA: "metadata under its own name",
    "": "set aside",
}


def folded(heading: str, index: int) -> str:
    """A heading as overrides name it."""
    return re.sub(r"[\s_]+", " ", heading.strip().lower()).strip(" :*") or f"column {index + 1}"


def is_heading(cell: str) -> bool:
    """Whether a cell is called as a column is."""
    text = folded(cell, 0)
    return text in _MEANING or bool(_CHOICE.match(text) or _CHOICE_FEEDBACK.match(text) or _WRONG.match(text))


def by_headings(row: list[str], said: Mapping[str, str] | None = None, below: Sequence[Sequence[str]] = ()) -> Columns:
    """The columns that a row of headings names; `said` overrides, and the rows `below` decide where a word has two meanings.

    An empty heading beside choices is one of them.
    """
    columns = Columns()
    last = ""
    marks: list[int] = []
    stems: list[int] = []
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
        if _MARKS.match(text) and _marks(below, index):
            marks.append(index)
        elif feedback:
            columns.choice_feedback[_position(feedback[1])] = index
        elif (
            choice
            and (not choice[1].isdigit() or len(text) > 2 or text.isdigit())
            and not (text.isdigit() and not columns.choices and text != "1")
        ):
            columns.choices.append(index)
        elif _WRONG.match(text):
            columns.wrong.append(index)
        elif meaning == "stem":
            stems.append(index)
        elif meaning is not None and meaning not in columns.by_meaning:
            columns.by_meaning[meaning] = index
        else:
            columns.unknown.append(index)
    _take_stem(columns, stems, below)
    _take_marks(columns, marks)
    if "choices" in columns.by_meaning and columns.choices:
        columns.choices.insert(0, columns.by_meaning.pop("choices"))
    columns.choice_names = [folded(row[index], index) for index in columns.choices]
    return columns


def _cells(rows: Sequence[Sequence[str]], column: int) -> list[str]:
    return [row[column] for row in rows if column < len(row) and row[column]]


def _marks(rows: Sequence[Sequence[str]], column: int) -> bool:
    cells = _cells(rows, column)
    return bool(rows) and all(_MARK_CELL.match(cell) for cell in cells)


def _take_stem(columns: Columns, stems: list[int], below: Sequence[Sequence[str]]) -> None:
    """Of several columns that may hold the stems, the one with the longest texts; another holds numbers or names."""
    if "stem" in columns.by_meaning or not stems:
        return
    lengths = {index: sum(map(len, _cells(below, index))) for index in stems}
    stem = max(stems, key=lambda index: (lengths[index], -index))
    columns.by_meaning["stem"] = stem
    for index in stems:
        if index != stem:
            if "number" not in columns.by_meaning:
                columns.by_meaning["number"] = index
            else:
                columns.unknown.append(index)


def _take_marks(columns: Columns, marks: list[int]) -> None:
    """Columns of marks are as many as those of choices; a single one is a key."""
    if len(marks) > 1 and len(marks) == len(columns.choices):
        columns.marks = marks
        return
    for index in marks:
        if "key" not in columns.by_meaning:
            columns.by_meaning["key"] = index
        else:
            columns.unknown.append(index)


def _position(label: str) -> int:
    return int(label) - 1 if label.isdigit() else ord(label.lower()) - ord("a")


_KEY_CELL = re.compile(
    r"(?:(?:option|choice|answer)\s)?[(\[]?(?:[A-Ha-h]|\d)[)\].]?(?:\s*+(?:[,;&|/]|\band\b)?\s*+[A-Ha-h\d])*+|true|false", re.I
)


LIKE_THE_LONGEST = 0.6


def by_content(rows: list[list[str]], said: Mapping[str, str] | None = None) -> Columns:
    """The columns of a table without headings: the longest texts are stems; a key is letters, numbers, or a choice again."""
    width = max((len(row) for row in rows), default=0)
    cells = [_cells(rows, c) for c in range(width)]
    columns = Columns(guessed=True)
    lengths = [sum(map(len, column)) / len(column) if column else 0.0 for column in cells]
    if not lengths or max(lengths) < 8:
        return columns
    # The first column that is about as long as the longest.
    stem = next(c for c, length in enumerate(lengths) if length >= LIKE_THE_LONGEST * max(lengths))
    columns.by_meaning["stem"] = stem
    key = next((c for c in range(width - 1, -1, -1) if c != stem and _is_key(rows, cells[c], c, stem)), None)
    for index, column in enumerate(cells):
        override = (said or {}).get(folded("", index))
        if override is not None:
            columns.put(override, index)
        elif index == stem or not column:
            continue
        elif index == key:
            columns.by_meaning["key"] = index
        elif _counts(column) or (index < stem and len(set(column)) == len(column) and max(map(len, column)) < 16):
            columns.by_meaning.setdefault("number", index)
        elif index > stem and (key is None or key < stem or index < key or index > key > stem + 1 == index):
            columns.choices.append(index)
        else:
            columns.unknown.append(index)
    return columns


def _is_key(rows: list[list[str]], column: list[str], index: int, stem: int) -> bool:
    """Whether a column names a choice in each row: by letter or number, or by a text that another cell of the row has too."""
    if not column or _counts(column):
        return False
    if sum(bool(_KEY_CELL.fullmatch(text)) for text in column) >= 0.7 * len(column) and len(set(column)) <= 12:
        return not all(text.isdigit() for text in column) or max(int(text) for text in column) <= 9
    again = sum(
        row[index] in (cell for c, cell in enumerate(row) if c not in (index, stem))
        for row in rows
        if index < len(row) and row[index]
    )
    return again >= 0.7 * len(column) and index > stem + 2


def _counts(column: list[str]) -> bool:
    """Whether a column numbers its rows."""
    numbers = [int(text) for text in column if text.isdigit()]
    return len(numbers) == len(column) > 1 and numbers == list(range(numbers[0], numbers[0] + len(numbers)))

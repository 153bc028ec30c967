"""One item from one row, by the columns of its table."""

from __future__ import annotations

import re
from collections.abc import Callable
from dataclasses import dataclass

from rogatum.core import spaces
from rogatum.core.documents.keys.values import labels_in, truth_of
from rogatum.core.findings.items import NUMBER_DOUBTFUL, TYPE_GUESSED, TYPE_UNSURE
from rogatum.core.findings.keys import KEY_UNKNOWN, KEY_UNREAD
from rogatum.core.formats.sheet.columns import Columns
from rogatum.core.items import (
    Choice,
    Essay,
    FillIn,
    Information,
    Item,
    ItemType,
    Matching,
    MultipleChoice,
    MultipleResponse,
    Numeric,
    NumericAnswer,
    Ordering,
    Pair,
    Scoring,
    TextAnswer,
    TrueFalse,
    metadata,
)
from rogatum.core.items.content import escape, plain_text
from rogatum.core.items.type_words import type_named
from rogatum.core.items.typed_numbers import beyond, doubtful_number, number_of

_CONTENT = (("general", "feedback"), ("correct", "correct"), ("incorrect", "incorrect"))
# How a column says that each choice of several earns its part.
_EACH = re.compile(r"\b(?:each|every|per|partial)\b|^\s*yes\s*$", re.I)
_LETTERS = re.compile(r"^[(\[]?[A-Ha-h][)\].]?(?:\s*+(?:(?:[,;&/|+]|\band\b)\s*+|(?<=\s))[(\[]?[A-Ha-h][)\].]?)*+$|^[A-H]{2,6}$")
_NUMBERS = re.compile(r"^\d{1,2}(?:\s*(?:[,;&|+]|\band\b)\s*\d{1,2})*$")
# “Option B”, “Choice 2”: a word before what the key names.
_WORDED = re.compile(r"\b(?:option|choice|answer|alternative|response|opt)\s*(?=(?:[A-Ha-h]|\d{1,2})\b)", re.I)
_PAIR = re.compile(rf"{spaces.BEFORE}(?:->|→|=>|=|:)\s*+|{spaces.SOME_BEFORE}[-–—]\s++")
_MARK = re.compile(rf"^\s*+[*✓✔]\s*|{spaces.BEFORE}(?:[*✓✔]|\((?:correct|right|key)\))\s*+$", re.I)
_BLANK = re.compile(r"_{3,}|…{2,}|\.{5,}")
_YES = re.compile(r"^(?:1|x|✓|✔|\*|\+|true|yes|y|t|right|correct|wahr|ja)$", re.I)
_PARTS = re.compile(rf"{spaces.BEFORE}[,;|]\s*+")
_LETTERED = re.compile(r"^\s*[(\[]?([A-Ha-h])[.)\]]\s+")


@dataclass
class KeyHabit:
    """How the keys of a table name choices: by letter, by number or by their text."""

    by_number: bool = False


def habit_of(keys: list[str], choices: list[list[str]]) -> KeyHabit:
    """Keys are numbers of choices where most numeric ones are in range and few are a choice's own text."""
    numeric = [(key, texts) for key, texts in zip(keys, choices, strict=True) if _NUMBERS.match(key) and texts]
    lettered = sum(bool(_LETTERS.match(key)) for key, texts in zip(keys, choices, strict=True) if texts)
    inside = sum(all(1 <= int(n) <= len(texts) for n in re.findall(r"\d+", key)) for key, texts in numeric)
    as_text = sum(key in texts for key, texts in numeric)
    return KeyHabit(bool(numeric) and inside >= 0.7 * len(numeric) and as_text < inside and lettered < len(numeric))


@dataclass
class RowReader:
    """Reads rows; `content` makes content, `note` takes findings about the item at hand."""

    columns: Columns
    habit: KeyHabit
    content: Callable[[str], str]
    note: Callable[..., None]

    def cell(self, row: list[str], meaning: str) -> str:
        index = self.columns.by_meaning.get(meaning)
        return row[index].strip() if index is not None and index < len(row) else ""

    def choice_cells(self, row: list[str]) -> list[str]:
        """The texts of the choices, from columns of their own or from one cell."""
        found = [row[c].strip() for c in self.columns.choices if c < len(row)]
        while found and not found[-1]:
            found.pop()
        if not found and self.cell(row, "choices"):
            text = self.cell(row, "choices")
            parts = text.split("\n") if "\n" in text else re.split(spaces.BEFORE + r"[|;]\s*+", text)
            run = re.split(spaces.SOME_BEFORE + r"(?=[*✓]?[(\[]?[B-Hb-h][.)\]]\s)", text)
            if len(parts) < 2 or (len(run) >= 2 and "\n" not in text and _LETTERED.match(text)):
                parts = run
            found = [part.strip() for part in parts if part.strip()]
        return [_LETTERED.sub("", text) for text in found]

    def item(self, row: list[str], item_id: str) -> Item:
        self.row, self.id = row, item_id
        self.key = self.cell(row, "key") or (self.cell(row, "model") if "key" not in self.columns.by_meaning else "")
        item = self._typed()
        item.title = self.cell(row, "title")
        points = re.match(r"\s*(\d+(?:[.,]\d+)?)", self.cell(row, "points"))
        item.points = float(points[1].replace(",", ".")) if points else None
        for slot, meaning in _CONTENT:
            if text := self.cell(row, meaning):
                item.feedback[slot] = self._content(text)  # type: ignore[index]
        for label in metadata.NAMES:
            if text := self.cell(row, label):
                item.metadata[label] = [
                    part.strip() for part in re.split(r"[;|]" if label != "tag" else r"[;|,]", text) if part.strip()
                ]
        return item

    def _content(self, text: str) -> str:
        return self.content(
            text if re.search(r"</?(?:p|b|i|em|strong|sub|sup|br|img)\b", text) else escape(text).replace("\n", "<br>")
        )

    def _stem(self) -> str:
        image = self.cell(self.row, "image")
        picture = f'<p><img src="{escape(image)}" alt=""/></p>' if image else ""
        stem = self._content(self.cell(self.row, "stem"))
        return self.content(f"<p>{stem}</p>{picture}") if picture else stem

    def _typed(self) -> Item:
        stated = self.cell(self.row, "type")
        named = type_named(stated) if stated else None
        if stated and named is None:
            self.note(TYPE_UNSURE, detail=f"“{stated}” is no type that is known; the form of the row decided.")
        return _MAKERS[named or self._type_by_form()](self)

    def _type_by_form(self) -> ItemType:
        cells = [text for text in self.choice_cells(self.row) if text]
        if self._wrong():
            return "multiple_choice"
        if len(cells) >= 2:
            if sorted(text.lower() for text in cells) == ["false", "true"]:
                return "true_false"
            return "multiple_response" if len(self._picked(cells)) > 1 else "multiple_choice"
        if truth_of(self.key) is not None and (len(self.key) > 1 or not _BLANK.search(self.cell(self.row, "stem"))):
            return "true_false"
        if number_of(self.key) is not None:
            return "numeric"
        if self.key and len(self.key) <= 60:
            return "fill_in"
        if not self.key and not self.cell(self.row, "model"):
            self.note(TYPE_UNSURE, detail="it has no choices and no key, and was taken for an essay.")
        return "essay"

    def _wrong(self) -> list[str]:
        return [self.row[c].strip() for c in self.columns.wrong if c < len(self.row) and self.row[c].strip()]

    def _picked(self, texts: list[str]) -> list[int]:
        """The positions of the choices that are right: by marks beside or on them, or as the key names them."""
        if self.columns.marks:
            cells = [self.row[c].strip() if c < len(self.row) else "" for c in self.columns.marks]
            return [place for place, cell in enumerate(cells[: len(texts)]) if _YES.match(cell)]
        marked = [i for i, text in enumerate(texts) if _MARK.search(text)]
        if marked:
            return marked
        if not self.key.strip():
            return []
        found = self._named(self.key.strip(), texts)
        if not found or any(not 0 <= position < len(texts) or not texts[position] for position in found):
            self.note(KEY_UNKNOWN, key=self.key[:40])
        return [position for position in found if 0 <= position < len(texts) and texts[position]]

    def _named(self, key: str, texts: list[str]) -> list[int]:
        """The positions that a key names: by headings, numbers, letters, or the choices' own words; one that is none is -1."""
        bare = [plain_text(escape(text)).casefold() for text in texts]
        names = self.columns.choice_names
        if key.casefold() not in names and key.casefold() not in bare:
            worded = _WORDED.sub("", key)
            if worded != key and _NUMBERS.match(worded):
                return [int(n) - 1 for n in re.findall(r"\d+", worded)]
            key = worded
        if key.casefold() in names and not (len(key) == 1 and self.habit.by_number):
            return [names.index(key.casefold())]
        if self.habit.by_number and _NUMBERS.match(key):
            return [int(n) - 1 for n in re.findall(r"\d+", key)]
        if key.casefold() in bare and len(key) > 1:
            return [bare.index(key.casefold())]
        letters = labels_in(key, [chr(ord("a") + place) for place in range(max(len(texts), 8))])
        if letters and not (key.casefold() in bare and not _LETTERS.match(key)):
            return [ord(letter) - ord("a") for letter in letters]
        if key.casefold() in bare:
            return [bare.index(key.casefold())]
        parts = [names.index(part) if part in names else -1 for part in map(str.casefold, _PARTS.split(key))]
        if all(part >= 0 for part in parts):
            return parts
        return _by_words(key.casefold(), bare)

    def choices(self, several: bool) -> Item:
        wrong = self._wrong()
        if wrong:
            texts, right = ([self.key, *wrong], [0]) if self.key else (wrong, [])
        else:
            texts = self.choice_cells(self.row)
            right = self._picked(texts)
        if several and len(right) == 1:
            self.note(TYPE_UNSURE, detail="it is to take several choices, and its key names one.")
        weight = round(1 / len(right), 6) if several and right else 1.0
        choices = []
        for position, text in enumerate(texts):
            if not text:
                continue
            choices.append(
                Choice(
                    id=chr(ord("a") + position) if position < 26 else f"c{position + 1}",
                    content=self._content(_MARK.sub("", text)),
                    weight=weight if position in right else 0.0,
                    feedback=self._choice_note(position),
                )
            )
        if not several:
            return MultipleChoice(id=self.id, stem=self._stem(), choices=choices)
        each = _EACH.search(self.cell(self.row, "scoring"))
        scoring: Scoring = "per_choice" if each else "all_or_nothing"
        return MultipleResponse(id=self.id, stem=self._stem(), choices=choices, scoring=scoring)

    def _choice_note(self, position: int) -> str | None:
        column = self.columns.choice_feedback.get(position)
        text = self.row[column].strip() if column is not None and column < len(self.row) else ""
        return self._content(text) if text else None

    def true_false(self) -> Item:
        texts = self.choice_cells(self.row)
        picked = [truth_of(texts[i]) for i in self._picked(texts)] if len(texts) >= 2 and truth_of(self.key) is None else []
        answer = truth_of(self.key) if truth_of(self.key) is not None else picked[0] if picked else None
        if answer is None and self.key.strip().lower() in ("yes", "1", "y", "no", "0", "n", "right", "wrong"):
            answer = self.key.strip().lower() in ("yes", "1", "y", "right")
        item = TrueFalse(id=self.id, stem=self._stem(), answer=answer)
        if note := self._choice_note(0):
            item.choice_feedback["true"] = note
        if note := self._choice_note(1):
            item.choice_feedback["false"] = note
        return item

    def texts(self) -> list[str]:
        own = self.key or "|".join(text for text in self.choice_cells(self.row) if text)
        return [part.strip() for part in re.split(rf"[|;\n]|{spaces.SOME_BEFORE}(?:/|or)\s++", own) if part.strip()]

    def fill_in(self) -> Item:
        return FillIn(id=self.id, stem=self._stem(), answers=[TextAnswer(text=text) for text in self.texts()])

    def numeric(self) -> Item:
        parsed = number_of(self.key) or beyond(self.key) if self.key else None
        item = Numeric(id=self.id, stem=self._stem(), unit=self.cell(self.row, "unit") or None)
        if parsed is not None:
            answer = parsed.answer
            tolerance = re.search(r"\d+(?:[.,]\d+)?", self.cell(self.row, "tolerance"))
            if tolerance and answer.value is not None:
                spread = float(tolerance[0].replace(",", "."))
                per_cent = "%" in self.cell(self.row, "tolerance")
                told = {"relative": spread} if per_cent else {"tolerance": spread}
                answer = NumericAnswer(value=answer.value, **told)
            if doubtful := doubtful_number(self.key):
                self.note(NUMBER_DOUBTFUL, text=doubtful)
            item.answers, item.unit = [answer], item.unit or parsed.unit
        elif self.key:
            self.note(KEY_UNREAD, text=self.key[:60])
        return item

    def essay(self) -> Item:
        model = self.cell(self.row, "model") or self.key
        rubric = self.cell(self.row, "rubric")
        return Essay(
            id=self.id,
            stem=self._stem(),
            sample_answer=self._content(model) if model else None,
            rubric=self._content(rubric) if rubric else None,
        )

    def information(self) -> Item:
        return Information(id=self.id, stem=self._stem())

    def matching(self) -> Item:
        cells = [text for text in self.choice_cells(self.row) if text] or [t for t in re.split(r"[|;\n]", self.key) if t.strip()]
        item = Matching(id=self.id, stem=self._stem())
        for text in cells:
            parts = _PAIR.split(text.strip(), maxsplit=1)
            if len(parts) == 2 and parts[0]:
                item.pairs.append(Pair(left=self._content(parts[0]), right=self._content(parts[1])))
            elif parts[-1]:
                item.distractors.append(self._content(parts[-1]))
        return item

    def ordering(self) -> Item:
        texts = [text for text in self.choice_cells(self.row) if text]
        order = self._picked(texts) if self.key else []
        if texts and sorted(order) == list(range(len(texts))):
            texts = [texts[i] for i in order]
        elif texts:
            self.note(TYPE_GUESSED, detail="the order of the columns was taken for the right order.")
        else:
            texts = self.texts()
        return Ordering(id=self.id, stem=self._stem(), sequence=[self._content(text) for text in texts])


def _by_words(key: str, texts: list[str]) -> list[int]:
    """The choices that a key consists of, whatever parts them; the longest are looked for first."""
    rest, found = key, []
    for place in sorted(range(len(texts)), key=lambda place: -len(texts[place])):
        text = texts[place]
        at = rest.find(text) if text else -1
        if at >= 0 and not rest[at - 1 : at].isalnum() and not rest[at + len(text) : at + len(text) + 1].isalnum():
            found.append(place)
            rest = f"{rest[:at]}\0{rest[at + len(text) :]}"
    return sorted(found) if found and not re.sub(r"\band\b|[\0\s,;|/&]", "", rest) else []


_MAKERS: dict[ItemType, Callable[[RowReader], Item]] = {
    "multiple_choice": lambda reader: reader.choices(False),
    "multiple_response": lambda reader: reader.choices(True),
    "true_false": RowReader.true_false,
    "fill_in": RowReader.fill_in,
    "numeric": RowReader.numeric,
    "essay": RowReader.essay,
    "information": RowReader.information,
    "matching": RowReader.matching,
    "ordering": RowReader.ordering,
    "cloze": RowReader.fill_in,
    "preserved": RowReader.information,
}

__all__ = ["KeyHabit", "RowReader", "habit_of"]

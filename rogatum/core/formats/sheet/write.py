"""Writes a sheet that its reader reads back: one row an item, one column a part."""

from __future__ import annotations

import io
import re
import zipfile
from collections.abc import Callable
from typing import Any

import openpyxl
from openpyxl.cell.cell import ILLEGAL_CHARACTERS_RE
from openpyxl.styles import Alignment, Font

from rogatum.core.findings.sources import LEFT_OUT
from rogatum.core.formats.shared.base import TEACHERS_COPY, WriteOptions, Written
from rogatum.core.formats.shared.numbers import exact_number, number_key
from rogatum.core.formats.sheet.carries import CARRIES
from rogatum.core.formats.sheet.columns import SCORING_WORDS
from rogatum.core.items import (
    Bank,
    Essay,
    Item,
    MultipleChoice,
    MultipleResponse,
    Numeric,
    NumericAnswer,
    TrueFalse,
    metadata,
    parts,
)
from rogatum.core.items.by_type import ByType
from rogatum.core.items.content import plain_text
from rogatum.core.items.type_words import TYPE_LABELS
from rogatum.core.sources import MediaBox

_BEFORE = ("Id", "Type", "Title", "Question")
_AFTER = ("Answer", "Tolerance", "Unit of measure", "Scoring", "Model answer", "Rubric", "Points")
_FEEDBACK = ("Feedback", "Correct feedback", "Incorrect feedback")


def cell_text(content: str) -> str:
    """Content as the text of a cell, formulas as TeX."""
    return str(ILLEGAL_CHARACTERS_RE.sub("", plain_text(content, math=lambda tex: f"\\({tex}\\)")))


def write_sheet(bank: Bank, _media: MediaBox, _options: WriteOptions = TEACHERS_COPY) -> Written:
    """The bank as one workbook with one sheet."""
    findings = [
        LEFT_OUT.at("", item.id, detail=f"A sheet has no {TYPE_LABELS[item.type]} items.")
        for item in bank.items
        if item.type not in CARRIES.types
    ]
    items = [item for item in bank.items if item.type in CARRIES.types]
    width = max([len(parts.choices(item)) for item in items] + [4])
    letters = [chr(ord("A") + n) if n < 8 else f"Choice {n + 1}" for n in range(width)]
    feedback = [f"Feedback {letter}" for letter in letters] if any(map(_has_choice_feedback, items)) else []
    labels = [label for label in metadata.SHOWN if any(label in item.metadata for item in items)]
    others = list(dict.fromkeys(label for item in items for label in item.metadata if label not in metadata.SHOWN))
    book = openpyxl.Workbook()
    sheet = book.active
    assert sheet is not None
    sheet.title = "Questions"
    sheet.append([*_BEFORE, *letters, *_AFTER, *_FEEDBACK, *feedback, *(label.capitalize() for label in labels), *others])
    for item in items:
        sheet.append(_row(item, width, bool(feedback), [*labels, *others]))
    _set_out(sheet)
    buffer = io.BytesIO()
    book.save(buffer)
    return Written(_settled(buffer.getvalue()), ".xlsx", findings)


def _has_choice_feedback(item: Item) -> bool:
    return any(_choice_notes(item))


def _choice_notes(item: Item) -> list[str | None]:
    """Feedback by choice; that of True and False stands as that of a first and a second choice."""
    if isinstance(item, TrueFalse):
        return [cell_text(item.choice_feedback.get("true", "")) or None, cell_text(item.choice_feedback.get("false", "")) or None]
    return [cell_text(choice.feedback or "") or None for choice in parts.choices(item)]


def _row(item: Item, width: int, with_feedback: bool, labels: list[str]) -> list[str | float | None]:
    texts = [cell_text(choice.content) for choice in parts.choices(item)]
    notes = _choice_notes(item)
    essay = item if isinstance(item, Essay) else None
    after = [
        _key(item),
        _tolerance(item),
        item.unit if isinstance(item, Numeric) else None,
        SCORING_WORDS[item.scoring] if isinstance(item, MultipleResponse) else None,
        cell_text(essay.sample_answer) if essay and essay.sample_answer else None,
        cell_text(essay.rubric) if essay and essay.rubric else None,
        item.points,
        *(cell_text(item.feedback.get(slot, "")) or None for slot in ("general", "correct", "incorrect")),
    ]
    shown = [
        item.id,
        TYPE_LABELS[item.type],
        item.title or None,
        cell_text(item.stem),
        *texts,
        *[None] * (width - len(texts)),
        *after,
    ]
    if with_feedback:
        shown += [*notes, *[None] * (width - len(notes))]
    return [_safe(cell) for cell in [*shown, *("; ".join(item.metadata.get(label, [])) or None for label in labels)]]


def _tolerance(item: Item) -> str | None:
    """The tolerance of a number that is told per cent; another stands with the number."""
    answer = next((a for a in item.answers if a.weight == 1), None) if isinstance(item, Numeric) else None
    return f"{exact_number(answer.relative)} %" if answer is not None and answer.relative is not None else None


def _safe(cell: str | float | None) -> str | float | None:
    return ILLEGAL_CHARACTERS_RE.sub("", cell) if isinstance(cell, str) else cell


def _key(item: Item) -> str | None:
    return _KEYS.of(item)(item)


def _letters(item: MultipleChoice | MultipleResponse, least: float) -> str:
    return "; ".join(chr(ord("A") + n) for n, choice in enumerate(item.choices) if choice.weight >= least)


def _no_key(_item: Item) -> None:
    """No cell holds its key."""


_KEYS: ByType[Callable[[Any], str | None]] = ByType(
    "the cell of the key",
    {
        "multiple_choice": lambda item: _letters(item, 1.0),
        "multiple_response": lambda item: _letters(item, 0.010001),
        "true_false": lambda item: None if item.answer is None else str(item.answer),
        "fill_in": lambda item: " | ".join(answer.text for answer in item.answers if answer.weight == 1),
        "numeric": lambda item: next((_number_key(answer) for answer in item.answers if answer.weight == 1), None),
        "essay": _no_key,
        "information": _no_key,
    },
    CARRIES.types,
)


def _number_key(answer: NumericAnswer) -> str | None:
    if answer.relative is not None and answer.value is not None:
        return exact_number(answer.value)  # how near, per cent, stands in a column of its own
    return None if answer.min is answer.max is answer.value is None else number_key(answer)


def _set_out(sheet: object) -> None:
    for cell in sheet[1]:  # type: ignore[index]
        cell.font = Font(bold=True)
    for number, row in enumerate(sheet.iter_rows()):  # type: ignore[attr-defined]
        for cell in row:
            if number:
                cell.alignment = Alignment(wrap_text=True, vertical="top")
            # A text that begins with a sign is no formula, in a heading neither.
            if isinstance(cell.value, str):
                cell.data_type = "s"
    sheet.freeze_panes = "A2"  # type: ignore[attr-defined]
    sheet.column_dimensions["D"].width = 60  # type: ignore[attr-defined]


def _settled(data: bytes) -> bytes:
    """The same workbook without the hour of its making: the same bank gives the same bytes."""
    buffer = io.BytesIO()
    with zipfile.ZipFile(io.BytesIO(data)) as archive, zipfile.ZipFile(buffer, "w", zipfile.ZIP_DEFLATED) as copy:
        for name in archive.namelist():
            content = re.sub(rb"(<dcterms:\w++[^<>]*>)[^<]*", rb"\g<1>1980-01-01T00:00:00Z", archive.read(name))
            copy.writestr(zipfile.ZipInfo(name, (1980, 1, 1, 0, 0, 0)), content, zipfile.ZIP_DEFLATED)
    return buffer.getvalue()

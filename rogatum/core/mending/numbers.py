"""The numbers of questions: as they are printed in the source where it prints them, else counted."""

from __future__ import annotations

import re
from collections.abc import Sequence
from dataclasses import dataclass

from rogatum.core.errors import NothingToMend
from rogatum.core.items import Item, parts

# A number at the start of a line, behind a word for question or none; and a title that is nothing but that.
_PRINTED = re.compile(r"\s{0,20}(?:[#*_(\[]{0,3})(?:(?:question|item|q|no|nr)\.?\s?)?(\d{1,4})\s?(?:[.):\]]|\s|$)", re.I)
_TITLED = re.compile(r"(?:question|item|q|no|nr)?[.\s#]{0,3}(\d{1,4})\.?", re.I)
_RANGE = re.compile(r"(\d{1,4})(?:\s?(?:[-–—]|to)\s?(\d{1,4}))?", re.I)
# What a step makes: the item as it would be, with the words before and after.
Made = tuple[Item, str, str]


@dataclass(frozen=True)
class Subject:
    """An item that may change: its position in the reading, its pool's path there, and the first line of its source."""

    position: int
    item: Item
    path: tuple[str, ...] = ()
    line: str = ""


def by_number(subjects: Sequence[Subject]) -> dict[int, Subject]:
    """The questions by number: as printed, where all have a number of their own; else as they are counted, texts left out."""
    questions = [subject for subject in subjects if parts.is_question(subject.item)]
    printed = [_printed(subject) for subject in questions]
    told = [number for number in printed if number is not None]
    if len(told) == len(questions) == len(set(told)):
        return dict(zip(told, questions, strict=True))
    return dict(enumerate(questions, 1))


def _printed(subject: Subject) -> int | None:
    match = _TITLED.fullmatch(subject.item.title.strip()) or _PRINTED.match(subject.line)
    return int(match[1]) if match else None


def numbers_in(text: str) -> list[int]:
    """The numbers that a list names: “1–5, 8, 10 to 12”. Raises NothingToMend for anything else."""
    found: list[int] = []
    for piece in re.split(r"[,\s]+(?!to\b|[-–—])(?<!to )", re.sub(r"\s?([-–—])\s?", r"\1", text.strip(" ,"))):
        match = _RANGE.fullmatch(piece.strip())
        if match is None:
            raise NothingToMend(f"“{piece[:40]}” is no number and no range of numbers.", "Write them as 1–5, 8.")
        first, last = int(match[1]), int(match[2] or match[1])
        if last < first or last - first > 2000:
            raise NothingToMend(f"“{piece[:40]}” is no range of numbers.", "Write the smaller number first.")
        found += range(first, last + 1)
    return found


def told_missing(numbers: Sequence[int], known: dict[int, Subject], unmet: list[str]) -> None:
    """Says of numbers that no question has them."""
    lacking = [number for number in dict.fromkeys(numbers) if number not in known]
    if lacking:
        shown = ", ".join(map(str, lacking[:12])) + ("…" if len(lacking) > 12 else "")
        unmet.append(f"There is no question {shown}.")

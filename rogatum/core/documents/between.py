"""What stands between questions: headings, directions, passages for several questions, and what belongs to none."""

from __future__ import annotations

import re
from collections.abc import Sequence

from rogatum.core.documents import patterns as p
from rogatum.core.documents.document import Document
from rogatum.core.documents.fields import FieldWords
from rogatum.core.documents.labels import LETTERS, letter, roman_value
from rogatum.core.documents.lines import Line

LONGEST_HEADING, LONGEST_LEAD = 90, 200
_CHAPTER = re.compile(r"(?i)chapter|unit|module|week|lesson")
_NUMBER = r"#?(?:\d{1,3}\.)?(\d{1,3}|[IVXLC]{1,6}\b)"
_RANGE = re.compile(
    rf"\b(?:questions?|items?|problems?|exercises?|nos?\.?|numbers?|q)\s+{_NUMBER}\s*(?:-|–|—|to|through|and|&|,)\s*{_NUMBER}", re.I
)


def place_between(doc: Document, indices: Sequence[int], words: FieldWords, top: bool = False, bottom: bool = False) -> list[Line]:
    """The roles of lines that are in no question; `top`: before the first one, `bottom`: behind the last one."""
    placer = _Between(doc, words, top, bottom)
    placer.pool = _pool(doc, indices)
    return [placer.place(index) for index in indices]


def _pool(doc: Document, indices: Sequence[int]) -> dict[int, str]:
    """Letters that count from A on, in lines of their own: a list of answers for the questions that follow."""
    found: dict[int, str] = {}
    run: list[int] = []
    for index in indices:
        label = next((label for label in doc.heads[index].labels if label.system in LETTERS), None)
        if label and label.value == len(run) + 1:
            run.append(index)
        elif not doc.lines[index].blank and len(run) > 1:
            break
        elif not doc.lines[index].blank:
            run = []
    if len(run) > 2:
        found = {index: letter(place) for place, index in enumerate(run, 1)}
    return found


def range_of(text: str) -> tuple[int, int] | None:
    """The questions that a line says something is for, as their first and last number."""
    match = _RANGE.search(text)
    if match is None:
        one = p.USE_FOR_ONE.search(text)
        return (int(one["a"]), int(one["a"])) if one else None
    first, last = _value(match[1]), _value(match[2])
    return (first, last) if first < last else None


def _value(token: str) -> int:
    return int(token) if token.isdigit() else roman_value(token) or 0


class _Between:
    def __init__(self, doc: Document, words: FieldWords, top: bool, bottom: bool) -> None:
        self.doc, self.words, self.top, self.bottom = doc, words, top, bottom
        self.titled = not top
        self.headed = self.in_passage = self.closed = False
        self.pool: dict[int, str] = {}

    def place(self, index: int) -> Line:
        line = self.doc.lines[index]
        if line.blank:
            return line.placed("blank")
        said = self.doc.said.get(index)
        text = line.text.strip()
        if said in ("heading", "aside"):
            return self._heading(line) if said == "heading" else line.placed("aside")
        if said:
            return line.placed("outside")
        if index in self.pool:
            head = self.doc.heads[index]
            return line.placed("choice", head.text, None, self.pool[index])
        found = range_of(text) if len(text) <= LONGEST_LEAD else None
        if found and (p.USE_CUE.search(text) or len(text) <= LONGEST_HEADING):
            self.in_passage = True
            return line.placed("use", label=f"{found[0]}-{found[1]}")
        if self.in_passage and not line.heading:
            return line.placed("passage")
        if self.bottom and (line.after_blank or self.closed) and not p.NEAR_KEY.match(text) and not self.words.of(text):
            self.closed = True
            return line.placed("aside")
        if self._is_heading(line, text, self.doc.heads[index].text):
            return self._heading(line)
        if self._is_direction(text):
            self.headed = True
            return line.placed("direction")
        if not self.titled:
            self.titled = True
            return line.placed("title")
        return line.placed("aside" if self.top else "outside")

    def _heading(self, line: Line) -> Line:
        marked = p.MARKED_HEADING.match(line.text)
        start, end = (marked.start(2), marked.end(2)) if marked else (0, None)
        part = line.placed("heading", start, end)
        part.level = line.level or (len(marked[1]) if marked else 1 if _CHAPTER.match(line.text.strip()) else 2)
        self.headed, self.in_passage = True, False
        return part

    def _is_heading(self, line: Line, text: str, start: int) -> bool:
        if line.heading or p.MARKED_HEADING.match(text):
            return True
        if len(text) > LONGEST_HEADING or p.PAGE_FURNITURE.match(text):
            return False
        if p.names_a_part(line.text, start):
            return True
        if not self.top and not self.headed and (p.POINTS_EACH.search(text) or p.WORTH_EACH.search(text)):
            # What the questions below are worth: they are a section of their own.
            return True
        if p.DIRECTION.match(text):
            return False
        if self.top:
            return self.titled and bool(line.marks() & {"bold", "underline"}) and not text.endswith((".", "?"))
        short = not text.endswith((".", "?", ":", ",", ";")) and len(text) <= 60
        return short and not self.headed and not self.bottom

    def _is_direction(self, text: str) -> bool:
        if p.PAGE_FURNITURE.match(text):
            return False
        sentence = text.endswith((".", ":", "!", "…", ")")) or len(text.split()) > 6
        return (
            (self.headed and sentence)
            or bool(p.POINTS_EACH.search(text) or p.WORTH_EACH.search(text))
            or bool(p.DIRECTION.match(text) and not text.endswith("?"))
            or (self.top and self.titled and bool(p.MATCH_CUE.search(text)))
        )

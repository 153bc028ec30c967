"""Two states of an item line by line, with the words in which they differ: for eyes that compare."""

from __future__ import annotations

import re
from collections import Counter
from collections.abc import Iterator
from dataclasses import dataclass
from difflib import SequenceMatcher
from itertools import zip_longest

from pydantic import BaseModel
from rapidfuzz import fuzz

from rogatum.core.items import parts
from rogatum.core.items.content import media_refs, plain_text
from rogatum.core.items.model import Item
from rogatum.core.items.type_words import TYPE_LABELS

# Choices that read less alike than this are different ones.
SAME_CHOICE = 60.0
_TOKEN = re.compile(r"\s+|\w+|[^\w\s]")
MOST_TOKENS = 4000
# Choices are held each against each up to so many; of more, each against the one in its place.
MOST_COMPARED = 4000


class Piece(BaseModel):
    """A stretch of a text; `differs` where the other side has something else."""

    text: str
    differs: bool = False


class Line(BaseModel):
    """One thing that is said of an item, on both sides; empty where a side has none."""

    label: str
    a: list[Piece]
    b: list[Piece]

    @property
    def same(self) -> bool:
        return not any(piece.differs for piece in [*self.a, *self.b])


@dataclass(frozen=True)
class _Said:
    label: str
    text: str


def differences(a: Item, b: Item) -> list[Line]:
    """All that is said of either item, in the order of a page; each line knows whether both say the same."""
    return _lines(a, b, _choices_of(a), _choices_of(b))


def changed_lines(a: Item, b: Item) -> list[Line]:
    """The lines in which two items differ. What both have is not looked at closer, however much it is."""
    left, right = ([], []) if parts.choices(a) == parts.choices(b) else (_choices_of(a), _choices_of(b))
    shared = Counter(choice.said for choice in left) & Counter(choice.said for choice in right)
    return [line for line in _lines(a, b, _without(left, shared), _without(right, shared)) if not line.same]


@dataclass(frozen=True)
class _Choice:
    """A choice with its place in its item, and what is said of it."""

    number: int
    said: tuple[str, bool]

    @property
    def text(self) -> str:
        return _text(self.said[0])

    @property
    def marked(self) -> str:
        return f"✓ {self.text}" if self.said[1] else self.text


def _choices_of(item: Item) -> list[_Choice]:
    return [_Choice(number, (c.content, c.weight > 0)) for number, c in enumerate(parts.choices(item), 1)]


def _without(choices: list[_Choice], shared: Counter[tuple[str, bool]]) -> list[_Choice]:
    left, kept = Counter(shared), []
    for choice in choices:
        if left[choice.said]:
            left[choice.said] -= 1
        else:
            kept.append(choice)
    return kept


def _lines(a: Item, b: Item, left: list[_Choice], right: list[_Choice]) -> list[Line]:
    mine, its = list(_said(a)), {entry.label: entry.text for entry in _said(b)}
    lines = [_line(entry.label, entry.text, its.pop(entry.label, "")) for entry in mine]
    lines += [_line(label, "", text) for label, text in its.items()]
    return [*lines[:2], *_choices(left, right), *lines[2:]]


def _said(item: Item) -> Iterator[_Said]:
    """What is said of an item, but for its choices: type and stem always."""
    yield _Said("Type", TYPE_LABELS[item.type])
    yield _Said("Stem", _text(item.stem))
    if item.title:
        yield _Said("Title", plain_text(item.title))
    if not parts.choices(item):
        for number, answer in enumerate(parts.key(item), 1):
            yield _Said(f"Key {number}", plain_text(answer))
    if item.points is not None:
        yield _Said("Points", f"{item.points:g}")
    for slot, text in parts.feedback(item).items():
        yield _Said(f"Feedback: {slot}", _text(text))
    for label, values in item.metadata.items():
        yield _Said(label.capitalize(), ", ".join(values))


def _text(content: str) -> str:
    """Content as it reads; a picture is told by what it is called."""
    pictures = [f"[picture {ref.rsplit('/', 1)[-1][:20]}]" for ref in media_refs(content)]
    return " ".join([plain_text(content), *pictures]).strip()


def _choices(left: list[_Choice], right: list[_Choice]) -> list[Line]:
    """The choices side by side: each beside the one of the other side that reads most alike, whatever their order."""
    if len(left) * len(right) > MOST_COMPARED:
        pairs = zip_longest(left, right)
        return [_line(f"Choice {number}", *(c.marked if c else "" for c in pair)) for number, pair in enumerate(pairs, 1)]
    free = {place: choice.text for place, choice in enumerate(right)}
    lines = []
    for choice in left:
        text = choice.text
        best = max(free, key=lambda place: fuzz.ratio(text, free[place]), default=None)
        if best is not None and fuzz.ratio(text, free[best]) >= SAME_CHOICE:
            free.pop(best)
            lines.append(_line(f"Choice {choice.number}", choice.marked, right[best].marked))
        else:
            lines.append(_line(f"Choice {choice.number}", choice.marked, ""))
    return lines + [_line("Choice", "", right[place].marked) for place in free]


def _line(label: str, a: str, b: str) -> Line:
    if a == b:
        return Line(label=label, a=[Piece(text=a)], b=[Piece(text=b)])
    left, right = _TOKEN.findall(a), _TOKEN.findall(b)
    if not left or not right or len(left) + len(right) > MOST_TOKENS:
        return Line(label=label, a=_pieces([(a, True)]), b=_pieces([(b, True)]))
    pieces_a: list[tuple[str, bool]] = []
    pieces_b: list[tuple[str, bool]] = []
    for tag, a1, a2, b1, b2 in SequenceMatcher(None, left, right, autojunk=False).get_opcodes():
        pieces_a.append(("".join(left[a1:a2]), tag != "equal"))
        pieces_b.append(("".join(right[b1:b2]), tag != "equal"))
    return Line(label=label, a=_pieces(pieces_a), b=_pieces(pieces_b))


def _pieces(told: list[tuple[str, bool]]) -> list[Piece]:
    return [Piece(text=text, differs=differs) for text, differs in told if text]

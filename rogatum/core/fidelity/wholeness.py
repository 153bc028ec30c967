"""Which of two readings of one test arrived more whole, and in what: of several formats that are offered, not all survive."""

from __future__ import annotations

import re
from collections.abc import Callable
from typing import Literal

from pydantic import BaseModel

from rogatum.core.finding import NEED_LOOK
from rogatum.core.items import Bank, Item, parts
from rogatum.core.items.content import MATH, media_refs
from rogatum.core.items.key import key_words

Side = Literal["a", "b", "even"]
_FORMATTING = re.compile(r"<(?:strong|em|u|s|sub|sup|code|table|ul|ol)\b")


class Aspect(BaseModel):
    """One thing that is counted on both sides, and where there is more of it."""

    name: str
    a: int
    b: int
    more: Side


class Wholeness(BaseModel):
    """The aspects in the order of their weight, and which side is the more whole by all of them together."""

    more: Side
    aspects: list[Aspect]


def _each(count: Callable[[Item], int]) -> Callable[[Bank], int]:
    return lambda bank: sum(count(item) for item in bank.items)


def _in_contents(count: Callable[[str], int]) -> Callable[[Bank], int]:
    return _each(lambda item: sum(count(content) for content in parts.content_fields(item)))


def _sound(bank: Bank) -> int:
    flagged = {finding.item for finding in bank.findings if finding.level in NEED_LOOK}
    return sum(item.id not in flagged for item in bank.items)


# What is counted, and how much it counts: an item or a key that is lost is worse than a page reference.
_COUNTS: tuple[tuple[str, int, Callable[[Bank], int]], ...] = (
    ("items", 4, lambda bank: len(bank.items)),
    ("items with a key", 4, _each(lambda item: bool(key_words(item)))),
    ("items with nothing to look at", 3, _sound),
    ("pictures and sounds", 2, _in_contents(lambda content: len(media_refs(content)))),
    ("formulas", 2, _in_contents(lambda content: len(MATH.findall(content)))),
    ("feedback texts", 2, _each(lambda item: len(parts.feedback(item)))),
    ("items with points", 1, _each(lambda item: item.points is not None)),
    ("shared passages", 1, lambda bank: len(bank.stimuli)),
    ("outcomes and other metadata", 1, _each(lambda item: sum(map(len, item.metadata.values())))),
    ("pieces of formatting", 1, _in_contents(lambda content: len(_FORMATTING.findall(content)))),
    ("tests and draws", 1, lambda bank: len(bank.quizzes) + len(bank.draws)),
)


def more_whole(a: Bank, b: Bank) -> Wholeness:
    """Counts both sides; each aspect speaks for the side that has more of it by its weight and by how much more that is."""
    aspects, balance = [], 0.0
    for name, weight, count in _COUNTS:
        of_a, of_b = count(a), count(b)
        if of_a or of_b:
            aspects.append(Aspect(name=name, a=of_a, b=of_b, more=_side(of_a - of_b)))
            balance += weight * (of_a - of_b) / max(of_a, of_b)
    return Wholeness(more=_side(round(balance, 6)), aspects=aspects)


def _side(difference: float) -> Side:
    return "even" if difference == 0 else "a" if difference > 0 else "b"

"""Whether an item that was made of another marks as that did, in words: what every change of type and every repair has to say."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass

from rogatum.core.fidelity.probes import Disagreement, disagreements, probes_of
from rogatum.core.items import Item, Preserved, parts

# How many of the responses that differ are told; the others are counted.
MOST_TOLD = 4


@dataclass(frozen=True)
class Marks:
    """How an item marks, held against the item as it was before; `words` are for a person, `differing` the responses that differ.

    `code` is one word for all that differ in the same way, so that they can be counted.
    """

    alike: bool
    words: str
    code: str = ""
    differing: tuple[Disagreement, ...] = ()


ALIKE = Marks(True, "All responses that were tried earn the same.")


def marks_of(before: Item, after: Item) -> Marks:
    """How `after` marks, which was made of `before`."""
    if isinstance(before, Preserved) or isinstance(after, Preserved):
        return ALIKE if before == after else Marks(False, "Its own markup marked it.", "not its own markup")
    for holds, marks in _BY_WHAT_IT_IS:
        if holds(before, after):
            return marks
    found = tuple(disagreements(before, after))
    return Marks(False, _words(found), "other marks", found) if found else ALIKE


def otherwise(before: Item, after: Item) -> str:
    """Where `after` is marked otherwise, in words; empty where it is not."""
    marks = marks_of(before, after)
    return "" if marks.alike else marks.words


def _by_person(item: Item) -> bool:
    return parts.is_question(item) and not probes_of(item)


_ASKS = Marks(False, "It asked nothing before.", "something to answer")
_GONE = Marks(False, "Its key is gone: no response earns anything.", "no key")
_NOT_BY_PERSON = Marks(False, "A person marked it, and its key does now.", "not marked by a person")
_MADE_UP = Marks(False, "It has a key that was not there.", "a key that was not there")
_BY_WHAT_IT_IS: tuple[tuple[Callable[[Item, Item], bool], Marks], ...] = (
    (lambda a, b: parts.is_question(a) and not parts.is_question(b), Marks(False, "It asks nothing.", "nothing to answer")),
    (
        lambda a, b: parts.is_question(b) and not parts.is_question(a),
        Marks(False, "It asked nothing before.", "something to answer"),
    ),
    (lambda a, b: _by_person(a) and _by_person(b), ALIKE),
    (lambda _, b: _by_person(b), Marks(False, "A person marks it there.", "marked by a person")),
    (lambda a, b: parts.has_key(a) and not parts.has_key(b), _GONE),
    (lambda a, _: _by_person(a), _NOT_BY_PERSON),
    (lambda a, b: parts.has_key(b) and not parts.has_key(a), _MADE_UP),
)


def _words(found: tuple[Disagreement, ...]) -> str:
    told = [f"{entry.label} earns {_share(entry.a)} and {_share(entry.b)} then" for entry in found[:MOST_TOLD]]
    more = len(found) - MOST_TOLD
    also = f"; and {more} more differ" if more > 1 else "; and 1 more differs" if more == 1 else ""
    return f"{'; '.join(told)}{also}."


def _share(value: float | None) -> str:
    return "no mark" if value is None else f"{value * 100:.0f} %"

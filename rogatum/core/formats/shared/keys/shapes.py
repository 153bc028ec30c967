"""Processings that differ in nothing but the names they use are one shape: compiled once, and each response processed once."""

from __future__ import annotations

import re
from collections.abc import Callable, Iterable, Mapping
from dataclasses import dataclass, field
from typing import Generic, TypeVar

T = TypeVar("T")
# A bank has a few; one in which each item has its own gains nothing from more.
MOST_SHAPES = 256
# What stands for a name; no source uses it.
_SLOT = "\ue000{}"


def listed(value: str, table: Mapping[str, str]) -> str:
    """A value, or each of a list ("A,C"), as a table calls it; what the table has not stays."""
    if value in table or "," not in value:
        return table.get(value, value)
    return ",".join(table.get(part.strip(), part) for part in value.split(","))


@dataclass(frozen=True)
class Names:
    """The names of one item and the slots that stand for them in its shape."""

    slots: dict[str, str] = field(default_factory=dict)

    @classmethod
    def of(cls, names: Iterable[str]) -> Names:
        return cls({name: _SLOT.format(place) for place, name in enumerate(dict.fromkeys(names))})

    @property
    def own(self) -> dict[str, str]:
        return {slot: name for name, slot in self.slots.items()}

    def slot(self, name: str) -> str:
        return self.slots.get(name, name)

    def written(self, markup: str, places: re.Pattern[str]) -> str:
        """Markup with slots for names, where the pattern finds some: its one group that takes part is what stands there."""

        def replaced(found: re.Match[str]) -> str:
            start, end = found.span(found.lastindex or 0)
            slot = listed(found[found.lastindex or 0], self.slots)
            return found[0][: start - found.start()] + slot + found[0][end - found.start() :]

        return places.sub(replaced, markup)


@dataclass
class Shapes(Generic[T]):
    """What was compiled, by the markup of its shape."""

    known: dict[str, T] = field(default_factory=dict)

    def compiled(self, shape: str, compile_it: Callable[[], T]) -> T:
        found = self.known.get(shape)
        if found is None:
            found = compile_it()
            if len(self.known) < MOST_SHAPES:
                self.known[shape] = found
        return found

"""Tables that answer one question for every type of item.

A question about items that depends on their type is a table here or beside its users, never a chain of conditions: `TABLES` knows
all of them, and a test sees that none forgets a type.
"""

from __future__ import annotations

import sys
from collections.abc import Mapping
from typing import Any, Generic, TypeVar, get_args

from rogatum.core.items.model import Blank, BlankKind, Item, ItemType

Answer = TypeVar("Answer")
ALL_TYPES: frozenset[ItemType] = frozenset(get_args(ItemType))


def _module_of_caller() -> str:
    """Where a table is made, for the page that lists them."""
    return str(sys._getframe(2).f_globals["__name__"])


class ByType(Generic[Answer]):
    """The answer to `question` for each type. Functions in it take the item of their own type.

    `types` are those that it has to answer for: all, but in a format that holds some alone.
    """

    def __init__(self, question: str, answers: Mapping[ItemType, Answer], types: frozenset[ItemType] = ALL_TYPES) -> None:
        self.question, self._answers, self.types = question, dict(answers), types
        self.module = _module_of_caller()
        TABLES.append(self)

    def of(self, item: Item) -> Answer:
        return self._answers[item.type]

    def __getitem__(self, item_type: ItemType) -> Answer:
        return self._answers[item_type]

    def gaps(self) -> set[str]:
        return {str(item_type) for item_type in self.types ^ set(self._answers)}


class ByBlank(Generic[Answer]):
    """The answer to `question` for each kind of blank."""

    def __init__(self, question: str, answers: Mapping[BlankKind, Answer]) -> None:
        self.question, self._answers = question, dict(answers)
        self.module = _module_of_caller()
        TABLES.append(self)

    def of(self, blank: Blank) -> Answer:
        return self._answers[blank.kind]

    def gaps(self) -> set[str]:
        return {str(kind) for kind in set(get_args(BlankKind)) ^ set(self._answers)}


TABLES: list[ByType[Any] | ByBlank[Any]] = []

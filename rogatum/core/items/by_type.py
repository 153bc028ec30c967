"""Tables that answer one question for every type of item.

A question about items that depends on their type is a table here or beside its users, never a chain of conditions: `TABLES` knows
all of them, and a test sees that none forgets a type.
"""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any, Generic, TypeVar, get_args

from rogatum.core.items.model import Blank, BlankKind, Item, ItemType

Answer = TypeVar("Answer")


class ByType(Generic[Answer]):
    """The answer to `question` for each type. Functions in it take the item of their own type."""

    def __init__(self, question: str, answers: Mapping[ItemType, Answer]) -> None:
        self.question, self._answers = question, dict(answers)
        TABLES.append(self)

    def of(self, item: Item) -> Answer:
        return self._answers[item.type]

    def __getitem__(self, item_type: ItemType) -> Answer:
        return self._answers[item_type]

    def missing(self) -> set[str]:
        return set(get_args(ItemType)) - set(self._answers)


class ByBlank(Generic[Answer]):
    """The answer to `question` for each kind of blank."""

    def __init__(self, question: str, answers: Mapping[BlankKind, Answer]) -> None:
        self.question, self._answers = question, dict(answers)
        TABLES.append(self)

    def of(self, blank: Blank) -> Answer:
        return self._answers[blank.kind]

    def missing(self) -> set[str]:
        return set(get_args(BlankKind)) - set(self._answers)


TABLES: list[ByType[Any] | ByBlank[Any]] = []

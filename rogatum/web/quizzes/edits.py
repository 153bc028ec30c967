"""What can be done to the parts and items of a quiz at once: each kind of edit with what it asks for, and what it does."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from rogatum.core.quizzes import editing
from rogatum.core.quizzes.model import Quiz
from rogatum.web.bounds import Id, In, Points, Position

Parts = Annotated[list[Id], Field(min_length=1, max_length=1000)]
Items = Annotated[list[Id], Field(min_length=1, max_length=2000)]


def _words(ids: list[int]) -> list[str]:
    return [str(key) for key in ids]


class OfQuiz(In):
    """What all edits answer: the quiz that they make, what they are called, and which items they put in."""

    def applied(self, quiz: Quiz) -> Quiz:
        raise NotImplementedError

    def label(self) -> str:
        raise NotImplementedError

    def fresh_items(self) -> list[int]:
        return []


class MoveParts(OfQuiz):
    """Parts to a place among the others, from 0."""

    do: Literal["move parts"]
    parts: Parts
    to: Position

    def applied(self, quiz: Quiz) -> Quiz:
        return editing.with_parts_at(quiz, _words(self.parts), self.to)

    def label(self) -> str:
        return "Moved parts" if len(self.parts) > 1 else "Moved a part"


class MoveItems(OfQuiz):
    """Fixed items to a place among the others of a part, from 0."""

    do: Literal["move items"]
    items: Items
    part: Id
    to: Position

    def applied(self, quiz: Quiz) -> Quiz:
        return editing.with_items_at(quiz, _words(self.items), str(self.part), self.to)

    def label(self) -> str:
        return f"Moved {_counted(self.items)}"


class TakeOut(OfQuiz):
    """Parts and fixed items out of the quiz."""

    do: Literal["take out"]
    parts: Annotated[list[Id], Field(max_length=1000)] = []
    items: Annotated[list[Id], Field(max_length=2000)] = []

    def applied(self, quiz: Quiz) -> Quiz:
        return editing.without_items(editing.without_parts(quiz, _words(self.parts)), _words(self.items))

    def label(self) -> str:
        return f"Took {_counted(self.items)} out" if not self.parts else "Took parts out"


class Split(OfQuiz):
    """A part of fixed items into two, the second with the item and those behind it, on a page of its own."""

    do: Literal["split"]
    part: Id
    item: Id

    def applied(self, quiz: Quiz) -> Quiz:
        return editing.split_before(quiz, str(self.part), str(self.item))

    def label(self) -> str:
        return "Split a part"


class Replace(OfQuiz):
    """Another item of the course in the place of a fixed one."""

    do: Literal["replace"]
    item: Id
    by: Id

    def applied(self, quiz: Quiz) -> Quiz:
        return editing.with_replaced(quiz, str(self.item), str(self.by))

    def label(self) -> str:
        return "Replaced an item"

    def fresh_items(self) -> list[int]:
        return [self.by]


class Worth(OfQuiz):
    """What each item of parts, and what single fixed items are worth; without points, what they are worth on their own."""

    do: Literal["worth"]
    parts: Annotated[list[Id], Field(max_length=1000)] = []
    items: Annotated[list[Id], Field(max_length=2000)] = []
    points: Points | None = None

    def applied(self, quiz: Quiz) -> Quiz:
        quiz = editing.with_parts(quiz, _words(self.parts), editing.worth(self.points))
        return editing.with_items_worth(quiz, _words(self.items), self.points)

    def label(self) -> str:
        return "Changed the points"


def _counted(items: list[int]) -> str:
    return "an item" if len(items) == 1 else f"{len(items)} items"


Edit = Annotated[MoveParts | MoveItems | TakeOut | Split | Replace | Worth, Field(discriminator="do")]

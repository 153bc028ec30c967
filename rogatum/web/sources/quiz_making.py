"""The tests of a reading as quizzes of the course, with what of them is in it by now."""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass
from functools import cached_property
from typing import Any

from django.db.models import Q

from rogatum.core.quizzes.adopting import Arrival, Home, Path, adopted
from rogatum.core.quizzes.model import Quiz as CoreQuiz
from rogatum.web.courses.history import Recorder
from rogatum.web.pools.models import Item, Pool
from rogatum.web.pools.tree import PoolTree
from rogatum.web.quizzes.services import add_quiz
from rogatum.web.sources.models import Reading

_NOTHING_ASKED = Q(type="information")


@dataclass(frozen=True)
class QuizMaking:
    """What was taken of a reading, for its quizzes.

    `there` gives the item of the course for the positions of what is in it, `worth` what those positions are worth whose item is
    worth something else there, `pool_at` the pool that a path of the reading becomes.
    """

    reading: Reading
    record: Recorder
    there: Mapping[str, str]
    worth: Mapping[str, float]
    pool_at: Callable[[Sequence[str]], Pool]

    def make(self, wanted: Sequence[str]) -> list[dict[str, Any]]:
        """Makes the quizzes of these ids. Returns of each its number, its title, and in how many items it differs."""
        return [self._made(CoreQuiz(**said)) for said in self.reading.quizzes if said["id"] in wanted]

    @cached_property
    def _items(self) -> dict[str, str]:
        before = self.reading.items.filter(taken__isnull=False).values_list("position", "taken_id")
        return {str(position): str(key) for position, key in before} | dict(self.there)

    @cached_property
    def _questions(self) -> list[tuple[str, Path]]:
        rows = self.reading.items.exclude(_NOTHING_ASKED).values_list("position", "path")
        return [(str(position), tuple(path)) for position, path in rows]

    def _made(self, quiz: CoreQuiz) -> dict[str, Any]:
        paths = {tuple(part.draw.pool) for part in quiz.parts if part.draw}
        made = adopted(quiz, Arrival(self._items, {path: self._home(path) for path in paths}, self.worth))
        titled = made.quiz.model_copy(update={"title": made.quiz.title or self.reading.title})
        row = add_quiz(self.reading.source.course, titled, self.record)
        told = {name: len(getattr(made, name)) for name in ("left_out", "elsewhere", "besides")}
        return {"id": row.pk, "title": row.title, **told}

    def _home(self, path: Path) -> Home:
        meant = [position for position, held in self._questions if held[: len(path)] == path]
        key = self._drawn_from(path, [self._items[position] for position in meant if position in self._items])
        course = self.reading.source.course
        tree = PoolTree(course)
        below = tree.numbers if key is None else tree.below(key)
        lying = Item.objects.filter(course=course, pool__in=below).exclude(_NOTHING_ASKED).values_list("id", flat=True)
        return Home(tree.path(key), set(map(str, lying)), meant)

    def _drawn_from(self, path: Path, meant: Sequence[str]) -> int | None:
        """The pool where all that is meant lies together, whatever it is called there; else the one that the path becomes.

        What is drawn from all of the source is drawn from what all its pools lie in, which may be the course.
        """
        found = set(Item.objects.filter(pk__in=meant).values_list("pool_id", flat=True))
        if len(found) == 1:
            return int(found.pop())
        if path:
            return self.pool_at(path).pk
        tree = PoolTree(self.reading.source.course)
        shared = set.intersection(*(set(tree.above(pool)) for pool in found)) if found else set()
        return max(shared, key=lambda pool: len(tree.above(pool)), default=None)

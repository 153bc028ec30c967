"""The tests of a reading as quizzes of the course, with what of them is in it by now."""

from __future__ import annotations

from collections import Counter
from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass
from functools import cached_property
from typing import Any

from django.db.models import Q

from rogatum.core.quizzes.adopting import adopted
from rogatum.core.quizzes.model import Quiz as CoreQuiz
from rogatum.web.courses.history import Recorder
from rogatum.web.pools.models import Item, Pool
from rogatum.web.pools.tree import Path, PoolTree
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
        """Makes the quizzes of these ids. Returns of each its number, its title, and in which items it differs from its source."""
        return [self._made(CoreQuiz(**said)) for said in self.reading.quizzes if said["id"] in wanted]

    @cached_property
    def items(self) -> dict[str, str]:
        before = self.reading.items.filter(taken__isnull=False).values_list("position", "taken_id")
        return {str(position): str(key) for position, key in before} | dict(self.there)

    @cached_property
    def _questions(self) -> list[tuple[int, list[str]]]:
        return list(self.reading.items.exclude(_NOTHING_ASKED).values_list("position", "path"))

    def _made(self, quiz: CoreQuiz) -> dict[str, Any]:
        meant = {path: self._meant(path) for path in {tuple(part.draw.pool) for part in quiz.parts if part.draw}}
        drawn_from = {path: self._drawn_from(path, keys) for path, keys in meant.items()}
        tree = PoolTree(self.reading.source.course)
        made, left_out = adopted(quiz, self.items, lambda path: tree.path(drawn_from[tuple(path)]), self.worth)
        titled = made.model_copy(update={"title": made.title or self.reading.title})
        row = add_quiz(self.reading.source.course, titled, self.record)
        told = Counter(left_out=left_out, elsewhere=0, besides=0)
        for path, keys in meant.items():
            told.update(_differing(keys, tree.below(drawn_from[path])))
        return {"id": row.pk, "title": row.title, **told}

    def _meant(self, path: Path) -> list[str | None]:
        """The items of the course that a draw from a pool of the reading is to give; None for each that is not in it."""
        return [self.items.get(str(position)) for position, held in self._questions if tuple(held)[: len(path)] == path]

    def _drawn_from(self, path: Path, meant: list[str | None]) -> int:
        """The pool where all that is meant lies together, whatever it is called there; else the one that the path becomes."""
        found = set(Item.objects.filter(pk__in=[key for key in meant if key]).values_list("pool_id", flat=True))
        return int(found.pop()) if len(found) == 1 else self.pool_at(path).pk


def _differing(meant: list[str | None], pools: list[int]) -> dict[str, int]:
    """How many items a draw from pools cannot give that are meant, taken or not, and how many it can give besides."""
    given = set(map(str, Item.objects.filter(pool__in=pools).exclude(_NOTHING_ASKED).values_list("id", flat=True)))
    wanted = set(meant)
    return {"left_out": meant.count(None), "elsewhere": len(wanted - given - {None}), "besides": len(given - wanted)}

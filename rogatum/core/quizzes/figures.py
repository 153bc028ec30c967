"""What a quiz holds for each student: how many items, worth how much, and what stands in its way."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass

from rogatum.core.quizzes.catalogue import Catalogue, Lot, count_of
from rogatum.core.quizzes.exposure import DrawSet, exposure_of_draw, pool_needed
from rogatum.core.quizzes.model import Part, Quiz


@dataclass(frozen=True)
class Figures:
    """Points of None: they differ from student to student."""

    items: int
    points: float | None
    problems: list[str]


@dataclass(frozen=True)
class DrawFigures:
    """A draw alone: `half` is half of its pick; `needed[k - 1]` the pool that keeps the overlap at k items on average."""

    pool_size: int
    overlap: float
    worst: int
    at_least_half: float
    half: int
    needed: list[int]


def draw_figures(pool_size: int, pick: int) -> DrawFigures:
    exposure = exposure_of_draw(pool_size, pick)
    half = math.ceil(pick / 2)
    return DrawFigures(
        pool_size=pool_size,
        overlap=exposure.expected,
        worst=exposure.worst,
        at_least_half=exposure.at_least(half),
        half=half,
        needed=[pool_needed(pick, overlap) for overlap in range(1, min(pick, 20) + 1)],
    )


@dataclass(frozen=True)
class GivenPart:
    """What a part gives of a quiz: `lots` without what a fixed part gives already, `count` items of them."""

    part: Part
    lots: tuple[Lot, ...]

    @property
    def held(self) -> int:
        return count_of(self.lots)

    @property
    def count(self) -> int:
        return min(self.part.draw.pick, self.held) if self.part.draw else self.held

    @property
    def share(self) -> float:
        """The chance that one of its items is given."""
        return self.count / self.held if self.held else 0.0

    @property
    def title(self) -> str:
        return title_of(self.part)

    def points(self) -> float | None:
        """What it is worth; None where a draw's items differ in points."""
        if self.part.draw is None:
            return sum(lot.points_in(self.part, key) for lot in self.lots for key in lot.ids)
        values = worth_of(self.part, self.lots)
        return None if len(values) > 1 else sum(values) * self.count

    def problems(self) -> list[str]:
        found, draw = [], self.part.draw
        if draw and self.held < draw.pick:
            found.append(f"{self.title} has {self.held} items to draw from, fewer than the {draw.pick} it should give.")
        if self.points() is None:
            found.append(
                f"The items of {self.title} differ in points: give the draw points each, so that all students can reach the same."
            )
        return found

    def set(self) -> DrawSet:
        return DrawSet(frozenset(key for lot in self.lots for key in lot.ids), self.part.draw.pick if self.part.draw else 0)


def title_of(part: Part) -> str:
    """What a part is called among instructors: by its title, or by what it is from."""
    whence = part.draw or part.picked_from
    return part.title or (whence.pool[-1] if whence and whence.pool else "The draw" if part.draw else "A part")


def worth_of(part: Part, lots: Sequence[Lot]) -> set[float]:
    """What the items of a draw are worth, each value once."""
    if not part.points:
        return {lot.points_in(part, "") for lot in lots}
    return {lot.points_in(part, key) for lot in lots for key in lot.ids}


def given_parts(quiz: Quiz, catalogue: Catalogue) -> list[GivenPart]:
    """The parts with what each gives: fixed items are not drawn again."""
    fixed = frozenset(quiz.item_ids())
    found = []
    for part in quiz.parts:
        lots = catalogue.given_by(part)
        if part.draw:
            lots = [free for lot in lots if (free := lot.without(fixed)).ids]
        found.append(GivenPart(part, tuple(lots)))
    return found


def figures_of_quiz(quiz: Quiz, catalogue: Catalogue) -> Figures:
    """What a quiz assembled from a catalogue holds for each student."""
    given = given_parts(quiz, catalogue)
    points = [part.points() for part in given]
    return Figures(
        items=sum(part.count for part in given),
        points=None if None in points else round(sum(worth or 0.0 for worth in points), 4),
        problems=[problem for part in given for problem in part.problems()],
    )

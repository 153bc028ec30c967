"""What a quiz adds up to before anyone has taken it: items, points, minutes, outcomes, and what students will have in common."""

from __future__ import annotations

import math
from collections.abc import Hashable, Sequence
from dataclasses import dataclass, replace

from rogatum.core.items.parts import TRAITS
from rogatum.core.quizzes.catalogue import Candidate, Catalogue
from rogatum.core.quizzes.exposure import exposure_of_draw, exposure_of_quiz, pool_needed
from rogatum.core.quizzes.model import Part, Quiz


@dataclass(frozen=True)
class PartFacts:
    """A part: fixed items (`pick` None), or a draw of `pick` from its candidates. Draws with the same `pool` share one."""

    title: str
    candidates: tuple[Candidate, ...]
    pick: int | None = None
    points_each: float | None = None
    pool: Hashable = 0


@dataclass(frozen=True)
class Figures:
    """What a quiz adds up to. Chances are from 0 to 1; `overlap` is on average, `worst` at most."""

    items: int
    points: float | None
    minutes: int
    outcomes: list[str]
    overlap: float
    worst: int
    at_least_half: float
    problems: list[str]


@dataclass(frozen=True)
class DrawFigures:
    """A draw alone: `half` is half of its pick, `needed_for_quarter` the pool that keeps the overlap at a quarter of it."""

    pool_size: int
    overlap: float
    worst: int
    at_least_half: float
    half: int
    needed_for_quarter: int


def draw_figures(pool_size: int, pick: int) -> DrawFigures:
    exposure = exposure_of_draw(pool_size, pick)
    half = math.ceil(pick / 2)
    return DrawFigures(
        pool_size=pool_size,
        overlap=float(exposure.expected),
        worst=exposure.worst,
        at_least_half=float(exposure.at_least(half)),
        half=half,
        needed_for_quarter=pool_needed(pick, pick / 4) if pick else 0,
    )


def figures_of_quiz(quiz: Quiz, catalogue: Catalogue) -> Figures:
    """Totals and exposure of a quiz assembled from a catalogue."""
    return figures_of(
        [
            PartFacts(
                part.title,
                tuple(_valued(candidate, part) for candidate in catalogue.given_by(part)),
                part.draw.pick if part.draw else None,
                part.points_each,
                tuple(part.draw.pool) if part.draw else (),
            )
            for part in quiz.parts
        ]
    )


def _valued(candidate: Candidate, part: Part) -> Candidate:
    """A candidate with the points that a part gives it alone."""
    return replace(candidate, points=part.points[candidate.id]) if candidate.id in part.points else candidate


def figures_of(parts: Sequence[PartFacts]) -> Figures:
    """Totals and exposure of a whole quiz. Draws from one pool are one draw to two students; fixed items are not drawn again."""
    fixed = {candidate.id for part in parts if part.pick is None for candidate in part.candidates}
    given = [_Given(part, fixed) for part in parts]
    points = [part.points() for part in given]
    items = sum(part.count for part in given)
    exposure = exposure_of_quiz(len(fixed), _draws(given))
    outcomes = {outcome for part in parts for candidate in part.candidates for outcome in candidate.outcomes}
    return Figures(
        items=items,
        points=None if None in points else round(sum(worth or 0.0 for worth in points), 4),
        minutes=round(sum(part.minutes() for part in given)),
        outcomes=sorted(outcomes),
        overlap=float(exposure.expected),
        worst=exposure.worst,
        at_least_half=float(exposure.at_least(math.ceil(items / 2))) if items else 0.0,
        problems=[problem for part in given for problem in part.problems()],
    )


def _draws(given: Sequence[_Given]) -> list[tuple[int, int]]:
    """(pool, pick) of each pool that is drawn from."""
    found: dict[Hashable, tuple[int, int]] = {}
    for part in given:
        if part.facts.pick is not None:
            size, picked = found.get(part.facts.pool, (len(part.free), 0))
            found[part.facts.pool] = size, min(size, picked + part.count)
    return list(found.values())


class _Given:
    """What a part gives of a quiz: `free` are the candidates that no fixed part gives already, `count` how many it gives."""

    def __init__(self, facts: PartFacts, fixed: set[str]) -> None:
        self.facts = facts
        self.free = [c for c in facts.candidates if facts.pick is None or c.id not in fixed]
        self.count = len(self.free) if facts.pick is None else min(facts.pick, len(self.free))

    def minutes(self) -> float:
        total = sum(TRAITS[candidate.type].minutes for candidate in self.free)
        return total / len(self.free) * self.count if self.free else 0.0

    def points(self) -> float | None:
        """A part's points; None where a draw's items differ in points and it sets none."""
        worth = [candidate for candidate in self.free if candidate.is_question]
        drawn = self.facts.pick is not None
        if self.facts.points_each is not None:
            return self.facts.points_each * (self.count if drawn else len(worth))
        values = [1.0 if candidate.points is None else candidate.points for candidate in worth]
        if not drawn:
            return sum(values)
        return None if len(set(values)) > 1 else sum(values[:1]) * self.count

    def problems(self) -> list[str]:
        title, pick, found = self.facts.title, self.facts.pick, []
        if pick is not None and len(self.free) < pick:
            found.append(f"{title} has {len(self.free)} items to draw from, fewer than the {pick} it should give.")
        if self.points() is None:
            found.append(
                f"The items of {title} differ in points: give the draw points each, so that all students can reach the same."
            )
        return found

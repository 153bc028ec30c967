"""What a quiz adds up to before anyone has taken it: exposure, time, what there is to read, outcomes and types against its plan."""

from __future__ import annotations

import math
from collections import defaultdict
from collections.abc import Callable, Iterable, Sequence
from dataclasses import dataclass, field

from rogatum.core.quizzes.catalogue import Catalogue, Lot, is_drawn
from rogatum.core.quizzes.classes import MostShared, most_shared
from rogatum.core.quizzes.criteria import Draw
from rogatum.core.quizzes.exposure import DrawSet, Seen, exposure_of_quiz, overlapping, seen_in_attempts, seen_items
from rogatum.core.quizzes.figures import GivenPart, given_parts
from rogatum.core.quizzes.model import Quiz
from rogatum.core.quizzes.phrases import draw_words
from rogatum.core.quizzes.settings import ANY_NUMBER
from rogatum.core.quizzes.timing import Load

# What "any number of attempts" is looked at as.
_MANY = 3


@dataclass(frozen=True)
class Passage:
    """A passage with the items that share it."""

    load: Load
    items: frozenset[str]


@dataclass(frozen=True)
class Attempts:
    """A student's own attempts, each drawn anew: different items seen in all of them, and how many come again in the next."""

    attempts: int
    different: float
    again: float


@dataclass(frozen=True)
class Row:
    """A row of the plan with how many each student gets of what it asks for, on average."""

    label: str
    wanted: int
    given: float


@dataclass(frozen=True)
class Sums:
    """Shares and chances are from 0 to 1; counts of outcomes and types are for each student, on average."""

    chances: list[float]
    overlap: float
    worst: int
    at_least_half: float
    margin: float
    tangled: list[str]
    seen: list[Seen]
    attempts: Attempts | None
    most: MostShared | None
    minutes: float
    words: int
    outcomes: dict[str, float]
    types: dict[str, float]
    plan: list[Row] = field(default_factory=list)


def sums_of(quiz: Quiz, catalogue: Catalogue, passages: Iterable[Passage] = (), students: int = 0) -> Sums:
    """What a quiz adds up to, for a class of so many students."""
    given = given_parts(quiz, catalogue)
    drawn = [part for part in given if part.part.draw]
    draws, fixed = [part.set() for part in drawn], len(set(quiz.item_ids()))
    exposure, seen = exposure_of_quiz(fixed, draws), seen_items(fixed, draws)
    items = sum(part.count for part in given)
    read = [(passage, _chance_of(passage, given)) for passage in passages]
    return Sums(
        chances=list(exposure.chances),
        overlap=exposure.expected,
        worst=exposure.worst,
        at_least_half=exposure.at_least(math.ceil(items / 2)) if items else 0.0,
        margin=exposure.margin,
        tangled=_tangled(drawn, draws),
        seen=seen,
        attempts=_attempts(quiz, seen, exposure.expected),
        most=most_shared(fixed, draws, students),
        minutes=(_average(given, lambda lot: lot.seconds) + sum(p.load.seconds * chance for p, chance in read)) / 60,
        words=round(_average(given, lambda lot: lot.words) + sum(p.load.words * chance for p, chance in read)),
        outcomes=_counted(given, lambda lot: lot.outcomes),
        types=_counted(given, lambda lot: (lot.type,)),
        plan=[Row(draw_words(row), row.pick, _meeting(row, given)) for row in (quiz.plan.rows if quiz.plan else [])],
    )


def _average(given: Sequence[GivenPart], of: Callable[[Lot], float]) -> float:
    """The sum over what a student is given, on average."""
    return sum(of(lot) * len(lot) * part.share for part in given for lot in part.lots)


def _chance_of(passage: Passage, given: Sequence[GivenPart]) -> float:
    """The chance that a student gets any of the items of a passage."""
    missed = 1.0
    for part in given:
        count = sum(key in passage.items for lot in part.lots for key in lot.ids)
        missed *= (1 - part.share) ** count
    return 1 - missed


def _tangled(parts: Sequence[GivenPart], draws: Sequence[DrawSet]) -> list[str]:
    return [
        f"{parts[a].title} and {parts[b].title} have {count} items in common: no student gets one twice, the first takes first."
        for a, b, count in overlapping(draws)
    ]


def _attempts(quiz: Quiz, seen: Sequence[Seen], shared: float) -> Attempts | None:
    count = quiz.settings.attempts
    attempts = _MANY if count == ANY_NUMBER else min(count or 1, 20)
    return Attempts(attempts, seen_in_attempts(seen, attempts), shared) if attempts > 1 else None


def _counted(given: Sequence[GivenPart], names_of: Callable[[Lot], Iterable[str]]) -> dict[str, float]:
    found: defaultdict[str, float] = defaultdict(float)
    for part in given:
        for lot in part.lots:
            for name in names_of(lot):
                found[name] += len(lot) * part.share
    return {name: round(found[name], 4) for name in sorted(found)}


def _meeting(row: Draw, given: Sequence[GivenPart]) -> float:
    lots = ((lot, part.share) for part in given for lot in part.lots)
    return round(sum(len(lot) * share for lot, share in lots if _asked(row, lot)), 4)


def _asked(row: Draw, lot: Lot) -> bool:
    return row.holds(lot.path) and is_drawn(lot.type, row.where, lot.facets)

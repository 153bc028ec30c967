"""A quiz of a source among the items and pools of a course: what it holds by the ids that these have there."""

from __future__ import annotations

from collections.abc import Collection, Mapping, Sequence
from dataclasses import dataclass, field

from rogatum.core.quizzes.model import Draw, Part, Quiz

Path = tuple[str, ...]


@dataclass(frozen=True)
class Home:
    """Where the pool of a draw is in the course: its path, the questions that lie there, and those that the source draws.

    `given` are ids of the course, `meant` ids of the source.
    """

    path: Sequence[str]
    given: Collection[str]
    meant: Sequence[str]


@dataclass(frozen=True)
class Arrival:
    """The course as the source's items came to it. `items` gives their ids there; what it lacks was not taken.

    `worth` gives what items of the source are worth on their own where those that stand for them are worth something else there.
    """

    items: Mapping[str, str]
    homes: Mapping[Path, Home] = field(default_factory=dict)
    worth: Mapping[str, float] = field(default_factory=dict)


@dataclass(frozen=True)
class Adopted:
    """The quiz by the course's ids, and in which items it differs from the source.

    Not taken and `left_out` (ids of the source); taken and not given by its draws, since they lie `elsewhere`; given `besides`.
    """

    quiz: Quiz
    left_out: frozenset[str]
    elsewhere: frozenset[str]
    besides: frozenset[str]


def adopted(quiz: Quiz, arrival: Arrival) -> Adopted:
    """The quiz in the course. A part without anything is left out; what an item is worth in it stays as the source has it."""
    homes = [arrival.homes[tuple(part.draw.pool)] for part in quiz.parts if part.draw]
    wanted = {*quiz.item_ids(), *(item for home in homes for item in home.meant)}
    parts = [_adopted(part, arrival) for part in quiz.parts]
    return Adopted(
        quiz.model_copy(update={"id": "", "plan": None, "parts": [part for part in parts if part.items or part.draw]}),
        frozenset(wanted - arrival.items.keys()),
        frozenset().union(*(_there(home, arrival) - set(home.given) for home in homes)),
        frozenset().union(*(set(home.given) - _there(home, arrival) for home in homes)),
    )


def _there(home: Home, arrival: Arrival) -> set[str]:
    return {arrival.items[item] for item in home.meant if item in arrival.items}


def _drawn(draw: Draw, home: Home, arrival: Arrival) -> Draw:
    never = [arrival.items[item] for item in draw.without if item in arrival.items]
    return draw.model_copy(update={"pool": list(home.path), "without": never})


def _adopted(part: Part, arrival: Arrival) -> Part:
    home = arrival.homes[tuple(part.draw.pool)] if part.draw else None
    draw = _drawn(part.draw, home, arrival) if home and part.draw else None
    kept = list(dict.fromkeys(arrival.items[item] for item in part.items if item in arrival.items))
    given = part.items if home is None else home.meant
    own = {item: arrival.worth[item] for item in given if item in arrival.worth and part.points_each is None}
    points = {arrival.items[item]: points for item, points in (own | part.points).items() if item in arrival.items}
    return part.model_copy(update={"id": "", "items": kept, "draw": draw, "picked_from": None, "points": points})

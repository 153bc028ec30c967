"""Points on another scale. Weights are shares of the points, so they stay as they are."""

from __future__ import annotations

from collections.abc import Callable, Sequence

from rogatum.core.errors import NothingToMend
from rogatum.core.items import Item, parts
from rogatum.core.mending.numbers import Made, Subject
from rogatum.core.mending.wishes import PointsByRatio, PointsByTable

MOST_POINTS = 10_000.0


def by_ratio(wish: PointsByRatio, _subjects: Sequence[Subject], _unmet: list[str]) -> Callable[[Subject], Made | None]:
    def step(subject: Subject) -> Made | None:
        held = subject.item.points
        return None if held is None else _with_points(subject.item, round(held * wish.becomes / wish.was, 6))

    return step


def by_table(wish: PointsByTable, subjects: Sequence[Subject], unmet: list[str]) -> Callable[[Subject], Made | None]:
    table = dict(wish.table)
    held = {subject.item.points for subject in subjects}
    unmet += [f"No item has {_words(value)}." for value in table if value not in held]

    def step(subject: Subject) -> Made | None:
        item = subject.item
        return _with_points(item, table[item.points]) if item.points in table and parts.is_question(item) else None

    return step


def _with_points(item: Item, points: float | None) -> Made:
    if points is not None and points > MOST_POINTS:
        raise NothingToMend(
            f"An item would be worth {points:g} points.", f"At most {MOST_POINTS:g} can be given: use another ratio."
        )
    return item.model_copy(update={"points": points}), _words(item.points), _words(points)


def _words(points: float | None) -> str:
    return "no points" if points is None else f"{points:g} {'point' if points == 1 else 'points'}"

"""What an item is worth: its own points, or what its part of a quiz says."""

from __future__ import annotations

from collections.abc import Iterable

from rogatum.core.items import Bank, Item, parts
from rogatum.core.quizzes.model import Part, Quiz

# An item whose source says nothing of points is worth one in a quiz.
UNSAID = 1.0


def stated_points(part: Part, item_id: str, own: float | None) -> float | None:
    """The points of an item in a part; None where neither says any."""
    return part.points.get(item_id, own if part.points_each is None else part.points_each)


def points_in(part: Part, item: Item) -> float:
    """What a fully right answer earns in a part; a text that asks nothing earns nothing."""
    if not parts.is_question(item):
        return 0.0
    stated = stated_points(part, item.id, item.points)
    return UNSAID if stated is None else stated


def weight_in(part: Part, item: Item) -> float:
    """By what the points of an item are multiplied in a part; 1 for what is worth nothing or asks nothing."""
    own = UNSAID if item.points is None else item.points
    return points_in(part, item) / own if own and parts.is_question(item) else 1.0


def with_points(part: Part, worth: dict[str, float | None]) -> Part:
    """The part with what its items are worth, in the shortest form; None is what an item is worth on its own."""
    said = {item: points for item, points in worth.items() if points is not None}
    if len(said) == len(worth) and len(set(said.values())) == 1:
        return part.model_copy(update={"points_each": next(iter(said.values())), "points": {}})
    return part.model_copy(update={"points_each": None, "points": said})


def worth_on_items(bank: Bank) -> Bank:
    """The bank for formats where points stand with items alone: an item is worth what it is where a quiz first holds it.

    The parts of quizzes say what each of their items is worth, so that none becomes worth what it is in another.
    """
    own = {item.id: item.points for item in bank.items if parts.is_question(item)}
    worth: dict[str, float | None] = {}
    quizzes = []
    for quiz in bank.quizzes:
        told = []
        for part in quiz.parts:
            said = {key: stated_points(part, key, own[key]) for key in candidates(bank, part) if key in own}
            worth = said | worth
            points = {key: UNSAID if points is None else points for key, points in said.items()}
            told.append(part.model_copy(update={"points_each": None, "points": points}))
        quizzes.append(quiz.model_copy(update={"parts": told}))
    items = [item.model_copy(update={"points": worth[item.id]}) if item.id in worth else item for item in bank.items]
    return bank.model_copy(update={"items": items, "quizzes": quizzes})


def in_part(part: Part, item_id: str, paths: dict[str, tuple[str, ...]]) -> bool:
    """Whether a part can give an item: it is one of the fixed ones, or lies in the pool of the draw or below it."""
    if part.draw is None:
        return item_id in part.items
    pool = tuple(part.draw.pool)
    return paths.get(item_id, ())[: len(pool)] == pool


def candidates(bank: Bank, part: Part) -> list[str]:
    """What a part can give, in order: its fixed items, or the questions of the pool and of those below it."""
    return given_by(part, bank.items, bank.pool_paths() if part.draw else {})


def given_by(part: Part, items: Iterable[Item], paths: dict[str, tuple[str, ...]]) -> list[str]:
    """Those of some items that a part can give; `paths` are the pools that they lie in."""
    return part.items if part.draw is None else [i.id for i in items if parts.is_question(i) and in_part(part, i.id, paths)]


def total_points(bank: Bank, quiz: Quiz) -> float:
    """What a whole attempt is worth; a draw is as many times what its items are worth on average."""
    items = {item.id: item for item in bank.items}
    total = 0.0
    for part in quiz.parts:
        worth = [points_in(part, items[key]) for key in candidates(bank, part) if key in items]
        share = min(part.draw.pick, len(worth)) / len(worth) if part.draw and worth else 1.0
        total += sum(worth) * share
    return total

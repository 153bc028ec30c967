"""What an item is worth, and in which order its choices come: as it says itself, or as its quiz does."""

from __future__ import annotations

from collections import defaultdict

from rogatum.core.items import Bank, Item, parts
from rogatum.core.quizzes.criteria import Draw, Facets, meets
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
    stock, own = Stock(bank), {item.id: item.points for item in bank.items if parts.is_question(item)}
    worth: dict[str, float | None] = {}
    for part in (part for quiz in bank.quizzes for part in quiz.parts):
        worth = {key: stated_points(part, key, own[key]) for key in stock.given_by(part) if key in own} | worth

    def pinned(part: Part) -> Part:
        said = {key: stated_points(part, key, own[key]) for key in stock.given_by(part) if key in own}
        points = {key: UNSAID if points is None else points for key, points in said.items() if points is not None or worth[key]}
        return part.model_copy(update={"points_each": None, "points": points})

    items = [item.model_copy(update={"points": worth[item.id]}) if item.id in worth else item for item in bank.items]
    quizzes = [quiz.model_copy(update={"parts": list(map(pinned, quiz.parts))}) for quiz in bank.quizzes]
    return bank.model_copy(update={"items": items, "quizzes": quizzes})


def with_order_of_quizzes(bank: Bank) -> Bank:
    """The bank for formats where items alone say whether their choices are shuffled: what they leave to quizzes is as these say.

    Where two quizzes say it differently of one item, it stays as it is.
    """
    stock, said = Stock(bank), defaultdict[str, set[bool | None]](set)
    for quiz in bank.quizzes:
        for key in {key for part in quiz.parts for key in stock.given_by(part)}:
            said[key].add(quiz.settings.shuffle_choices)
    alone = {key: values.pop() for key, values in said.items() if len(values) == 1}

    def ordered(item: Item) -> Item:
        mixed = alone.get(item.id)
        wanted = mixed is not None and item.type in parts.WITH_ORDER and parts.own_order(item) is None
        return item.model_copy(update={"shuffle": mixed}) if wanted else item

    return bank.model_copy(update={"items": list(map(ordered, bank.items))})


def facets_of(item: Item) -> Facets:
    """What conditions ask of an item."""
    outcomes, difficulties = (item.metadata.get(name, []) for name in ("outcome", "difficulty"))
    return {"type": (item.type,), "outcome": outcomes, "difficulty": difficulties}


class Stock:
    """What the parts of quizzes can give of a bank: its questions by their pools, looked through once."""

    def __init__(self, bank: Bank) -> None:
        self._below: dict[tuple[str, ...], list[Item]] = defaultdict(list)
        self._paths = bank.pool_paths()
        for item in bank.items:
            if parts.is_question(item):
                path = self._path(item)
                for depth in range(len(path) + 1):
                    self._below[path[:depth]].append(item)

    def _path(self, item: Item) -> tuple[str, ...]:
        return tuple(self._paths.get(item.id, ()))

    def given_by(self, part: Part) -> list[str]:
        """The fixed items of a part, or the questions that its draw is from, in the order of the bank."""
        return part.items if part.draw is None else self.drawn_from(part.draw)

    def drawn_from(self, draw: Draw) -> list[str]:
        held, never = self._below.get(tuple(draw.pool), []), set(draw.without)
        if not (draw.where or draw.alone):
            return [item.id for item in held if item.id not in never]
        asked = (item for item in held if draw.holds(self._path(item)) and meets(draw.where, facets_of(item)))
        return [item.id for item in asked if item.id not in never]


def total_points(bank: Bank, quiz: Quiz) -> float:
    """What a whole attempt is worth; a draw is as many times what its items are worth on average."""
    items = {item.id: item for item in bank.items}
    stock, total = Stock(bank), 0.0
    for part in quiz.parts:
        worth = [points_in(part, items[key]) for key in stock.given_by(part) if key in items]
        share = min(part.draw.pick, len(worth)) / len(worth) if part.draw and worth else 1.0
        total += sum(worth) * share
    return total

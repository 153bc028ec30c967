"""What a quiz is assembled from: the items that its parts can give, as far as they count before anybody answers them."""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Mapping, Sequence
from dataclasses import dataclass, field, replace
from functools import cached_property

from rogatum.core.items import Bank, Item, ItemType
from rogatum.core.items.parts import is_question_type, own_order
from rogatum.core.quizzes.criteria import Condition, Draw, Facets, meets
from rogatum.core.quizzes.model import Part
from rogatum.core.quizzes.timing import load_of_item, seconds_of
from rogatum.core.quizzes.worth import UNSAID, stated_points

Path = tuple[str, ...]


@dataclass(frozen=True)
class Lot:
    """Items that are alike in all that counts of them here; one alone is a lot too.

    Points of None are 1 in a quiz. `seconds` and `words` are what answering and reading one of them takes, on average.
    `path` is the pool where they lie.
    """

    ids: tuple[str, ...]
    type: ItemType
    points: float | None = None
    outcomes: tuple[str, ...] = ()
    difficulties: tuple[str, ...] = ()
    seconds: float = 0.0
    words: float = 0.0
    path: Path = ()

    def __len__(self) -> int:
        return len(self.ids)

    @property
    def is_question(self) -> bool:
        return is_question_type(self.type)

    @property
    def facets(self) -> Facets:
        return {"type": (self.type,), "outcome": self.outcomes, "difficulty": self.difficulties}

    def points_in(self, part: Part, item_id: str) -> float:
        """What a fully right answer to one of its items earns in a part."""
        if not self.is_question:
            return 0.0
        stated = stated_points(part, item_id, self.points)
        return UNSAID if stated is None else stated

    def without(self, taken: frozenset[str] | set[str]) -> Lot:
        """The lot without items that are taken."""
        if taken.isdisjoint(self.ids):
            return self
        return replace(self, ids=tuple(key for key in self.ids if key not in taken))


def count_of(lots: Iterable[Lot]) -> int:
    return sum(map(len, lots))


def is_drawn(item_type: ItemType, where: Iterable[Condition], facets: Facets) -> bool:
    """Whether a draw with these conditions gives such an item: what asks nothing is drawn by none."""
    return is_question_type(item_type) and meets(where, facets)


@dataclass(frozen=True)
class Catalogue:
    """Single items by their ids, and pools by their paths with what lies in each.

    `own_order` says of items that set it themselves whether their choices may be shuffled, whatever a quiz says.
    """

    items: Mapping[str, Lot] = field(default_factory=dict)
    pools: Mapping[Path, Sequence[Lot]] = field(default_factory=dict)
    own_order: Mapping[str, bool] = field(default_factory=dict)

    def given_by(self, part: Part) -> list[Lot]:
        """What a part can give: its fixed items, each for itself, or what its draw is from."""
        return self.drawn_from(part.draw) if part.draw else [self.items[key] for key in part.items if key in self.items]

    def drawn_from(self, draw: Draw) -> list[Lot]:
        """The questions that a draw can give."""
        never = frozenset(draw.without)
        lots = (lot for path, held in self.pools.items() if draw.holds(path) for lot in held)
        asked = (lot.without(never) for lot in lots if is_drawn(lot.type, draw.where, lot.facets))
        return [lot for lot in asked if lot.ids]

    def overriding(self, parts: Iterable[Part], shuffled: bool) -> int:
        """How many items that parts can give shuffle their choices although a quiz does not, or the other way round."""
        given = {key for part in parts for key in ids_of(self.given_by(part))}
        return sum(self.own_order.get(key, shuffled) != shuffled for key in given)

    @cached_property
    def by_id(self) -> Mapping[str, Lot]:
        """The lot of each item, of pools too."""
        return {key: lot for held in self.pools.values() for lot in held for key in lot.ids} | dict(self.items)


def lot_of(item: Item, path: Path = ()) -> Lot:
    """An item as a lot of its own."""
    outcomes, difficulties = (tuple(item.metadata.get(name, ())) for name in ("outcome", "difficulty"))
    words = load_of_item(item).words
    return Lot((item.id,), item.type, item.points, outcomes, difficulties, seconds_of(item), words, path)


def catalogue_of(bank: Bank) -> Catalogue:
    """What a bank has for its quizzes."""
    paths = bank.pool_paths()
    items = {item.id: lot_of(item, tuple(paths.get(item.id, ()))) for item in bank.items}
    pools: dict[Path, list[Lot]] = {}
    for lot in items.values():
        pools.setdefault(lot.path, []).append(lot)
    said = {item.id: own_order(item) for item in bank.items}
    return Catalogue(items, pools, {key: mixed for key, mixed in said.items() if mixed is not None})


def ids_of(lots: Iterable[Lot]) -> Iterator[str]:
    for lot in lots:
        yield from lot.ids

"""What a quiz is assembled from: the items that its parts can give, as far as they count before anybody answers them."""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass, field

from rogatum.core.items import Bank, ItemType
from rogatum.core.items.parts import is_question_type
from rogatum.core.quizzes.model import Part
from rogatum.core.quizzes.worth import UNSAID, stated_points

Path = tuple[str, ...]


@dataclass(frozen=True)
class Candidate:
    """What counts of an item that a part may give. Points of None are 1 in a quiz."""

    id: str
    type: ItemType
    points: float | None = None
    outcomes: tuple[str, ...] = ()

    @property
    def is_question(self) -> bool:
        return is_question_type(self.type)

    def points_in(self, part: Part) -> float:
        """What a fully right answer earns in a part."""
        if not self.is_question:
            return 0.0
        stated = stated_points(part, self.id, self.points)
        return UNSAID if stated is None else stated


@dataclass(frozen=True)
class Catalogue:
    """Items by their ids, and pools by their paths with the ids of the items that lie in each."""

    items: Mapping[str, Candidate] = field(default_factory=dict)
    pools: Mapping[Path, Sequence[str]] = field(default_factory=dict)

    def given_by(self, part: Part) -> list[Candidate]:
        """What a part can give: its fixed items, or the questions of a pool and of those below it."""
        if part.draw is None:
            return [self.items[key] for key in part.items if key in self.items]
        return [candidate for candidate in self._below(tuple(part.draw.pool)) if candidate.is_question]

    def _below(self, path: Path) -> Iterator[Candidate]:
        for at, keys in self.pools.items():
            if at[: len(path)] == path:
                yield from (self.items[key] for key in keys if key in self.items)


def catalogue_of(bank: Bank) -> Catalogue:
    """What a bank has for its quizzes."""
    outcomes = {item.id: tuple(item.metadata.get("outcome", [])) for item in bank.items}
    items = {item.id: Candidate(item.id, item.type, item.points, outcomes[item.id]) for item in bank.items}
    return Catalogue(items, {tuple(pool.path): pool.items for pool in bank.pools})

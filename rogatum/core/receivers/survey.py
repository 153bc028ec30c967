"""What a bank holds, found once for all receivers and formats; what is made of its items on the way, as the ledger judges it."""

from __future__ import annotations

from collections.abc import Callable, Collection, Iterator, Mapping, Sequence
from dataclasses import dataclass

from rogatum.core.cycles import uncollected
from rogatum.core.fidelity import Verdict
from rogatum.core.fidelity.items import JUDGES, Facet, Sides
from rogatum.core.fidelity.judging import Judgement
from rogatum.core.fidelity.ledger import FACETS, name_of
from rogatum.core.items import Bank, Item, ItemType, Media
from rogatum.core.items.retyping import as_type
from rogatum.core.receivers.features import Features, Surroundings, features_of


class Survey:
    """What a bank holds, found once for all receivers and formats: the features of its items, as they are and as other types."""

    def __init__(self, bank: Bank) -> None:
        self.bank, self.around = bank, Surroundings.of(bank)
        self.sides, self._own = Sides(bank, bank), {id(item) for item in bank.items}
        with uncollected():
            self.features = [features_of(item, self.around) for item in bank.items]
        self.names = [name_of(item) for item in bank.items]
        self.paths = [self.around.paths.get(item.id, ()) for item in bank.items]
        self._made: dict[tuple[int, object], Made] = {}

    def replaced(self, items: Mapping[str, Item], media: Sequence[Media] = ()) -> Survey:
        """The survey with some items written otherwise, and the media that they need; the others are not looked at again."""
        if not items:
            return self
        bank = self.bank.model_copy(
            update={
                "items": [items.get(item.id, item) for item in self.bank.items],
                "media": [*self.bank.media, *(entry for entry in media if entry not in self.bank.media)],
            }
        )
        other = Survey.__new__(Survey)
        other.bank, other.around, other._made = bank, Surroundings.of(bank), dict(self._made)
        other.sides, other._own = Sides(bank, bank), self._own | {id(item) for item in items.values()}
        places = {item.id: place for place, item in enumerate(self.bank.items)}
        other.features, other.names, other.paths = list(self.features), list(self.names), self.paths
        for key, item in items.items():
            if key in places:
                other.features[places[key]] = features_of(item, other.around)
                other.names[places[key]] = name_of(item)
        return other

    def turned(self, item: Item, wanted: ItemType) -> Made:
        return self._once(item, wanted, lambda: as_type(item, wanted).item, FACETS)

    def made(self, item: Item, make: Callable[[Item], Item], touches: Collection[Facet] = FACETS) -> Made:
        return self._once(item, make, lambda: make(item), touches)

    def _once(self, item: Item, how: object, make: Callable[[], Item], touches: Collection[Facet]) -> Made:
        """What is made of an item in one way. Of what lives as long as the survey it is made once, and lives as long then."""
        known = self._made.get((id(item), how))
        if known is not None:
            return known
        after, lives = make(), id(item) in self._own
        made = Made(item, after, features_of(after, self.around), tuple(self.judged(item, after, touches)))
        if lives:
            self._made[(id(item), how)] = made
            self._own.add(id(after))
        return made

    def verdict(self, facet: Facet, before: Item, after: Item) -> Verdict:
        found = JUDGES[facet](before, after, self.sides).verdict
        self._forget(before, after)
        return found

    def judged(self, before: Item, after: Item, touches: Collection[Facet] = FACETS) -> Iterator[tuple[Facet, Judgement]]:
        for facet in touches:
            judgement = JUDGES[facet](before, after, self.sides)
            if judgement.verdict != "same":
                yield facet, judgement
        self._forget(before, after)

    def _forget(self, *items: Item) -> None:
        """Another item may come to lie where one lay that does not live as long as the survey."""
        for item in items:
            if id(item) not in self._own:
                self.sides.forget(item)


@dataclass(frozen=True)
class Made:
    """What was made of an item, with its features and what the ledger says of that."""

    before: Item
    item: Item
    features: Features
    judged: tuple[tuple[Facet, Judgement], ...]

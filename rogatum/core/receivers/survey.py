"""What a bank holds, found once for all receivers and formats; what is made of its items on the way, as the ledger judges it."""

from __future__ import annotations

from collections.abc import Callable, Collection, Mapping, Sequence
from dataclasses import dataclass

from rogatum.core.cycles import uncollected
from rogatum.core.fidelity import Verdict
from rogatum.core.fidelity.items import Facet, Sides
from rogatum.core.fidelity.judging import Judgement
from rogatum.core.fidelity.ledger import FACETS, differences, name_of
from rogatum.core.items import Bank, Item, ItemType, Media
from rogatum.core.items.retyping import as_type
from rogatum.core.receivers.features import Features, Surroundings, features_of
from rogatum.core.receivers.turning import Turn, turn


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
        self._turns: dict[tuple[int, ItemType], Turn] = {}
        # What items were before they were written otherwise, by their places.
        self.before: dict[int, Item] = {}

    def replaced(self, items: Mapping[str, Item], media: Sequence[Media] = ()) -> Survey:
        """The survey with some items written otherwise, and the media that they need; the others are not looked at again.

        What these were is kept: whatever becomes of them is held against that.
        """
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
        other.before, other._turns = dict(self.before), dict(self._turns)
        places = {item.id: place for place, item in enumerate(self.bank.items)}
        other.features, other.names, other.paths = list(self.features), self.names, self.paths
        for key, item in items.items():
            if key in places:
                other.before.setdefault(places[key], self.bank.items[places[key]])
                other.features[places[key]] = features_of(item, other.around)
        return other

    def turn(self, place: int, wanted: ItemType) -> Turn:
        """An item turned with care into another type, held against what it was before; found once. Raises NoSuchType."""
        item = self.bank.items[place]
        key = (id(item), wanted)
        if key not in self._turns:
            self._turns[key] = turn(item, wanted, self.before.get(place))
        return self._turns[key]

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

    def meant(self) -> list[Item]:
        """The items as they were before any was written otherwise."""
        return [self.before.get(place, item) for place, item in enumerate(self.bank.items)]

    def rewritten(self, place: int) -> list[tuple[Facet, Judgement]]:
        """What the ledger says of an item that was written otherwise, against what it was before; nothing of any other."""
        before = self.before.get(place)
        return [] if before is None else differences(before, self.bank.items[place], self.sides)

    def verdict(self, facet: Facet, before: Item, after: Item) -> Verdict:
        return next((judgement.verdict for _, judgement in self.judged(before, after, [facet])), "same")

    def judged(self, before: Item, after: Item, touches: Collection[Facet] = FACETS) -> list[tuple[Facet, Judgement]]:
        found = differences(before, after, self.sides, touches)
        self._forget(before, after)
        return found

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

"""Which item of one bank is which of another: by identifier where that is borne out, by identity, then by likeness."""

from __future__ import annotations

from collections import defaultdict, deque
from collections.abc import Callable, Mapping
from dataclasses import dataclass

from rogatum.core.items import Bank, Item
from rogatum.core.items.content import comparable
from rogatum.core.items.identity import identities, likeness

ALIKE = 72.0


@dataclass(frozen=True)
class Matched:
    """The pairs in the order of `a`, what is in `a` alone, and what is in `b` alone.

    `doubles` gives for what is in `b` alone, and the same as an item of a pair, the id of that one in `b`: a format that has a
    place for an item in each test holds it as often as tests do.
    """

    pairs: list[tuple[Item, Item]]
    only_a: list[Item]
    only_b: list[Item]
    doubles: dict[str, str]


def match_items(a: Bank, b: Bank, partners: Mapping[str, str] | None = None) -> Matched:
    """Pairs the items of two banks. `partners` says of ids of `a` which of `b` they are, where that is known already."""
    return _Matching(a, b, partners or {}).result()


class _Matching:
    """Items are known by their position: two may be equal as values."""

    def __init__(self, a: Bank, b: Bank, partners: Mapping[str, str]) -> None:
        self.a, self.b, self.partners = a.items, b.items, partners
        self.partner: dict[int, int] = {}
        self.free = dict.fromkeys(range(len(self.b)))
        self.identities = identities(a), identities(b)
        self.stems = [comparable(item.stem) for item in self.a], [comparable(item.stem) for item in self.b]

    def result(self) -> Matched:
        self._as_known()
        self._by_identifier(lambda n, m: self._asked(0, n) == self._asked(1, m))
        self._in_turn(self._whole)
        # An identifier alone proves little: exports number their items anew. A stem that was emptied is still told by it.
        self._by_identifier(self._reads_alike)
        self._in_turn(self._asked)
        self._in_turn(lambda side, n: self.stems[side][n])
        self._by_likeness()
        pairs = [(item, self.b[self.partner[n]]) for n, item in enumerate(self.a) if n in self.partner]
        return Matched(pairs, [self.a[n] for n in self._left()], [self.b[m] for m in self.free], self._doubles())

    def _doubles(self) -> dict[str, str]:
        first = {self._whole(1, m): self.b[m].id for m in reversed(self.partner.values())}
        return {self.b[m].id: first[whole] for m in self.free if (whole := self._whole(1, m)) in first}

    def _item(self, side: int, n: int) -> Item:
        return (self.a, self.b)[side][n]

    def _asked(self, side: int, n: int) -> str:
        return self.identities[side][self._item(side, n).id].asked

    def _whole(self, side: int, n: int) -> str:
        return self.identities[side][self._item(side, n).id].whole

    def _pair(self, n: int, m: int) -> None:
        self.partner[n] = m
        del self.free[m]

    def _left(self) -> list[int]:
        return [n for n in range(len(self.a)) if n not in self.partner]

    def _as_known(self) -> None:
        by_id = {item.id: m for m, item in enumerate(self.b)}
        for n, item in enumerate(self.a):
            m = by_id.get(self.partners.get(item.id, ""))
            if m is not None and m in self.free:
                self._pair(n, m)

    def _by_identifier(self, borne_out: Callable[[int, int], bool]) -> None:
        by_id = {self.b[m].id: m for m in self.free}
        for n in self._left():
            m = by_id.get(self.a[n].id)
            if m is not None and m in self.free and borne_out(n, m):
                self._pair(n, m)

    def _reads_alike(self, n: int, m: int) -> bool:
        mine, its = self.stems[0][n], self.stems[1][m]
        return mine == its or not mine or not its or likeness(mine, its) >= ALIKE

    def _in_turn(self, meaning: Callable[[int, int], str]) -> None:
        """Pairs what means the same, the first with the first, the second with the second."""
        waiting: dict[str, deque[int]] = defaultdict(deque)
        for m in self.free:
            waiting[meaning(1, m)].append(m)
        for n in self._left():
            if queue := waiting.get(meaning(0, n)):
                self._pair(n, queue.popleft())

    def _by_likeness(self) -> None:
        """What stands a second time is no other item that came over changed."""
        doubles = self._doubles()
        for n in self._left():
            free = [m for m in self.free if self.b[m].id not in doubles]
            best = max(free, key=lambda m: likeness(self.stems[0][n], self.stems[1][m]), default=None)
            if best is not None and likeness(self.stems[0][n], self.stems[1][best]) >= ALIKE:
                self._pair(n, best)

"""A test while it is read: its parts by the items that stand in them; the quiz is made when all items are known."""

from __future__ import annotations

from collections import Counter
from collections.abc import Mapping
from dataclasses import dataclass, field
from itertools import chain, count

from rogatum.core.findings import DRAW_WIDER
from rogatum.core.items import Bank
from rogatum.core.items.parts import is_question
from rogatum.core.quizzes.model import Draw, Part, Quiz, Settings
from rogatum.core.quizzes.worth import UNSAID, with_points

Path = tuple[str, ...]


@dataclass
class PartDraft:
    """A part: what stands in it (`members`, by whatever names the reader has), how many are picked, and the weights of some.

    `pool` is the place of what is drawn from, where the test names a bank instead of holding the items.
    """

    title: str
    path: tuple[str, ...]
    members: list[str] = field(default_factory=list)
    pick: int | None = None
    weights: dict[str, float] = field(default_factory=dict)
    pool: tuple[str, ...] | None = None

    def empty(self) -> bool:
        return not self.members and self.pool is None


@dataclass
class QuizDraft:
    id: str
    title: str
    parts: list[PartDraft] = field(default_factory=list)
    settings: Settings = field(default_factory=Settings)


class QuizMaker:
    """Makes the quizzes of a source. `ids` gives the items by the reader's names; members that it lacks are left out."""

    def __init__(self, bank: Bank, ids: Mapping[str, str]) -> None:
        self.ids, self.own = ids, {item.id: item.points for item in bank.items}
        self.pools = _Pools(bank)

    def quiz_of(self, draft: QuizDraft) -> Quiz:
        parts = [self._part(part) for part in draft.parts]
        return Quiz(id=draft.id, title=draft.title, parts=[p for p in parts if p.items or p.draw], settings=draft.settings)

    def _part(self, draft: PartDraft) -> Part:
        members = [self.ids[name] for name in draft.members if self.ids.get(name) in self.own]
        weights = {self.ids[name]: weight for name, weight in draft.weights.items() if name in self.ids}
        worth = {item: _worth(self.own[item], weights.get(item, 1.0)) for item in members}
        if draft.pick is None or (draft.pool is None and draft.pick >= len(draft.members)):
            return with_points(Part(title=draft.title, items=members), worth)
        path = draft.pool or draft.path or (draft.title or "items",)
        pool = self.pools.holding(members, path, draft.title) if members else path
        part = Part(title=draft.title, draw=Draw(pool=list(pool), pick=draft.pick))
        # What all that can be drawn is worth is said of the draw, whether it is weighted or not.
        values = {self.own[item] if points is None else points for item, points in worth.items()}
        if len(values) == 1:
            return part.model_copy(update={"points_each": values.pop()})
        return with_points(part, worth)


def _worth(own: float | None, weight: float) -> float | None:
    """What an item is worth by its weight; None where that is what it is worth on its own."""
    return None if weight == 1 else round((UNSAID if own is None else own) * weight, 6)


class _Pools:
    """The pools of a bank, and how many questions lie in each and below it. A draw is from one that holds its items alone."""

    def __init__(self, bank: Bank) -> None:
        self.bank, self.paths = bank, bank.pool_paths()
        self.questions = {item.id for item in bank.items if is_question(item)}
        self.sizes: Counter[Path] = Counter()
        for item, path in self.paths.items():
            self._count(item, path, 1)
        self.drawn: list[Path] = []

    def _count(self, item: str, path: Path, by: int) -> None:
        if item in self.questions:
            self.sizes.update({path[:depth]: by for depth in range(1, len(path) + 1)})

    def holding(self, members: list[str], path: Path, title: str) -> Path:
        """The pool of what is drawn: one that holds it and nothing else, or one that is made for it, called `title` or as `path`.

        Where items can be parted from others in no way that keeps earlier draws as they are, it is a wider one, with a finding.
        """
        members = list(dict.fromkeys(members))
        asked = [item for item in members if item in self.questions]
        common = _common([self.paths.get(item, ()) for item in asked])
        if not common or self.sizes[common] != len(asked):
            common = self._parted(members, common, path, title) or self._wider(asked, common, path, title)
        self.drawn.append(common)
        return common

    def _parted(self, members: list[str], common: Path, path: Path, title: str) -> Path | None:
        """A new pool for members that lie in none, in their section, or in one pool beside others; what is below it stays so."""
        held = [self.paths.get(item, ()) for item in members]
        if not common:
            base, places = None, [path]
        elif all(own[: len(path)] == path for own in held) or set(held) == {common}:
            base = path if held[0][: len(path)] == path else common
            places = [(*base[:-1], title)] if base[-1] == title else []
            places.append((*base, title or "items"))
        else:
            return None
        for place in map(self._free, places):
            moved = {item: place + (own[len(base) :] if base else ()) for item, own in zip(members, held, strict=True)}
            if self._can_move(moved):
                self._move(moved)
                return place
        return None

    def _free(self, path: Path) -> Path:
        """The path, or one with a number behind its last name where something lies there."""
        numbered = chain([path], ((*path[:-1], f"{path[-1]} {n}") for n in count(2)))
        return next(free for free in numbered if not self.sizes[free])

    def _can_move(self, moved: Mapping[str, Path]) -> bool:
        """Whether all that earlier draws hold of the items, they hold there too."""
        held = ((pool, to) for pool in self.drawn for item, to in moved.items() if self.paths.get(item, ())[: len(pool)] == pool)
        return all(to[: len(pool)] == pool for pool, to in held)

    def _move(self, moved: Mapping[str, Path]) -> None:
        for pool in self.bank.pools:
            pool.items = [item for item in pool.items if item not in moved]
        self.bank.pools = [pool for pool in self.bank.pools if pool.items]
        for item, to in moved.items():
            self._count(item, self.paths.get(item, ()), -1)
            self.bank.place_in_pool(item, list(to))
            self.paths[item] = to
            self._count(item, to, 1)

    def _wider(self, asked: list[str], common: Path, path: Path, title: str) -> Path:
        """The pool that holds all of the items, or most of them, and others."""
        most = Counter(held for item in asked if (held := self.paths.get(item))).most_common(1)
        pool = common or (most[0][0] if most else path)
        told = DRAW_WIDER.at(
            self.bank.source.name, title=title or "…", count=len(asked), pool=" / ".join(pool), held=self.sizes[pool]
        )
        self.bank.findings.append(told)
        return pool


def _common(paths: list[Path]) -> Path:
    """What paths have in common from their beginning."""
    if not paths:
        return ()
    shortest, longest = min(paths), max(paths)
    shared = next((n for n, name in enumerate(shortest) if n >= len(longest) or longest[n] != name), len(shortest))
    return shortest[:shared]

"""The pools that draws of a source are from: a draw of ours is from a pool, and from all of it."""

from __future__ import annotations

from collections import Counter
from collections.abc import Mapping

from rogatum.core.finding import Finding
from rogatum.core.findings.sources import DRAW_SHORT, DRAW_WIDER
from rogatum.core.formats.shared.base import free_path
from rogatum.core.items import Bank
from rogatum.core.items.parts import is_question
from rogatum.core.quizzes.model import Part

Path = tuple[str, ...]


def selected_of(part: Part, held: int, findings: list[Finding]) -> int:
    """How many a written section selects: never more than it holds, which is said."""
    assert part.draw is not None
    pick = part.draw.pick
    if held < pick:
        title = part.title or " / ".join(part.draw.pool)
        findings.append(DRAW_SHORT.at("", None, title=title, pick=pick, held=held, are="is" if held == 1 else "are"))
    return min(pick, held)


class DrawPools:
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
        held = {item: self.paths.get(item, ()) for item in members}
        base: Path = ()
        if common and all(own[: len(path)] == path for own in held.values()):
            base = path
        elif common and set(held.values()) == {common}:
            base = common
        elif common:
            return None
        below = {item: own[len(base) :] if base else () for item, own in held.items()}
        for wanted in _names_for(base, path, title):
            place = free_path(wanted, self.sizes.__getitem__)
            moved = {item: place + rest for item, rest in below.items()}
            if self._can_move(moved):
                self._move(moved)
                return place
        return None

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


def _names_for(base: Path, path: Path, title: str) -> list[Path]:
    """What the pool of a draw may be called: beside one of the same name, below the one that it is a part of, or as its place."""
    if not base:
        return [path]
    beside = [(*base[:-1], title)] if base[-1] == title else []
    return [*beside, (*base, title or "items")]


def _common(paths: list[Path]) -> Path:
    """What paths have in common from their beginning."""
    if not paths:
        return ()
    shortest, longest = min(paths), max(paths)
    shared = next((n for n, name in enumerate(shortest) if n >= len(longest) or longest[n] != name), len(shortest))
    return shortest[:shared]

"""The pools of a course as a tree, asked for once: paths by number, numbers by path."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass

from rogatum.web.courses.models import Course
from rogatum.web.pools.circles import cut
from rogatum.web.pools.models import Pool

Path = tuple[str, ...]


@dataclass(frozen=True)
class _Node:
    name: str
    parent: int | None


class PoolTree:
    def __init__(self, course: Course | int) -> None:
        rows = list(Pool.objects.filter(course=course).values_list("id", "name", "parent_id"))
        # A circle, which an older program let in, is walked as if its first pool lay at the top.
        cut_off = cut({key: parent for key, _, parent in rows})
        self._nodes = {key: _Node(name, None if key in cut_off else parent) for key, name, parent in rows}
        self._children: dict[int | None, list[int]] = {}
        for key, node in self._nodes.items():
            self._children.setdefault(node.parent, []).append(key)
        self._by_path = {self.path(key): key for key in self._nodes}

    def __eq__(self, other: object) -> bool:
        return isinstance(other, PoolTree) and self._nodes == other._nodes

    __hash__ = None  # type: ignore[assignment]

    @property
    def numbers(self) -> set[int]:
        return set(self._nodes)

    def path(self, key: int | None) -> Path:
        """The names of a pool from the top of the course; empty for none."""
        return tuple(self._nodes[number].name for number in reversed(self.above(key)))

    def at(self, path: Iterable[str]) -> int | None:
        """The number of the pool with this path."""
        return self._by_path.get(tuple(path))

    def below(self, key: int) -> list[int]:
        """The numbers of a pool and of all below it, parents first."""
        found, waiting = [], [key]
        while waiting:
            found.append(waiting.pop())
            waiting += self._children.get(found[-1], [])
        return found

    def above(self, key: int | None) -> list[int]:
        """The numbers of a pool and of all that it lies in, the innermost first."""
        found: list[int] = []
        while key is not None and key in self._nodes:
            found.append(key)
            key = self._nodes[key].parent
        return found

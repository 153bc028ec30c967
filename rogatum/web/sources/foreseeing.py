"""What taking would make, before anything is done: every pool with its count, and what its name goes without."""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass
from typing import Any

from rogatum.web.courses import rules as courses
from rogatum.web.courses.models import Course
from rogatum.web.courses.rules import must
from rogatum.web.pools.tree import PoolTree
from rogatum.web.sources.batches import readings_of
from rogatum.web.sources.models import Reading
from rogatum.web.sources.rules import can_see
from rogatum.web.sources.taking import Naming, waiting

Path = tuple[str, ...]
MOST_NAMED = 3


@dataclass(frozen=True)
class PoolToBe:
    """A pool that something is taken into or that holds one: its path, how many items, their sources; and whether it is made."""

    path: list[str]
    items: int
    sources: list[str]
    new: bool


@dataclass(frozen=True)
class Foreseen:
    """`stays` is how many items stay in Check, `notes` say which fields of the pattern are empty."""

    pools: list[PoolToBe]
    items: int
    sources: int
    stays: int
    notes: list[str]


def foresee(course: Course, user: Any, sources: Sequence[int], which: str, naming: Naming) -> Foreseen:
    """What taking several sources would make."""
    must(courses.can_see(user, course))
    return _foreseen(course, [(reading, which, []) for reading in readings_of(course, sources)], naming)


def foresee_one(reading: Reading, user: Any, which: str, positions: list[int], naming: Naming) -> Foreseen:
    """What taking of one reading would make."""
    must(can_see(user, reading))
    return _foreseen(reading.source.course, [(reading, which, positions)], naming)


def _foreseen(course: Course, wanted: Iterable[tuple[Reading, str, list[int]]], naming: Naming) -> Foreseen:
    pools: dict[Path, list[str]] = {}
    empty: dict[str, dict[str, None]] = {}
    stays, sources = 0, set[int]()
    for reading, which, positions in wanted:
        paths = [tuple(path) for path in waiting(reading, which, positions).values_list("path", flat=True)]
        stays += waiting(reading, "all", []).count() - len(paths)
        distinct = list(dict.fromkeys(paths))
        names = dict(zip(distinct, naming.paths(reading, distinct), strict=True))
        for path in paths:
            pools.setdefault(tuple(names[path]), []).append(reading.source.name)
        if paths:
            sources.add(reading.source_id)
        for name, chapters in naming.empty(reading, distinct).items():
            empty.setdefault(name, {}).update(dict.fromkeys(chapters))
    made = _pools_to_be(course, pools, naming)
    return Foreseen(made, sum(map(len, pools.values())), len(sources), stays, [_note(*entry) for entry in empty.items()])


def _pools_to_be(course: Course, pools: Mapping[Path, Sequence[str]], naming: Naming) -> list[PoolToBe]:
    """The pools that items come into, each behind those that are made to hold it, as they will stand in the tree."""
    tree = PoolTree(course)
    top = tree.path(naming.below.pk) if naming.below else ()
    order: dict[Path, None] = {}
    for path in pools:
        order |= dict.fromkeys(path[:depth] for depth in range(1, len(path) + 1))
    found = []
    for path in order:
        new, given = tree.at((*top, *(name[:300] for name in path))) is None, pools.get(path, [])
        if new or given:
            found.append(PoolToBe(list(path), len(given), list(dict.fromkeys(given)), new))
    return found


def _note(name: str, chapters: Iterable[str]) -> str:
    """“{number} is empty for “Tides” and 2 more: their names go without.”"""
    known = list(chapters)
    shown = ", ".join(f"“{chapter}”" for chapter in known[:MOST_NAMED])
    more = f" and {len(known) - MOST_NAMED} more" if len(known) > MOST_NAMED else ""
    return f"{{{name}}} has no value for {shown}{more}: it is left out there."

"""The most items that any two of a class have in common: simulated, class by class, and told with what most classes show."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray
from scipy.sparse import csr_matrix

from rogatum.core.quizzes.exposure import DrawSet, Tangle, simulated_counts, tangles

# How many classes are simulated at most, and how many given items over all of them.
MOST_CLASSES = 200
MOST_GIVEN = 1_500_000
_SEED = 20_260_902


@dataclass(frozen=True)
class MostShared:
    """Over `classes` simulated classes: the middle of the most, and what nine of ten lie between."""

    middle: int
    low: int
    high: int
    classes: int


def most_shared(fixed: int, draws: Sequence[DrawSet], students: int) -> MostShared | None:
    """The most items shared by any pair of so many students; None for less than two."""
    given = sum(draw.given for draw in draws)
    if students < 2:
        return None
    if not given:
        return MostShared(fixed, fixed, fixed, 0)
    classes = max(20, min(MOST_CLASSES, MOST_GIVEN // (given * students)))
    rng = np.random.default_rng(_SEED)
    found = np.array([fixed + most for most in _each_class(tangles(draws), students, classes, rng)])
    low, middle, high = np.percentile(found, (5, 50, 95), method="nearest")
    return MostShared(int(middle), int(low), int(high), classes)


def _each_class(groups: Sequence[Tangle], students: int, classes: int, rng: np.random.Generator) -> Iterator[int]:
    for _ in range(classes):
        rows, columns, width = [], [], 0
        for tangle in groups:
            for size, counts in zip(tangle.sizes, simulated_counts(tangle, students, rng).T, strict=True):
                students_of, items = _chosen(size, counts, rng)
                rows.append(students_of)
                columns.append(items + width)
                width += size
        at = np.concatenate(rows), np.concatenate(columns)
        given = csr_matrix((np.ones(len(at[0]), dtype=np.int32), at), shape=(students, width))
        shared = (given @ given.T).tocoo()
        apart = shared.row != shared.col
        yield int(shared.data[apart].max(initial=0))


def _chosen(size: int, counts: NDArray[np.int64], rng: np.random.Generator) -> tuple[NDArray[np.int64], NDArray[np.int64]]:
    """Which items of a cell students get who get so many: as (student, item) side by side."""
    most = int(counts.max(initial=0))
    if not most:
        return np.empty(0, dtype=np.int64), np.empty(0, dtype=np.int64)
    ordered = _in_order(size, most, len(counts), rng)
    mask = np.arange(most) < counts[:, None]
    students, places = np.nonzero(mask)
    return students, ordered[students, places]


def _in_order(size: int, most: int, students: int, rng: np.random.Generator) -> NDArray[np.int64]:
    """The first `most` of a random order of a cell, for each student."""
    if size <= 4 * most:
        return np.argsort(rng.random((students, size)), axis=1)[:, :most]
    ordered = rng.integers(0, size, (students, most))
    while True:
        ranked = np.argsort(ordered, axis=1, kind="stable")
        values = np.take_along_axis(ordered, ranked, axis=1)
        again = np.zeros_like(ordered, dtype=bool)
        np.put_along_axis(again, ranked[:, 1:], values[:, 1:] == values[:, :-1], axis=1)
        if not again.any():
            return ordered
        ordered[again] = rng.integers(0, size, int(again.sum()))

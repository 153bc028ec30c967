"""Near duplicates among many items: found by shingles first and by likeness then."""

from __future__ import annotations

from collections import Counter, defaultdict
from collections.abc import Callable, Iterable, Mapping
from dataclasses import dataclass
from typing import Any

import numpy as np
from scipy.sparse import csr_matrix

from rogatum.core.items.identity import likeness

SHINGLE = 4
NEAR = 88.0
# What is looked at pair by pair may be less alike than what is told on the way: a word more in the stem and one in a choice.
ALIKE = 82.0
# A shingle that this many items have says nothing about any two of them.
COMMON = 60
# Two items are looked at closer where one has this share of the other's shingles.
SHARED = 0.2
# How many items are held against all others at once, and how many of the likeliest of each are looked at closer.
STRETCH, LOOKED_AT = 2000, 24

Progress = Callable[[int, int], None]


@dataclass(frozen=True)
class Likeness:
    """A known item that is like another: `percent` is 100 for an exact duplicate."""

    key: str
    percent: float


@dataclass(frozen=True)
class Pair:
    """Two items that read alike, by their keys."""

    a: int
    b: int
    percent: float


class DuplicateIndex:
    """Known items by shingles of their words (`identity.words_of`); keys are the caller's."""

    def __init__(self, known: Iterable[tuple[str, str]] = ()) -> None:
        self._texts: dict[str, str] = {}
        self._by_shingle: dict[str, list[str]] = defaultdict(list)
        for key, text in known:
            self.add(key, text)

    def add(self, key: str, text: str) -> None:
        self._texts[key] = text
        for shingle in _shingles(text):
            self._by_shingle[shingle].append(key)

    def near(self, text: str, threshold: float = NEAR) -> Likeness | None:
        """The most alike known item at or above the threshold (per cent), or None."""
        votes: Counter[str] = Counter()
        shingles = _shingles(text)
        for shingle in shingles:
            keys = self._by_shingle.get(shingle, ())
            if len(keys) <= COMMON:
                votes.update(keys)
        best: Likeness | None = None
        for key, count in votes.most_common(LOOKED_AT):
            if count < len(shingles) * SHARED:
                break
            percent = likeness(text, self._texts[key])
            if percent >= threshold and (best is None or percent > best.percent):
                best = Likeness(key, round(percent, 1))
        return best


def near_pairs(texts: Mapping[int, str], threshold: float = ALIKE, progress: Progress | None = None) -> list[Pair]:
    """All pairs of items that read alike at or above the threshold (per cent), the most alike first.

    `texts` are the words of the items (`identity.words_of`) by their keys. Items are held against each other by the shingles that
    they share, as one product of sparse matrices; only what shares enough of them is compared letter by letter. What has the very
    same words as others is paired with the first of them alone.
    """
    firsts: dict[str, int] = {}
    found = [Pair(firsts[text], key, 100.0) for key, text in texts.items() if text and firsts.setdefault(text, key) != key]
    keys, words = list(firsts.values()), list(firsts)
    if not keys:
        return []
    matrix, sizes = _shingled(words)
    for start in range(0, len(keys), STRETCH):
        if progress:
            progress(start, len(keys))
        shared = (matrix[start : start + STRETCH] @ matrix.T).tocsr()
        for row in range(shared.shape[0]):
            here = start + row
            for other in _likeliest(shared, row, here, sizes):
                percent = likeness(words[here], words[other])
                if percent >= threshold:
                    found.append(Pair(keys[other], keys[here], round(percent, 1)))
    return sorted(found, key=lambda pair: -pair.percent)


def _shingled(words: list[str]) -> tuple[Any, np.ndarray]:
    """Which item has which shingle, without those that many have; and how many each item has of the rest, never none."""
    numbers: dict[str, int] = {}
    rows, columns = [], []
    for row, text in enumerate(words):
        for shingle in _shingles(text):
            rows.append(row)
            columns.append(numbers.setdefault(shingle, len(numbers)))
    matrix = csr_matrix((np.ones(len(rows), dtype=np.int32), (rows, columns)), shape=(len(words), max(1, len(numbers))))
    telling = np.flatnonzero(np.asarray(matrix.sum(axis=0)).ravel() <= COMMON)
    sizes = np.asarray(matrix.sum(axis=1)).ravel()
    return matrix[:, telling], np.maximum(sizes, 1)


def _likeliest(shared: Any, row: int, here: int, sizes: np.ndarray) -> list[int]:
    """The items before this one that share most with it, where that is enough."""
    span = slice(shared.indptr[row], shared.indptr[row + 1])
    others, counts = shared.indices[span], shared.data[span]
    near = (others < here) & (counts >= SHARED * np.minimum(sizes[here], sizes[others]))
    others, counts = others[near], counts[near]
    return [int(other) for other in others[np.argsort(-counts, kind="stable")[:LOOKED_AT]]]


def _shingles(text: str) -> set[str]:
    words = text.split()
    if len(words) < SHINGLE:
        return {text}
    return {" ".join(words[i : i + SHINGLE]) for i in range(len(words) - SHINGLE + 1)}

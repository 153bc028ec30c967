"""Groups of a pool by what its items are about, each with the words that tell it and the items that are most like it."""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass

import numpy as np

from rogatum.core.items import Item
from rogatum.core.items.type_words import TYPE_LABELS
from rogatum.core.pools.learning import clusters, fit_of, reduced
from rogatum.core.pools.words import Wording, Words, is_said

MOST_GROUPS, FEWEST_ITEMS = 8, 4
TELLING, EXAMPLES = 5, 3
MOST_MEASURED = 2000


@dataclass(frozen=True)
class Group:
    """Items that belong together, by their keys, the most typical first; `name` is a proposal."""

    name: str
    words: tuple[str, ...]
    items: tuple[int, ...]

    @property
    def examples(self) -> tuple[int, ...]:
        return self.items[:EXAMPLES]


def split_by_content(wordings: Mapping[int, Wording], count: int | None = None) -> list[Group]:
    """Groups of items by their words: as many as asked for, else as many as fit best. Fewer than four items are one group."""
    keys = list(wordings)
    words = Words(wordings.values())
    if len(keys) < FEWEST_ITEMS or words.matrix.shape[1] < 2:
        return [Group("", (), tuple(keys))] if keys else []
    nearer = _reduced(words)
    wanted = [min(count, len(keys))] if count else range(2, min(MOST_GROUPS, len(keys) // 2) + 1)
    best = max((_parted(nearer, number) for number in wanted), key=lambda made: made[0])
    labels, nearness = best[1], best[2]
    groups = [_group(words, keys, labels, nearness, label) for label in sorted(set(labels))]
    return sorted(groups, key=lambda group: -len(group.items))


def _reduced(words: Words) -> np.ndarray:
    """The vectors with less noise: along the directions in which the items differ most."""
    width = min(40, min(words.matrix.shape) - 1)
    return np.asarray(reduced(words.matrix, width))


def _parted(vectors: np.ndarray, count: int) -> tuple[float, np.ndarray, np.ndarray]:
    """A parting into groups: how well it fits (−1 to 1), the group of each item, and how near each is to the middle of its own."""
    made = clusters(count).fit(vectors)
    labels = made.labels_
    if len(set(labels)) < 2 or len(set(labels)) >= len(vectors):
        return -1.0, labels, np.zeros(len(vectors))
    distances = np.linalg.norm(vectors - made.cluster_centers_[labels], axis=1)
    return fit_of(vectors, labels, MOST_MEASURED), labels, -distances


def _group(words: Words, keys: Sequence[int], labels: np.ndarray, nearness: np.ndarray, label: int) -> Group:
    inside = np.flatnonzero(labels == label)
    outside = np.flatnonzero(labels != label)
    mean = np.asarray(words.matrix[inside].mean(axis=0)).ravel()
    others = np.asarray(words.matrix[outside].mean(axis=0)).ravel() if len(outside) else 0.0
    speaks = mean - others
    telling = tuple(words.shown(int(column)) for column in np.argsort(-speaks)[:TELLING] if speaks[column] > 0)
    ordered = sorted(map(int, inside), key=lambda row: -float(nearness[row]))
    named = [word for word in telling if not is_said(word)][:2]
    return Group(" and ".join(named).capitalize(), telling, tuple(keys[row] for row in ordered))


def _first(label: str) -> Callable[[Item], str]:
    return lambda item: next(iter(item.metadata.get(label, [])), "")


# Other ways to part a pool, each by what an item is put with.
WAYS: dict[str, Callable[[Item], str]] = {
    "outcome": _first("outcome"),
    "type": lambda item: TYPE_LABELS[item.type],
    "difficulty": _first("difficulty"),
    "topic": _first("topic"),
}


def split_by(values: Mapping[int, str], none: str) -> list[Group]:
    """Groups of items by a value of each; those without one are together, called as `none` says, and come last."""
    found: dict[str, list[int]] = {}
    for key, value in values.items():
        found.setdefault(value, []).append(key)
    ordered = sorted(found, key=lambda value: (value == "", value.casefold()))
    return [Group((value or none)[:1].upper() + (value or none)[1:], (), tuple(found[value])) for value in ordered]

"""A random choice of items, which its seed makes again."""

from __future__ import annotations

import random
from collections.abc import Mapping, Sequence


def random_subset(items: Sequence[int], count: int, seed: int, groups: Mapping[int, str] | None = None) -> list[int]:
    """So many of the items, in their order; with `groups`, as many of each group as of the others, as far as it has them.

    The same items with the same seed give the same choice, in whatever order they are handed over.
    """
    dice = random.Random(seed)
    by_group: dict[str, list[int]] = {}
    for key in sorted(items):
        by_group.setdefault(groups.get(key, "") if groups else "", []).append(key)
    queues = [dice.sample(held, len(held)) for _, held in sorted(by_group.items())]
    dice.shuffle(queues)
    chosen: set[int] = set()
    while queues and len(chosen) < count:
        for queue in queues:
            if len(chosen) < count:
                chosen.add(queue.pop())
        queues = [queue for queue in queues if queue]
    return [key for key in items if key in chosen]

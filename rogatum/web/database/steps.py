"""How much one short transaction writes: as much as keeps others waiting for a moment, on this machine and as busy as it is now."""

from __future__ import annotations

from collections.abc import Iterable, Iterator
from itertools import islice
from typing import TypeVar

from django.db import connection

# A quarter of what a transaction may take at most: where others compute, the next may take much longer than the last.
AIM = 0.05
Part = TypeVar("Part")


class Pace:
    """How many things the next transaction writes: fewer where the last held the lock for long, and more again where it did not."""

    def __init__(self, most: int) -> None:
        # Nothing is known of the first one: it is small, and its size as good as any.
        self.most, self.size = most, max(1, most // 4)
        connection.held = AIM / 2

    def next(self) -> int:
        """To be asked before each transaction."""
        held, connection.held = connection.held, 0.0
        if held > AIM:
            self.size = max(1, int(self.size * AIM / held))
        elif held < AIM / 2:
            self.size = min(self.most, self.size * 2)
        return self.size


def in_steps(things: Iterable[Part], most: int) -> Iterator[list[Part]]:
    """Things in lists for one transaction each, of at most so many."""
    rest, pace = iter(things), Pace(most)
    while part := list(islice(rest, pace.next())):
        yield part

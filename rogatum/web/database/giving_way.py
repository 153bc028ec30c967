"""Threads of one process let the one that holds the lock on writing go first: what it keeps others from is short then."""

from __future__ import annotations

import threading
import time
from collections.abc import Callable

# One that holds the lock for longer than this is no longer waited for: whoever only reads need not wait for it at all.
LONGEST = 0.2


class Precedence:
    """Who of the threads of this process writes. They share one interpreter, and each query that they make takes a turn from it."""

    def __init__(self) -> None:
        self._changed = threading.Condition()
        self._writer: object | None = None
        self._until = 0.0

    def take(self, who: object) -> None:
        with self._changed:
            self._writer, self._until = who, time.monotonic() + LONGEST

    def give_up(self, who: object) -> None:
        with self._changed:
            if self._writer is who:
                self._writer = None
                self._changed.notify_all()

    def give_way(self, who: object) -> None:
        """Waits until nobody else writes, `LONGEST` seconds at most for each transaction."""
        if self._writer is None or self._writer is who:
            return
        with self._changed:
            self._changed.wait_for(lambda: self._writer is None or self._writer is who, max(self._until - time.monotonic(), 0))

    def between(self, work: Callable[[], object]) -> None:
        """Does something that stops all threads while nobody writes."""
        with self._changed:
            self._changed.wait_for(lambda: self._writer is None, LONGEST)
            work()


precedence = Precedence()

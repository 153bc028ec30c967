"""Threads of one process let the one that holds the lock on writing go first: what it keeps others from is short then."""

from __future__ import annotations

import threading
import time
from collections.abc import Callable

# One that holds the lock for longer than this is no longer waited for: whoever only reads need not wait for it at all. On a machine
# with other work, 0.1 s of writing take a second; a writer that lost its right of way after 0.2 s was seen to take three.
LONGEST = 2.0
# What can wait is done after so many seconds all the same.
PATIENCE = 2.0


class Precedence:
    """Who of the threads of this process writes. They share one interpreter, and each query that they make takes a turn from it."""

    def __init__(self) -> None:
        self._changed = threading.Condition()
        self._writer: object | None = None
        self._beginning = 0
        self._until = 0.0

    def begin(self) -> None:
        """To be said before the lock is asked for; `take` or `not_begun` follows."""
        with self._changed:
            self._beginning += 1

    def not_begun(self) -> None:
        with self._changed:
            self._beginning -= 1
            self._changed.notify_all()

    def take(self, who: object) -> None:
        with self._changed:
            self._beginning -= 1
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
        """Does something that stops all threads while nobody writes, nor begins to."""
        with self._changed:
            self._changed.wait_for(lambda: self._writer is None and not self._beginning, PATIENCE)
            work()


precedence = Precedence()

"""How long work takes, told in plain scans of a text on the same machine: a slow machine, or a busy one, is slow at both."""

from __future__ import annotations

import re
import time
from collections.abc import Callable
from functools import cache

_PLAIN = re.compile(r"[^\W\d_]\x00|\d\x00|\s\x00|[^\w\s]\x00")
_CHARACTERS = 400_000  # the clock of a process has coarse ticks, so that a short text is scanned many times
_TRIES = 3  # what is slow once may have been the machine
_BOUND = 600  # plain scans of 100 kB: what is in proportion to its text takes 30 of them at most


@cache
def plain_scan(length: int) -> float:
    """Process seconds of one scan of a text so long: the least of five."""
    text, times = "a1 ," * (length // 4), _CHARACTERS // length
    return max(min(seconds(lambda: [_PLAIN.search(text) for _ in range(times)]) for _ in range(5)), 0.001) / times


def seconds(work: Callable[[], object]) -> float:
    """The process's own seconds: what else the machine does is not the work's."""
    started = time.process_time()
    work()
    return time.process_time() - started


def reaches(limit: float, measure: Callable[[], float]) -> bool:
    """Whether a measure comes to `limit` seconds each time that it is taken."""
    return all(measure() >= limit for _ in range(_TRIES))


def is_bounded(work: Callable[[], object]) -> bool:
    """Whether work on a hostile text ends soon; what would take hours fails by the time that it takes."""
    return not reaches(_BOUND * plain_scan(100_000), lambda: seconds(work))

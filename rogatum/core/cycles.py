"""Long work makes millions of objects and next to no cycles: looking for cycles all the while costs a third of its time."""

from __future__ import annotations

import gc
import threading
from collections.abc import Iterator
from contextlib import contextmanager

_lock = threading.Lock()
_running = 0
_was_on = False


@contextmanager
def uncollected() -> Iterator[None]:
    """No search for cycles within, in whatever thread; as it was before when the last of several is done."""
    global _running, _was_on
    with _lock:
        if _running == 0:
            _was_on = gc.isenabled()
            gc.disable()
        _running += 1
    try:
        yield
    finally:
        with _lock:
            _running -= 1
            if _running == 0 and _was_on:
                gc.enable()

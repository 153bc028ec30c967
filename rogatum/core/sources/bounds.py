"""What keeps reading within bounds: programs that we start end with us, and sizes are told before the work is done."""

from __future__ import annotations

import ctypes
import signal
from collections.abc import Callable
from functools import cache

_PR_SET_PDEATHSIG = 1


@cache
def _c_library() -> ctypes.CDLL | None:
    try:
        library = ctypes.CDLL(None)
        library.prctl  # noqa: B018 - asked for, since not every system has it
    except (OSError, AttributeError):
        return None
    return library


def end_with_parent() -> Callable[[], None] | None:
    """A function for a child to call between fork and exec: the kernel then kills it when its parent ends, however it ends.

    None where the system cannot do so. The library is found before the fork, since little may be done after it.
    """
    library = _c_library()
    if library is None:
        return None
    return lambda: library.prctl(_PR_SET_PDEATHSIG, signal.SIGKILL)

"""What keeps the lock on writing longer than the work within it: other threads' turns, and the search for cycles of objects."""

from __future__ import annotations

import gc
import sys

# Each query lets other threads run, and what comes back from it waits for its turn, with the lock on writing held. By default a
# turn is 5 ms: where four threads compute, a transaction of twenty queries would take 0.4 s instead of 0.02 s.
TURN = 0.001


def keep_locks_short() -> None:
    """Call once all that the process needs is imported.

    Threads take short turns, and what is there by now is no longer searched for cycles, which would stop everything for 0.2 s.
    """
    sys.setswitchinterval(TURN)
    gc.collect()
    gc.freeze()

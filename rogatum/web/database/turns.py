"""What keeps the lock on writing longer than the work within it: other threads' turns, and the search for cycles of objects."""

from __future__ import annotations

import gc
import sys
import threading
import time

from rogatum.web.database.giving_way import precedence

# Each query lets other threads run, and what comes back from it waits for its turn, with the lock on writing held. By default a
# turn is 5 ms: where four threads compute, a transaction of twenty queries would take 0.4 s instead of 0.02 s.
TURN = 0.001
# A search of all objects stops all threads for some 0.1 s, and began within a transaction as well as anywhere else. It is begun
# here, where as many searches of the young ones went before it as always, and nobody writes.
LOOK_EVERY = 0.5
NEVER = 1_000_000
# What was kept by the first requests stays: where a search took so many seconds of a processor, it is not searched again. Not more
# often, since cycles among it would stay too. Objects are not counted by asking for them: that hands out tuples that other threads
# are just making, which ends these threads with a SystemError.
LONG, MOST_FROZEN = 0.01, 5
YOUNG, OLDER, ALL = gc.get_threshold()


def keep_locks_short() -> None:
    """Call once all that the process needs is imported.

    Threads take short turns, and all objects are searched for cycles between transactions. What is there by now is not searched.
    """
    sys.setswitchinterval(TURN)
    gc.collect()
    gc.freeze()
    gc.set_threshold(YOUNG, OLDER, NEVER)
    threading.Thread(target=_search_between_transactions, daemon=True).start()


def _search_between_transactions() -> None:
    left = MOST_FROZEN
    while True:
        time.sleep(LOOK_EVERY)
        if gc.get_count()[2] >= ALL:
            began = time.thread_time()
            precedence.between(gc.collect)
            if left and time.thread_time() - began > LONG:
                gc.freeze()
                left -= 1

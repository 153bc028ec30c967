"""The worker: works off waiting jobs, three readings at a time, two of one account at most, and beside them one change."""

from __future__ import annotations

import logging
import threading
import time
from collections.abc import Callable

from django.db import close_old_connections, connection

from rogatum import apart
from rogatum.web.courses.services import purge_courses
from rogatum.web.database.turns import keep_locks_short
from rogatum.web.jobs.liveness import own_mark
from rogatum.web.jobs.services import CHANGING, PURGES, READING, bury_dead_jobs, claim, run, settle_all

log = logging.getLogger(__name__)
LANES = (READING, READING, READING, CHANGING)
LOOK_EVERY = 0.2
AFTER_TROUBLE = 1.0
PURGE_EVERY = 3600.0


def work_off(stopping: threading.Event) -> None:
    """Works until it is told to stop."""
    own_mark()
    apart.warm_up()
    keep_locks_short()
    lanes = [threading.Thread(target=work_lane, args=(lane, stopping), daemon=True) for lane in LANES]
    for lane in lanes:
        lane.start()
    next_purge = 0.0
    while not stopping.wait(2):
        _now_and_then(bury_dead_jobs)
        _now_and_then(settle_all)
        if time.monotonic() >= next_purge:
            next_purge = time.monotonic() + PURGE_EVERY
            _now_and_then(purge_courses)
            for task in PURGES:
                _now_and_then(task)


def _now_and_then(task: Callable[[], object]) -> None:
    """What fails is tried again next time, and the jobs at work go on: they would end with this process."""
    try:
        task()
    except Exception:
        log.exception("what the worker does now and then failed")
    finally:
        connection.close()


def work_lane(lane: str, stopping: threading.Event) -> None:
    """Works off the jobs of one lane until it is told to stop. Nothing else ends it: jobs of its kind would wait for ever."""
    unwritten: list[Callable[[], None]] = []
    while not stopping.is_set():
        close_old_connections()
        try:
            while unwritten:
                unwritten[0]()
                unwritten.pop(0)
            job = claim(lane)
        except Exception:
            # A full disk, a database that another holds for long, or a flaw of ours: the lane goes on, the job waits, and so does
            # what is to be said of the last one.
            log.exception("the %s lane cannot go on", lane)
            stopping.wait(AFTER_TROUBLE)
            continue
        if job is None:
            stopping.wait(LOOK_EVERY)
            continue
        failure = run(job)
        if failure is not None:
            unwritten.append(failure)

"""The worker: works off waiting jobs, three readings at a time, two of one account at most, and beside them one change."""

from __future__ import annotations

import logging
import threading
import time
from collections.abc import Callable

from django.db import DatabaseError, close_old_connections, connection

from rogatum import apart
from rogatum.web.courses.services import purge_courses
from rogatum.web.database.turns import keep_locks_short
from rogatum.web.jobs.liveness import own_mark
from rogatum.web.jobs.services import CHANGING, READING, bury_dead_jobs, claim, run, settle_all

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
    lanes = [threading.Thread(target=_work_lane, args=(lane, stopping), daemon=True) for lane in LANES]
    for lane in lanes:
        lane.start()
    next_purge = 0.0
    while not stopping.wait(2):
        _now_and_then(bury_dead_jobs)
        _now_and_then(settle_all)
        if time.monotonic() >= next_purge:
            next_purge = time.monotonic() + PURGE_EVERY
            _now_and_then(purge_courses)


def _now_and_then(task: Callable[[], object]) -> None:
    """What fails is tried again next time, and the jobs at work go on: they would end with this process."""
    try:
        task()
    except DatabaseError:
        log.warning("the database cannot be asked", exc_info=True)
    except Exception:
        log.exception("what the worker does now and then failed")
    finally:
        connection.close()


def _work_lane(lane: str, stopping: threading.Event) -> None:
    unwritten: list[Callable[[], None]] = []
    while not stopping.is_set():
        close_old_connections()
        try:
            while unwritten:
                unwritten[0]()
                unwritten.pop(0)
            job = claim(lane)
        except DatabaseError:
            # A full disk, or a database that another holds for long: the job waits, and so does what is to be said of the last one.
            log.warning("the %s lane cannot write", lane, exc_info=True)
            stopping.wait(AFTER_TROUBLE)
            continue
        if job is None:
            stopping.wait(LOOK_EVERY)
            continue
        failure = run(job)
        if failure is not None:
            unwritten.append(failure)

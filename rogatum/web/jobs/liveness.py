"""Which workers live. Each holds a lock on a file of its own; the system lets go of it when the process ends, however it ends.

So a job whose worker holds its lock is at work, however long it says nothing, and one whose worker does not is dead at once.
"""

from __future__ import annotations

import fcntl
import os
import secrets
from contextlib import suppress
from pathlib import Path

from django.conf import settings

_held: dict[tuple[str, int], tuple[str, int]] = {}


def _folder() -> Path:
    return Path(settings.WORKER_FOLDER)


def own_mark() -> str:
    """The mark of this process, whose lock it holds from the first time on."""
    key = (str(_folder()), os.getpid())
    if key not in _held:
        _folder().mkdir(parents=True, exist_ok=True, mode=0o700)
        mark = secrets.token_hex(8)
        handle = os.open(_folder() / mark, os.O_CREAT | os.O_RDWR | os.O_CLOEXEC, 0o600)
        fcntl.flock(handle, fcntl.LOCK_EX | fcntl.LOCK_NB)
        _held[key] = (mark, handle)
    return _held[key][0]


def lives(mark: str) -> bool:
    """Whether the process with this mark still runs. The file of one that does not is taken away."""
    if not mark.isalnum():
        return False
    path = _folder() / mark
    try:
        handle = os.open(path, os.O_RDWR | os.O_CLOEXEC)
    except OSError:
        return False
    try:
        fcntl.flock(handle, fcntl.LOCK_EX | fcntl.LOCK_NB)
    except BlockingIOError:
        return True
    else:
        with suppress(OSError):
            path.unlink()
        return False
    finally:
        os.close(handle)


def any_lives() -> bool:
    """Whether any worker runs."""
    try:
        marks = [entry.name for entry in os.scandir(_folder()) if entry.is_file()]
    except OSError:
        return False
    # All are asked, since asking clears away what is left of the dead.
    living = [mark for mark in marks if lives(mark)]
    return bool(living)

"""Processes of their own for what comes from outside: each task runs apart, within bounds on time, memory and output.

A server process that has the core loaded forks one for each task, so that starting costs next to nothing. The child leads a group
of processes; whatever happens, the group is ended with it: what it started never outlives it, and it never outlives us. What it
says comes as JSON in small messages, what it makes lies in a folder of ours under names of ours.
"""

from __future__ import annotations

import contextlib
import ctypes
import errno
import json
import logging
import multiprocessing
import os
import resource
import signal
import time
import traceback
from collections.abc import Callable
from contextvars import ContextVar
from dataclasses import dataclass
from multiprocessing import forkserver
from multiprocessing.connection import Connection
from typing import Any

from rogatum.core.errors import KeysAlone, UnreadableSource
from rogatum.core.sources.bounds import end_with_parent

log = logging.getLogger(__name__)
MEBIBYTE = 1024 * 1024
LONGEST_MESSAGE = 4 * MEBIBYTE
LOOK_EVERY = 0.1
# What somebody waits for at the page, and what others wait for with the lock on writing held, goes before a task.
GIVES_WAY_BY = 5
_CLONE_NEWUSER, _CLONE_NEWNET = 0x10000000, 0x40000000
Progress = Callable[[int, int], None]


@dataclass(frozen=True)
class Bounds:
    """What a task may take: seconds by the clock, bytes of memory, bytes of each file that it writes."""

    seconds: float = 300
    memory: int = 3072 * MEBIBYTE
    output: int = 2048 * MEBIBYTE


class NoLongerWanted(Exception):
    """The task was ended because nobody waits for it any more."""


class BrokeOff(Exception):
    """The task failed by a fault of the program; its own words are in the log."""


_context = multiprocessing.get_context("forkserver")
_context.set_forkserver_preload(["rogatum.apart.tasks"])


# Who asks for a task, where that is known: whether it is still waited for.
still_wanted: ContextVar[Callable[[], bool] | None] = ContextVar("still_wanted", default=None)


def warm_up() -> None:
    """Starts the process that forks tasks, so that the first one need not wait for it."""
    forkserver.ensure_running()


def run(
    task: str,
    request: dict[str, Any],
    name: str,
    bounds: Bounds,
    progress: Progress | None = None,
    wanted: Callable[[], bool] | None = None,
) -> dict[str, Any]:
    """Runs a task of `tasks.TASKS` apart and returns its answer. `name` is what it works on, for messages.

    Raises UnreadableSource where the task does or where it exceeds a bound, NoLongerWanted when `wanted` says so, and BrokeOff.
    """
    wanted = wanted or still_wanted.get()
    ours, theirs = _context.Pipe(duplex=False)
    process = _context.Process(target=_within_bounds, args=(task, request, bounds, theirs), daemon=True)
    process.start()
    theirs.close()
    try:
        answer = _listen(ours, process, name, bounds, progress, wanted)
    finally:
        _end(process)
        ours.close()
    if answer is None:
        raise _ended(name, process.exitcode, bounds)
    return _answered(answer, name, bounds)


def _listen(
    ours: Connection,
    process: Any,
    name: str,
    bounds: Bounds,
    progress: Progress | None,
    wanted: Callable[[], bool] | None,
) -> dict[str, Any] | None:
    """The task's last message; None where it ended without one."""
    deadline = time.monotonic() + bounds.seconds
    asked = time.monotonic()
    while True:
        if ours.poll(LOOK_EVERY):
            try:
                message: dict[str, Any] = json.loads(ours.recv_bytes(LONGEST_MESSAGE))
            except EOFError:
                process.join(2)
                return None
            except OSError:
                raise _too_much(name, "makes more than can be kept") from None
            if "progress" not in message:
                return message
            if progress is not None:
                progress(*message["progress"])
        now = time.monotonic()
        if now > deadline:
            raise _too_long(name, bounds)
        if wanted is not None and now - asked > 1:
            asked = now
            if not wanted():
                raise NoLongerWanted


def _end(process: Any) -> None:
    """Ends the task and all that it started."""
    with contextlib.suppress(ProcessLookupError, PermissionError):
        os.killpg(process.pid, signal.SIGKILL)
    with contextlib.suppress(ProcessLookupError):
        process.kill()
    process.join()


def _answered(message: dict[str, Any], name: str, bounds: Bounds) -> dict[str, Any]:
    if "done" in message:
        done: dict[str, Any] = message["done"]
        return done
    if "keys" in message:
        alone = message["keys"]
        raise KeysAlone(alone["name"], [(number, text) for number, text in alone["lines"]], alone["count"])
    if "unreadable" in message:
        raise UnreadableSource(**message["unreadable"])
    if message.get("output"):
        raise _too_much(name, "makes more than there is room for")
    if message.get("memory"):
        raise _too_much(name, f"takes more than {bounds.memory // MEBIBYTE} MB of memory")
    log.error("a task on %r broke off: %s", name, message.get("fault"))
    raise BrokeOff


def _ended(name: str, exit_code: int | None, bounds: Bounds) -> UnreadableSource:
    if exit_code == -signal.SIGXCPU:
        return _too_long(name, bounds)
    return _too_much(name, "takes more than there is room for")


def _too_long(name: str, bounds: Bounds) -> UnreadableSource:
    return _too_much(name, f"takes longer than {bounds.seconds:g} s")


def _too_much(name: str, what: str) -> UnreadableSource:
    return UnreadableSource(
        f"{name} {what}", "The work on it was ended, and nothing was kept.", "Split it by chapter, and try each."
    )


# What happens in the child


def _within_bounds(task: str, request: dict[str, Any], bounds: Bounds, theirs: Connection) -> None:
    from rogatum.apart.tasks import TASKS  # noqa: PLC0415 - loaded in the process that forks, not in the one that asks

    _confine(bounds)

    def say(message: dict[str, Any]) -> None:
        try:
            theirs.send_bytes(json.dumps(message).encode())
        except BrokenPipeError:  # whoever asked is gone
            os._exit(1)

    last = 0.0

    def progress(done: int, total: int) -> None:
        nonlocal last
        if time.monotonic() - last > LOOK_EVERY:
            last = time.monotonic()
            say({"progress": [done, total]})

    try:
        say({"done": TASKS[task](request, progress)})
    except KeysAlone as alone:
        say({"keys": {"name": request.get("name", ""), "lines": alone.lines, "count": alone.count}})
    except UnreadableSource as error:
        say({"unreadable": {"what": error.what, "why": error.why, "way_out": error.way_out}})
    except (MemoryError, SystemError):
        say({"memory": True})
    except OSError as error:
        full = error.errno in (errno.EFBIG, errno.ENOSPC, errno.EDQUOT)
        say({"output": True} if full else {"fault": traceback.format_exc()[-4000:]})
    except Exception:  # whatever it is, it is told on the other side
        say({"fault": traceback.format_exc()[-4000:]})


def _let_go_of_the_forking_process() -> None:
    """A task is handed what keeps the process that forks tasks alive, which would then outlive us for as long as the task runs."""
    held = getattr(forkserver._forkserver, "_forkserver_alive_fd", None)
    if held is not None:
        with contextlib.suppress(OSError):
            os.close(held)


def _confine(bounds: Bounds) -> None:
    os.setsid()
    os.nice(GIVES_WAY_BY)
    _let_go_of_the_forking_process()
    if dies_with_parent := end_with_parent():
        dies_with_parent()
    seconds = int(bounds.seconds) + 1
    for what, most in (
        (resource.RLIMIT_AS, bounds.memory),
        (resource.RLIMIT_CPU, seconds),
        (resource.RLIMIT_FSIZE, bounds.output),
        (resource.RLIMIT_CORE, 0),
    ):
        hard = resource.getrlimit(what)[1]
        resource.setrlimit(what, (most if hard == resource.RLIM_INFINITY else min(most, hard), hard))
    _leave_the_network()


def _leave_the_network() -> None:
    """A network namespace with nothing in it, where the system lets us; what runs here has no use for a network in any case."""
    with contextlib.suppress(OSError, AttributeError):
        library = ctypes.CDLL(None)
        if library.unshare(_CLONE_NEWNET) != 0:
            library.unshare(_CLONE_NEWUSER | _CLONE_NEWNET)

"""Jobs: starting, claiming, running, failing and starting again. A job's result appears in one transaction or not at all."""

from __future__ import annotations

import logging
from collections import Counter
from collections.abc import Callable, Iterable, Iterator, Sequence
from contextlib import contextmanager, suppress
from dataclasses import dataclass
from datetime import UTC, datetime, timedelta
from typing import Any, TypeVar

from django.conf import settings
from django.db import IntegrityError, OperationalError, transaction
from django.db.models import Max
from django.http import Http404
from django.shortcuts import get_object_or_404
from django.utils import timezone

from rogatum.apart import BrokeOff, NoLongerWanted
from rogatum.core.errors import RogatumError, UnreadableSource
from rogatum.web.courses import rules as courses
from rogatum.web.courses.history import Recorder
from rogatum.web.courses.models import Course, Operation
from rogatum.web.courses.putting_back import put_back_in_steps
from rogatum.web.courses.services import remove_course
from rogatum.web.courses.undo_plan import plan_of
from rogatum.web.database.holders import holder
from rogatum.web.database.steps import in_steps
from rogatum.web.errors import NotPossible, is_busy, is_full, no_room
from rogatum.web.jobs.liveness import lives, own_mark
from rogatum.web.jobs.models import Job
from rogatum.web.jobs.rules import jobs_for

Thing = TypeVar("Thing")
log = logging.getLogger(__name__)
TELL_EVERY = timedelta(milliseconds=300)
CUT_OFF = {"fact": "The work was cut off; nothing was changed.", "place": "", "way_out": "Start it again."}
FAULT = ("Something went wrong in the program; nothing was changed.", "Start it again.")

# Long readings must not hold up the short changes: each kind has a lane of its own, and reading several. One account has at most so
# many of them at a time.
READING, CHANGING = "reading", "changing"
MOST_AT_ONCE = 2
NEVER = datetime.min.replace(tzinfo=UTC)


class AtWork:
    """A job while it runs: tells how far it is, whether it is still wanted, and finishes it."""

    def __init__(self, job: Job) -> None:
        self.job = job
        self._told = timezone.now() - TELL_EVERY

    def progress(self, done: int, total: int) -> None:
        """Writes progress now and then: often enough to see it move, seldom enough to cost nothing."""
        now = timezone.now()
        if now - self._told >= TELL_EVERY:
            self._told = now
            Job.objects.filter(pk=self.job.pk).update(done=done, total=total)

    def _ours(self) -> bool:
        return Job.objects.filter(pk=self.job.pk, state=Job.State.RUNNING, worker=self.job.worker).exists()

    def wanted(self) -> bool:
        """Whether the job is still there and still this worker's."""
        return self._ours()

    @contextmanager
    def step(self) -> Iterator[None]:
        """A transaction within which the job is this worker's, and its account may still change the course."""
        with transaction.atomic():
            if not self._ours():
                raise NoLongerWanted
            must_still_edit(self.job)
            yield

    @contextmanager
    def finishing(self) -> Iterator[Callable[[dict[str, Any]], None]]:
        """The last step of a job: what it changes and that it is done are there together, or neither is.

        Call what is given with the result.
        """
        with self.step():

            def done(result: dict[str, Any]) -> None:
                now = timezone.now()
                Job.objects.filter(pk=self.job.pk).update(state=Job.State.DONE, result=result, finished=now)

            yield done


class Staged:
    """One operation that a job writes in several short transactions, between which others work.

    Until it is finished nobody can undo it; what is left unfinished is put back (`settle`).
    """

    def __init__(self, at_work: AtWork, label: str) -> None:
        self.at_work, self.label = at_work, label
        self.operation: Operation | None = None

    def _recorder(self) -> Recorder:
        job = self.at_work.job
        assert job.course is not None  # what makes a course has no operation in one
        if self.operation is None:
            self.operation = Operation.objects.create(course=job.course, user=job.user, label=self.label[:300], job=job.pk)
        return Recorder(job.course, job.user, self.label, self.operation)

    @contextmanager
    def step(self) -> Iterator[Recorder]:
        """One more transaction of the operation. Raises NoLongerWanted where another has the job by now."""
        with self.at_work.step(), self._recorder() as record:
            yield record

    def each(self, things: Sequence[Thing], most: int) -> Iterator[list[Thing]]:
        """Things in lists, of which each is worked out and then written in one step; tells how far the job is."""
        done = 0
        for part in in_steps(things, most):
            yield part
            done += len(part)
            self.at_work.progress(done, len(things))

    @contextmanager
    def finishing(self) -> Iterator[tuple[Recorder, Callable[[dict[str, Any]], None]]]:
        """The last step: what it records, the whole operation and the job are there together. Its label is the operation's."""
        with self.at_work.finishing() as done:
            record = self._recorder()
            with record:
                yield record, done
            assert self.operation is not None
            Operation.objects.filter(pk=self.operation.pk).update(job=None, label=record.label[:300])
            if not self.operation.changes.exists():
                self.operation.delete()


def settle(job_id: Any) -> None:
    """Puts back what a job left unfinished; what somebody built on meanwhile stays, as an operation of its own."""
    _settle(list(Course.objects.filter(job=job_id)), list(Operation.objects.filter(job=job_id)))


def settle_all() -> None:
    """Puts back what jobs left unfinished that are at work no more.

    Each is asked for in one query: a job that finishes between two would be put back though it is done.
    """
    running = Job.objects.filter(state=Job.State.RUNNING).values("pk")
    _settle(*(list(model.objects.filter(job__isnull=False).exclude(job__in=running)) for model in (Course, Operation)))


def _settle(unfinished: Iterable[Course], operations: Iterable[Operation]) -> None:
    for course in unfinished:
        with _flaws_told(course.name):
            remove_course(course)
    for operation in operations:
        # Another worker may settle it as well, and have done so.
        with suppress(NotPossible, Operation.DoesNotExist):
            whole = False
            with _flaws_told(operation.label):
                whole = not put_back_in_steps(plan_of(operation), lambda _done, _of: None).left
            if whole:
                Operation.objects.filter(pk=operation.pk).delete()
            else:
                Operation.objects.filter(pk=operation.pk).update(job=None)


@contextmanager
def _flaws_told(label: str) -> Iterator[None]:
    """What a flaw of ours keeps from being put back keeps nothing else from it: not the others, nor who waits behind them."""
    try:
        yield
    except (OperationalError, NotPossible, Operation.DoesNotExist):
        raise
    except Exception:
        log.exception("“%s” could not be put back", label)


def must_still_edit(job: Job) -> None:
    """Raises NotPossible where the account of a job may not change the course any more."""
    if job.course_id is not None:
        courses.must_edit(job.user, Course.objects.select_related("owner").get(pk=job.course_id))


Work = Callable[[Job, AtWork], None]


@dataclass(frozen=True)
class _Registered:
    run: Work
    lane: str
    changes: bool


WORKS: dict[str, _Registered] = {}


# What removes for good, now and then, what was deleted longer ago than it is kept.
PURGES: list[Callable[[], object]] = []


def purges(task: Callable[[], object]) -> Callable[[], object]:
    """Registers something that the worker does now and then to remove what is no longer kept."""
    PURGES.append(task)
    return task


def work(name: str, lane: str, changes: bool = True) -> Callable[[Work], Work]:
    """Registers a function as the work of jobs of this name; `changes` says whether it makes an operation that can be undone."""

    def register(function: Work) -> Work:
        WORKS[name] = _Registered(function, lane, changes)
        return function

    return register


def start_job(course: Course, user: Any, work_name: str, label: str, arguments: dict[str, Any]) -> Job:
    """Queues a job: its row is the queue, so it waits if and when the transaction that asks for it goes through."""
    courses.must_edit(user, course)
    return _queued(Job(course=course, user=user, work=work_name, label=label[:300], arguments=arguments))


def start_own_job(user: Any, work_name: str, label: str, arguments: dict[str, Any]) -> Job:
    """Queues a job that belongs to no course: it makes one."""
    courses.must(bool(user is not None and user.is_authenticated))
    return _queued(Job(user=user, work=work_name, label=label[:300], arguments=arguments))


def _queued(job: Job) -> Job:
    job.save(force_insert=True)
    _run_here_if_asked(job)
    return job


def _run_here_if_asked(job: Job) -> None:
    if settings.JOBS_IMMEDIATE:
        transaction.on_commit(lambda: run_here(str(job.pk)))


_NOT_AGAIN = {
    Job.State.WAITING: ("This work waits for its turn already.", "Wait for it."),
    Job.State.RUNNING: ("This work is being done.", "Wait for it."),
    Job.State.DONE: ("This work is done.", "Look at what came of it."),
}


def retry_job(user: Any, job_id: str) -> Job:
    """Queues a job that failed once more. Raises NotPossible for one that did not."""
    with transaction.atomic():
        job = get_object_or_404(jobs_for(user), pk=job_id)
        must_still_edit(job)
        if job.state != Job.State.FAILED:
            raise NotPossible(*_NOT_AGAIN[Job.State(job.state)])
        Job.objects.filter(pk=job.pk).update(
            state=Job.State.WAITING, worker="", problem=None, result=None, done=0, total=0, seen=False, started=None, finished=None
        )
        _run_here_if_asked(job)
    job.refresh_from_db()
    return job


def claim(lane: str) -> Job | None:
    """The next waiting job of a lane, now this process's; several that ask at once get different ones."""
    names = [name for name, entry in WORKS.items() if entry.lane == lane]
    # Asked first without the lock on writing, which a worker that is stopped while it holds it would keep from everybody.
    if _next(names) is None:
        return None
    with transaction.atomic():
        job = _next(names)
        return _claimed(job) if job else None


def _next(names: list[str]) -> Job | None:
    """The job whose turn it is: accounts take turns, so that many jobs of one keep no other waiting."""
    jobs = Job.objects.filter(work__in=names)
    waiting = jobs.filter(state=Job.State.WAITING)
    at_work = Counter(jobs.filter(state=Job.State.RUNNING).values_list("user", flat=True))
    users = [user for user in waiting.order_by().values_list("user", flat=True).distinct() if at_work[user] < MOST_AT_ONCE]
    if not users:
        return None
    served = dict(jobs.filter(user__in=users).order_by().values_list("user").annotate(last=Max("started")))
    first = min(users, key=lambda user: (at_work[user], served[user] or NEVER))
    return waiting.filter(user=first).order_by("created").first()


def _claimed(job: Job) -> Job:
    job.state, job.worker, job.started = Job.State.RUNNING, own_mark(), timezone.now()
    job.save(update_fields=["state", "worker", "started"])
    return job


def run_here(job_id: str) -> None:
    """Claims and runs one job in this process, where it still waits."""
    with transaction.atomic():
        job = Job.objects.filter(pk=job_id, state=Job.State.WAITING).first()
        if job is None:
            return
        _claimed(job)
    failure = run(job)
    if failure is not None:
        failure()


def run(job: Job) -> Callable[[], None] | None:
    """Runs a claimed job. Returns what must still be written where it failed, since that may not be possible at once."""
    token = holder.set(f"the job “{job.label}”")
    try:
        settle(job.pk)  # what an earlier try left
        must_still_edit(job)
        WORKS[job.work].run(job, AtWork(job))
    except OperationalError as error:
        return _waits_again(job) if is_busy(error) else _failed(job, error)
    except Exception as error:  # the worker must outlive any job, and the row must say that it failed
        return _failed(job, error)
    finally:
        holder.reset(token)
    return None


def _failed(job: Job, error: Exception) -> Callable[[], None]:
    """What is to be written of a job that failed, behind what it left unfinished."""
    failure = _told(job, error)

    def write() -> None:
        settle(job.pk)
        failure()

    return write


def _waits_again(job: Job) -> Callable[[], None]:
    """Others wrote for too long: the job waits for its turn again."""

    def write() -> None:
        settle(job.pk)
        Job.objects.filter(pk=job.pk, state=Job.State.RUNNING, worker=job.worker).update(
            state=Job.State.WAITING, worker="", started=timezone.now()
        )

    return write


def _told(job: Job, error: Exception) -> Callable[[], None]:
    if isinstance(error, NoLongerWanted):
        # Whoever deleted or changed it knows: nothing that must be put away by hand.
        return _failure(job, "This is no longer wanted: what it was for was deleted or changed in the meantime.", "", seen=True)
    if isinstance(error, UnreadableSource):
        return _failure(job, f"{error.what}. {error.why}", error.way_out)
    if isinstance(error, NotPossible):
        return _failure(job, error.problem.fact, error.problem.way_out)
    if isinstance(error, Http404):
        return _failure(job, "What this work was for is no longer there.", "Start it anew from what is there.")
    if isinstance(error, IntegrityError):
        return _failure(job, "What this builds on was changed in the meantime; nothing was changed.", "Start it again.")
    if isinstance(error, RogatumError):
        return _failure(job, str(error), "")
    if is_full(error):
        return _failure(job, no_room().fact, no_room().way_out)
    if not isinstance(error, BrokeOff):  # which is in the log already
        log.error("job %s failed", job.pk, exc_info=error)
    return _failure(job, *FAULT)


def _failure(job: Job, fact: str, way_out: str, seen: bool = False) -> Callable[[], None]:
    problem = {"fact": fact, "place": "", "way_out": way_out}

    def write() -> None:
        Job.objects.filter(pk=job.pk, state=Job.State.RUNNING, worker=job.worker).update(
            state=Job.State.FAILED, problem=problem, seen=seen, finished=timezone.now()
        )

    return write


def bury_dead_jobs() -> int:
    """Marks running jobs whose worker is no more as failed; returns how many."""
    marks = set(Job.objects.filter(state=Job.State.RUNNING).values_list("worker", flat=True))
    dead = [mark for mark in marks if not lives(mark)]
    if not dead:
        return 0
    running = Job.objects.filter(state=Job.State.RUNNING, worker__in=dead)
    try:
        return running.update(state=Job.State.FAILED, problem=CUT_OFF, finished=timezone.now())
    except OperationalError:
        log.warning("dead jobs cannot be marked now")
        return 0

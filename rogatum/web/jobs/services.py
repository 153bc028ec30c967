"""Jobs: starting, running, failing and starting again. A job's result appears in one transaction or not at all."""

from __future__ import annotations

import logging
from collections.abc import Callable
from datetime import timedelta
from typing import Any

from django.db import transaction
from django.db.models import QuerySet
from django.shortcuts import get_object_or_404
from django.utils import timezone
from django_tasks import task

from rogatum.core.errors import RogatumError, UnreadableSource
from rogatum.web.courses.models import Course
from rogatum.web.courses.services import courses_for
from rogatum.web.errors import NotPossible
from rogatum.web.jobs.models import Job

log = logging.getLogger(__name__)
Progress = Callable[[int, int], None]
Work = Callable[[Job, Progress], dict[str, Any]]
WORKS: dict[str, Work] = {}
# A worker that says nothing for this long is taken for dead.
SILENCE = timedelta(seconds=90)
BEAT_EVERY = timedelta(milliseconds=300)


def work(name: str) -> Callable[[Work], Work]:
    """Registers a function as the work of jobs of this name."""

    def register(function: Work) -> Work:
        WORKS[name] = function
        return function

    return register


def jobs_for(user: Any) -> QuerySet[Job]:
    return Job.objects.filter(user=user, course__in=courses_for(user))


def start_job(course: Course, user: Any, work_name: str, label: str, arguments: dict[str, Any]) -> Job:
    """Queues a job; it runs once the transaction that asked for it has gone through."""
    job = Job.objects.create(course=course, user=user, work=work_name, label=label, arguments=arguments)
    transaction.on_commit(lambda: run_job.enqueue(str(job.pk)))
    return job


def retry_job(user: Any, job_id: str) -> Job:
    job = get_object_or_404(jobs_for(user), pk=job_id)
    if job.state != Job.State.FAILED:
        raise NotPossible("Only work that failed can be started again.")
    with transaction.atomic():
        Job.objects.filter(pk=job.pk).update(state=Job.State.WAITING, problem=None, done=0, seen=False, finished=None)
        transaction.on_commit(lambda: run_job.enqueue(str(job.pk)))
    job.refresh_from_db()
    return job


@task()
def run_job(job_id: str) -> None:
    """Runs one job. Whatever happens, the job's row says how it ended."""
    now = timezone.now()
    claimed = Job.objects.filter(pk=job_id, state=Job.State.WAITING).update(state=Job.State.RUNNING, started=now, beat=now)
    if not claimed:
        return
    job = Job.objects.get(pk=job_id)
    try:
        result = WORKS[job.work](job, _progress(job))
    except UnreadableSource as error:
        _fail(job, f"{error.what}. {error.why}", error.way_out)
    except NotPossible as error:
        _fail(job, error.problem.fact, error.problem.way_out)
    except RogatumError as error:
        _fail(job, str(error), "")
    except Exception:  # the worker must outlive any job, and the row must say that it failed
        log.exception("job %s failed", job_id)
        _fail(job, "Something went wrong in the program; nothing was changed.", "Start it again.")
    else:
        Job.objects.filter(pk=job.pk).update(state=Job.State.DONE, result=result, finished=timezone.now())


def _progress(job: Job) -> Progress:
    """Writes progress now and then: often enough to see it move, seldom enough to cost nothing."""
    last = timezone.now() - BEAT_EVERY

    def report(done: int, total: int) -> None:
        nonlocal last
        now = timezone.now()
        if now - last >= BEAT_EVERY:
            last = now
            Job.objects.filter(pk=job.pk).update(done=done, total=total, beat=now)

    return report


def _fail(job: Job, fact: str, way_out: str) -> None:
    problem = {"fact": fact, "place": "", "way_out": way_out}
    Job.objects.filter(pk=job.pk).update(state=Job.State.FAILED, problem=problem, finished=timezone.now())


def bury_dead_jobs(everything: bool = False) -> int:
    """Marks running jobs without a sign of life as failed; with `everything`, all running ones (at the worker's start)."""
    running = Job.objects.filter(state=Job.State.RUNNING)
    if not everything:
        running = running.filter(beat__lt=timezone.now() - SILENCE)
    problem = {"fact": "The work was cut off; nothing was changed.", "place": "", "way_out": "Start it again."}
    return running.update(state=Job.State.FAILED, problem=problem, finished=timezone.now())

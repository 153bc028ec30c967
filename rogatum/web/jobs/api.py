"""Jobs of an account: progress, failures, starting again."""

from __future__ import annotations

from uuid import UUID

from django.conf import settings
from django.http import HttpRequest
from django.shortcuts import get_object_or_404
from ninja import Router

from rogatum.web.bounds import Id
from rogatum.web.courses.services import course_for
from rogatum.web.jobs.liveness import any_lives
from rogatum.web.jobs.rules import jobs_for
from rogatum.web.jobs.schemas import JobOut, WorkerOut
from rogatum.web.jobs.services import bury_dead_jobs, retry_job

router = Router()


@router.get("/courses/{course_id}/jobs", response=list[JobOut], operation_id="jobs_list")
def list_jobs(request: HttpRequest, course_id: Id) -> object:
    bury_dead_jobs()
    return jobs_for(request.user).filter(course=course_for(request.user, course_id))[:12]


@router.get("/jobs", response=list[JobOut], operation_id="jobs_own")
def list_own_jobs(request: HttpRequest) -> object:
    """The jobs of one's own that belong to no course."""
    bury_dead_jobs()
    return jobs_for(request.user).filter(course=None)[:12]


@router.get("/worker", response=WorkerOut, operation_id="worker_get")
def get_worker(request: HttpRequest) -> object:
    """Whether jobs are being worked off at all."""
    return WorkerOut(running=settings.JOBS_IMMEDIATE or any_lives())


@router.get("/jobs/{job_id}", response=JobOut, operation_id="jobs_get")
def get_job(request: HttpRequest, job_id: UUID) -> object:
    bury_dead_jobs()
    return get_object_or_404(jobs_for(request.user), pk=job_id)


@router.post("/jobs/{job_id}/retry", response=JobOut, operation_id="jobs_retry")
def retry(request: HttpRequest, job_id: UUID) -> object:
    return retry_job(request.user, str(job_id))


@router.post("/jobs/{job_id}/seen", response=JobOut, operation_id="jobs_seen")
def mark_seen(request: HttpRequest, job_id: UUID) -> object:
    job = get_object_or_404(jobs_for(request.user), pk=job_id)
    job.seen = True
    job.save(update_fields=["seen"])
    return job

"""What goes in and out of the API of jobs."""

from __future__ import annotations

from datetime import datetime
from typing import Any
from uuid import UUID

from ninja import Schema

from rogatum.web.courses.schemas import Counted
from rogatum.web.errors import Problem
from rogatum.web.jobs.models import Job
from rogatum.web.jobs.services import WORKS


class JobOut(Schema):
    id: UUID
    work: str
    label: str
    state: str
    done: int
    total: int
    seen: bool
    created: datetime
    result: dict[str, Any] | None
    problem: Problem | None
    changes: bool

    @staticmethod
    def resolve_changes(job: Job) -> bool:
        """Whether it makes an operation that can be undone."""
        return job.work in WORKS and WORKS[job.work].changes


class WorkerOut(Schema):
    running: bool


class CountedOrJob(Counted):
    """How many it is done to; `job` where it is still being done."""

    job: UUID | None = None

    @classmethod
    def by(cls, count: int, job: Job | None) -> CountedOrJob:
        return cls(count=count, job=job.pk if job else None)

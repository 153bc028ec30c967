"""Who may see and start jobs again: who asked for them, as long as they may see the course."""

from __future__ import annotations

from typing import Any

from django.db.models import Q, QuerySet

from rogatum.web.courses import rules as courses
from rogatum.web.jobs.models import Job


def can_see(user: Any, job: Job) -> bool:
    return job.user_id == user.pk and (job.course is None or courses.can_see(user, job.course))


def can_edit(user: Any, job: Job) -> bool:
    return job.user_id == user.pk and (job.course is None or courses.can_edit(user, job.course))


def jobs_for(user: Any) -> QuerySet[Job]:
    """The jobs that an account asked for, in courses that it may see and of none."""
    mine = courses.courses_for(user)
    return Job.objects.filter(Q(course__in=mine) | Q(course=None), user__pk=user.pk)

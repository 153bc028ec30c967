"""Opening a saved course: as a job, since it can be long, in a new course of who opens it."""

from __future__ import annotations

from typing import Any, BinaryIO

from django.db import transaction

from rogatum.core.errors import UnreadableSource
from rogatum.web.courses.models import Course
from rogatum.web.courses.rules import must
from rogatum.web.courses.services import create_course
from rogatum.web.errors import NotPossible
from rogatum.web.files import SOURCES
from rogatum.web.jobs.models import Job
from rogatum.web.jobs.services import CHANGING, AtWork, start_job, work
from rogatum.web.keeping.opening import check_saved, open_saved
from rogatum.web.sources.storing import forget


def start_opening(user: Any, stream: BinaryIO, name: str) -> Job:
    """Makes a new course and fills it from a saved one. Raises UnreadableSource where the file is none."""
    must(user.is_authenticated)
    head = check_saved(stream, name)
    stream.seek(0)
    with SOURCES.writing(stream) as stored, transaction.atomic():
        course = create_course(user, head.name)
        stored.place()
        return start_job(course, user, "open-course", f"Open {head.name}", {"sha256": stored.sha256, "name": name[:200]})


@work("open-course", lane=CHANGING)
def open_work(job: Job, at_work: AtWork) -> None:
    course, said = Course.objects.get(pk=job.course_id), job.arguments
    at_work.progress(0, 1)
    if not SOURCES.path(said["sha256"]).exists():
        raise NotPossible("The file is no longer there.", "Open it anew, from among the courses.")
    try:
        with SOURCES.path(said["sha256"]).open("rb") as stream, at_work.finishing() as done:
            if course.items.exists():
                raise NotPossible("This course holds something already.", "Open the file anew.")
            done({"items": open_saved(course, job.user, stream, said["name"])})
    except UnreadableSource:
        Course.objects.filter(pk=course.pk).update(name=f"{course.name} (could not be opened)"[:200])
        forget(said["sha256"])
        raise
    forget(said["sha256"])

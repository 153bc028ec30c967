"""Opening a saved course: as a job, since it can be long; the new course is there when all of it is."""

from __future__ import annotations

from pathlib import Path
from typing import Any, BinaryIO

from django.conf import settings
from django.db import transaction

from rogatum import apart
from rogatum.core.errors import UnreadableSource
from rogatum.web.courses.models import Course
from rogatum.web.courses.rules import must
from rogatum.web.errors import NotPossible
from rogatum.web.files import SOURCES
from rogatum.web.jobs.models import Job
from rogatum.web.jobs.services import CHANGING, AtWork, start_own_job, work
from rogatum.web.keeping.opening import Filling
from rogatum.web.sources.storing import forget

OPENING = "open-course"


def start_opening(user: Any, stream: BinaryIO, name: str) -> Job:
    """Opens a saved course as a new one of this account. Raises UnreadableSource where the file is none."""
    must(user.is_authenticated)
    name = name.replace("/", "_")[:200]
    with SOURCES.writing(stream) as stored:
        title = apart.saved_head(stored.written, name)
        with transaction.atomic():
            stored.place()
            return start_own_job(user, OPENING, f"Open {title}", {"sha256": stored.sha256, "name": name})


@work(OPENING, lane=CHANGING, changes=False)
def open_work(job: Job, at_work: AtWork) -> None:
    """Looks at all of the file first, apart, and then fills a course that nobody sees before it is whole."""
    said = job.arguments
    path = SOURCES.path(said["sha256"])
    if not path.exists():
        raise NotPossible("The file is no longer there.", "Open it anew, from among the courses.")
    try:
        with apart.saved_course(path, said["name"], Path(settings.SCRATCH), at_work.progress, at_work.wanted) as folder:
            filling = Filling(at_work, folder)
            course = filling.run()
        with at_work.finishing() as done:
            Course.objects.filter(pk=course.pk).update(job=None)
            done({"course": course.pk, "items": len(filling.numbers["item"])})
    except UnreadableSource:
        _forget(job)
        raise
    _forget(job)


def _forget(job: Job) -> None:
    """Removes the file where no other job waits for it, nor any source is made of it."""
    waiting = Job.objects.filter(work=OPENING, arguments__sha256=job.arguments["sha256"]).exclude(pk=job.pk)
    if not waiting.filter(state__in=(Job.State.WAITING, Job.State.RUNNING)).exists():
        forget(job.arguments["sha256"])

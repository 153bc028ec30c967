"""What was dropped together: named, set aside, and taken as one."""

from __future__ import annotations

import posixpath
from collections.abc import Sequence
from typing import Any

from django.shortcuts import get_object_or_404

from rogatum.web.courses import rules as courses
from rogatum.web.courses.history import Recorder, fields_of
from rogatum.web.courses.models import Course
from rogatum.web.errors import NotPossible
from rogatum.web.jobs.models import Job
from rogatum.web.jobs.services import CHANGING, AtWork, start_job, work
from rogatum.web.sources.models import Batch, Reading, Source
from rogatum.web.sources.rules import must_edit
from rogatum.web.sources.taking import Wanted, take, waiting


def batch_of(course: Course, user: Any, token: str) -> Batch | None:
    """The batch of a drop, made at its first file; none where the page named no drop."""
    courses.must_edit(user, course)
    return Batch.objects.get_or_create(course=course, token=token)[0] if token else None


def name_batch(batch: Batch, user: Any, name: str) -> Batch:
    courses.must_edit(user, batch.course)
    batch.name = name.strip()
    batch.save(update_fields=["name"])
    return batch


def usual_name(names: Sequence[str]) -> str:
    """What a batch is called where nobody named it: what its sources' names begin with, else the first of them."""
    stems = [posixpath.splitext(name)[0] for name in names]
    shared = posixpath.commonprefix(stems).rstrip(" ._-0123456789")
    return shared if len(shared) >= 3 else f"{names[0]} and {len(names) - 1} more"


def set_aside(source: Source, user: Any, aside: bool) -> Source:
    """Keeps a source out of what waits, or brings it back."""
    must_edit(user, source)
    label = f"Set {source.name} aside" if aside else f"Brought {source.name} back"
    with Recorder(source.course, user, label) as record:
        source = record.current(source)
        before = fields_of(source)
        source.aside = aside
        source.save(update_fields=["aside"])
        record.changed("source", source, before)
    return source


# Taking several as one


def readings_of(course: Course, keys: Sequence[int]) -> list[Reading]:
    """The current readings of these sources of the course, in the order in which the sources came."""
    found = Reading.objects.filter(source__course=course, source__in=list(keys), source__put_away=None, current=True)
    return list(found.select_related("source__course").order_by("source_id"))


def start_take_all(course: Course, user: Any, sources: Sequence[int], which: str, arguments: dict[str, Any]) -> Job:
    """Queues the taking of what waits in several sources, all in one. Raises NotPossible where nothing does."""
    courses.must_edit(user, course)
    readings = readings_of(course, sources)
    count = sum(waiting(reading, which, []).count() for reading in readings)
    if not count:
        raise NotPossible("There is nothing to take.", "Choose sources with items that were not taken yet.")
    label = f"Take {count} items of {len(readings)} sources"
    return start_job(course, user, "take-all", label, arguments | {"sources": [r.source_id for r in readings], "which": which})


@work("take-all", lane=CHANGING)
def take_all_work(job: Job, at_work: AtWork) -> None:
    """Takes what waits in several sources as one operation: all of it can be undone as one."""
    said = job.arguments
    wanted = [
        Wanted(reading, said["which"], quizzes=[quiz["id"] for quiz in reading.quizzes] if said.get("quizzes_too") else [])
        for reading in readings_of(job.course, said["sources"])
    ]
    take(at_work, wanted, f"{len(wanted)} sources")


def batch_for(user: Any, key: int) -> Batch:
    """The batch, or a 404 for a stranger."""
    return get_object_or_404(Batch.objects.select_related("course"), pk=key, course__in=courses.courses_for(user))

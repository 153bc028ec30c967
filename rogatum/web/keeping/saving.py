"""A course as one file: pools, items with their history, passages, media, quizzes, outcomes."""

from __future__ import annotations

import zipfile
from collections.abc import Callable, Iterator
from datetime import UTC, datetime
from typing import IO, Any, TypeVar

from django.db import models
from pydantic import BaseModel

from rogatum.core.saved.rows import (
    FORMAT,
    OF_COURSE,
    ChangeRow,
    Head,
    ItemRow,
    MediaRow,
    OperationRow,
    PartItemRow,
    PartRow,
    PatternRow,
    PoolRow,
    QuizRow,
    SectionRow,
)
from rogatum.web.bulk import one_state
from rogatum.web.courses.models import Course, CourseMedia, Operation
from rogatum.web.courses.rules import can_see, must
from rogatum.web.files import MEDIA
from rogatum.web.pools.models import Item, Pool
from rogatum.web.quizzes.models import Part, PartItem, Quiz

EPOCH = (1980, 1, 1, 0, 0, 0)
BATCH = 1000


def save_course(course: Course, user: Any, target: IO[bytes]) -> None:
    """Writes a course into a file, as it is at one moment."""
    must(can_see(user, course))
    with one_state(), zipfile.ZipFile(target, "w") as archive:
        archive.writestr(_entry("course.json"), _head(course).model_dump_json(indent=1), zipfile.ZIP_DEFLATED)
        for name, rows in _tables(course).items():
            with archive.open(_entry(f"{name}.jsonl"), "w", force_zip64=True) as member:
                for row in rows():
                    member.write(row.model_dump_json().encode() + b"\n")
        for media in CourseMedia.objects.filter(course=course):
            path = MEDIA.path(media.sha256)
            if path.exists():  # else what shows it says so where it is opened
                archive.write(path, f"media/{media.sha256}")


def _head(course: Course) -> Head:
    return Head(
        format=FORMAT,
        name=course.name,
        columns=course.columns,
        outcomes=course.outcomes,
        advice_off=course.advice_off,
        time_zone=course.time_zone,
        sections=[SectionRow(name=row.name, students=row.students) for row in course.sections.all()],
        patterns=[PatternRow(name=row.name, settings=row.settings) for row in course.patterns.all()],
    )


def _entry(name: str) -> zipfile.ZipInfo:
    entry = zipfile.ZipInfo(name, EPOCH)
    entry.compress_type = zipfile.ZIP_DEFLATED
    return entry


def _tables(course: Course) -> dict[str, Callable[[], Iterator[BaseModel]]]:
    return {
        "media": lambda: (
            MediaRow(sha256=row.sha256, name=row.name, type=row.type, size=row.size)
            for row in CourseMedia.objects.filter(course=course).order_by("pk")
        ),
        "pools": lambda: (
            PoolRow(id=row.pk, parent=row.parent_id, name=row.name, position=row.position)
            for row in Pool.objects.filter(course=course).order_by("pk")
        ),
        "items": lambda: map(_item_row, _each(Item.objects.filter(course=course).order_by("pk"))),
        "quizzes": lambda: (
            QuizRow(id=row.pk, title=row.title, settings=row.settings, plan=row.plan)
            for row in Quiz.objects.filter(course=course).order_by("pk")
        ),
        "parts": lambda: map(_part_row, Part.objects.filter(quiz__course=course).order_by("pk")),
        "entries": lambda: (
            PartItemRow(id=row.pk, part=row.part_id, item=row.item_id, position=row.position)
            for row in PartItem.objects.filter(part__quiz__course=course).order_by("pk")
        ),
        "history": lambda: map(_operation_row, _each(Operation.objects.filter(course=course).order_by("pk"))),
    }


Row = TypeVar("Row", bound=models.Model)


def _each(rows: models.QuerySet[Row]) -> Iterator[Row]:
    return rows.iterator(chunk_size=BATCH)


def _item_row(row: Item) -> ItemRow:
    return ItemRow(
        id=row.pk,
        pool=row.pool_id,
        position=row.position,
        body=row.body,
        passage=(row.stimulus or {}).get("content"),
        origin=row.origin,
        source=row.source,
        handed=row.handed,
        created=row.created,
        updated=row.updated,
    )


def _part_row(row: Part) -> PartRow:
    return PartRow(
        id=row.pk,
        quiz=row.quiz_id,
        kind=row.kind,
        position=row.position,
        title=row.title,
        pool=row.pool_id,
        pick=row.pick,
        points_each=row.points_each,
        points=row.points,
        instructions=row.instructions,
        page_break=row.page_break,
        alone=row.alone,
        where=row.where,
        without=row.without,
        picked_from=row.picked_from,
    )


def _operation_row(row: Operation) -> OperationRow:
    changes = [
        ChangeRow(table=change.table, row=change.row, before=change.before, after=change.after)
        for change in row.changes.filter(table__in=OF_COURSE)
    ]
    by = row.by or row.user.get_username()
    return OperationRow(label=row.label, by=by, created=row.created, undone=row.undone, changes=changes)


def saved_name(course: Course) -> str:
    """A name that says what the file holds, and of when it is."""
    words = "-".join("".join(sign if sign.isalnum() else " " for sign in course.name).split())
    return f"{words or 'course'}-{datetime.now(UTC):%Y-%m-%d}.rogatum-course.zip"

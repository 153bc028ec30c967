"""Who may see and change sources and readings: who may their course."""

from __future__ import annotations

from typing import Any

from django.db.models import QuerySet

from rogatum.web.courses import rules as courses
from rogatum.web.sources.models import Reading, ReadingItem, Source


def can_see(user: Any, row: Source | Reading | ReadingItem) -> bool:
    return courses.can_see(user, _source(row).course)


def can_edit(user: Any, row: Source | Reading | ReadingItem) -> bool:
    return courses.can_edit(user, _source(row).course)


def must_edit(user: Any, row: Source | Reading | ReadingItem) -> None:
    """Raises NotPossible where an account may not change it."""
    courses.must_edit(user, _source(row).course)


def _source(row: Source | Reading | ReadingItem) -> Source:
    if isinstance(row, ReadingItem):
        return row.reading.source
    return row.source if isinstance(row, Reading) else row


def sources_for(user: Any) -> QuerySet[Source]:
    """The sources that an account may see, with their courses."""
    return Source.objects.filter(course__in=courses.courses_for(user), put_away=None).select_related("course")


def readings_for(user: Any) -> QuerySet[Reading]:
    """The readings that an account may see, with their sources and courses."""
    mine = Reading.objects.filter(source__course__in=courses.courses_for(user), source__put_away=None)
    return mine.select_related("source__course")

"""Who may see hand-offs: who may see their course."""

from __future__ import annotations

from typing import Any

from django.db.models import QuerySet

from rogatum.web.courses import rules as courses
from rogatum.web.handoffs.models import HandOff


def can_see(user: Any, row: HandOff) -> bool:
    return courses.can_see(user, row.course)


def handoffs_for(user: Any) -> QuerySet[HandOff]:
    """The hand-offs that an account may see, with their courses."""
    return HandOff.objects.filter(course__in=courses.courses_for(user)).select_related("course")

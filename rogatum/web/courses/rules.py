"""Who may see and change a course. All that lies in a course goes by it; the rules of the other apps ask here."""

from __future__ import annotations

from typing import Any

from django.db.models import QuerySet

from rogatum.web.courses.models import Course
from rogatum.web.errors import NotPossible


def is_owner(user: Any, course: Course) -> bool:
    return bool(user is not None and user.is_authenticated and course.owner_id == user.pk)


def can_see(user: Any, course: Course) -> bool:
    return is_owner(user, course)


def can_edit(user: Any, course: Course) -> bool:
    return is_owner(user, course)


def courses_for(user: Any) -> QuerySet[Course]:
    """The courses that an account may see: `can_see` as a query."""
    return Course.objects.filter(owner=user) if user.is_authenticated else Course.objects.none()


def must(allowed: bool) -> None:
    """Raises NotPossible where something is not allowed, in the words of what is not there: nobody learns what others have."""
    if not allowed:
        raise NotPossible("There is no such thing here.", "Go back to the course.", status=404)

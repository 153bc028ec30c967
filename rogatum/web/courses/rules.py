"""Who may see and change a course. All that lies in a course goes by it; the rules of the other apps ask here.

A course has one owner; editors change what lies in it, readers look at it and copy from it. Who is none of these is a stranger.
"""

from __future__ import annotations

from typing import Any, Literal

from django.db.models import Q, QuerySet

from rogatum.web.courses.models import Course, Membership
from rogatum.web.errors import NotPossible

Role = Literal["owner", "editor", "reader", ""]
_EDITING: tuple[Role, ...] = ("owner", "editor")


def is_owner(user: Any, course: Course) -> bool:
    return bool(user is not None and user.is_authenticated and course.owner_id == user.pk)


def role_of(user: Any, course: Course) -> Role:
    """What an account is in a course; empty for a stranger. Of many courses, ask with their `members` fetched."""
    if user is None or not user.is_authenticated:
        return ""
    if is_owner(user, course):
        return "owner"
    return next((member.role for member in course.members.all() if member.user_id == user.pk), "")  # type: ignore[return-value]


def is_there(course: Course) -> bool:
    """Whether a course is there for anybody: neither deleted nor still being filled."""
    return course.deleted is None and course.job is None


def can_see(user: Any, course: Course) -> bool:
    return is_there(course) and role_of(user, course) != ""


def can_edit(user: Any, course: Course) -> bool:
    return is_there(course) and role_of(user, course) in _EDITING


def courses_for(user: Any) -> QuerySet[Course]:
    """The courses that an account may see: `can_see` as a query."""
    if not user.is_authenticated:
        return Course.objects.none()
    shared = Membership.objects.filter(user=user).values("course")
    return Course.objects.filter(Q(owner=user) | Q(pk__in=shared), deleted__isnull=True, job__isnull=True)


def deleted_for(user: Any) -> QuerySet[Course]:
    """The deleted courses that an account can bring back."""
    if not user.is_authenticated:
        return Course.objects.none()
    return Course.objects.filter(owner=user, deleted__isnull=False, job__isnull=True)


def must(allowed: bool) -> None:
    """Raises NotPossible where something is not allowed, in the words of what is not there: nobody learns what others have."""
    if not allowed:
        raise NotPossible("There is no such thing here.", "Go back to the course.", status=404)


def must_edit(user: Any, course: Course) -> None:
    """Raises NotPossible where an account may not change a course; who may look at it is told so."""
    role = role_of(user, course)
    must(is_there(course) and role != "")
    if role not in _EDITING:
        raise NotPossible(
            f"You may look at {course.name} and copy from it, not change it.",
            f"Ask {course.owner.get_username()}, who owns it, or copy what you need into a course of yours.",
            status=403,
        )


def must_own(user: Any, course: Course) -> None:
    """Raises NotPossible for anybody but the owner; who may look at the course is told who that is."""
    must(can_see(user, course))
    if not is_owner(user, course):
        raise NotPossible(f"Only the owner of {course.name} can do this.", f"Ask {course.owner.get_username()}.", status=403)

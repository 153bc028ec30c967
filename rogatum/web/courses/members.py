"""Whom a course is shared with: its owner says who edits and who reads; anybody can leave."""

from __future__ import annotations

from typing import Any

from django.contrib.auth.models import User
from django.db import transaction
from django.shortcuts import get_object_or_404

from rogatum.web.courses.models import Course, Membership
from rogatum.web.courses.rules import can_see, must, must_own
from rogatum.web.errors import NotPossible


def members_of(course: Course, user: Any) -> list[Membership]:
    """Those with whom a course is shared, by name."""
    must(can_see(user, course))
    return list(course.members.select_related("user"))


def account_named(name: str) -> User:
    """The account of this name. Raises NotPossible where there is none."""
    found = User.objects.filter(username=name.strip(), is_active=True).first()
    if found is None:
        raise NotPossible(
            f"There is no account called {name.strip()} here.", "Ask for the name that they sign in with.", status=422
        )
    return found


def share_with(course: Course, user: Any, name: str, role: str) -> Membership:
    """Shares a course with the account of this name, or changes what it is in the course."""
    must_own(user, course)
    other = account_named(name)
    if other.pk == course.owner_id:
        raise NotPossible(f"{name.strip()} owns this course.", "Name somebody else.", status=422)
    with transaction.atomic():
        member, _ = Membership.objects.update_or_create(course=course, user=other, defaults={"role": role})
    return member


def part_with(course: Course, user: Any, member_id: int) -> None:
    """Ends the sharing with somebody: by the owner, or by themselves."""
    must(can_see(user, course))
    member = get_object_or_404(Membership, pk=member_id, course=course)
    if member.user_id != user.pk:
        must_own(user, course)
    member.delete()

"""Who may see and change pools and items: who may their course."""

from __future__ import annotations

from typing import Any

from django.db.models import QuerySet

from rogatum.web.courses import rules as courses
from rogatum.web.pools.models import Item, Pool


def can_see(user: Any, row: Pool | Item) -> bool:
    return courses.can_see(user, row.course)


def can_edit(user: Any, row: Pool | Item) -> bool:
    return courses.can_edit(user, row.course)


def must_edit(user: Any, row: Pool | Item) -> None:
    """Raises NotPossible where an account may not change it."""
    courses.must_edit(user, row.course)


def pools_for(user: Any) -> QuerySet[Pool]:
    """The pools that an account may see, with their courses."""
    return Pool.objects.filter(course__in=courses.courses_for(user)).select_related("course")


def items_for(user: Any) -> QuerySet[Item]:
    """The items that an account may see, with their courses."""
    return Item.objects.filter(course__in=courses.courses_for(user)).select_related("course")

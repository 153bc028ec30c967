"""Who may see and change quizzes: who may their course."""

from __future__ import annotations

from typing import Any

from django.db.models import QuerySet

from rogatum.web.courses import rules as courses
from rogatum.web.quizzes.models import Part, Quiz


def can_see(user: Any, row: Quiz) -> bool:
    return courses.can_see(user, row.course)


def can_edit(user: Any, row: Quiz) -> bool:
    return courses.can_edit(user, row.course)


def must_edit(user: Any, row: Quiz) -> None:
    """Raises NotPossible where an account may not change it."""
    courses.must_edit(user, row.course)


def quizzes_for(user: Any) -> QuerySet[Quiz]:
    """The quizzes that an account may see, with their courses."""
    return Quiz.objects.filter(course__in=courses.courses_for(user)).select_related("course")


def parts_for(user: Any) -> QuerySet[Part]:
    """The parts of quizzes that an account may see, with their quizzes and courses."""
    return Part.objects.filter(quiz__course__in=courses.courses_for(user)).select_related("quiz__course")

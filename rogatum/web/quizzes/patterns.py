"""Settings kept as patterns of a course, and put on its quizzes."""

from __future__ import annotations

from typing import Any

from django.shortcuts import get_object_or_404

from rogatum.core.quizzes import editing
from rogatum.core.quizzes.settings import Settings, pattern_of, with_pattern
from rogatum.web.courses import rules as courses
from rogatum.web.courses.models import Course
from rogatum.web.quizzes.models import Pattern, Quiz
from rogatum.web.quizzes.rules import must_edit
from rogatum.web.quizzes.services import changed
from rogatum.web.quizzes.storing import stored_settings


def keep_pattern(quiz: Quiz, user: Any, name: str) -> Pattern:
    """Keeps the settings of a quiz under a name, over those that had it."""
    must_edit(user, quiz)
    kept = stored_settings(pattern_of(Settings(**quiz.settings)))
    pattern, _ = Pattern.objects.update_or_create(course=quiz.course, name=name, defaults={"settings": kept})
    return pattern


def put_on(quiz: Quiz, user: Any, pattern_id: int) -> Quiz:
    """Sets a quiz as a pattern of its course has it; its dates, sections and exceptions stay."""
    must_edit(user, quiz)
    pattern = get_object_or_404(Pattern, pk=pattern_id, course=quiz.course)
    wanted = Settings(**pattern.settings)
    label = f"Set {quiz.title} as {pattern.name}"
    return changed(quiz, user, label, lambda core: editing.with_settings(core, with_pattern(core.settings, wanted)))


def forget_pattern(course: Course, user: Any, pattern_id: int) -> None:
    courses.must_edit(user, course)
    get_object_or_404(Pattern, pk=pattern_id, course=course).delete()

"""The sections of a course, and by whose clocks it is told."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from typing import Any

from django.apps import apps

from rogatum.web.courses.history import Recorder, fields_of
from rogatum.web.courses.models import Course, Section
from rogatum.web.courses.rules import must_edit
from rogatum.web.courses.services import known_zone
from rogatum.web.errors import NotPossible


@dataclass(frozen=True)
class Wanted:
    """A section as it is to be; `id` is its number where it is there."""

    id: int | None
    name: str
    students: int


def set_time(course: Course, user: Any, time_zone: str, wanted: Sequence[Wanted]) -> Course:
    """Sets zone and sections; those that are not named go. Quizzes go on to know a section that is called otherwise."""
    must_edit(user, course)
    names = [section.name for section in wanted]
    double = next((name for name in names if names.count(name) > 1), None)
    if double is not None:
        raise NotPossible(f"Two sections would be called {double}.", "Give one of them another name.", status=422)
    rows = {row.pk: row for row in course.sections.all()}
    with Recorder(course, user, "Set the sections of the course") as record:
        _rename(course, {rows[s.id].name: s.name for s in wanted if s.id in rows and rows[s.id].name != s.name}, record)
        Section.objects.filter(course=course).delete()
        Section.objects.bulk_create(
            [Section(pk=s.id if s.id in rows else None, course=course, name=s.name, students=s.students) for s in wanted]
        )
        course.time_zone = known_zone(time_zone)
        course.save(update_fields=["time_zone"])
    return course


def _rename(course: Course, names: Mapping[str, str], record: Recorder) -> None:
    """What quizzes say of sections, under the names that these have now."""
    for quiz in apps.get_model("quizzes.Quiz").objects.filter(course=course) if names else ():
        before = fields_of(quiz)
        said = dict(quiz.settings)
        for part in ("sections", "exceptions"):
            if said.get(part):
                said[part] = [row | {"section": names.get(row.get("section", ""), row.get("section", ""))} for row in said[part]]
        if said != quiz.settings:
            quiz.settings = said
            quiz.save(update_fields=["settings"])
            record.changed("quiz", quiz, before)

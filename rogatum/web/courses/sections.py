"""The sections of a course, and by whose clocks it is told."""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass
from typing import Any

from django.apps import apps
from django.db.models import F, Value
from django.db.models.functions import Concat

from rogatum.web.courses.history import Recorder, fields_of, refuse_unseen, version_of_values
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


def _held(course: Course, sections: Iterable[Section]) -> dict[str, Any]:
    return {"time_zone": course.time_zone, "sections": sorted([row.pk, row.name, row.students] for row in sections)}


def time_version(course: Course, sections: Iterable[Section]) -> str:
    """What tells one state of the clocks and sections of a course from another."""
    return version_of_values(_held(course, sections))


def set_time(course: Course, user: Any, time_zone: str, wanted: Sequence[Wanted], version: str | None = None) -> Course:
    """Sets zone and sections; those that are not named go. Quizzes go on to know a section that is called otherwise.

    Raises Outdated over a change that was not seen.
    """
    must_edit(user, course)
    names = [section.name for section in wanted]
    double = next((name for name in names if names.count(name) > 1), None)
    if double is not None:
        raise NotPossible(f"Two sections would be called {double}.", "Give one of them another name.", status=422)
    keys = [section.id for section in wanted if section.id is not None]
    if len(set(keys)) < len(keys):
        raise NotPossible("A section is named twice.", "Load the page again.", status=422)
    with Recorder(course, user, "Set the sections of the course") as record:
        record.current(course)
        rows = {row.pk: row for row in Section.objects.filter(course=course)}
        refuse_unseen(version, _held(course, rows.values()))
        _rename(course, {rows[s.id].name: s.name for s in wanted if s.id in rows and rows[s.id].name != s.name}, record)
        _set_sections(course, rows, wanted, record)
        before = fields_of(course)
        course.time_zone = known_zone(time_zone)
        course.save(update_fields=["time_zone"])
        record.changed("course", course, before)
    return course


def _set_sections(course: Course, rows: Mapping[int, Section], wanted: Sequence[Wanted], record: Recorder) -> None:
    kept = {section.id for section in wanted}
    record.delete(row for key, row in rows.items() if key not in kept)
    # Two may change their names with one another: all that stay make room first.
    Section.objects.filter(course=course).update(name=Concat(Value("\n"), F("name")))
    for section in wanted:
        row = rows.get(section.id or 0)
        if row is None:
            record.created("section", [Section.objects.create(course=course, name=section.name, students=section.students)])
            continue
        before = fields_of(row)
        row.name, row.students = section.name, section.students
        row.save()
        record.changed("section", row, before)


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

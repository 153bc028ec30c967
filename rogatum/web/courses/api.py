"""Courses, their media, and undo."""

from __future__ import annotations

from typing import Any
from zoneinfo import available_timezones

from django.http import FileResponse, Http404, HttpRequest
from django.shortcuts import get_object_or_404
from ninja import File, Router
from ninja.files import UploadedFile

from rogatum.core.items.outcomes import outcomes_in
from rogatum.web.bounds import Id
from rogatum.web.courses import members, sections, services
from rogatum.web.courses.models import Course, CourseMedia, Membership
from rogatum.web.courses.rules import courses_for, deleted_for, role_of
from rogatum.web.courses.schemas import (
    AdviceIn,
    AdviceOut,
    CourseDetail,
    CourseIn,
    CourseOut,
    DeletedCourseOut,
    Done,
    MediaOut,
    MemberIn,
    MemberOut,
    OutcomesIn,
    OutcomesOut,
    RowsOut,
    SectionOut,
    TimeIn,
    TimeOut,
)
from rogatum.web.courses.services import SHOWN, course_for, create_course
from rogatum.web.courses.summary import summary_of
from rogatum.web.errors import Conflict
from rogatum.web.files import MEDIA

router = Router()


@router.get("/courses", response=list[CourseOut], operation_id="courses_list")
def list_courses(request: HttpRequest) -> object:
    return [
        _course_out(request.user, course)
        for course in courses_for(request.user).select_related("owner").prefetch_related("members")
    ]


def _course_out(user: Any, course: Course) -> CourseOut:
    shared = len(course.members.all())
    return CourseOut(id=course.pk, name=course.name, owner=course.owner.get_username(), role=role_of(user, course), shared=shared)


@router.post("/courses", response=CourseOut, operation_id="courses_create")
def add_course(request: HttpRequest, body: CourseIn) -> object:
    return _course_out(request.user, create_course(request.user, body.name, body.time_zone))


@router.get("/deleted-courses", response=list[DeletedCourseOut], operation_id="courses_deleted")
def list_deleted_courses(request: HttpRequest) -> object:
    """The courses that can be brought back, and until when."""
    return [
        DeletedCourseOut(id=course.pk, name=course.name, until=course.deleted + services.KEPT_FOR)
        for course in deleted_for(request.user)
        if course.deleted
    ]


@router.post("/courses/{course_id}/bring-back", response=CourseOut, operation_id="courses_bring_back")
def bring_back_course(request: HttpRequest, course_id: Id) -> object:
    return _course_out(request.user, services.bring_back_course(request.user, course_id))


@router.get("/courses/{course_id}", response=CourseDetail, operation_id="courses_get")
def get_course(request: HttpRequest, course_id: Id) -> object:
    course = course_for(request.user, course_id)
    return CourseDetail(
        **_course_out(request.user, course).model_dump(),
        waiting=summary_of(course),
        outcomes=course.outcomes,
        outcomes_version=services.outcomes_version(course),
        advice_off=course.advice_off,
        advice_version=services.advice_version(course),
        **_time_out(course).model_dump(),
    )


def _time_out(course: Course) -> TimeOut:
    rows = list(course.sections.all())
    shown = [SectionOut(id=row.pk, name=row.name, students=row.students) for row in rows]
    return TimeOut(time_zone=course.time_zone, sections=shown, time_version=sections.time_version(course, rows))


@router.get("/time-zones", response=list[str], operation_id="time_zones")
def list_zones(request: HttpRequest) -> object:
    """The names of all time zones."""
    return sorted(name for name in available_timezones() if "/" in name or name == "UTC")


@router.put("/courses/{course_id}/time", response={200: TimeOut, 412: Conflict}, operation_id="courses_time")
def set_time(request: HttpRequest, course_id: Id, body: TimeIn) -> object:
    """By whose clocks the course is told, and its sections."""
    course = course_for(request.user, course_id)
    wanted = [sections.Wanted(row.id, row.name, row.students) for row in body.sections]
    return _time_out(sections.set_time(course, request.user, body.time_zone, wanted, body.version))


@router.patch("/courses/{course_id}", response=CourseOut, operation_id="courses_change")
def change_course(request: HttpRequest, course_id: Id, body: CourseIn) -> object:
    return _course_out(request.user, services.rename_course(course_for(request.user, course_id), request.user, body.name))


@router.delete("/courses/{course_id}", response=Done, operation_id="courses_delete")
def delete_course(request: HttpRequest, course_id: Id) -> object:
    services.delete_course(course_for(request.user, course_id), request.user)
    return Done()


@router.get("/courses/{course_id}/people", response=list[MemberOut], operation_id="people_list")
def list_people(request: HttpRequest, course_id: Id) -> object:
    """Those with whom a course is shared."""
    return [_member_out(member) for member in members.members_of(course_for(request.user, course_id), request.user)]


def _member_out(member: Membership) -> MemberOut:
    return MemberOut(id=member.pk, name=member.user.get_username(), role=member.role)


@router.post("/courses/{course_id}/people", response=MemberOut, operation_id="people_share")
def share_course(request: HttpRequest, course_id: Id, body: MemberIn) -> object:
    """Shares the course with an account, or changes what it is in it."""
    return _member_out(members.share_with(course_for(request.user, course_id), request.user, body.name, body.role))


@router.delete("/courses/{course_id}/people/{member_id}", response=Done, operation_id="people_part")
def part_with(request: HttpRequest, course_id: Id, member_id: Id) -> object:
    members.part_with(course_for(request.user, course_id), request.user, member_id)
    return Done()


@router.put("/courses/{course_id}/outcomes", response={200: OutcomesOut, 412: Conflict}, operation_id="courses_outcomes")
def set_outcomes(request: HttpRequest, course_id: Id, body: OutcomesIn) -> object:
    """The course's outcomes, from a list one a line."""
    course = services.set_outcomes(course_for(request.user, course_id), request.user, outcomes_in(body.text), body.version)
    return OutcomesOut(outcomes=course.outcomes)


@router.put("/courses/{course_id}/advice", response={200: AdviceOut, 412: Conflict}, operation_id="courses_advice")
def set_advice(request: HttpRequest, course_id: Id, body: AdviceIn) -> object:
    """Which kinds of advice are put off in the course."""
    course = services.put_off_advice(course_for(request.user, course_id), request.user, body.off, body.version)
    return AdviceOut(off=course.advice_off)


@router.post("/courses/{course_id}/media", response=list[MediaOut], operation_id="media_add")
def add_media(request: HttpRequest, course_id: Id, files: File[list[UploadedFile]]) -> object:
    """Pictures and sounds for items, each with the ref by which content names it."""
    course = course_for(request.user, course_id)
    rows = [services.add_media(course, request.user, f.name or "", f.file, f.size or 0) for f in files]
    return [MediaOut(name=f.name or row.name, ref=row.ref) for f, row in zip(files, rows, strict=True)]


@router.post("/courses/{course_id}/rows", response=RowsOut, operation_id="courses_rows")
def read_rows(request: HttpRequest, course_id: Id, file: File[UploadedFile]) -> object:
    """The rows of a sheet as they stand, for what is pasted otherwise; nothing is kept."""
    return RowsOut(rows=services.read_rows(course_for(request.user, course_id), request.user, file.name or "", file.file))


@router.get("/courses/{course_id}/media/{name}", operation_id="media_get", include_in_schema=False)
def get_media(request: HttpRequest, course_id: Id, name: str) -> FileResponse:
    course = course_for(request.user, course_id)
    row = get_object_or_404(CourseMedia, course=course, sha256=name.split(".", 1)[0])
    path = MEDIA.path(row.sha256)
    if not path.exists():
        raise Http404
    shown = row.type.startswith(SHOWN)
    response = FileResponse(path.open("rb"), content_type=row.type, as_attachment=not shown, filename=row.name)
    response["Cache-Control"] = "private, max-age=31536000, immutable"
    # A drawing may hold scripts; shown as a picture they do not run, and opened alone this forbids them.
    response["Content-Security-Policy"] = "default-src 'none'; style-src 'unsafe-inline'; sandbox"
    return response

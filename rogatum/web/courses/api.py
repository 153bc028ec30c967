"""Courses, their media, and undo."""

from __future__ import annotations

from django.http import FileResponse, Http404, HttpRequest
from django.shortcuts import get_object_or_404
from ninja import Router

from rogatum.web.bounds import Id
from rogatum.web.courses import history
from rogatum.web.courses.models import CourseMedia, Operation
from rogatum.web.courses.rules import courses_for
from rogatum.web.courses.schemas import CourseDetail, CourseIn, CourseOut, OperationOut
from rogatum.web.courses.services import course_for, create_course
from rogatum.web.courses.summary import summary_of
from rogatum.web.files import MEDIA

router = Router()
# Types that a browser may show in place; anything else is only offered for download.
SHOWN = ("image/png", "image/jpeg", "image/gif", "image/webp", "image/svg+xml", "audio/", "video/")


@router.get("/courses", response=list[CourseOut], operation_id="courses_list")
def list_courses(request: HttpRequest) -> object:
    return courses_for(request.user)


@router.post("/courses", response=CourseOut, operation_id="courses_create")
def add_course(request: HttpRequest, body: CourseIn) -> object:
    return create_course(request.user, body.name)


@router.get("/courses/{course_id}", response=CourseDetail, operation_id="courses_get")
def get_course(request: HttpRequest, course_id: Id) -> object:
    course = course_for(request.user, course_id)
    return CourseDetail(id=course.pk, name=course.name, waiting=summary_of(course))


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


@router.get("/courses/{course_id}/operations", response=list[OperationOut], operation_id="operations_list")
def list_operations(request: HttpRequest, course_id: Id) -> object:
    course = course_for(request.user, course_id)
    return Operation.objects.filter(course=course, user=request.user)[:20]


@router.post("/operations/{operation_id}/undo", response=OperationOut, operation_id="operations_undo")
def undo_operation(request: HttpRequest, operation_id: Id) -> object:
    operation = get_object_or_404(
        Operation.objects.select_related("course"), pk=operation_id, user=request.user, course__in=courses_for(request.user)
    )
    history.undo(operation, request.user)
    return operation

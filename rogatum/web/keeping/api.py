"""A course as one file, and back."""

from __future__ import annotations

import tempfile

from django.http import FileResponse, HttpRequest
from ninja import File, Router
from ninja.files import UploadedFile

from rogatum.web.bounds import Id
from rogatum.web.courses.services import course_for
from rogatum.web.jobs.schemas import JobOut
from rogatum.web.keeping import services
from rogatum.web.keeping.saving import save_course, saved_name

router = Router()


@router.get("/courses/{course_id}/saved", operation_id="courses_save", include_in_schema=False)
def save(request: HttpRequest, course_id: Id) -> FileResponse:
    """The course with everything in it, as one file."""
    course = course_for(request.user, course_id)
    made = tempfile.TemporaryFile()  # noqa: SIM115 - the response closes it when it has been sent
    save_course(course, request.user, made)
    made.seek(0)
    return FileResponse(made, as_attachment=True, filename=saved_name(course), content_type="application/zip")


@router.post("/saved-courses", response=JobOut, operation_id="courses_open")
def open_course(request: HttpRequest, file: File[UploadedFile]) -> object:
    """A new course from a saved one: its job names it when it is there."""
    return services.start_opening(request.user, file.file, file.name or "The file")

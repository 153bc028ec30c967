"""What comes out of the API of saved courses."""

from __future__ import annotations

from ninja import Schema

from rogatum.web.jobs.schemas import JobOut


class OpeningOut(Schema):
    """The new course, and the job that fills it."""

    course: int
    job: JobOut

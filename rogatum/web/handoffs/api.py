"""Hand-offs: formats to choose from, exports with their ledgers."""

from __future__ import annotations

from datetime import datetime

from django.http import FileResponse, HttpRequest, HttpResponse
from django.shortcuts import get_object_or_404
from ninja import Field, Router, Schema

from rogatum.core.fidelity import Ledger, Totals
from rogatum.core.formats import FORMATS, format_named
from rogatum.core.formats.shared.base import Copy, WriteOptions
from rogatum.web.bounds import Id, In, Name
from rogatum.web.courses.services import course_for
from rogatum.web.files import HANDOFFS
from rogatum.web.handoffs import services
from rogatum.web.handoffs.models import HandOff
from rogatum.web.handoffs.services import handoffs_for
from rogatum.web.jobs.api import JobOut
from rogatum.web.pools.services import Selection
from rogatum.web.quizzes.services import quiz_for

router = Router()


class FormatOut(Schema):
    name: str
    label: str
    suffix: str
    read: bool
    write: bool
    types: list[str]
    carries: list[str]
    lacks: list[str]
    copies: list[Copy]
    most_versions: int


class HandOffIn(In):
    format: Name
    selection: Selection | None = None
    quiz: Id | None = None
    copy_for: Copy = "teacher"
    versions: int = Field(1, ge=1, le=26)


class HandOffRow(Schema):
    id: int
    title: str
    format: str
    label: str
    items: int
    size: int
    created: datetime
    totals: Totals
    file_name: str
    # For whom and in how many versions, where that is not the usual.
    made_as: str = ""


class HandOffOut(HandOffRow):
    ledger: Ledger


def _row(handoff: HandOff) -> dict[str, object]:
    return {
        "id": handoff.pk,
        "title": handoff.title,
        "format": handoff.format,
        "label": format_named(handoff.format).label,
        "items": handoff.items,
        "size": handoff.size,
        "created": handoff.created,
        "totals": handoff.ledger["totals"],
        "file_name": services.file_name(handoff),
        "made_as": services.made_as(handoff),
    }


@router.get("/formats", response=list[FormatOut], operation_id="formats_list")
def list_formats(request: HttpRequest) -> object:
    flags = ("points", "formatting", "formulas", "media", "metadata", "pools", "draws", "stimuli", "partial_credit")
    return [
        FormatOut(
            name=entry.name,
            label=entry.label,
            suffix=entry.suffix,
            read=entry.read is not None,
            write=entry.write is not None,
            types=sorted(entry.carries.types),
            carries=[flag.replace("_", " ") for flag in flags if getattr(entry.carries, flag)],
            copies=list(entry.copies),
            most_versions=entry.most_versions,
            lacks=[flag.replace("_", " ") for flag in flags if not getattr(entry.carries, flag)],
        )
        for entry in FORMATS
    ]


@router.get("/courses/{course_id}/handoffs", response=list[HandOffRow], operation_id="handoffs_list")
def list_handoffs(request: HttpRequest, course_id: Id) -> object:
    rows = HandOff.objects.filter(course=course_for(request.user, course_id)).select_related("course")
    return [_row(handoff) for handoff in rows]


@router.post("/courses/{course_id}/handoffs", response=JobOut, operation_id="handoffs_create")
def add_handoff(request: HttpRequest, course_id: Id, body: HandOffIn) -> object:
    course = course_for(request.user, course_id)
    quiz = quiz_for(request.user, body.quiz) if body.quiz is not None else None
    if quiz is not None:
        course = quiz.course
    selection = body.selection or (None if quiz else Selection(all_matching=True))
    options = WriteOptions(copy=body.copy_for, versions=body.versions)
    return services.start_handoff(course, request.user, body.format, selection, quiz, options)


@router.get("/handoffs/{handoff_id}", response=HandOffOut, operation_id="handoffs_get")
def get_handoff(request: HttpRequest, handoff_id: Id) -> object:
    handoff = get_object_or_404(handoffs_for(request.user).select_related("course"), pk=handoff_id)
    return _row(handoff) | {"ledger": handoff.ledger}


@router.get("/handoffs/{handoff_id}/file", operation_id="handoffs_file", include_in_schema=False)
def get_file(request: HttpRequest, handoff_id: Id) -> FileResponse:
    handoff = get_object_or_404(handoffs_for(request.user).select_related("course"), pk=handoff_id)
    return FileResponse(HANDOFFS.path(handoff.sha256).open("rb"), as_attachment=True, filename=services.file_name(handoff))


@router.get("/handoffs/{handoff_id}/ledger", operation_id="handoffs_ledger", include_in_schema=False)
def get_ledger(request: HttpRequest, handoff_id: Id) -> HttpResponse:
    handoff = get_object_or_404(handoffs_for(request.user), pk=handoff_id)
    response = HttpResponse(Ledger(**handoff.ledger).model_dump_json(indent=1), content_type="application/json")
    response["Content-Disposition"] = 'attachment; filename="ledger.json"'
    return response

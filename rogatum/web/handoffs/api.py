"""Hand-offs: formats to choose from, exports with their ledgers."""

from __future__ import annotations

from django.http import FileResponse, HttpRequest, HttpResponse
from django.shortcuts import get_object_or_404
from ninja import Router

from rogatum.core.fidelity import QUIZ_FACET_WORDS, Ledger, Totals, is_sound
from rogatum.core.formats import FORMATS, format_named
from rogatum.core.formats.shared.base import WriteOptions
from rogatum.core.quizzes.model import SETTINGS
from rogatum.web.bounds import Id
from rogatum.web.courses.services import course_for
from rogatum.web.files import HANDOFFS
from rogatum.web.handoffs import services
from rogatum.web.handoffs.models import HandOff
from rogatum.web.handoffs.rules import handoffs_for
from rogatum.web.handoffs.schemas import FormatOut, HandOffIn, HandOffOut, HandOffRow
from rogatum.web.jobs.schemas import JobOut
from rogatum.web.pools.schemas import Selection
from rogatum.web.quizzes.services import quiz_for

router = Router()


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
        "sound": is_sound(Totals(**handoff.ledger["totals"]), Totals(**handoff.ledger.get("quiz_totals", {}))),
        "file_name": services.file_name(handoff),
        "made_as": services.made_as(handoff),
    }


@router.get("/formats", response=list[FormatOut], operation_id="formats_list")
def list_formats(request: HttpRequest) -> object:
    return [
        FormatOut(
            name=entry.name,
            label=entry.label,
            suffix=entry.suffix,
            read=entry.read is not None,
            write=entry.write is not None,
            types=sorted(entry.carries.types),
            carries=[words for words, carried in entry.carries.traits().items() if carried],
            copies=list(entry.copies),
            most_versions=entry.most_versions,
            settings_lacking=[QUIZ_FACET_WORDS[name] for name in SETTINGS if name not in entry.carries.settings]
            if entry.carries.quizzes
            else [],
            lacks=entry.carries.lacks(),
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
    handoff = get_object_or_404(handoffs_for(request.user), pk=handoff_id)
    return _row(handoff) | {"ledger": handoff.ledger}


@router.get("/handoffs/{handoff_id}/file", operation_id="handoffs_file", include_in_schema=False)
def get_file(request: HttpRequest, handoff_id: Id) -> FileResponse:
    handoff = get_object_or_404(handoffs_for(request.user), pk=handoff_id)
    return FileResponse(HANDOFFS.path(handoff.sha256).open("rb"), as_attachment=True, filename=services.file_name(handoff))


@router.get("/handoffs/{handoff_id}/ledger", operation_id="handoffs_ledger", include_in_schema=False)
def get_ledger(request: HttpRequest, handoff_id: Id) -> HttpResponse:
    handoff = get_object_or_404(handoffs_for(request.user), pk=handoff_id)
    response = HttpResponse(Ledger(**handoff.ledger).model_dump_json(indent=1), content_type="application/json")
    response["Content-Disposition"] = 'attachment; filename="ledger.json"'
    return response

"""Hand-offs: formats to choose from, forecasts for receivers, exports with their ledgers, and what became of them."""

from __future__ import annotations

import json
from typing import Any

from django.http import FileResponse, HttpRequest, HttpResponse, StreamingHttpResponse
from django.shortcuts import get_object_or_404
from ninja import Router

from rogatum.core.fidelity import FACETS, QUIZ_FACET_WORDS, Ledger, Totals, is_sound
from rogatum.core.formats import FORMATS, format_named
from rogatum.core.formats.shared.base import WriteOptions
from rogatum.core.quizzes.model import SETTINGS
from rogatum.web.bounds import Id, Name
from rogatum.web.courses.models import Course
from rogatum.web.courses.schemas import Done
from rogatum.web.courses.services import course_for
from rogatum.web.errors import Conflict
from rogatum.web.files import HANDOFFS
from rogatum.web.handoffs import forecasting, naming, repairing, services, to_receivers, wordings
from rogatum.web.handoffs.banks import Chosen, chosen
from rogatum.web.handoffs.models import HandOff
from rogatum.web.handoffs.packing import ledger_page
from rogatum.web.handoffs.rules import handoffs_for
from rogatum.web.handoffs.schemas import (
    ForecastIn,
    FormatOut,
    HandOffIn,
    HandOffOut,
    HandOffRow,
    HandOnIn,
    ItemForecastIn,
    ItemForecastOut,
    MatrixIn,
    MatrixOut,
    SavingIn,
    ScopeIn,
    WordingIn,
)
from rogatum.web.handoffs.since import compared, since
from rogatum.web.handoffs.standing_in import can_be_sent, send_to_stand_in
from rogatum.web.jobs.schemas import CountedOrJob, JobOut
from rogatum.web.pools.models import Item
from rogatum.web.pools.schemas import Selection
from rogatum.web.quizzes.services import quiz_for
from rogatum.web.receivers.services import receiver_known

router = Router()


def _sums(ledger: dict[str, Any]) -> dict[str, Any]:
    """The sums of a kept ledger; one that was kept before all three were told is counted again."""
    if "for_students" not in ledger:
        ledger = Ledger(**ledger).model_dump(include={"totals", "for_students", "for_you"})
    return {name: ledger[name] for name in ("totals", "for_students", "for_you")}


def _row(handoff: HandOff) -> dict[str, object]:
    sheet = handoff.sheet or {}
    return _sums(handoff.ledger) | {
        "id": handoff.pk,
        "title": handoff.title,
        "format": handoff.format,
        "label": format_named(handoff.format).label,
        "items": handoff.items,
        "size": handoff.size,
        "created": handoff.created,
        "sound": is_sound(Totals(**handoff.ledger["totals"]), Totals(**handoff.ledger.get("quiz_totals", {}))),
        "file_name": naming.file_name(handoff),
        "made_as": naming.made_as(handoff),
        "receiver": handoff.receiver,
        "receiver_title": sheet.get("title", ""),
        "section": handoff.section,
        "group": handoff.group,
        "forecast": to_receivers.forecast_sums(handoff),
        "repaired": len(handoff.repairs),
        "can_be_sent": can_be_sent(handoff),
        "as_forecast": None if handoff.arrived is None else not handoff.arrived["otherwise"],
        "scope": {name: handoff.scope.get(name) for name in ("selection", "quiz")},
    }


def _what(request: HttpRequest, course: Course, scope: ScopeIn) -> Chosen:
    quiz = quiz_for(request.user, scope.quiz) if scope.quiz is not None else None
    return chosen(course, scope.selection or Selection(all_matching=True), quiz)


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
    options = WriteOptions(body.copy_for, body.versions, body.draws, body.seed.strip())
    return services.start_handoff(course, request.user, body.format, selection, quiz, options)


# Receivers


@router.post("/courses/{course_id}/forecast", operation_id="forecast_lines", include_in_schema=False)
def forecast_lines(request: HttpRequest, course_id: Id, body: ForecastIn) -> StreamingHttpResponse:
    """A JSON text a line: first what is chosen, then each receiver as soon as it is known."""
    course = course_for(request.user, course_id)
    receivers = [receiver_known(request.user, key) for key in dict.fromkeys(body.receivers)]
    lines = forecasting.lines_for(course, _what(request, course, body.what), receivers)
    return StreamingHttpResponse((json.dumps(line) + "\n" for line in lines), content_type="application/x-ndjson")


@router.post("/courses/{course_id}/forecast/matrix", response=MatrixOut, operation_id="forecast_matrix")
def forecast_matrix(request: HttpRequest, course_id: Id, body: MatrixIn) -> object:
    course = course_for(request.user, course_id)
    receiver, what = receiver_known(request.user, body.receiver), _what(request, course, body.what)
    line = forecasting.line_for(course, what, receiver, body.format)
    return MatrixOut(
        line=forecasting.line_as_json(line),
        facets=list(FACETS),
        rows=forecasting.rows_of(line),
        offers=forecasting.offers_of(line),
    )


@router.post("/courses/{course_id}/forecast/item", response=ItemForecastOut, operation_id="forecast_item")
def forecast_item(request: HttpRequest, course_id: Id, body: ItemForecastIn) -> object:
    course = course_for(request.user, course_id)
    receiver, what = receiver_known(request.user, body.receiver), _what(request, course, body.what)
    line = forecasting.line_for(course, what, receiver, body.format)
    row = get_object_or_404(Item, pk=body.item, course=course)
    return forecasting.detail_of(course, row, line)


@router.post("/courses/{course_id}/forecast/repair", response=CountedOrJob, operation_id="forecast_repair")
def repair(request: HttpRequest, course_id: Id, body: SavingIn) -> object:
    course = course_for(request.user, course_id)
    receiver, what = receiver_known(request.user, body.receiver), _what(request, course, body.what)
    said = body.format, body.repair, body.items, body.place
    return CountedOrJob.by(*repairing.apply_repair(course, request.user, what, receiver, *said))


@router.put(
    "/courses/{course_id}/wordings/{receiver}/{item_id}", response={200: Done, 412: Conflict}, operation_id="wordings_write"
)
def write_wording(request: HttpRequest, course_id: Id, receiver: Name, item_id: Id, body: WordingIn) -> object:
    course = course_for(request.user, course_id)
    row = get_object_or_404(Item, pk=item_id, course=course)
    wordings.write_for(course, request.user, row, receiver_known(request.user, receiver), body.item, body.version)
    return Done()


@router.delete("/courses/{course_id}/wordings/{receiver}/{item_id}", response=Done, operation_id="wordings_forget")
def forget_wording(request: HttpRequest, course_id: Id, receiver: Name, item_id: Id) -> object:
    course = course_for(request.user, course_id)
    row = get_object_or_404(Item, pk=item_id, course=course)
    wordings.forget_wording(course, request.user, row, receiver_known(request.user, receiver))
    return Done()


@router.post("/courses/{course_id}/hand-on", response=JobOut, operation_id="handoffs_hand_on")
def hand_on(request: HttpRequest, course_id: Id, body: HandOnIn) -> object:
    """One job for all; its result names the hand-offs."""
    course = course_for(request.user, course_id)
    wanted = [to_receivers.Wanted(entry.receiver, entry.format) for entry in body.receivers]
    scopes: list[dict[str, Any]] = [scope.model_dump(mode="json") for scope in body.what]
    return to_receivers.start_handing_on(course, request.user, scopes, wanted, list(dict.fromkeys(body.sections)))


# One hand-off


@router.get("/handoffs/{handoff_id}", response=HandOffOut, operation_id="handoffs_get")
def get_handoff(request: HttpRequest, handoff_id: Id) -> object:
    handoff = get_object_or_404(handoffs_for(request.user), pk=handoff_id)
    sheet = handoff.sheet or {}
    told = {"repairs": handoff.repairs, "steps": sheet.get("steps", []), "since": since(handoff), "arrived": handoff.arrived}
    return _row(handoff) | {"ledger": handoff.ledger} | told


@router.post("/handoffs/{handoff_id}/send", response=HandOffOut, operation_id="handoffs_send")
def send(request: HttpRequest, handoff_id: Id) -> object:
    """Gives the file to the stand-in of its receiver."""
    handoff = get_object_or_404(handoffs_for(request.user), pk=handoff_id)
    send_to_stand_in(handoff, request.user)
    return get_handoff(request, handoff_id)


@router.get("/handoffs/{handoff_id}/against/{other_id}", response=Ledger, operation_id="handoffs_compare")
def compare_handoffs(request: HttpRequest, handoff_id: Id, other_id: Id) -> object:
    mine = handoffs_for(request.user)
    return compared(get_object_or_404(mine, pk=handoff_id), get_object_or_404(mine, pk=other_id))


@router.get("/handoffs/{handoff_id}/page", operation_id="handoffs_page", include_in_schema=False)
def get_page(request: HttpRequest, handoff_id: Id) -> HttpResponse:
    """The ledger as a page to print."""
    handoff = get_object_or_404(handoffs_for(request.user), pk=handoff_id)
    whom = f", for {handoff.sheet['title']}" if handoff.sheet else ""
    what = f"{handoff.course.name}, as {format_named(handoff.format).label}{whom}; read back and compared with what was meant."
    response = HttpResponse(ledger_page(f"Ledger: {handoff.title}", what, Ledger(**handoff.ledger)), content_type="text/html")
    response["Content-Disposition"] = 'attachment; filename="ledger.html"'
    return response


@router.get("/handoffs/{handoff_id}/file", operation_id="handoffs_file", include_in_schema=False)
def get_file(request: HttpRequest, handoff_id: Id) -> FileResponse:
    handoff = get_object_or_404(handoffs_for(request.user), pk=handoff_id)
    return FileResponse(HANDOFFS.path(handoff.sha256).open("rb"), as_attachment=True, filename=naming.file_name(handoff))


@router.get("/handoffs/{handoff_id}/ledger", operation_id="handoffs_ledger", include_in_schema=False)
def get_ledger(request: HttpRequest, handoff_id: Id) -> HttpResponse:
    handoff = get_object_or_404(handoffs_for(request.user), pk=handoff_id)
    response = HttpResponse(Ledger(**handoff.ledger).model_dump_json(indent=1), content_type="application/json")
    response["Content-Disposition"] = 'attachment; filename="ledger.json"'
    return response

"""Receivers: the sheets that ship and one's own, as fields and as TOML."""

from __future__ import annotations

from django.http import HttpRequest, HttpResponse
from django.shortcuts import get_object_or_404
from ninja import Router
from pydantic import ValidationError

from rogatum.core.receivers.sheet import Sheet, problems_of, sheet_to_toml
from rogatum.web.bounds import Id, Name
from rogatum.web.courses.schemas import Done
from rogatum.web.receivers import services
from rogatum.web.receivers.rules import receivers_for
from rogatum.web.receivers.schemas import ChangedSheetIn, FieldProblem, ReceiverOut, SheetChecked, SheetIn, TomlIn

router = Router()


def told(known: services.Known) -> ReceiverOut:
    sheet = known.sheet
    return ReceiverOut(
        key=known.key,
        id=known.row.pk if known.row else None,
        title=sheet.title,
        kind=sheet.kind,
        about=sheet.about,
        formats=sheet.format_names(),
        version=sheet.version,
        sheet=sheet.model_dump(mode="json"),
    )


@router.get("/receivers", response=list[ReceiverOut], operation_id="receivers_list")
def list_receivers(request: HttpRequest) -> object:
    return [told(known) for known in services.known_receivers(request.user)]


@router.post("/receivers", response=ReceiverOut, operation_id="receivers_create")
def add_receiver(request: HttpRequest, body: SheetIn) -> object:
    row = services.add_receiver(request.user, services.checked_sheet(body.sheet))
    return told(services.receiver_known(request.user, services.key_of(row)))


@router.post("/receivers/check", response=SheetChecked, operation_id="receivers_check")
def check_receiver(request: HttpRequest, body: SheetIn) -> object:
    """What is not right yet, while a sheet is written."""
    try:
        sheet = Sheet.model_validate(body.sheet)
    except ValidationError as error:
        return SheetChecked(problems=[FieldProblem(field=field, why=why) for field, why in problems_of(error)], sheet=None)
    return SheetChecked(problems=[], sheet=sheet.model_dump(mode="json"))


@router.post("/receivers/of-toml", response=ReceiverOut, operation_id="receivers_of_toml")
def add_toml(request: HttpRequest, body: TomlIn) -> object:
    row = services.add_receiver(request.user, services.read_toml(body.toml))
    return told(services.receiver_known(request.user, services.key_of(row)))


@router.put("/receivers/{receiver_id}", response=ReceiverOut, operation_id="receivers_change")
def change_receiver(request: HttpRequest, receiver_id: Id, body: ChangedSheetIn) -> object:
    row = get_object_or_404(receivers_for(request.user), pk=receiver_id)
    sheet = services.checked_sheet(body.sheet)
    row = services.change_receiver(row, request.user, sheet, sheet.version)
    return told(services.receiver_known(request.user, services.key_of(row)))


@router.delete("/receivers/{receiver_id}", response=Done, operation_id="receivers_forget")
def forget_receiver(request: HttpRequest, receiver_id: Id) -> object:
    services.forget_receiver(get_object_or_404(receivers_for(request.user), pk=receiver_id), request.user)
    return Done(done=True)


@router.get("/receivers/{receiver}/toml", operation_id="receivers_toml", include_in_schema=False)
def get_toml(request: HttpRequest, receiver: Name) -> HttpResponse:
    sheet = services.receiver_known(request.user, receiver).sheet
    response = HttpResponse(sheet_to_toml(sheet), content_type="application/toml; charset=utf-8")
    response["Content-Disposition"] = f'attachment; filename="{sheet.name}.toml"'
    return response

"""Receiver sheets of one's own: made, changed, forgotten. Its key is the name of a sheet that ships, or `own-` and a number."""

from __future__ import annotations

import re
from collections.abc import Iterator
from dataclasses import dataclass
from typing import Any

from django.db import transaction
from pydantic_core import PydanticCustomError

from rogatum.core.errors import UnknownReceiver, UnreadableSource
from rogatum.core.receivers.sheet import Sheet, sheet_from, sheet_from_toml
from rogatum.core.receivers.shipped import NAMES, shipped_sheet, shipped_sheets
from rogatum.web.bounds import check_value
from rogatum.web.courses.rules import must
from rogatum.web.errors import NotPossible, Outdated
from rogatum.web.receivers.models import Receiver
from rogatum.web.receivers.rules import can_see, receivers_for

MOST_OWN = 200
_OWN = re.compile(r"own-([1-9][0-9]{0,17})\Z")


@dataclass(frozen=True)
class Known:
    """A receiver as an account knows it: its key and its sheet, and the row where it is of one's own."""

    key: str
    sheet: Sheet
    row: Receiver | None = None


def known_receivers(user: Any) -> Iterator[Known]:
    """All that an account can hand on to, its own ones first."""
    for row in receivers_for(user):
        yield Known(key_of(row), Sheet(**row.sheet), row)
    for sheet in shipped_sheets():
        yield Known(sheet.name, sheet)


def key_of(row: Receiver) -> str:
    return f"own-{row.pk}"


def receiver_known(user: Any, key: str) -> Known:
    """The receiver with this key. Raises NotPossible (404) where the account knows none."""
    own = _OWN.match(key)
    if own:
        row = receivers_for(user).filter(pk=int(own[1])).first()
        must(row is not None)
        assert row is not None
        return Known(key, Sheet(**row.sheet), row)
    try:
        return Known(key, shipped_sheet(key))
    except UnknownReceiver:
        raise NotPossible("There is no such receiver.", "Choose one of the list.", status=404) from None


def checked_sheet(data: dict[str, Any]) -> Sheet:
    """The sheet of a form. Raises UnreadableSource that names the field."""
    return sheet_from(data, "This")


def read_toml(text: str) -> Sheet:
    sheet = sheet_from_toml(text, "This")
    try:
        check_value(sheet.model_dump(mode="json"))
    except PydanticCustomError as error:
        raise UnreadableSource("This is no receiver sheet yet", f"{error}.", "Correct it.") from None
    return sheet


def add_receiver(user: Any, sheet: Sheet) -> Receiver:
    """Keeps a sheet of one's own; one that is called as another is given a number. Raises NotPossible where there are too many."""
    must(bool(user is not None and user.is_authenticated))
    with transaction.atomic():
        own = receivers_for(user)
        if own.count() >= MOST_OWN:
            raise NotPossible(f"You have {MOST_OWN} receivers.", "Forget one that you do not need.", status=422)
        taken = {*NAMES, *own.values_list("name", flat=True)}
        sheet = sheet.model_copy(update={"name": _free(sheet.name, taken), "version": 1})
        return Receiver.objects.create(owner=user, name=sheet.name, title=sheet.title, sheet=sheet.model_dump(mode="json"))


def _free(name: str, taken: set[str]) -> str:
    if name not in taken:
        return name
    base = name[:55].rstrip("-")
    return next(found for number in range(2, MOST_OWN + 20) if (found := f"{base}-{number}") not in taken)


def change_receiver(row: Receiver, user: Any, sheet: Sheet, version: int) -> Receiver:
    """Saves a sheet over the version that was seen; it is one edition further then. Raises Outdated where it is another by now."""
    must(can_see(user, row))
    with transaction.atomic():
        row = Receiver.objects.get(pk=row.pk)
        now = Sheet(**row.sheet)
        if now.version != version:
            raise Outdated(str(now.version), row.sheet)
        name = sheet.name
        if name != row.name and (name in NAMES or receivers_for(user).filter(name=name).exists()):
            raise UnreadableSource(
                "This is no receiver sheet yet", f"name: there is another called {name}.", "Choose another name."
            )
        kept = sheet.model_copy(update={"version": now.version + 1})
        row.name, row.title, row.sheet = kept.name, kept.title, kept.model_dump(mode="json")
        row.save()
    return row


def forget_receiver(row: Receiver, user: Any) -> None:
    """Forgets a sheet; what was handed on to it keeps what it said."""
    must(can_see(user, row))
    row.delete()

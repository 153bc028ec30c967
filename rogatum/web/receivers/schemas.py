"""What goes in and out of the API of receivers."""

from __future__ import annotations

from typing import Any

from ninja import Schema

from rogatum.core.receivers.sheet import Kind
from rogatum.web.bounds import In, ShortText


class ReceiverOut(Schema):
    """`id` and `sheet.version` are there to change one of one's own; the others are copied."""

    key: str
    id: int | None
    title: str
    kind: Kind
    about: str
    formats: list[str]
    version: int
    sheet: dict[str, Any]


class SheetIn(In):
    sheet: dict[str, Any]


class ChangedSheetIn(SheetIn):
    """Saved over the version that was seen, which the sheet says."""


class TomlIn(In):
    toml: ShortText


class FieldProblem(Schema):
    field: str
    why: str


class SheetChecked(Schema):
    """What is not right yet of a sheet, by field; and the sheet with all that is usual filled in, where it is right."""

    problems: list[FieldProblem]
    sheet: dict[str, Any] | None

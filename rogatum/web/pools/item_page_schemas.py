"""What comes out of the API of an item's own page."""

from __future__ import annotations

from datetime import datetime
from typing import Literal

from ninja import Schema

from rogatum.core.finding import Finding
from rogatum.core.items.differences import Line
from rogatum.web.pools.alike_schemas import PairRow
from rogatum.web.pools.schemas import ItemOut


class VersionOut(Schema):
    """One change of an item: who, what, when, what reads differently; and whether it can be brought back as it was then."""

    operation: int
    label: str
    by: str
    created: datetime
    undone: bool
    lines: list[Line]
    moved: str
    restorable: bool


class CameFrom(Schema):
    origin: str
    source: str
    reading: int | None
    position: int | None


class UsedIn(Schema):
    quiz: int
    title: str
    how: Literal["fixed", "drawn"]


class ItemPageOut(Schema):
    """All that is known of an item."""

    item: ItemOut
    course: int
    course_name: str
    owner: str
    editable: bool
    advice: list[Finding]
    came_from: CameFrom
    used: list[UsedIn]
    handed: datetime | None
    updated: datetime
    alike: list[PairRow]
    versions: list[VersionOut]

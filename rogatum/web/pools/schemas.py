"""What goes in and out of the API of pools and items."""

from __future__ import annotations

from datetime import datetime
from typing import Annotated

from ninja import Field, Schema

from rogatum.core.finding import Finding
from rogatum.core.items import Item as CoreItem
from rogatum.core.items import ItemType, Matching, NumericAnswer
from rogatum.core.items.model import Blank
from rogatum.core.items.retyping import BlankKind
from rogatum.web.bounds import Id, Ids, In, Name, Points, Version, Words


class Selection(In):
    """Items by number, or all that match a filter: never a silent page."""

    ids: Ids = []
    all_matching: bool = False
    pool: Id | None = None
    with_subpools: bool = True
    query: Words = ""
    type: Words = ""


class PoolOut(Schema):
    id: int
    parent: int | None
    name: str
    items: int
    version: str


class PoolIn(In):
    name: Name
    parent: Id | None = None


class PoolChange(In):
    name: Name | None = None
    parent: Id | None = None
    move: bool = False
    version: Version | None = None


class ItemRow(Schema):
    id: int
    pool: int
    type: str
    text: str
    title: str
    points: float | None
    outcome: str
    difficulty: str


class ItemPage(Schema):
    total: int
    offset: int
    # How many rows a page has at most.
    size: int
    rows: list[ItemRow]


class ItemOut(Schema):
    id: int
    pool: int
    path: list[str]
    origin: str
    item: CoreItem
    stimulus: str | None
    findings: list[Finding]
    version: str


class ItemEdit(In):
    """An item to save over the `version` that was seen; without it, over whatever is there."""

    item: CoreItem
    version: Version | None = None


class MoveIn(In):
    selection: Selection
    pool: Id


class PointsIn(In):
    selection: Selection
    points: Points


class Counted(Schema):
    count: int


class HistoryEntry(Schema):
    label: str
    created: datetime
    undone: bool
    fields: list[str]


class Done(Schema):
    done: bool = True


class KeyIn(In):
    """An item as it is being edited, and what is right in it: ids of choices, "true" or "false", indices of an order."""

    item: CoreItem
    right: Annotated[list[Name], Field(max_length=2000)]


class KeyOut(Schema):
    item: CoreItem


class ItemBodyIn(In):
    item: CoreItem


class SharesIn(In):
    """A matching as it is being edited, and whether each of its pairs is to earn a share of its own."""

    item: Matching
    own: bool


class BlankIn(In):
    """A blank of a cloze as it is being edited, and the kind that it is to be of."""

    blank: Blank
    kind: BlankKind


class BlankOut(Schema):
    blank: Blank


class NumberBody(In):
    """A number that is accepted, as it is being edited or as it was turned."""

    answer: NumericAnswer


class RetypeIn(In):
    item: CoreItem
    type: ItemType


class RetypedOut(Schema):
    """An item as another type, with what of it stays and what goes, in words."""

    item: CoreItem
    stays: list[str]
    goes: list[str]

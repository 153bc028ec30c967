"""What goes in and out of the API of pools, items and filters."""

from __future__ import annotations

from datetime import date, datetime
from typing import Annotated, Literal
from uuid import UUID

from ninja import Schema
from pydantic import StringConstraints

from rogatum.core.finding import Finding
from rogatum.core.items import Item as CoreItem
from rogatum.web.bounds import Id, Ids, In, Name, Version, Words

# What a condition asks for where it wants items that have no such value.
NONE = "(none)"
Sort = Literal["position", "text", "type", "points", "difficulty", "updated"]


class ItemFilter(In):
    """What items are wanted; each condition that is set must hold. `quiz` is a quiz by its number.

    `findings` and `advice` name a kind, or “any”; `handed` is yes, no, or changed since. A condition of “(none)” wants items
    that have no such value.
    """

    pool: Id | None = None
    with_subpools: bool = True
    query: Words = ""
    type: Words = ""
    outcome: Words = ""
    difficulty: Words = ""
    points: Words = ""
    source: Words = ""
    findings: Words = ""
    advice: Words = ""
    picture: bool | None = None
    formula: bool | None = None
    feedback: bool | None = None
    quiz: Words = ""
    handed: Literal["", "yes", "no", "changed"] = ""
    since: date | None = None


class Selection(ItemFilter):
    """Items by number, or all that match a filter but for those in `without`: never a silent page."""

    ids: Ids = []
    all_matching: bool = False
    without: Ids = []


class CountsOut(Schema):
    """How many items each value of each condition leaves, all other conditions being as they are."""

    counts: dict[str, dict[str, int]]


class KeptFilterIn(In):
    name: Annotated[str, StringConstraints(min_length=1, max_length=100, strip_whitespace=True)]
    filter: ItemFilter


class KeptFilterOut(Schema):
    id: int
    name: str
    filter: ItemFilter


class PoolOut(Schema):
    id: int
    parent: int | None
    name: str
    items: int
    version: str


class PoolIn(In):
    name: Name
    parent: Id | None = None


class PoolDeleted(Schema):
    """`job` is what still deletes it, where it holds much."""

    job: UUID | None = None


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
    source: str
    picture: bool
    formula: bool
    feedback: bool
    findings: str
    advice: str
    handed: datetime | None
    updated: datetime


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

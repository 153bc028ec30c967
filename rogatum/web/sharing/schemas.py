"""What goes in and out of the API of copies and offers."""

from __future__ import annotations

from datetime import datetime
from typing import Annotated
from uuid import UUID

from ninja import Field, Schema
from pydantic import StringConstraints

from rogatum.core.fidelity import Ledger
from rogatum.web.bounds import Id, Ids, In, Name


class SendCopyIn(In):
    """A copy of pools with what lies below them: into courses at once, or offered to accounts by their names."""

    pools: Annotated[Ids, Field(min_length=1, max_length=500)]
    courses: Annotated[Ids, Field(max_length=50)] = []
    people: Annotated[list[Name], Field(max_length=50)] = []
    note: Annotated[str, StringConstraints(max_length=1000)] = ""


class SentOut(Schema):
    """How many items went into how many courses, and how many offers were made; `jobs` that still copy, one for each course."""

    items: int
    courses: int
    offers: int
    jobs: list[UUID]


class OfferOut(Schema):
    """An offer; `mine` where one sent it oneself. `taken` says how many of its items were taken so far."""

    id: int
    title: str
    note: str
    course_name: str
    sender: str
    recipient: str
    mine: bool
    pools: int
    items: int
    taken: int
    state: str
    created: datetime
    # Where the recipient looks at it: only they are told.
    source: int | None
    course: int | None


class OfferLedgerOut(Schema):
    title: str
    sender: str
    ledger: Ledger


class LookIn(In):
    course: Id

"""What goes in and out of the API of near-duplicates."""

from __future__ import annotations

from datetime import datetime
from typing import Literal

from ninja import Schema

from rogatum.core.items import Item as CoreItem
from rogatum.core.items.differences import Line
from rogatum.web.bounds import In


class SideOut(Schema):
    """One of two items that read alike, with where it lies and whose it is; `editable` where one may change it."""

    id: int
    course: int
    course_name: str
    owner: str
    path: list[str]
    quizzes: list[str]
    editable: bool
    item: CoreItem
    stimulus: str | None
    origin: str
    updated: datetime


class PairRow(Schema):
    id: int
    percent: float
    text: str
    courses: list[str]
    decision: str


class PairPage(Schema):
    total: int
    open: int
    rows: list[PairRow]
    # When they were looked for last, and how many items may have changed since.
    looked: datetime | None
    running: bool


class PairOut(Schema):
    id: int
    percent: float
    decision: str
    a: SideOut
    b: SideOut
    lines: list[Line]
    # What the one would take over from the other if they were merged into it.
    into_a: list[str]
    into_b: list[str]
    # The courses that each decision changes.
    changes: dict[str, list[int]]


class DecideIn(In):
    """What becomes of two items: one is kept and the other goes, both stay, or one takes over what it lacks and the other goes."""

    decision: Literal["a", "b", "both", "merge-a", "merge-b"]


class DecidedOut(Schema):
    """What was done, in words, and the next pair that is open."""

    words: str
    next: int | None

"""What goes in and out of the API of trying a quiz as a student."""

from __future__ import annotations

from datetime import datetime
from typing import Annotated

from ninja import Schema
from pydantic import Field, StringConstraints

from rogatum.core.quizzes.student import StudentItem
from rogatum.core.quizzes.terms import End
from rogatum.core.quizzes.trying import Clock
from rogatum.web.bounds import In, Name, Position

Answer = str | list[str] | dict[str, str] | None


class HeadingOut(Schema):
    """What stands before an item: the title and the instructions of the part that begins with it."""

    title: str
    instructions: str


class PageOut(Schema):
    number: int
    of: int
    items: list[StudentItem]
    headings: dict[str, HeadingOut]
    places: dict[str, int]


class SittingOut(Schema):
    """The attempt that goes on; times are those of the trial's clock. `unanswered` are places from 1."""

    number: int
    seed: str
    started: datetime
    ends: datetime | None
    page: PageOut
    responses: dict[str, Answer]
    unanswered: list[int]
    pages_of_unanswered: list[int]
    items: int
    back: bool


class ScoreOut(Schema):
    """An attempt that was handed in: `earned` is None where marks are not shown, `by_hand` awaits a person.

    `days_late` are those that have begun since it was due, `over` the minutes beyond the time limit.
    """

    number: int
    started: datetime
    submitted: datetime
    ended: End
    earned: float | None
    points: float
    by_hand: float
    days_late: int
    over: float
    released: list[str]
    counts: bool


class TermsOut(Schema):
    """The rules for this student. `attempts` of 0 is any number."""

    opens: datetime | None
    due: datetime | None
    closes: datetime | None
    attempts: int
    time_limit: float | None


class TrialOut(Schema):
    title: str
    zone: str
    section: str
    student: str
    sections: list[str]
    students: list[str]
    now: datetime
    clock_set: bool
    terms: TermsOut
    rules: list[str]
    code_wanted: bool
    refusal: str
    counts: float | None
    counts_words: str
    scores: list[ScoreOut]
    sitting: SittingOut | None


class SetUpIn(In):
    section: Name = ""
    student: Name = ""
    clock: Clock = "now"
    anew: bool = False


class BeginIn(In):
    code: Annotated[str, StringConstraints(max_length=100)] = ""
    seed: Annotated[str, StringConstraints(max_length=100)] | None = None


class ResponsesIn(In):
    responses: Annotated[dict[str, Answer], Field(max_length=2000)]


class PageIn(In):
    page: Position


class MarkedOut(Schema):
    """An item as it is shown afterwards; what is not released is None, or empty."""

    id: str
    points: float
    by_hand: bool
    share: float | None
    earned: float | None
    feedback: list[str]
    key: str


class ReviewOut(Schema):
    number: int
    items: list[StudentItem]
    responses: dict[str, Answer]
    marked: list[MarkedOut]
    earned: float | None
    points: float
    by_hand: float
    released: list[str]
    said: list[str]


class DrawsIn(In):
    students: Annotated[int, Field(ge=2, le=200)]
    seed: Annotated[str, StringConstraints(max_length=100)] = ""


class SharedOut(Schema):
    one: int
    other: int
    items: int


class DrawsOut(Schema):
    """What each student gets by item, each of them in one line of rich content; and for each two, how many they share."""

    items: list[list[str]]
    texts: dict[str, str]
    shared: list[SharedOut]

"""What goes in and out of the API of courses and what was done in them."""

from __future__ import annotations

from datetime import datetime
from typing import Annotated, Literal

from ninja import Field, Schema
from pydantic import StringConstraints

from rogatum.core.items.outcomes import Outcome
from rogatum.web.bounds import In, Name
from rogatum.web.courses.summary import Summary

OutcomeText = Annotated[str, StringConstraints(max_length=400_000)]


class CourseOut(Schema):
    """`owner` is the account that owns it, `role` what one is in it oneself, `shared` with how many others it is shared."""

    id: int
    name: str
    owner: str
    role: str
    shared: int


class DeletedCourseOut(Schema):
    id: int
    name: str
    until: datetime


class MemberIn(In):
    name: Name
    role: Literal["editor", "reader"]


class MemberOut(Schema):
    id: int
    name: str
    role: str


class Done(Schema):
    done: bool = True


class CourseIn(In):
    name: Name


class CourseDetail(CourseOut):
    """`advice_off` are the kinds of advice that are put off."""

    waiting: Summary
    outcomes: list[Outcome]
    advice_off: list[str]


class OutcomesIn(In):
    """A list that is typed or pasted, one outcome a line."""

    text: OutcomeText


class OutcomesOut(Schema):
    outcomes: list[Outcome]


class AdviceIn(In):
    off: Annotated[list[Name], Field(max_length=200)]


class AdviceOut(Schema):
    off: list[str]


class MediaOut(Schema):
    name: str
    ref: str


class RowsOut(Schema):
    rows: list[list[str]]


class OperationOut(Schema):
    id: int
    label: str
    created: datetime
    undone: bool

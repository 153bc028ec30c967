"""What goes in and out of the API of courses and what was done in them."""

from __future__ import annotations

from datetime import datetime
from typing import Annotated, Literal

from ninja import Field, Schema
from pydantic import StringConstraints

from rogatum.core.items.outcomes import Outcome
from rogatum.web.bounds import Id, In, Name, Version
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


class Counted(Schema):
    """How many it was done to."""

    count: int


class CourseIn(In):
    """`time_zone` is a name of the IANA time zone database, by whose clocks the course is told."""

    name: Name
    time_zone: Annotated[str, StringConstraints(max_length=64)] | None = None


class SectionOut(Schema):
    id: int
    name: str
    students: int


class SectionIn(In):
    """A section, by its number where it is there already: one that is called otherwise now keeps its dates."""

    id: Id | None = None
    name: Annotated[str, StringConstraints(min_length=1, max_length=200, strip_whitespace=True)]
    students: Annotated[int, Field(ge=0, le=10_000)] = 0


class TimeIn(In):
    """The clocks of a course, and its sections: those that are not named go."""

    time_zone: Annotated[str, StringConstraints(max_length=64)]
    sections: Annotated[list[SectionIn], Field(max_length=200)]
    version: Version | None = None


class TimeOut(Schema):
    time_zone: str
    sections: list[SectionOut]
    time_version: str


class CourseDetail(CourseOut):
    """`advice_off` are the kinds of advice that are put off."""

    time_zone: str
    sections: list[SectionOut]
    time_version: str
    waiting: Summary
    outcomes: list[Outcome]
    outcomes_version: str
    advice_off: list[str]
    advice_version: str


class OutcomesIn(In):
    """A list that is typed or pasted, one outcome a line."""

    text: OutcomeText
    version: Version | None = None


class OutcomesOut(Schema):
    outcomes: list[Outcome]


class AdviceIn(In):
    off: Annotated[list[Name], Field(max_length=200)]
    version: Version | None = None


class AdviceOut(Schema):
    off: list[str]


class MediaOut(Schema):
    name: str
    ref: str


class RowsOut(Schema):
    rows: list[list[str]]

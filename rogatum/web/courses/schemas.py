"""What goes in and out of the API of courses and what was done in them."""

from __future__ import annotations

from datetime import datetime

from ninja import Schema

from rogatum.web.bounds import In, Name
from rogatum.web.courses.summary import Summary


class CourseOut(Schema):
    id: int
    name: str


class CourseIn(In):
    name: Name


class CourseDetail(CourseOut):
    waiting: Summary


class OperationOut(Schema):
    id: int
    label: str
    created: datetime
    undone: bool

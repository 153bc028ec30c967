"""What a saved course says: the rows of its file, as they are written and as they are admitted.

The file is a zip: `course.json` says what the course is, `*.jsonl` hold one row a line, `media/` the files by their SHA-256. Rows
name each other by the numbers that they had.
"""

from __future__ import annotations

from datetime import datetime
from typing import Annotated, Any, Literal

from pydantic import BaseModel, Field, StringConstraints

from rogatum.core.items.outcomes import Outcome

FORMAT: Literal["rogatum-course/1"] = "rogatum-course/1"
LARGEST_FILE = 500_000_000
# The tables whose history goes with a course: sources and readings stay where they are.
OF_COURSE = ("pool", "item", "quiz", "part", "partitem")

Name = Annotated[str, StringConstraints(max_length=300)]
Words = Annotated[str, StringConstraints(max_length=1000)]
Key = Annotated[int, Field(ge=1, le=2**62)]


class SectionRow(BaseModel):
    name: Annotated[str, Field(min_length=1, max_length=200)]
    students: Annotated[int, Field(ge=0, le=10_000)] = 0


class PatternRow(BaseModel):
    name: Annotated[str, Field(min_length=1, max_length=100)]
    settings: dict[str, Any]


class Head(BaseModel):
    """`course.json`."""

    format: Literal["rogatum-course/1"]
    name: Annotated[str, Field(max_length=200)]
    columns: dict[str, str] = {}
    outcomes: Annotated[list[Outcome], Field(max_length=2000)] = []
    advice_off: Annotated[list[Name], Field(max_length=200)] = []
    time_zone: Annotated[str, Field(max_length=64)] = "UTC"
    sections: Annotated[list[SectionRow], Field(max_length=200)] = []
    patterns: Annotated[list[PatternRow], Field(max_length=1000)] = []


class MediaRow(BaseModel):
    sha256: Annotated[str, Field(pattern=r"^[0-9a-f]{64}$")]
    name: Annotated[str, Field(max_length=200)]
    type: Annotated[str, Field(max_length=100)]
    size: Annotated[int, Field(ge=0, le=LARGEST_FILE)]


class PoolRow(BaseModel):
    id: Key
    parent: Key | None
    name: Annotated[str, Field(min_length=1, max_length=300)]
    position: Annotated[int, Field(ge=0, le=10**9)]


class ItemRow(BaseModel):
    id: Key
    pool: Key
    position: Annotated[int, Field(ge=0, le=10**9)]
    body: dict[str, Any]
    passage: str | None
    origin: Annotated[str, Field(max_length=400)]
    source: Annotated[str, Field(max_length=300)]
    handed: datetime | None
    created: datetime
    updated: datetime


class QuizRow(BaseModel):
    id: Key
    title: Annotated[str, Field(max_length=300)]
    settings: dict[str, Any]
    plan: dict[str, Any] | None = None


class PartRow(BaseModel):
    id: Key
    quiz: Key
    kind: Literal["fixed", "draw"]
    position: Annotated[int, Field(ge=0, le=10**9)]
    title: Annotated[str, Field(max_length=300)]
    pool: Key | None
    pick: Annotated[int, Field(ge=0, le=100_000)]
    points_each: Annotated[float, Field(allow_inf_nan=False)] | None
    points: dict[str, float]
    instructions: str = ""
    page_break: bool = False
    alone: bool = False
    where: list[dict[str, Any]] = []
    without: list[int] = []
    picked_from: dict[str, Any] | None = None


class PartItemRow(BaseModel):
    id: Key
    part: Key
    item: Key
    position: Annotated[int, Field(ge=0, le=10**9)]


class ChangeRow(BaseModel):
    table: Literal["pool", "item", "quiz", "part", "partitem"]
    row: Key
    before: dict[str, Any] | None
    after: dict[str, Any] | None


class OperationRow(BaseModel):
    label: Words
    by: Annotated[str, Field(max_length=150)]
    created: datetime
    undone: bool
    changes: list[ChangeRow]


class Admitted(BaseModel):
    """An item as it was admitted: its row, what lies with it, and the columns that follow from its body."""

    row: ItemRow
    stimulus: dict[str, Any] | None
    columns: dict[str, Any]

"""What goes in and out of the API of quizzes: their parts, settings, and what they add up to."""

from __future__ import annotations

from datetime import datetime
from typing import Annotated

from ninja import Schema
from pydantic import Field, StringConstraints

from rogatum.core.content_mark import Content
from rogatum.core.quizzes.criteria import Condition
from rogatum.core.quizzes.settings import Settings
from rogatum.web.bounds import Id, Ids, In, Name, Pick, Points, Version
from rogatum.web.pools.schemas import Selection

Conditions = Annotated[list[Condition], Field(max_length=20)]


class FiguresOut(Schema):
    items: int
    points: float | None
    problems: list[str]


class DrawOut(Schema):
    """A draw alone; `needed` has the pool that keeps what two students share at 1, 2, … items on average."""

    pool_size: int
    overlap: float
    worst: int
    at_least_half: float
    half: int
    needed: list[int]
    alone: bool
    where: list[Condition]
    where_words: str
    without: int


class PartItemOut(Schema):
    """An item in one line: its text, and as rich content where it has formulas (`line`).

    `picture`, `table`, `formula` and `passage` say what is in it that a line does not show.
    """

    id: int
    type: str
    text: str
    line: str
    points: float | None
    outcome: str
    difficulty: str
    picture: bool
    formula: bool
    table: bool
    passage: bool


class PickedOut(Schema):
    """What a plan picked a part from, in words, and how many it asked for."""

    label: str
    wanted: int


class PartOut(Schema):
    id: int
    kind: str
    title: str
    instructions: str
    page_break: bool
    pool: int | None
    pool_path: list[str]
    pick: int
    points_each: float | None
    items: list[PartItemOut]
    draw: DrawOut | None
    picked_from: PickedOut | None
    version: str


class ToldOut(Schema):
    matter: str
    sentences: list[str]


class DoubtOut(Schema):
    """A matter worth a second look with its way out; `change` are the settings that would settle it."""

    code: str
    setting: str
    fact: str
    way_out: str
    change: dict[str, datetime | float | bool | str | None]


class QuizRow(Schema):
    """A quiz in the list; `doubts` says how many matters are worth a second look."""

    id: int
    title: str
    parts: int
    items: int
    points: float | None
    opens: datetime | None
    closes: datetime | None
    heading: str
    doubts: int


class PlanRowOut(Schema):
    pool: int | None
    pool_path: list[str]
    pick: int
    alone: bool
    where: list[Condition]


class QuizPlanOut(Schema):
    rows: list[PlanRowOut]
    as_draws: bool
    apart_from: list[int]
    seed: str


class QuizOut(Schema):
    id: int
    course: int
    title: str
    zone: str
    settings: Settings
    parts: list[PartOut]
    figures: FiguresOut
    plan: QuizPlanOut | None
    told: list[ToldOut]
    doubts: list[DoubtOut]
    version: str


class QuizIn(In):
    title: Name


class QuizChange(In):
    """Title and settings to save; `version` is that of the quiz that was seen, over which they are saved."""

    title: Name | None = None
    settings: Settings | None = None
    version: Version | None = None


class DrawIn(In):
    """A draw from a pool, or without one from the whole course."""

    pool: Id | None = None
    pick: Pick
    points_each: Points | None = None
    where: Conditions = []
    alone: bool = False


class ItemsIn(In):
    """Items by number in this order, or what a selection holds; with a title, as a part of their own."""

    items: Ids = []
    selection: Selection | None = None
    title: Name = ""


class QuizOfIn(In):
    """A new quiz of what a selection holds."""

    title: Annotated[str, StringConstraints(min_length=1, max_length=300, strip_whitespace=True)]
    selection: Selection


class PartChange(In):
    """What is set here is saved; what is not sent stays."""

    title: Name = ""
    instructions: Annotated[Content, StringConstraints(max_length=100_000)] = ""
    page_break: bool = False
    pick: Pick = 1
    points_each: Points | None = None
    alone: bool = False
    where: Conditions = []
    version: Version | None = None


class ShareIn(In):
    """A total to share out over the quiz, or over some of its parts, in steps of so much."""

    total: Annotated[float, Field(gt=0, le=100_000, allow_inf_nan=False)]
    step: Annotated[float, Field(ge=0.001, le=100, allow_inf_nan=False)] = 1.0
    parts: Annotated[list[Id], Field(max_length=1000)] = []


class PatternIn(In):
    name: Annotated[str, StringConstraints(min_length=1, max_length=100, strip_whitespace=True)]


class PatternOut(Schema):
    id: int
    name: str
    settings: Settings


class SeenOut(Schema):
    chance: float
    items: int


class AttemptsOut(Schema):
    attempts: int
    different: float
    again: float


class MostOut(Schema):
    middle: int
    low: int
    high: int
    classes: int


class PlannedOut(Schema):
    label: str
    wanted: int
    given: float


class SumsOut(Schema):
    """What a quiz adds up to. `can_give` is how many items any student may get; the counts that follow are of these."""

    chances: list[float]
    overlap: float
    worst: int
    at_least_half: float
    margin: float
    tangled: list[str]
    seen: list[SeenOut]
    attempts: AttemptsOut | None
    students: int
    most: MostOut | None
    minutes: float
    words: int
    outcomes: dict[str, float]
    types: dict[str, float]
    plan: list[PlannedOut]
    can_give: int
    keys: dict[str, int]
    without_feedback: int
    advised: int
    not_taken: dict[str, int]


class Counted(Schema):
    count: int

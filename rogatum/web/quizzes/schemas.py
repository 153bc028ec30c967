"""What goes in and out of the API of quizzes and trying them."""

from __future__ import annotations

from typing import Annotated

from ninja import Schema
from pydantic import StringConstraints

from rogatum.core.quizzes.model import Settings
from rogatum.core.quizzes.student import StudentItem
from rogatum.web.bounds import Id, Ids, In, Name, Pick, Points, Position, Version
from rogatum.web.pools.schemas import Selection


class FiguresOut(Schema):
    items: int
    points: float | None
    minutes: int
    outcomes: list[str]
    overlap: float
    worst: int
    at_least_half: float
    problems: list[str]


class DrawOut(Schema):
    pool_size: int
    overlap: float
    worst: int
    at_least_half: float
    half: int
    needed_for_quarter: int


class PartItemOut(Schema):
    id: int
    type: str
    text: str
    points: float | None


class PartOut(Schema):
    id: int
    kind: str
    title: str
    pool: int | None
    pool_path: list[str]
    pick: int
    points_each: float | None
    items: list[PartItemOut]
    draw: DrawOut | None
    version: str


class QuizRow(Schema):
    id: int
    title: str
    parts: int
    items: int
    points: float | None


class QuizOut(Schema):
    id: int
    course: int
    title: str
    settings: Settings
    parts: list[PartOut]
    figures: FiguresOut
    version: str


class QuizIn(In):
    title: Name


class QuizChange(In):
    """Title and settings to save; `version` is that of the quiz that was seen, over which they are saved."""

    title: Name | None = None
    settings: Settings | None = None
    version: Version | None = None


class DrawIn(In):
    pool: Id
    pick: Pick
    points_each: Points | None = None


class ItemsIn(In):
    """Items by number in this order, or what a selection holds."""

    items: Ids = []
    selection: Selection | None = None


class QuizOfIn(In):
    """A new quiz of what a selection holds."""

    title: Annotated[str, StringConstraints(min_length=1, max_length=300, strip_whitespace=True)]
    selection: Selection


class PartChange(In):
    pick: Pick | None = None
    points_each: Points | None = None
    set_points: bool = False
    position: Position | None = None
    version: Version | None = None


class TrialIn(In):
    seed: Name | None = None


class TrialOut(Schema):
    seed: str
    items: list[StudentItem]


class AnswersIn(In):
    seed: Name
    responses: dict[str, str | list[str] | dict[str, str] | None]


class MarkedOut(Schema):
    id: str
    share: float | None
    earned: float | None
    points: float
    feedback: list[str]
    key: str


class ResultOut(Schema):
    items: list[MarkedOut]
    earned: float
    points: float
    by_hand: float
    release: str


class Counted(Schema):
    count: int

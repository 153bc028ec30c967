"""What goes in and out of the API of plans and of carrying quizzes on."""

from __future__ import annotations

from typing import Annotated, Literal
from uuid import UUID

from ninja import Schema
from pydantic import Field, StringConstraints

from rogatum.core.quizzes.plan import MOST_ROWS
from rogatum.web.bounds import Id, In, Name, Pick
from rogatum.web.quizzes.schemas import Conditions, PlanRowOut


class PlanRowIn(In):
    """So many items of a pool, or without one of the whole course, that meet conditions."""

    pool: Id | None = None
    pick: Pick
    alone: bool = False
    where: Conditions = []


class PlanIn(In):
    """Rows, as fixed items or as draws, without the items of some quizzes; the same seed picks the same."""

    rows: Annotated[list[PlanRowIn], Field(min_length=1, max_length=MOST_ROWS)]
    as_draws: bool = False
    apart_from: Annotated[list[Id], Field(max_length=200)] = []
    seed: Annotated[str, StringConstraints(max_length=100)] = ""


class PlanLookRowOut(Schema):
    """What a row gets: how many meet it, how many of them are left apart, and what is short."""

    label: str
    holds: int
    apart: int
    gets: int
    problem: str


class PlanLookOut(Schema):
    told: str
    gets: int
    rows: list[PlanLookRowOut]


class WeightIn(In):
    total: Annotated[int, Field(ge=1, le=10_000)]
    pools: Annotated[list[Id], Field(min_length=1, max_length=MOST_ROWS)]
    equally: bool = False


class PlanRowsOut(Schema):
    rows: list[PlanRowOut]


class AgainIn(In):
    """The item in whose place another is drawn; without one, an item more."""

    item: Id | None = None


class CarryIn(In):
    """Quizzes to carry on into a course, this one or another; all dates are moved."""

    quizzes: Annotated[list[Id], Field(min_length=1, max_length=200)]
    weeks: Annotated[int, Field(ge=-520, le=520)] = 0
    days: Annotated[int, Field(ge=-366, le=366)] = 0
    course: Id
    pools: Literal["linked", "copied"] = "linked"
    with_exceptions: bool = False


class SectionDatesIn(In):
    quizzes: Annotated[list[Id], Field(min_length=1, max_length=200)]
    section: Name
    weeks: Annotated[int, Field(ge=-520, le=520)] = 0
    days: Annotated[int, Field(ge=-366, le=366)] = 0


class CarriedOut(Schema):
    """The copies in a course; `job` where they are still being made."""

    course: int
    quizzes: list[int]
    job: UUID | None = None

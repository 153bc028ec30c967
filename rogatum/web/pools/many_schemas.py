"""What goes in and out of the API of what is done to many items, and to the tree of pools."""

from __future__ import annotations

from datetime import datetime
from typing import Annotated, Literal

from ninja import Field, Schema

from rogatum.core.pools.changing import ChangeOfMany, Count, Example
from rogatum.web.bounds import MOST_IDS, Id, Ids, In, Name
from rogatum.web.pools.schemas import Selection


class MoveIn(In):
    """Where items go: a pool, or a new one of this name below it, or at the top without one."""

    selection: Selection
    pool: Id | None = None
    name: Name = ""


class CopyIn(MoveIn):
    """As moving, into a course that may be another."""

    course: Id


class ChangeManyIn(In):
    selection: Selection
    change: ChangeOfMany


class TallyOut(Schema):
    """What a change does to the items of a selection. Of very many, so many were `looked` at, spread over all of them."""

    selected: int
    looked: int
    changes: int
    same: int
    stays: list[Count]
    goes: list[Count]
    marks: list[Count]
    examples: list[Example]


class SubsetIn(In):
    """A random choice of a selection. `spread` evens it out over outcomes, types or difficulties; without a seed, one is drawn."""

    selection: Selection
    count: Annotated[int, Field(ge=1, le=MOST_IDS)]
    seed: Annotated[int, Field(ge=0, le=999_999)] | None = None
    spread: Literal["", "outcome", "type", "difficulty"] = ""


class SubsetOut(Schema):
    ids: list[int]
    seed: int
    of: int


class AboutOut(Schema):
    """What a selection holds: how many items, and the quizzes that use some of them."""

    items: int
    quizzes: list[str]


class PoolsIn(In):
    """Several pools of a course, by number; `into` is the one that the others are merged into."""

    pools: Annotated[Ids, Field(min_length=1)]
    into: Id | None = None


class PlaceIn(In):
    """A pool's place: below a parent, or at the top, before another pool, or last."""

    parent: Id | None = None
    before: Id | None = None


class NamesIn(In):
    """Names for several pools: a pattern of {name}, {number}, {course}, {parent}; or words to be replaced by others."""

    pools: Annotated[Ids, Field(min_length=1)]
    pattern: Name = "{name}"
    find: Name = ""
    replace: Name = ""


class NameOut(Schema):
    id: int
    before: str
    after: str


class DeletedOut(Schema):
    """Something that was deleted and can be brought back."""

    id: int
    label: str
    by: str
    created: datetime
    until: datetime
    pools: int
    items: int
    sources: int

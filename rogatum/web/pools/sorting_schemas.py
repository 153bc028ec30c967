"""What goes in and out of the API of sorting and splitting."""

from __future__ import annotations

from typing import Annotated, Literal

from ninja import Field, Schema
from pydantic import StringConstraints

from rogatum.web.bounds import Id, Ids, In
from rogatum.web.pools.schemas import ItemOut, Selection


class SortingIn(In):
    """The items that lie in a pool itself, and the pools at hand that they are sorted into; `skipped` come last."""

    pool: Id
    pools: Annotated[Ids, Field(max_length=30)]
    skipped: Ids = []


class SendIn(SortingIn):
    item: Id
    to: Id


class SuggestionOut(Schema):
    pool: int
    share: float
    words: list[str]


class SortingOut(Schema):
    """The next item of a sorting with what is suggested for it; none where none is left. `sent` is the operation before it."""

    item: ItemOut | None
    left: int
    skipped: int
    suggestions: list[SuggestionOut]
    sent: int | None = None


class SplitIn(In):
    """How to part what a selection holds: by content, into so many groups or as many as fit; or by a value of each item."""

    selection: Selection
    by: Literal["content", "outcome", "type", "difficulty", "topic", "source"] = "content"
    groups: Annotated[int, Field(ge=2, le=20)] | None = None


class ExampleOut(Schema):
    id: int
    text: str


class GroupOut(Schema):
    name: str
    words: list[str]
    items: list[int]
    examples: list[ExampleOut]


class NewPool(In):
    name: Annotated[str, StringConstraints(min_length=1, max_length=300, strip_whitespace=True)]
    items: Ids


class SplitDoneIn(In):
    """The groups that become pools, below a pool or at the top."""

    below: Id | None = None
    pools: Annotated[list[NewPool], Field(min_length=1, max_length=50)]

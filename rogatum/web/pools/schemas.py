"""What goes in and out of the API of pools and items."""

from __future__ import annotations

from datetime import date, datetime
from typing import Annotated, Literal
from uuid import UUID

from ninja import Field, Schema
from pydantic import StringConstraints

from rogatum.core.finding import Finding
from rogatum.core.items import Item as CoreItem
from rogatum.core.items import ItemType, Matching, NumericAnswer
from rogatum.core.items.differences import Line
from rogatum.core.items.model import Blank
from rogatum.core.items.retyping import BlankKind
from rogatum.core.pools.changing import ChangeOfMany, Count, Example
from rogatum.web.bounds import MOST_IDS, Id, Ids, In, Name, Version, Words

# What a condition asks for where it wants items that have no such value.
NONE = "(none)"
Sort = Literal["position", "text", "type", "points", "difficulty", "updated"]


class ItemFilter(In):
    """What items are wanted; each condition that is set must hold. `quiz` is a quiz by its number.

    `findings` and `advice` name a kind, or “any”; `handed` is yes, no, or changed since. A condition of “(none)” wants items
    that have no such value.
    """

    pool: Id | None = None
    with_subpools: bool = True
    query: Words = ""
    type: Words = ""
    outcome: Words = ""
    difficulty: Words = ""
    points: Words = ""
    source: Words = ""
    findings: Words = ""
    advice: Words = ""
    picture: bool | None = None
    formula: bool | None = None
    feedback: bool | None = None
    quiz: Words = ""
    handed: Literal["", "yes", "no", "changed"] = ""
    since: date | None = None


class Selection(ItemFilter):
    """Items by number, or all that match a filter but for those in `without`: never a silent page."""

    ids: Ids = []
    all_matching: bool = False
    without: Ids = []


class CountsOut(Schema):
    """How many items each value of each condition leaves, all other conditions being as they are."""

    counts: dict[str, dict[str, int]]


class KeptFilterIn(In):
    name: Annotated[str, StringConstraints(min_length=1, max_length=100, strip_whitespace=True)]
    filter: ItemFilter


class KeptFilterOut(Schema):
    id: int
    name: str
    filter: ItemFilter


class PoolOut(Schema):
    id: int
    parent: int | None
    name: str
    items: int
    version: str


class PoolIn(In):
    name: Name
    parent: Id | None = None


class PoolChange(In):
    name: Name | None = None
    parent: Id | None = None
    move: bool = False
    version: Version | None = None


class ItemRow(Schema):
    id: int
    pool: int
    type: str
    text: str
    title: str
    points: float | None
    outcome: str
    difficulty: str
    source: str
    picture: bool
    formula: bool
    feedback: bool
    findings: str
    advice: str
    handed: datetime | None
    updated: datetime


class ItemPage(Schema):
    total: int
    offset: int
    # How many rows a page has at most.
    size: int
    rows: list[ItemRow]


class ItemOut(Schema):
    id: int
    pool: int
    path: list[str]
    origin: str
    item: CoreItem
    stimulus: str | None
    findings: list[Finding]
    version: str


class ItemEdit(In):
    """An item to save over the `version` that was seen; without it, over whatever is there."""

    item: CoreItem
    version: Version | None = None


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
    examples: list[Example]


class Counted(Schema):
    """How many it was done to; `job` where it is still being done."""

    count: int
    job: UUID | None = None


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


# Sorting and splitting


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
    """The next item of a sorting, with what is suggested for it; no item where none is left."""

    item: ItemOut | None
    left: int
    skipped: int
    suggestions: list[SuggestionOut]


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


# Near-duplicates


class SideOut(Schema):
    """One of two items that read alike, with where it lies and whose it is; `editable` where one may change it."""

    id: int
    course: int
    course_name: str
    owner: str
    path: list[str]
    quizzes: list[str]
    editable: bool
    item: CoreItem
    stimulus: str | None
    origin: str
    updated: datetime


class PairRow(Schema):
    id: int
    percent: float
    text: str
    courses: list[str]
    decision: str


class PairPage(Schema):
    total: int
    open: int
    rows: list[PairRow]
    # When they were looked for last, and how many items may have changed since.
    looked: datetime | None
    running: bool


class PairOut(Schema):
    id: int
    percent: float
    decision: str
    a: SideOut
    b: SideOut
    lines: list[Line]
    # What the one would take over from the other if they were merged into it.
    into_a: list[str]
    into_b: list[str]


class DecideIn(In):
    """What becomes of two items: one is kept and the other goes, both stay, or one takes over what it lacks and the other goes."""

    decision: Literal["a", "b", "both", "merge-a", "merge-b"]


class DecidedOut(Schema):
    """What was done, in words, and the next pair that is open."""

    words: str
    next: int | None


# An item's own page


class VersionOut(Schema):
    """One change of an item: who, what, when, what reads differently; and whether it can be brought back as it was then."""

    operation: int
    label: str
    by: str
    created: datetime
    undone: bool
    lines: list[Line]
    moved: str
    restorable: bool


class CameFrom(Schema):
    origin: str
    source: str
    reading: int | None
    position: int | None


class UsedIn(Schema):
    quiz: int
    title: str
    how: Literal["fixed", "drawn"]


class ItemPageOut(Schema):
    """All that is known of an item."""

    item: ItemOut
    course: int
    course_name: str
    owner: str
    editable: bool
    advice: list[Finding]
    came_from: CameFrom
    used: list[UsedIn]
    handed: datetime | None
    updated: datetime
    alike: list[PairRow]
    versions: list[VersionOut]


class Done(Schema):
    done: bool = True


class KeyIn(In):
    """An item as it is being edited, and what is right in it: ids of choices, "true" or "false", indices of an order."""

    item: CoreItem
    right: Annotated[list[Name], Field(max_length=2000)]


class KeyOut(Schema):
    item: CoreItem


class ItemBodyIn(In):
    item: CoreItem


class SharesIn(In):
    """A matching as it is being edited, and whether each of its pairs is to earn a share of its own."""

    item: Matching
    own: bool


class BlankIn(In):
    """A blank of a cloze as it is being edited, and the kind that it is to be of."""

    blank: Blank
    kind: BlankKind


class BlankOut(Schema):
    blank: Blank


class NumberBody(In):
    """A number that is accepted, as it is being edited or as it was turned."""

    answer: NumericAnswer


class RetypeIn(In):
    item: CoreItem
    type: ItemType


class RetypedOut(Schema):
    """An item as another type, with what of it stays and what goes, in words."""

    item: CoreItem
    stays: list[str]
    goes: list[str]

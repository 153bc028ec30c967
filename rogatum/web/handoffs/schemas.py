"""What goes in and out of the API of hand-offs."""

from __future__ import annotations

from datetime import datetime
from typing import Annotated, Any

from ninja import Field, Schema
from pydantic import StringConstraints

from rogatum.core.fidelity import Ledger, Totals
from rogatum.core.formats.shared.base import Copy
from rogatum.core.items import Item as CoreItem
from rogatum.core.quizzes.paper import Draws
from rogatum.core.receivers.outlook import Standing
from rogatum.web.bounds import Id, Ids, In, Name, Version
from rogatum.web.handoffs.repairing import Place
from rogatum.web.pools.schemas import Selection

Key = Annotated[str, StringConstraints(min_length=1, max_length=80)]


class FormatOut(Schema):
    name: str
    label: str
    suffix: str
    read: bool
    write: bool
    types: list[str]
    carries: list[str]
    lacks: list[str]
    # The settings of a quiz that it has no place for, in words; none where it has no place for quizzes at all.
    settings_lacking: list[str]
    copies: list[Copy]
    most_versions: int


class HandOffIn(In):
    format: Name
    selection: Selection | None = None
    quiz: Id | None = None
    copy_for: Copy = "teacher"
    versions: int = Field(1, ge=1, le=26)
    draws: Draws = "stock"
    seed: str = Field("", max_length=40, pattern=r"^[\w\- ]*$")


class ScopeIn(In):
    """What is chosen: a selection (a pool is one), or a quiz; all of the course where neither is said."""

    selection: Selection | None = None
    quiz: Id | None = None


class ForecastIn(In):
    what: ScopeIn
    receivers: list[Key] = Field(min_length=1, max_length=40)


class MatrixIn(In):
    """`format` is empty for the one that keeps most."""

    what: ScopeIn
    receiver: Key
    format: Name = ""


class ItemForecastIn(MatrixIn):
    item: Id


class WordingIn(In):
    """How an item is written for a receiver, over the `version` of it that was seen."""

    item: CoreItem
    version: Version | None = None


class SavingIn(MatrixIn):
    """A repair by the name under which it is offered; for `items` alone, or for all that it helps."""

    repair: Name
    items: Ids = []
    place: Place = "receiver"


class ReceiverWanted(In):
    receiver: Key
    format: Name = ""


class HandOnIn(In):
    """Each of what is chosen goes to each receiver; a quiz for each section, where sections are said."""

    what: list[ScopeIn] = Field(min_length=1, max_length=60)
    receivers: list[ReceiverWanted] = Field(min_length=1, max_length=40)
    sections: list[Annotated[str, StringConstraints(min_length=1, max_length=200)]] = Field(default_factory=list, max_length=60)


class SavingOut(Schema):
    """A repair that would save something: of these items, by name; `by_hand` where a person writes what it does."""

    name: str
    label: str
    by_hand: bool
    facets: list[str]
    items: list[str]


class MatrixRow(Schema):
    """An item: how it stands by all facets, by what students see, and by what only the instructor sees.

    `signs` are its verdicts by facet (= same, + added, r recast, c changed, l lost), none where it is refused.
    """

    id: str
    title: str
    type: str
    standing: Standing
    for_students: Standing
    for_you: Standing
    signs: str
    why: str


class MatrixOut(Schema):
    line: dict[str, Any]
    facets: list[str]
    rows: list[MatrixRow]
    offers: list[SavingOut]


class ItemForecastOut(Schema):
    """What is said of one item; see `forecasting.detail_of`."""

    id: str
    row: int
    told: dict[str, Any]
    offers: list[dict[str, Any]]
    item: dict[str, Any]
    wording: dict[str, Any] | None
    version: str
    done: list[str]
    left_aside: dict[str, Any] | None
    limits: dict[str, Any]


class SinceOut(Schema):
    words: str
    changed: list[int]
    new: list[int]
    gone: int


class ArrivedOut(Schema):
    """What a stand-in holds: its ledger and report, and where it is otherwise than was forecast."""

    ledger: Ledger
    report: list[str]
    otherwise: list[dict[str, str]]


class ForecastSums(Schema):
    """How many items stand how at the receiver, by the same two sums as in a ledger."""

    totals: dict[Standing, int]
    for_students: dict[Standing, int]
    for_you: dict[Standing, int]


class HandOffRow(Schema):
    id: int
    title: str
    format: str
    label: str
    items: int
    size: int
    created: datetime
    totals: Totals
    # The same items counted by what students see and are marked by, and by what only the instructor sees.
    for_students: Totals
    for_you: Totals
    # Nothing was changed and nothing was lost, of items and of quizzes.
    sound: bool
    file_name: str
    # For whom and in how many versions, where that is not the usual.
    made_as: str = ""
    # The receiver, where it went to one: its key, what it was called then, for which section, and what was forecast.
    receiver: str = ""
    receiver_title: str = ""
    section: str = ""
    group: str = ""
    forecast: ForecastSums | None = None
    repaired: int = 0
    # Whether its receiver has a stand-in, and whether it was sent there, and found as forecast.
    can_be_sent: bool = False
    as_forecast: bool | None = None
    scope: dict[str, Any] = {}


class HandOffOut(HandOffRow):
    ledger: Ledger
    repairs: dict[str, list[str]] = {}
    steps: list[str] = []
    since: SinceOut | None = None
    arrived: ArrivedOut | None = None

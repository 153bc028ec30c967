"""What goes in and out of the API of sources, readings and their items."""

from __future__ import annotations

from datetime import datetime
from typing import Annotated, Literal

from ninja import Field, Schema
from pydantic import AfterValidator, StringConstraints
from pydantic_core import PydanticCustomError

from rogatum.core.documents import Decidable
from rogatum.core.fidelity import Ledger
from rogatum.core.formats.shared.source_parts import PartKind
from rogatum.core.items import Item as CoreItem
from rogatum.core.items.deciding import Decision
from rogatum.core.mending import Wish
from rogatum.core.pools.naming import FIELDS, unknown_fields
from rogatum.core.sources.options import KeyHabit
from rogatum.web.bounds import LONGEST_TEXT, MOST_TEXT, Count, Id, Ids, In, Name, Positions, ShortText, Text, Version
from rogatum.web.errors import Problem

# How numbers or labels look, as `core.documents` names it: “Q{n}.”, “({a})”, “none”.
Shape = Annotated[str, StringConstraints(max_length=40)]


def _known_fields(pattern: str) -> str:
    unknown = unknown_fields(pattern)
    if unknown:
        fields = ", ".join(f"{{{name}}}" for name in FIELDS)
        words = "“{name}” is not a field. The fields are {fields}"
        raise PydanticCustomError("unknown_field", words, {"name": f"{{{unknown[0][:60]}}}", "fields": fields, "place": "pattern"})
    return pattern


# How pools are to be named: text with fields in braces.
Pattern = Annotated[Name, AfterValidator(_known_fields)]


class PasteIn(In):
    """`html` is what the clipboard had of the same text with its formatting; it is read where it is given."""

    most_text = 2 * LONGEST_TEXT + MOST_TEXT
    text: Text
    html: Text = ""
    name: Name = ""
    expected: Count | None = None
    roles: dict[str, Decidable] = {}


class PreviewIn(In):
    text: ShortText
    format: Literal["marked-text", "gift"] = "marked-text"
    roles: dict[str, Decidable] = {}


class ReadOptionsIn(In):
    """How a source is to be read: the emphasis that shows the key, roles given by hand, and what headings of a sheet mean.

    What is left out stays as it was said before.
    """

    key_habit: KeyHabit | None = None
    numbering: Shape | None = None
    lettering: Shape | None = None
    aside: Literal["", "read"] | None = None
    roles: dict[str, Decidable] | None = None
    columns: dict[str, str] | None = None


class KeysIn(In):
    test: Id


class ColumnOut(Schema):
    table: str
    heading: str
    meaning: str
    sample: str


class ReadAgain(In):
    expected: Count | None = None
    format: Name | None = None
    options: ReadOptionsIn | None = None


class OtherOut(Schema):
    """Another way to read an item: what is there now, what would be, and the roles of lines that make it so."""

    kind: str
    now: str
    then: str
    roles: dict[str, Decidable]


class HabitOut(Schema):
    """A habit of a document: what it is about, what was found, and what else may be said, as (value, words)."""

    about: Literal["numbering", "lettering", "aside"]
    found: str
    said: str
    words: str
    others: list[list[str]]


class OthersOut(Schema):
    """Items that can all be read another way, which differ in the same way: how many they are, and the roles of their lines."""

    kind: str
    count: int
    roles: dict[str, Decidable]


class WayOut(Schema):
    """A way to repair a finding: its name, what it does, and whether it makes sense for all items that have the finding.

    `marks` says of a change of type where the item is marked otherwise then.
    """

    name: str
    label: str
    for_all: bool
    marks: str = ""


class ReadFinding(Schema):
    level: str
    code: str
    where: str
    message: str
    fix: str = ""
    repair: str | None = None
    repair_label: str | None = None
    ways: list[WayOut] = []
    other: OtherOut | None = None
    dismissed: bool = False


class BatchOut(Schema):
    """What was dropped together; `name` is what somebody called it, else what its sources' names begin with."""

    id: int
    name: str


class SourceOut(Schema):
    id: int
    name: str
    kind: str
    size: int
    expected: int | None
    created: datetime
    problem: Problem | None
    reading: int | None = None
    format: str = ""
    title: str = ""
    items: int = 0
    waiting: int = 0
    types: dict[str, int] = {}
    worst: dict[str, int] = {}
    unclaimed: int = 0
    pools: list[list[str]] = []
    # The sources whose keys it is read with, and whether it is a document, to which keys can be joined.
    keys_from: list[str] = []
    document: bool = False
    # The source that a list of keys is for, where the names say so.
    likely_test: int | None = None
    batch: BatchOut | None = None
    aside: bool = False
    # How many items wait and need no look; what is said of all of them at once and can be repaired.
    sound: int = 0
    findings: list[ReadFinding] = []


class StripCell(Schema):
    position: Id
    type: str
    text: str
    worst: str
    taken: bool
    dropped: bool
    codes: list[str]
    needs_look: bool
    first: int | None
    last: int | None
    edited: bool
    points: float | None
    # What is in it (picture, formula, feedback), the kinds of advice on it, and which of the reading's pools it is in.
    has: list[str]
    advice: list[str]
    pool: int


class TestOut(Schema):
    """A test of the source, of which a quiz can be made: how many fixed items and draws it has."""

    id: str
    title: str
    items: int
    draws: int


class SampleOut(Schema):
    """What was drawn by a seed from `of` unflagged items, what was said of it, and what that proves."""

    seed: int
    of: int
    drawn: list[int]
    verdicts: dict[int, bool]
    looked: int
    wrong: int
    most: int
    next: int | None
    words: str


class SampleIn(In):
    """How many to look at, or the bound that is to be proved; by a seed, or any."""

    count: Annotated[int, Field(ge=1, le=100_000)] | None = None
    bound: Annotated[int, Field(ge=0, le=100_000)] | None = None
    seed: Annotated[int, Field(ge=0, le=1_000_000_000)] | None = None


class SampleSizeOut(Schema):
    """How many are to be looked at for a bound, of how many."""

    count: int
    of: int


class VerdictIn(In):
    right: bool


class PassageOut(Schema):
    id: str
    content: str


class PassageIn(In):
    content: Text


class ReadingOut(Schema):
    """A reading; `newer` is the one that has taken its place since."""

    id: int
    newer: int | None
    source: int
    name: str
    kind: str
    format: str
    title: str
    expected: int | None
    lines: int
    is_text: bool
    document: bool
    key_habit: str
    roles: dict[str, Decidable]
    columns: list[ColumnOut]
    habits: list[HabitOut]
    others: list[OthersOut]
    claimed: int
    unclaimed: list[dict[str, str]]
    findings: list[ReadFinding]
    cells: list[StripCell]
    # What was found to show the key, where something was; how many lines a stretch of the source has.
    key_found: str
    chunk_lines: int
    quizzes: list[TestOut]
    pools: list[list[str]]
    # Advice over the whole, and whether items have markup of their own, which is shown as its parts.
    advice: list[ReadFinding]
    has_parts: bool
    sample: SampleOut | None
    passages: list[PassageOut]


class ReadingItemOut(Schema):
    """An item of a reading, with its cell in the strip as it is now."""

    position: Id
    item: CoreItem
    cell: StripCell
    advice: list[ReadFinding]
    path: list[str]
    where: str
    first: int | None
    last: int | None
    findings: list[ReadFinding]
    stimulus: str | None
    taken: int | None
    dropped: bool
    edited: bool
    version: str


class ItemIn(In):
    """An item to save over the `version` that was seen; without it, over whatever is there."""

    item: CoreItem
    version: Version | None = None


class RepairIn(In):
    code: Name
    repair: Name
    positions: Positions | None = None


class DismissIn(In):
    code: Name
    positions: Positions | None = None


class DropIn(In):
    positions: Positions
    dropped: bool = True


class LineOut(Schema):
    number: int
    text: str
    item: int | None
    role: str
    file: str
    name: str = ""
    html: str = ""


class TextIn(In):
    most_text = LONGEST_TEXT + MOST_TEXT
    text: Text
    roles: dict[str, Decidable] | None = None


class TextOut(Schema):
    text: str
    reading: int


class TakeIn(In):
    which: Literal["all", "sound", "chosen"]
    positions: Positions = []
    pattern: Pattern = "{chapter}"
    purpose: Name = ""
    pool: Id | None = None
    duplicates_too: bool = False
    # The tests of the reading, by their ids, of which quizzes are made too.
    quizzes: Annotated[list[Name], Field(max_length=1000)] = []


class DecisionIn(In):
    decision: Decision


class WishIn(In):
    """A repair in a person's words, for the items at some positions, or of one pool of the reading, or all."""

    wish: Wish
    positions: Positions | None = None
    path: list[Name] | None = None


class ChangeOut(Schema):
    position: int
    before: str
    after: str
    shown: str


class PlanOut(Schema):
    changes: list[ChangeOut]
    unmet: list[str]


class OwnPoolIn(In):
    positions: Positions
    name: Name


class DoubledOut(Schema):
    positions: list[int]
    same_key: bool


class SpokenOut(Schema):
    language: str
    positions: list[int]


class KnownOut(Schema):
    """An item that the pools have already: 100 per cent where it is the same."""

    position: int
    item: int
    percent: float
    text: str
    path: list[str]


class TwinsOut(Schema):
    doubled: list[DoubledOut]
    languages: list[SpokenOut]


class SourcePartOut(Schema):
    """A part of an item's source; `spans` are lines within `markup`, counted from 1."""

    kind: PartKind
    label: str
    content: str
    spans: list[list[int]]
    field: str
    unclaimed: bool


class MarkOut(Schema):
    words: str
    share: float


class PartsOut(Schema):
    """An item's source as its parts, what its marking was found to give, and its markup from line `first` of the source on."""

    parts: list[SourcePartOut]
    marks: list[MarkOut]
    markup: str
    first: int


class HitOut(Schema):
    index: int
    number: int
    text: str
    item: int | None


class LookOut(Schema):
    reading: int
    source: str
    positions: list[int]


class BatchIn(In):
    name: Annotated[str, StringConstraints(max_length=200)]


class AsideIn(In):
    aside: bool


class TakeAllIn(In):
    """Which items of which sources are taken, and how their pools are called."""

    sources: Ids
    which: Literal["all", "sound"] = "sound"
    pattern: Pattern = "{chapter}"
    purpose: Name = ""
    pool: Id | None = None
    duplicates_too: bool = False
    quizzes_too: bool = False


class PoolToBeOut(Schema):
    """A pool that items come into, or that is made to hold one; `new` where it is not there yet."""

    path: list[str]
    items: int
    sources: list[str]
    new: bool


class ForeseenOut(Schema):
    """The pools that a take would make, with their counts; how many items of how many sources, and how many stay in Check."""

    pools: list[PoolToBeOut]
    items: int
    sources: int
    stays: int
    notes: list[str]


class CompareIn(In):
    """Two sources, of which the current readings are compared."""

    a: Id
    b: Id


class ComparedOut(Schema):
    source: int
    reading: int
    name: str
    format: str
    items: int
    aside: bool


class ComparisonOut(Schema):
    id: int
    a: ComparedOut
    b: ComparedOut
    ledger: Ledger


class GoOnIn(In):
    side: Literal["a", "b"]


class CheckedOut(Schema):
    """What checks and advice say of an item that is being edited; nothing is stored."""

    findings: list[ReadFinding]
    advice: list[ReadFinding]


class RepairAllIn(In):
    sources: Ids
    code: Name
    repair: Name

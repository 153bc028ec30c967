"""What goes in and out of the API of sources, readings and their items."""

from __future__ import annotations

from datetime import datetime
from typing import Annotated, Literal

from ninja import Field, Schema
from pydantic import StringConstraints

from rogatum.core.documents import Decidable
from rogatum.core.items import Item as CoreItem
from rogatum.core.sources.options import KeyHabit
from rogatum.web.bounds import Count, Id, In, Name, Positions, ShortText, Text, Version
from rogatum.web.errors import Problem

# How numbers or labels look, as `core.documents` names it: “Q{n}.”, “({a})”, “none”.
Shape = Annotated[str, StringConstraints(max_length=40)]


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


class PasteIn(In):
    """`html` is what the clipboard had of the same text with its formatting; it is read where it is given."""

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


class ReadFinding(Schema):
    level: str
    code: str
    where: str
    message: str
    fix: str = ""
    repair: str | None = None
    repair_label: str | None = None
    other: OtherOut | None = None
    dismissed: bool = False


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


class TestOut(Schema):
    """A test of the source, of which a quiz can be made: how many fixed items and draws it has."""

    id: str
    title: str
    items: int
    draws: int


class ReadingOut(Schema):
    id: int
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


class ReadingItemOut(Schema):
    position: Id
    item: CoreItem
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


class Counted(Schema):
    count: int


class LineOut(Schema):
    number: int
    text: str
    item: int | None
    role: str
    file: str
    name: str = ""
    html: str = ""


class TextIn(In):
    text: Text
    roles: dict[str, Decidable] | None = None


class TextOut(Schema):
    text: str
    reading: int


class TakeIn(In):
    which: Literal["all", "sound", "chosen"]
    positions: Positions = []
    pattern: Name = "{chapter}"
    purpose: Name = ""
    pool: Id | None = None
    duplicates_too: bool = False
    # The tests of the reading, by their ids, of which quizzes are made too.
    quizzes: Annotated[list[Name], Field(max_length=1000)] = []


class NamesOut(Schema):
    names: list[list[str]]
    count: int

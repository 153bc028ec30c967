"""The tables whose rows are recorded, and what must be known of each to put a row back.

A table stands behind those in which its rows lie, so that what is brought back finds what it lies in. Apps whose rows have columns
that follow from others, or that can be left behind, say so here by the decorators below.
"""

from __future__ import annotations

from collections.abc import Callable, Collection, Sequence
from functools import cache
from typing import Any, NamedTuple, TypeVar

from django.apps import apps
from django.db import models

TABLES: dict[str, str] = {
    "course": "courses.Course",
    "section": "courses.Section",
    "pool": "pools.Pool",
    "item": "pools.Item",
    "likepair": "pools.LikePair",
    "source": "sources.Source",
    "reading": "sources.Reading",
    "readingitem": "sources.ReadingItem",
    "quiz": "quizzes.Quiz",
    "rehearsal": "quizzes.Rehearsal",
    "part": "quizzes.Part",
    "partitem": "quizzes.PartItem",
    "wording": "handoffs.Wording",
}

# What an account found or tried for itself and can find or try again: it goes with what it belongs to, and stands in nobody's way.
LOOSE = frozenset({"likepair", "rehearsal"})

# What merely says where something went, with the table that it names: where its own row is gone, nothing is missed; and it stays
# where what it names does.
POINTERS = {("readingitem", "taken_id"): "item"}

# What an editor of a row sees and saves, by table: two saves over the same version of it would lose one.
SEEN: dict[str, tuple[str, ...]] = {
    "pool": ("name", "parent_id"),
    "item": ("body",),
    "source": ("aside",),
    "reading": ("findings", "sample"),
    "readingitem": ("body",),
    "quiz": ("title", "settings"),
    "wording": ("body", "done"),
    "part": ("title", "instructions", "page_break", "pick", "points_each", "points", "alone", "where"),
}

Refresh = Callable[[Sequence[Any]], Sequence[str]]
LeftBehind = Callable[[Collection[int]], set[int]]
Hook = TypeVar("Hook", bound=Callable[..., Any])
_refreshes: dict[str, Refresh] = {}
_left_behind: dict[str, LeftBehind] = {}


def follows_from(table: str) -> Callable[[Refresh], Refresh]:
    """Registers what sets the columns of rows that follow from their bodies, and returns the names of these columns.

    An older program, whose rows are brought back, may have filled them in otherwise.
    """

    def register(refresh: Refresh) -> Refresh:
        _refreshes[table] = refresh
        return refresh

    return register


def left_behind_by(table: str) -> Callable[[LeftBehind], LeftBehind]:
    """Registers what tells which rows, by their numbers, are kept and shown to nobody any more."""

    def register(tell: LeftBehind) -> LeftBehind:
        _left_behind[table] = tell
        return tell

    return register


def refreshed(table: str, rows: Sequence[Any]) -> Sequence[str]:
    """Sets what follows from the bodies of rows; returns the names of the columns that were set."""
    return _refreshes[table](rows) if table in _refreshes else ()


def left_behind(table: str, keys: Collection[int]) -> set[int]:
    return _left_behind[table](keys) if table in _left_behind else set()


def model_of(table: str) -> type[models.Model]:
    return apps.get_model(TABLES[table])


def table_of(model: type[models.Model]) -> str:
    """The table of a model. Raises LookupError for one that is not recorded: what hangs on a recorded row would be lost with it."""
    name = str(model._meta.model_name)
    if TABLES.get(name, "").lower() != model._meta.label_lower:
        raise LookupError(f"{model._meta.label} hangs on recorded rows and is not recorded itself")
    return name


class Lying(NamedTuple):
    """That rows of a table lie in those of another: with a column that names the row, and go with it."""

    table: str
    column: str
    holder: str


class Naming(NamedTuple):
    """That rows of a table name those of another, and name none where that is gone."""

    table: str
    column: str
    named: str


def _relations(table: str, kind: Any) -> list[tuple[str, str]]:
    # Those too that have no name on the side of what they name.
    fields: list[Any] = model_of(table)._meta.get_fields(include_hidden=True)
    related = [field for field in fields if field.auto_created and not field.concrete]
    return [(table_of(r.related_model), r.field.attname) for r in related if r.on_delete is kind]


@cache
def lying_in(table: str) -> tuple[Lying, ...]:
    """What lies in rows of a table."""
    return tuple(Lying(other, column, table) for other, column in _relations(table, models.CASCADE))


@cache
def naming(table: str) -> tuple[Naming, ...]:
    return tuple(Naming(other, column, table) for other, column in _relations(table, models.SET_NULL))


@cache
def holders_of(table: str) -> tuple[Lying, ...]:
    """What rows of a table lie in, among what is recorded."""
    fields = model_of(table)._meta.concrete_fields
    named = [(f.attname, f.related_model) for f in fields if f.remote_field and f.remote_field.on_delete is models.CASCADE]
    known = {label.lower(): name for name, label in TABLES.items()}
    found = [(column, known.get(model._meta.label_lower)) for column, model in named]  # type: ignore[union-attr]
    return tuple(Lying(table, column, holder) for column, holder in found if holder)

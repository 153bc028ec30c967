"""History: every change to items, pools and quizzes is recorded with what was before, so that it can be undone."""

from __future__ import annotations

import hashlib
import json
from collections.abc import Iterable
from datetime import datetime
from typing import Any, TypeVar

from django.apps import apps
from django.db import models, transaction
from django.http import Http404

from rogatum.web.bulk import save_columns
from rogatum.web.courses.models import Change, Course, Operation
from rogatum.web.courses.rules import can_edit, must
from rogatum.web.errors import NotPossible, Outdated

Row = TypeVar("Row", bound=models.Model)

# The tables whose rows are recorded, and the order in which rows are brought back (a pool before its items).
TABLES: dict[str, str] = {
    "pool": "pools.Pool",
    "item": "pools.Item",
    "source": "sources.Source",
    "reading": "sources.Reading",
    "readingitem": "sources.ReadingItem",
    "quiz": "quizzes.Quiz",
    "part": "quizzes.Part",
    "partitem": "quizzes.PartItem",
    "wording": "handoffs.Wording",
}
BATCH = 2000


def _model(table: str) -> type[models.Model]:
    return apps.get_model(TABLES[table])


def fields_of(row: models.Model) -> dict[str, Any]:
    """A row's columns as JSON values, without its key and its timestamps."""
    skipped = {"id", "created", "updated"}
    return {f.attname: _json(getattr(row, f.attname)) for f in row._meta.concrete_fields if f.attname not in skipped}


def _moments(row: models.Model) -> dict[str, Any]:
    return {name: _json(getattr(row, name)) for name in ("created", "updated") if hasattr(row, name)}


def _json(value: Any) -> Any:
    return value.isoformat() if isinstance(value, datetime) else value


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


def seen_fields(row: models.Model) -> dict[str, Any]:
    return {name: getattr(row, name) for name in SEEN[str(row._meta.model_name)]}


def version_of(row: models.Model) -> str:
    """What tells one state of a row from another: made of its content, so nothing that changes it can forget to say so."""
    said = json.dumps(seen_fields(row), sort_keys=True, default=str)
    return hashlib.sha256(said.encode()).hexdigest()[:16]


class Recorder:
    """Collects the changes of one operation; use as a context within the service that makes them, and that asked its rule first."""

    def __init__(self, course: Course, user: Any, label: str) -> None:
        self.course, self.user, self.label = course, user, label
        self.changes: list[Change] = []
        self.operation: Operation | None = None

    def __enter__(self) -> Recorder:
        self._atomic = transaction.atomic()
        self._atomic.__enter__()
        return self

    def __exit__(self, *failure: Any) -> None:
        if failure[0] is None and self.changes:
            self.operation = Operation.objects.create(course=self.course, user=self.user, label=self.label)
            for change in self.changes:
                change.operation = self.operation
            Change.objects.bulk_create(self.changes, batch_size=BATCH)
        self._atomic.__exit__(*failure)

    def current(self, row: Row, version: str | None = None) -> Row:
        """The row as it is now, within the transaction of the change. With `version`, only if it still is what was seen then.

        Raises Outdated where it is not, and a 404 where the row is gone.
        """
        try:
            row.refresh_from_db()
        except type(row).DoesNotExist:
            raise Http404 from None
        if version is not None and version != version_of(row):
            raise Outdated(version_of(row), seen_fields(row))
        return row

    def created(self, table: str, rows: Iterable[models.Model]) -> None:
        self.changes += [Change(table=table, row=row.pk, before=None, after=fields_of(row)) for row in rows]

    def deleted(self, table: str, rows: Iterable[models.Model]) -> None:
        """Call before the rows are deleted. When they were made and changed is kept as well: they come back as they were."""
        self.changes += [Change(table=table, row=row.pk, before=fields_of(row) | _moments(row), after=None) for row in rows]

    def changed(self, table: str, row: models.Model, before: dict[str, Any]) -> list[str]:
        """Records what differs from `before`, the row's fields as they were; returns the names of the fields that do."""
        after = fields_of(row)
        differing = [name for name in after if after[name] != before[name]]
        if differing:
            self.changes.append(
                Change(
                    table=table,
                    row=row.pk,
                    before={n: before[n] for n in differing},
                    after={n: after[n] for n in differing},
                )
            )
        return differing

    def set_each(self, table: str, field: str, values: Iterable[tuple[int, Any, Any]]) -> None:
        """Records one field of many rows set each to its own value; `values` are (key, value before, value after)."""
        self.changes += [
            Change(table=table, row=key, before={field: old}, after={field: new}) for key, old, new in values if old != new
        ]

    def set_field(self, table: str, values: Iterable[tuple[int, Any]], field: str, new: Any) -> None:
        """Records one field of many rows set to one value; `values` are (key, value before)."""
        self.changes += [Change(table=table, row=key, before={field: old}, after={field: new}) for key, old in values if old != new]


def last_operation(course: Course, user: Any) -> Operation | None:
    """What this account did last in the course and can undo."""
    return Operation.objects.filter(course=course, user=user, by="", undone=False).first()


def undo(operation: Operation, user: Any) -> None:
    """Puts everything that an operation of this account changed back as it was.

    Raises NotPossible where later work stands in the way.
    """
    must(operation.user_id == user.pk and can_edit(user, operation.course))
    _put_back_all(operation)


def bring_back(operation: Operation, user: Any) -> None:
    """Puts back what somebody deleted in a course that one may change. Raises NotPossible where later work stands in the way."""
    must(can_edit(user, operation.course))
    _put_back_all(operation)


def _put_back_all(operation: Operation) -> None:
    if operation.by:
        raise NotPossible("This was done before the course came here.", "Change what is there now.")
    with transaction.atomic():
        # Asked within the transaction: of several who undo at once, one does.
        operation.refresh_from_db()
        if operation.undone:
            raise NotPossible("This was undone already.", "Look at what was done before it.")
        changes = list(operation.changes.all())
        _refuse_overtaken(operation, changes)
        order = list(TABLES)
        made, changed, gone = _net(changes)
        _refuse_lost(operation, [*changed, *gone], gone)
        # First back to where they were: what was made takes with it whatever still lies in it.
        _put_back(changed)
        for change in sorted(made, key=lambda c: -order.index(c.table)):
            _model(change.table).objects.filter(pk=change.row).delete()
        for change in sorted(gone, key=lambda c: order.index(c.table)):
            _revive(change)
        operation.undone = True
        operation.save(update_fields=["undone"])


def _refuse_overtaken(operation: Operation, changes: list[Change]) -> None:
    touched = {(c.table, c.row) for c in changes}
    later = Change.objects.filter(operation__course=operation.course, operation__undone=False, operation_id__gt=operation.pk)
    for table in {table for table, _ in touched}:
        rows = later.filter(table=table).values_list("row", "operation__label")
        clash = next(((row, label) for row, label in rows if (table, row) in touched), None)
        if clash:
            raise NotPossible(
                f"“{operation.label}” cannot be undone alone.", f"Undo “{clash[1]}” first: it changed the same {table}."
            )


def _net(changes: list[Change]) -> tuple[list[Change], list[Change], list[Change]]:
    """What an operation did to each row in the end: those that it made, changed and deleted, as they were before all of it."""
    rows: dict[tuple[str, int], list[Change]] = {}
    for change in changes:
        rows.setdefault((change.table, change.row), []).append(change)
    made, changed, gone = [], [], []
    for (table, row), done in rows.items():
        was_there, is_there = done[0].before is not None, done[-1].after is not None
        before: dict[str, Any] = {}
        for change in done:
            before = (change.before or {}) | before
        net = Change(table=table, row=row, before=before, after=done[-1].after)
        if not was_there and is_there:
            made.append(net)
        elif was_there and is_there:
            changed.append(net)
        elif was_there:
            gone.append(net)
    return made, changed, gone


def _revive(change: Change) -> None:
    model = _model(change.table)
    model(pk=change.row, **change.before).save(force_insert=True)
    moments = {name: datetime.fromisoformat(change.before[name]) for name in ("created", "updated") if name in change.before}
    if moments:  # set to now by saving
        model.objects.filter(pk=change.row).update(**moments)


# What a row lies in, by its table and column: it cannot be put back where that is gone.
_LIES_IN = {
    ("item", "pool_id"): "pool",
    ("partitem", "item_id"): "item",
    ("partitem", "part_id"): "part",
    ("part", "quiz_id"): "quiz",
    ("part", "pool_id"): "pool",
    ("pool", "parent_id"): "pool",
}


def _refuse_lost(operation: Operation, changes: list[Change], revived: list[Change]) -> None:
    """Raises NotPossible where what something lay in is no longer there. A pool without its parent comes back at the top."""
    back = {(change.table, change.row) for change in revived}
    for (table, column), kind in _LIES_IN.items():
        named = [
            c for c in changes if c.table == table and c.before and c.before.get(column) and (kind, c.before[column]) not in back
        ]
        wanted = {change.before[column] for change in named if change.before}
        there = set(_model(kind).objects.filter(pk__in=wanted).values_list("pk", flat=True))
        lost = [change for change in named if change.before[column] not in there]
        if lost and table == "pool":
            for change in lost:
                change.before = change.before | {column: None}
        elif lost:
            raise NotPossible(
                f"“{operation.label}” cannot be put back: the {kind} that it lay in is no longer there.",
                f"Bring the {kind} back first, among what was deleted.",
            )


def _put_back(changes: list[Change]) -> None:
    """Rows of which the same fields were changed go back in one go."""
    groups: dict[tuple[str, tuple[str, ...]], list[models.Model]] = {}
    for change in changes:
        row = _model(change.table)(pk=change.row, **change.before)
        groups.setdefault((change.table, tuple(sorted(change.before))), []).append(row)
    for (_, names), rows in groups.items():
        save_columns(rows, names)

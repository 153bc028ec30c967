"""History: every change to items, pools and quizzes is recorded with what was before, so that it can be undone."""

from __future__ import annotations

import hashlib
import json
from collections.abc import Callable, Iterable, Iterator, Sequence
from dataclasses import dataclass
from datetime import datetime
from itertools import islice
from typing import Any, Generic, TypeVar

from django.db import models, transaction
from django.http import Http404

from rogatum.web.bulk import add_rows, drop_rows, save_columns
from rogatum.web.courses.models import Change, Course, Operation
from rogatum.web.courses.recorded import POINTERS, SEEN, left_behind, lying_in, model_of, naming, table_of
from rogatum.web.errors import NotPossible, Outdated

Row = TypeVar("Row", bound=models.Model)
Part = TypeVar("Part")
BATCH = 2000


def fields_of(row: models.Model) -> dict[str, Any]:
    """A row's columns as JSON values, without its key and when it was made."""
    return {f.attname: _json(getattr(row, f.attname)) for f in row._meta.concrete_fields if f.attname not in {"id", "created"}}


def _json(value: Any) -> Any:
    return value.isoformat() if isinstance(value, datetime) else value


def seen_fields(row: models.Model) -> dict[str, Any]:
    return {name: getattr(row, name) for name in SEEN[str(row._meta.model_name)]}


def version_of(row: models.Model) -> str:
    """What tells one state of a row from another: made of its content, so nothing that changes it can forget to say so."""
    return version_of_values(seen_fields(row))


def version_of_values(values: Any) -> str:
    return hashlib.sha256(json.dumps(values, sort_keys=True, default=str).encode()).hexdigest()[:16]


def refuse_unseen(version: str | None, values: dict[str, Any]) -> None:
    """Raises Outdated where what is there by now is another than the `version` that was seen, if one is named."""
    if version is not None and version != version_of_values(values):
        raise Outdated(version_of_values(values), values)


def refuse_left_behind(changes: Iterable[Change]) -> None:
    """Raises NotPossible where rows were changed that are kept and shown to nobody any more: it would be said to be done, and lost.

    That a row names what was deleted no more is no change of its own.
    """
    keys: dict[str, set[int]] = {}
    for change in changes:
        if any(value is not None or (change.table, name) not in POINTERS for name, value in (change.after or {}).items()):
            keys.setdefault(change.table, set()).add(change.row)
    for table, rows in keys.items():
        if left_behind(table, rows):
            raise NotPossible("The source was read again in the meantime.", "Load the page again, and do it there.")


def in_parts(things: Iterable[Part], size: int) -> Iterator[list[Part]]:
    """Things in lists of at most so many: what a query names, and what one short transaction writes."""
    rest = iter(things)
    while part := list(islice(rest, size)):
        yield part


@dataclass(frozen=True)
class WorkedOut(Generic[Row]):
    """A row that has become what it is to be, before the lock on writing: with its fields as they were, and what made it so."""

    row: Row
    before: dict[str, Any]
    become: Callable[[Row], object]

    def over(self, now: Row) -> tuple[Row, dict[str, Any]] | None:
        """The row as it becomes where it is `now`, with its fields as they are; none where it stays.

        What somebody changed since is worked out again.
        """
        fields = fields_of(now)
        if fields == self.before:
            return self.row, self.before
        return (now, fields) if self.become(now) is not False else None


def worked_out(rows: Iterable[Row], become: Callable[[Row], object]) -> list[WorkedOut[Row]]:
    """What rows become; those of which `become` says False stay as they are, and are left out."""
    found = ((row, fields_of(row)) for row in rows)
    return [WorkedOut(row, before, become) for row, before in found if become(row) is not False]


class Recorder:
    """Collects the changes of one operation; use as a context within the service that makes them, and that asked its rule first.

    With an `operation`, what is collected is one more step of it.
    """

    def __init__(self, course: Course, user: Any, label: str, operation: Operation | None = None) -> None:
        self.course, self.user, self.label = course, user, label
        self.changes: list[Change] = []
        self.operation = operation

    def __enter__(self) -> Recorder:
        self._atomic = transaction.atomic()
        self._atomic.__enter__()
        return self

    def __exit__(self, *failure: Any) -> None:
        try:
            if failure[0] is None and self.changes:
                self._keep()
        except BaseException as refused:
            self._atomic.__exit__(type(refused), refused, refused.__traceback__)
            raise
        self._atomic.__exit__(*failure)

    def _keep(self) -> None:
        refuse_left_behind(self.changes)
        if self.operation is None:
            self.operation = Operation.objects.create(course=self.course, user=self.user, label=self.label[:300])
        for change in self.changes:
            change.operation = self.operation
        add_rows(self.changes)

    def current(self, row: Row, version: str | None = None) -> Row:
        """The row as it is now, within the transaction of the change. With `version`, only if it still is what was seen then.

        Raises Outdated where it is not, and a 404 where the row is gone.
        """
        try:
            row.refresh_from_db()
        except type(row).DoesNotExist:
            raise Http404 from None
        if version is not None:
            refuse_unseen(version, seen_fields(row))
        return row

    def put(self, table: str, found: WorkedOut[Row], version: str | None = None) -> Row:
        """Writes what was worked out, and works it out again where somebody changed the row since. Raises as `current` does."""
        now = type(found.row)._base_manager.filter(pk=found.row.pk).first()
        if now is None:
            raise Http404
        if version is not None:
            refuse_unseen(version, seen_fields(now))
        made = found.over(now)
        if made is None:
            return now
        row, before = made
        row.save()
        self.changed(table, row, before)
        return row

    def put_all(self, table: str, found: Sequence[WorkedOut[Row]], rows: models.QuerySet[Row], also: Sequence[str] = ()) -> int:
        """Writes what was worked out of those that are among `rows` still; returns how many."""
        now = {row.pk: row for row in rows.filter(pk__in=[entry.row.pk for entry in found])}
        made = [made for entry in found if entry.row.pk in now and (made := entry.over(now[entry.row.pk]))]
        self.save(table, made, also)
        return len(made)

    def created(self, table: str, rows: Iterable[models.Model]) -> None:
        self.changes += [Change(table=table, row=row.pk, before=None, after=fields_of(row)) for row in rows]

    def delete(self, rows: Iterable[models.Model]) -> int:
        """Deletes rows of one table with all that lies in them, and records each of these; returns how many of the table.

        What only named them names nothing then, and this is recorded too: undo is the way back to how all of it was.
        """
        going = list(rows)
        if going:
            self._delete(type(going[0]), going, set())
        return len(going)

    def _delete(self, model: type[models.Model], rows: Sequence[models.Model], gone: set[tuple[str, int]]) -> None:
        table = table_of(model)
        gone.update((table, row.pk) for row in rows)
        for part in in_parts(rows, BATCH):
            keys = [row.pk for row in part]
            for name, column, _ in lying_in(table):
                held = model_of(name)._base_manager.filter(**{f"{column}__in": keys})
                self._delete(model_of(name), [row for row in held if (name, row.pk) not in gone], gone)
            for name, column, _ in naming(table):
                named = model_of(name)._base_manager.filter(**{f"{column}__in": keys})
                self.set_field(name, list(named.values_list("pk", column)), column, None)
                named.update(**{column: None})
            self.deleted(table, part)
            drop_rows(model, keys)

    def deleted(self, table: str, rows: Iterable[models.Model]) -> None:
        """Call before the rows are deleted. When they were made and changed is kept as well: they come back as they were."""
        self.changes += [Change(table=table, row=row.pk, before=fields_of(row) | _when_made(row), after=None) for row in rows]

    def changed(self, table: str, row: models.Model, before: dict[str, Any]) -> list[str]:
        """Records what differs from `before`, the row's fields as they were; returns the names of the fields that do."""
        after = fields_of(row)
        differing = [name for name in after if after[name] != before[name] and name != "updated"]
        if differing:
            kept = [*differing, "updated"] if "updated" in before else differing
            self.changes.append(
                Change(table=table, row=row.pk, before={n: before[n] for n in kept}, after={n: after[n] for n in kept})
            )
        return differing

    def save(self, table: str, made: Iterable[tuple[models.Model, dict[str, Any]]], also: Sequence[str] = ()) -> None:
        """Records and writes rows that differ from their fields as they were, given with each.

        Of each the columns that differ are written, and `also` these, but no others: each may stand in several indexes.
        """
        groups: dict[tuple[str, ...], list[models.Model]] = {}
        for row, before in made:
            groups.setdefault(tuple(self.changed(table, row, before)), []).append(row)
        for names, rows in groups.items():
            if names:
                save_columns(rows, [*names, *also])

    def set_each(self, table: str, field: str, values: Iterable[tuple[int, Any, Any]]) -> None:
        """Records one field of many rows set each to its own value; `values` are (key, value before, value after)."""
        self.changes += [
            Change(table=table, row=key, before={field: old}, after={field: new}) for key, old, new in values if old != new
        ]

    def set_field(self, table: str, values: Iterable[tuple[int, Any]], field: str, new: Any) -> None:
        """Records one field of many rows set to one value; `values` are (key, value before)."""
        self.changes += [Change(table=table, row=key, before={field: old}, after={field: new}) for key, old in values if old != new]


def _when_made(row: models.Model) -> dict[str, Any]:
    return {"created": _json(row.created)} if hasattr(row, "created") else {}

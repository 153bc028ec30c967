"""Many rows at once, where the ORM's own way costs more than the work itself, or keeps others waiting."""

from __future__ import annotations

from collections.abc import Iterable, Iterator
from contextlib import contextmanager
from typing import Any

from django.db import DEFAULT_DB_ALIAS, connection, connections, models


def set_each(model: type[models.Model], field: str, values: Iterable[tuple[int, Any]]) -> None:
    """Sets one plain field of many rows, each to its own value, given as (key, value).

    `bulk_update` makes one statement with a case for each row, which takes ten times as long as the statement itself.
    """
    column = model._meta.get_field(field).column
    table, key = model._meta.db_table, model._meta.pk.column  # type: ignore[union-attr]
    quote = connection.ops.quote_name
    statement = f"UPDATE {quote(table)} SET {quote(column)} = %s WHERE {quote(key)} = %s"  # noqa: S608 - names of our own models
    with connection.cursor() as cursor:
        cursor.executemany(statement, [(value, row) for row, value in values])


def add_rows(rows: Iterable[models.Model]) -> None:
    """Adds rows of one table, which do not get to know their keys; `bulk_create` takes four times as long."""
    rows = list(rows)
    if not rows:
        return
    model = type(rows[0])
    fields = [field for field in model._meta.concrete_fields if not field.primary_key]
    columns = ", ".join(connection.ops.quote_name(field.column) for field in fields)
    places = ", ".join(["%s"] * len(fields))
    statement = f"INSERT INTO {connection.ops.quote_name(model._meta.db_table)} ({columns}) VALUES ({places})"  # noqa: S608
    own = connections[DEFAULT_DB_ALIAS]
    with connection.cursor() as cursor:
        cursor.executemany(statement, [[_stored(row, field, own) for field in fields] for row in rows])


def _stored(row: models.Model, field: Any, own: Any) -> Any:
    """What a column holds. `own` is the thread's connection: to look that up for each value takes as long as the rest."""
    return field.get_db_prep_save(getattr(row, field.attname), own)


def save_columns(rows: Iterable[models.Model], names: Iterable[str]) -> None:
    """Saves some columns of many rows of one table, each with its own values."""
    rows, names = list(rows), list(names)
    if not rows:
        return
    model = type(rows[0])
    known = {name: field for field in model._meta.concrete_fields for name in (field.name, field.attname)}
    fields = [known[name] for name in names]
    quote, key = connection.ops.quote_name, model._meta.pk
    set_them = ", ".join(f"{quote(field.column)} = %s" for field in fields)
    statement = f"UPDATE {quote(model._meta.db_table)} SET {set_them} WHERE {quote(key.column)} = %s"  # noqa: S608
    own = connections[DEFAULT_DB_ALIAS]
    values = [[*(_stored(row, field, own) for field in fields), row.pk] for row in rows]
    with connection.cursor() as cursor:
        cursor.executemany(statement, values)


def drop_rows(model: type[models.Model], keys: Iterable[int]) -> None:
    """Deletes rows of one table. The ORM looks through all tables for what lies in them, which here is gone by then."""
    quote = connection.ops.quote_name
    table, key = model._meta.db_table, model._meta.pk.column  # type: ignore[union-attr]
    with connection.cursor() as cursor:
        cursor.executemany(f"DELETE FROM {quote(table)} WHERE {quote(key)} = %s", [(row,) for row in keys])  # noqa: S608


@contextmanager
def one_state() -> Iterator[None]:
    """One state of the database for many reads. Transactions begin with the lock on writing, which this leaves to others."""
    if connection.in_atomic_block:
        yield
        return
    with connection.cursor() as cursor:
        cursor.execute("BEGIN DEFERRED")
        try:
            yield
        finally:
            cursor.execute("COMMIT")

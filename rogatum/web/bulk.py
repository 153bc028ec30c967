"""Many rows at once, where the ORM's own way costs more than the work itself."""

from __future__ import annotations

from collections.abc import Iterable
from typing import Any

from django.db import connection, models


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

"""No pool lies in itself, however far up: the database refuses it, whoever writes; and circles of an older program are cut."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

from django.db import connection

REFUSED = "a pool cannot lie in itself"

# Made anew behind every migration: one that makes the table anew would take them along with the old one.
_UP = """(WITH RECURSIVE up(id) AS (SELECT NEW.parent_id UNION
    SELECT p.parent_id FROM pools_pool p JOIN up ON p.id = up.id WHERE p.parent_id IS NOT NULL) SELECT id FROM up)"""
_BODY = f"WHEN NEW.parent_id IS NOT NULL BEGIN SELECT RAISE(ABORT, '{REFUSED}') WHERE NEW.id IN {_UP}; END"
TRIGGERS = (
    f"CREATE TRIGGER IF NOT EXISTS pools_pool_moved BEFORE UPDATE OF parent_id ON pools_pool {_BODY}",
    f"CREATE TRIGGER IF NOT EXISTS pools_pool_made BEFORE INSERT ON pools_pool {_BODY}",
)


def forbid_circles(**_signal: Any) -> None:
    """Has the database refuse a pool that would lie in itself."""
    with connection.cursor() as cursor:
        if "pools_pool" not in connection.introspection.table_names(cursor):
            return
        for trigger in TRIGGERS:
            cursor.execute(trigger)


def cut(parents: Mapping[int, int | None]) -> set[int]:
    """Of each circle the pool with the lowest number: its parent is not believed. `parents` are those of all pools, by number."""
    sound: set[int] = set()
    found: set[int] = set()
    for start in parents:
        path: list[int] = []
        at: int | None = start
        while at is not None and at in parents and at not in sound:
            if at in path:
                found.add(min(path[path.index(at) :]))
                break
            path.append(at)
            at = parents[at]
        sound.update(path)
    return found

"""A database that is damaged: what of it can still be read, in a new one; the damaged one is kept beside."""

from __future__ import annotations

import sqlite3
from collections.abc import Iterator
from contextlib import closing
from pathlib import Path

from django.core.management import call_command
from django.db import connection
from django.utils import timezone

from rogatum.web.pools.circles import cut
from rogatum.web.upgrading import bring_up_to_date

# How far reading goes on behind a row that cannot be read, at first; it doubles while nothing can be.
LEAP, FARTHEST = 1, 1 << 40


def set_aside(path: Path) -> Path:
    """Moves a damaged database away, with what belongs to it; returns where it lies now."""
    connection.close()
    aside = path.with_name(f"{path.stem}-damaged-{timezone.now():%Y%m%d-%H%M%S}{path.suffix}")
    for ending in ("", "-wal", "-shm"):
        part = path.with_name(path.name + ending)
        if part.exists():
            part.rename(aside.with_name(aside.name + ending))
    return aside


def recover(path: Path) -> tuple[Path, int, int]:
    """Puts a new database in the place of a damaged one, with all rows that can be read.

    Returns where the damaged one lies, how many rows were saved, and how many of them named rows that were not, and went too.
    """
    aside = set_aside(path)
    bring_up_to_date()
    connection.close()
    with closing(sqlite3.connect(aside)) as old, closing(sqlite3.connect(path)) as new:
        new.execute("PRAGMA foreign_keys=OFF")
        triggers = list(new.execute("SELECT name, sql FROM sqlite_master WHERE type = 'trigger' AND tbl_name = 'pools_pool'"))
        for name, _ in triggers:  # a circle of an older program is cut afterwards
            new.execute(f"DROP TRIGGER {name}")
        saved = sum(_copy(table, old, new) for table in _tables(new))
        lost = _without_loose_rows(new)
        new.commit()
    call_command("migrate", verbosity=0, interactive=False)
    return aside, saved, lost


def _tables(base: sqlite3.Connection) -> list[str]:
    names = [row[0] for row in base.execute("SELECT name FROM sqlite_master WHERE type = 'table' AND sql NOT NULL")]
    return [name for name in names if not name.startswith(("sqlite_", "django_migrations", "pools_item_fts"))]


def _copy(table: str, old: sqlite3.Connection, new: sqlite3.Connection) -> int:
    columns = [row[1] for row in new.execute(f'PRAGMA table_info("{table}")')]
    try:
        known = {row[1] for row in old.execute(f'PRAGMA table_info("{table}")')}
    except sqlite3.DatabaseError:
        return 0
    kept = [name for name in columns if name in known]
    if not kept:
        return 0
    named = ", ".join(f'"{name}"' for name in kept)
    new.execute(f'DELETE FROM "{table}"')  # what migrations put there
    count = 0
    for row in _rows(table, named, old):
        try:
            new.execute(f'INSERT OR IGNORE INTO "{table}" ({named}) VALUES ({", ".join("?" * len(kept))})', row)  # noqa: S608
            count += 1
        except sqlite3.DatabaseError:
            continue  # a row whose values cannot be
    return count


def _rows(table: str, named: str, old: sqlite3.Connection) -> Iterator[tuple[object, ...]]:
    """The rows of a table by their numbers; what lies on a page that cannot be read is leapt over."""
    at, leap = -1, LEAP
    while leap < FARTHEST:
        try:
            rows = old.execute(f'SELECT rowid, {named} FROM "{table}" WHERE rowid > ? ORDER BY rowid', (at,))  # noqa: S608
            for key, *values in rows:
                at, leap = key, LEAP
                yield tuple(values)
            return
        except (sqlite3.DatabaseError, OverflowError):
            at += leap
            leap *= 2


def _without_loose_rows(new: sqlite3.Connection) -> int:
    """Removes rows that name others which could not be read, until none does; returns how many."""
    removed = 0
    while loose := list(new.execute("PRAGMA foreign_key_check")):
        for table, key, _, _ in loose:
            removed += new.execute(f'DELETE FROM "{table}" WHERE rowid = ?', (key,)).rowcount  # noqa: S608
    return removed


def cut_circles() -> list[int]:
    """Puts the first pool of each circle at the top; returns their numbers."""
    with connection.cursor() as cursor:
        cursor.execute("SELECT id, parent_id FROM pools_pool")
        found = sorted(cut(dict(cursor.fetchall())))
        for key in found:
            cursor.execute("UPDATE pools_pool SET parent_id = NULL WHERE id = %s", [key])
    return found

"""Bringing the data folder up to date at the start: a copy of an older database is kept before it is changed."""

from __future__ import annotations

import sqlite3
from contextlib import closing
from pathlib import Path

from django.core.management import CommandError, call_command
from django.db import connection
from django.db.migrations.executor import MigrationExecutor
from django.utils import timezone


def bring_up_to_date() -> str:
    """Migrates the database where it is older, after a copy of it; returns what was done, in words, or nothing.

    Raises CommandError where the database is of a newer program.
    """
    refuse_damaged()
    executor = MigrationExecutor(connection)
    known = set(executor.loader.disk_migrations)
    ours = {app for app, _ in known}
    newer = sorted(name for app, name in executor.loader.applied_migrations if app in ours and (app, name) not in known)
    if newer:
        raise CommandError(
            f"The database is of a newer version of the program (it knows {newer[0]}). "
            "Start that version, or use another data folder."
        )
    plan = executor.migration_plan(executor.loader.graph.leaf_nodes())
    if not plan:
        return ""
    path = Path(connection.settings_dict["NAME"])
    copy = copied(path) if executor.loader.applied_migrations else None
    call_command("migrate", verbosity=0, interactive=False)
    if copy is None:
        return "Made a new database."
    return f"Brought the database up to date; a copy of it as it was lies in {copy.name}."


DAMAGED = "The database is damaged ({}). Restore a backup (restore --over FILE), or save what can be read: check --mend."


def refuse_damaged() -> None:
    """Raises CommandError where the database is damaged."""
    damage = damage_of(Path(connection.settings_dict["NAME"]))
    if damage:
        raise CommandError(DAMAGED.format(damage))


def damage_of(path: Path) -> str:
    """What is wrong with a database file as a whole; empty where it is sound or not there."""
    if not path.exists():
        return ""
    try:
        with closing(sqlite3.connect(path)) as base:
            found = [str(row[0]) for row in base.execute("PRAGMA quick_check(1)")]
    except sqlite3.DatabaseError as error:
        return str(error)
    return "" if found == ["ok"] else " ".join(line for line in found[0].splitlines() if not line.startswith("***"))[:160]


def copied(path: Path) -> Path:
    """A whole copy, whatever is being written meanwhile. Raises CommandError where there is no room for one."""
    copy = path.with_name(f"{path.stem}-before-{timezone.now():%Y%m%d-%H%M%S}{path.suffix}")
    try:
        with closing(sqlite3.connect(path)) as source, closing(sqlite3.connect(copy)) as target:
            source.backup(target)
    except sqlite3.Error as error:
        copy.unlink(missing_ok=True)
        raise CommandError(
            f"The database is older, and no copy of it could be made ({error}). Make room, and start again."
        ) from None
    copy.chmod(0o600)
    return copy

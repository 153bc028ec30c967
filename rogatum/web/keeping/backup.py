"""For who runs the server: everything in one file, back from it, and whether all is as it should be. While the program runs."""

from __future__ import annotations

import hashlib
import sqlite3
import tempfile
import zipfile
from collections.abc import Iterable
from contextlib import closing
from dataclasses import dataclass, field
from pathlib import Path
from typing import Any

from django.conf import settings
from django.core.management import CommandError
from django.db import connection
from django.db.migrations.loader import MigrationLoader

from rogatum.web.files import CHUNK, HANDOFFS, MEDIA, OFFERS, SOURCES, Store
from rogatum.web.keeping.recovering import set_aside
from rogatum.web.pools.circles import cut
from rogatum.web.upgrading import DAMAGED, bring_up_to_date, copied, damage_of, refuse_damaged

DATABASE = "rogatum.sqlite3"
STORES: dict[str, Store] = {"media": MEDIA, "sources": SOURCES, "handoffs": HANDOFFS, "offers": OFFERS}


def _database() -> Path:
    return Path(connection.settings_dict["NAME"])


@dataclass
class Backup:
    """What was written: how many files, and what those are called that are missing."""

    files: int = 0
    missing: list[str] = field(default_factory=list)


def make_backup(target: Path) -> Backup:
    """Writes the database, as it is at one moment, and all files that it names. Never half a backup.

    Raises CommandError where the database is damaged.
    """
    refuse_damaged()
    made = Backup()
    part = target.with_name(f"{target.name}.part")
    part.parent.mkdir(parents=True, exist_ok=True)
    with tempfile.TemporaryDirectory(dir=settings.DATA) as folder:
        snapshot = Path(folder) / DATABASE
        with closing(sqlite3.connect(_database())) as source, closing(sqlite3.connect(snapshot)) as copy:
            source.backup(copy)
        try:
            with zipfile.ZipFile(part, "w", zipfile.ZIP_DEFLATED) as archive:
                archive.write(snapshot, DATABASE)
                with closing(sqlite3.connect(snapshot)) as base:
                    named = _named_by(base.cursor())
                for name, known in named.items():
                    for sha256, what in known.items():
                        if _put(archive, name, sha256):
                            made.files += 1
                        else:
                            made.missing.append(what)
            part.chmod(0o600)
            part.replace(target)
        finally:
            part.unlink(missing_ok=True)
    return made


# Which rows name which files, with what these are called; of a backup, asked of the snapshot that it holds.
_NAMING = {
    "media": "SELECT m.sha256, m.name || ' of ' || c.name FROM courses_coursemedia m JOIN courses_course c ON c.id = m.course_id",
    "sources": """SELECT sha256, name FROM sources_source UNION ALL
      SELECT arguments ->> 'sha256', label FROM jobs_job WHERE work = 'open-course' AND state IN ('waiting', 'running')""",
    "handoffs": "SELECT sha256, title FROM handoffs_handoff UNION SELECT meant, title FROM handoffs_handoff WHERE meant != ''",
    "offers": "SELECT sha256, title FROM sharing_offer",
}


def _named_by(cursor: Any) -> dict[str, dict[str, str]]:
    """What the files are called that a database names, by store and hash; asked of a cursor of it."""
    found = {}
    for name, query in _NAMING.items():
        cursor.execute(query)
        found[name] = dict(cursor.fetchall())
    return found


def _put(archive: zipfile.ZipFile, name: str, sha256: str) -> bool:
    try:
        archive.write(STORES[name].path(sha256), f"{name}/{sha256}", zipfile.ZIP_STORED)
    except (OSError, ValueError):
        return False
    return True


def restore(source: Path, over: bool = False) -> str:
    """Puts everything back as a backup has it; returns in words where what was there before lies now. Raises CommandError.

    With `over`, a database that is damaged is moved aside first.

    The database is replaced by SQLite's own means, under its own locks: whoever uses it meanwhile sees it before or after.
    """
    try:
        with zipfile.ZipFile(source) as archive, tempfile.TemporaryDirectory(dir=settings.DATA) as folder:
            database = Path(archive.extract(DATABASE, folder))
            _check_backup(database)
            _put_files_back(archive)
            kept = _kept(over)
            connection.close()
            with closing(sqlite3.connect(database)) as made, closing(sqlite3.connect(_database(), timeout=60)) as live:
                made.backup(live)
    except (OSError, zipfile.BadZipFile, KeyError) as error:
        raise CommandError(f"{source} is no backup of this program, or is damaged ({error}). Choose another file.") from None
    told = [f"What was there before lies in {kept.name}." if kept else "", bring_up_to_date()]
    return " ".join(words for words in told if words)


def _kept(over: bool) -> Path | None:
    """Where what is there now lies then: a copy of it, or itself where it is damaged."""
    if not _database().exists():
        return None
    damage = damage_of(_database())
    if not damage:
        return copied(_database())
    if not over:
        raise CommandError(f"The database that is there is damaged ({damage}). To move it aside and restore: restore --over FILE")
    return set_aside(_database())


def _check_backup(database: Path) -> None:
    with closing(sqlite3.connect(database)) as base:
        try:
            sound = base.execute("PRAGMA integrity_check").fetchone()[0]
            applied = set(base.execute("SELECT app, name FROM django_migrations"))
        except sqlite3.DatabaseError as error:
            raise CommandError(f"The database of the backup is damaged ({error}). Choose another backup.") from None
    if sound != "ok":
        raise CommandError(f"The database of the backup is damaged ({sound[:80]}). Choose another backup.")
    known = set(MigrationLoader(None).disk_migrations)
    newer = sorted(name for app, name in applied if app in {a for a, _ in known} and (app, name) not in known)
    if newer:
        raise CommandError(f"The backup is of a newer version of the program (it knows {newer[0]}). Restore it with that version.")


def _put_files_back(archive: zipfile.ZipFile) -> None:
    """Each file under the hash of its bytes, found here: what a backup calls it is not believed."""
    for entry in archive.infolist():
        name, _, sha256 = entry.filename.partition("/")
        if name in STORES and sha256:
            with archive.open(entry) as stream:
                STORES[name].put(stream)  # type: ignore[arg-type]


# Checking


@dataclass
class Report:
    """What was looked at, what is wrong, and files that nothing names."""

    files: int = 0
    wrong: list[str] = field(default_factory=list)
    orphans: list[Path] = field(default_factory=list)
    damaged: bool = False

    @property
    def sound(self) -> bool:
        return not self.wrong


def check(remove_orphans: bool = False) -> Report:
    """Whether the database is whole, and each file that it names is there and as it was."""
    report = Report()
    damage = damage_of(_database())
    if damage:
        report.damaged = True
        report.wrong.append(DAMAGED.format(damage))
        return report
    with connection.cursor() as cursor:
        cursor.execute("PRAGMA integrity_check")
        report.wrong += [f"The database: {row[0]}" for row in cursor.fetchall() if row[0] != "ok"]
        cursor.execute("PRAGMA foreign_key_check")
        report.wrong += [f"A row of {row[0]} names one of {row[2]} that is not there." for row in cursor.fetchall()]
        cursor.execute("SELECT id, name, parent_id FROM pools_pool")
        pools = {key: (name, parent) for key, name, parent in cursor.fetchall()}
        circles = cut({key: parent for key, (_, parent) in pools.items()})
        report.wrong += [f"The pool {pools[key][0]} lies in itself. To put it at the top: check --mend" for key in sorted(circles)]
        named = _named_by(cursor)
    for store_name, known in named.items():
        for sha256, what in known.items():
            report.files += 1
            _check_file(STORES[store_name], sha256, what, report)
        report.orphans += _orphans(STORES[store_name], known)
    if remove_orphans:
        for path in report.orphans:
            path.unlink(missing_ok=True)
    return report


def _check_file(store: Store, sha256: str, what: str, report: Report) -> None:
    try:
        path = store.path(sha256)
        found = _hash_of(path)
    except (OSError, ValueError):
        report.wrong.append(f"The file of {what} is missing.")
        return
    if found != sha256:
        report.wrong.append(f"The file of {what} is another than it was ({path}).")


def _hash_of(path: Path) -> str:
    digest = hashlib.sha256()
    with path.open("rb") as stream:
        while chunk := stream.read(CHUNK):
            digest.update(chunk)
    return digest.hexdigest()


def _orphans(store: Store, known: Iterable[str]) -> list[Path]:
    """Files that nothing names. What is being written at this moment is none."""
    names = set(known)
    if not store.folder.exists():
        return []
    files = [path for path in store.folder.rglob("*") if path.is_file() and not path.name.startswith("writing-")]
    return sorted(path for path in files if path.name not in names)

"""A saved course on its way in: everything that it says is looked at, and written anew as what may be believed.

What comes out lies in a folder under names of ours, with the numbers that the rows had: `head.json`, a file of lines for each
table, and the media by their hashes. Whoever stores it has nothing left to check.
"""

from __future__ import annotations

import hashlib
import shutil
import zipfile
import zlib
from collections.abc import Callable, Iterator
from pathlib import Path
from typing import IO, Any, TypeVar
from zoneinfo import available_timezones

from pydantic import BaseModel, ValidationError

from rogatum.core.admission import Gate, admit_item
from rogatum.core.errors import UnreadableSource
from rogatum.core.items import item_from
from rogatum.core.pools.columns import columns_of
from rogatum.core.quizzes.criteria import Condition, Draw
from rogatum.core.quizzes.plan import Plan
from rogatum.core.quizzes.settings import Settings
from rogatum.core.saved.rows import (
    LARGEST_FILE,
    Admitted,
    Head,
    ItemRow,
    MediaRow,
    OperationRow,
    PartItemRow,
    PartRow,
    PoolRow,
    QuizRow,
)
from rogatum.core.sources.media import media_address

# Bounds: bytes of a line and of all lines, rows of each table, files within the archive, levels of pools.
LONGEST_LINE, MOST_BYTES = 20_000_000, 2_000_000_000
MOST_ROWS = {
    "media": 20_000,
    "pools": 10_000,
    "items": 200_000,
    "quizzes": 5_000,
    "parts": 100_000,
    "entries": 500_000,
    "history": 500_000,
}
MOST_FILES, MOST_LEVELS = 25_000, 40
WAY_OUT = "Choose a file that was made by Save the course."
# What a file says that cannot be read: of the archive, of its packing, of a row.
_DAMAGE = (
    ValidationError,
    KeyError,
    IndexError,
    TypeError,
    ValueError,
    zipfile.BadZipFile,
    zlib.error,
    EOFError,
    OSError,
    RuntimeError,  # of an archive with a password
    NotImplementedError,  # of packing that is not known
    RecursionError,
)
Progress = Callable[[int, int], None]
Row = TypeVar("Row", bound=BaseModel)


def head_of(stream: IO[bytes], name: str) -> Head:
    """What a saved course says of itself. Raises UnreadableSource for what is none."""
    with _opened(stream, name) as archive:
        return _head(archive, name)


def admit_saved(stream: IO[bytes], name: str, folder: Path, progress: Progress) -> int:
    """Admits a saved course into a folder; returns how many items it has. Raises UnreadableSource."""
    with _opened(stream, name) as archive:
        head = _head(archive, name)
        if head.time_zone not in available_timezones():
            raise UnreadableSource(f"{name} cannot be opened here", f"There is no time zone {head.time_zone}.", WAY_OUT)
        (folder / "head.json").write_text(head.model_dump_json())
        return _Admission(archive, name, folder, progress).run()


def _opened(stream: IO[bytes], name: str) -> zipfile.ZipFile:
    try:
        archive = zipfile.ZipFile(stream)
    except (zipfile.BadZipFile, OSError, ValueError, NotImplementedError):
        raise UnreadableSource(f"{name} is no saved course", "It is no zip archive.", WAY_OUT) from None
    names = archive.namelist()
    if len(names) > MOST_FILES or len(set(names)) < len(names):
        raise UnreadableSource(f"{name} is no saved course", "It holds too many files, or two of one name.", WAY_OUT)
    return archive


def _head(archive: zipfile.ZipFile, name: str) -> Head:
    try:
        with archive.open("course.json") as member:
            return Head.model_validate_json(member.read(LONGEST_LINE))
    except _DAMAGE:
        raise UnreadableSource(f"{name} is no saved course", "It says of no course what it is.", WAY_OUT) from None


class _Admission:
    """One course on its way in."""

    def __init__(self, archive: zipfile.ZipFile, name: str, folder: Path, progress: Progress) -> None:
        self.archive, self.name, self.folder, self.progress = archive, name, folder, progress
        self.read = 0
        # The numbers that the rows of each table have.
        self.known: dict[str, set[int]] = {"pool": set(), "item": set(), "quiz": set(), "part": set(), "partitem": set()}

    def run(self) -> int:
        try:
            self.gate = Gate(self._media())
            self._write("pools", self._pools())
            self._write("items", self._items())
            self._write("quizzes", map(self._quiz, self._each("quizzes", QuizRow, "quiz")))
            self._write("parts", map(self._part, self._each("parts", PartRow, "part")))
            self._write("entries", map(self._entry, self._each("entries", PartItemRow, "partitem")))
            self._write("history", map(self._operation, self._rows("history", OperationRow)))
        except UnreadableSource:
            raise
        except _DAMAGE as error:
            where = error.title if isinstance(error, ValidationError) else str(error)[:100]
            raise UnreadableSource(f"{self.name} is damaged", f"What it says cannot be true at {where}.", WAY_OUT) from None
        return len(self.known["item"])

    # Reading and writing lines

    def _rows(self, table: str, model: type[Row]) -> Iterator[Row]:
        most = MOST_ROWS[table]
        with self.archive.open(f"{table}.jsonl") as member:
            for _ in range(most):
                line = member.readline(LONGEST_LINE)
                if not line:
                    return
                self.read += len(line)
                if self.read > MOST_BYTES:
                    break
                yield model.model_validate_json(line)
            if not member.read(1):
                return
        raise self._too_much(f"Its {table} are more than a course can have ({most:,}).")

    def _too_much(self, why: str) -> UnreadableSource:
        return UnreadableSource(f"{self.name} holds too much", why, WAY_OUT)

    def _each(self, table: str, model: type[Row], kind: str) -> Iterator[Row]:
        """The rows of a table, each of which has a number of its own."""
        for row in self._rows(table, model):
            number: int = row.id  # type: ignore[attr-defined]
            if number in self.known[kind]:
                raise KeyError(f"two {table} with the number {number}")
            self.known[kind].add(number)
            yield row

    def _write(self, table: str, rows: Iterator[BaseModel]) -> None:
        with (self.folder / f"{table}.jsonl").open("w", encoding="utf-8") as target:
            for row in rows:
                target.write(row.model_dump_json() + "\n")

    # Tables

    def _media(self) -> set[str]:
        """Copies the media whose bytes are those that the rows say; returns their addresses in items."""
        rows = list(self._rows("media", MediaRow))
        if len({row.sha256 for row in rows}) < len(rows):
            raise KeyError("two files of one hash")
        kept = [row for row in rows if self._copied(row)]
        self._write("media", iter(kept))
        return {media_address(row.sha256, row.name) for row in kept}

    def _copied(self, row: MediaRow) -> bool:
        """Copies one file, where it is there. Its hash is found from the bytes: another than the course says is none of its."""
        try:
            info = self.archive.getinfo(f"media/{row.sha256}")
        except KeyError:  # the course went on without it
            return False
        if info.file_size > LARGEST_FILE:
            raise self._too_much(f"{row.name} is too large.")
        path = self.folder / f"media-{row.sha256}"
        with self.archive.open(info) as stream, path.open("wb") as target:
            shutil.copyfileobj(stream, target)
        with path.open("rb") as stream:
            if hashlib.file_digest(stream, "sha256").hexdigest() == row.sha256:
                return True
        path.unlink()
        return False

    def _pools(self) -> Iterator[PoolRow]:
        rows = list(self._each("pools", PoolRow, "pool"))
        parents = {row.id: row.parent for row in rows}
        if any(parent is not None and parent not in parents for parent in parents.values()):
            raise KeyError("a pool that lies in none that is there")
        depths: dict[int, int | None] = {}
        for row in rows:
            depth = _depth(row.id, parents, depths)
            if depth is not None and depth > MOST_LEVELS:
                raise self._too_much(f"Its pools lie more than {MOST_LEVELS} deep in one another.")
            # Those that lie in each other come to the top.
            yield row if depth is not None else row.model_copy(update={"parent": None})

    def _items(self) -> Iterator[Admitted]:
        for number, row in enumerate(self._each("items", ItemRow, "item")):
            self._must_know("pool", row.pool)
            item = admit_item(item_from(row.body), self.gate)
            passage = None if row.passage is None else self.gate.content(row.passage)
            stimulus = None if passage is None else {"id": item.stimulus or "s1", "content": passage}
            self.progress(number, 0)
            # The body is among the columns.
            yield Admitted(row=row.model_copy(update={"body": {}}), stimulus=stimulus, columns=columns_of(item, passage or ""))

    def _must_know(self, kind: str, key: int) -> None:
        if key not in self.known[kind]:
            raise KeyError(f"a {kind} that is not there")

    def _quiz(self, row: QuizRow) -> QuizRow:
        settings = Settings(**row.settings).model_dump(mode="json", exclude_none=True)
        return row.model_copy(update={"settings": settings, "plan": row.plan and self._plan(row.plan)})

    def _part(self, row: PartRow) -> PartRow:
        self._must_know("quiz", row.quiz)
        if row.pool is not None:
            self._must_know("pool", row.pool)
        items = self.known["item"]
        said = {
            "points": {key: value for key, value in row.points.items() if key.isdecimal() and int(key) in items},
            "instructions": self.gate.content(row.instructions),
            "where": [Condition(**one).model_dump(mode="json") for one in row.where],
            "without": [key for key in row.without if key in items],
            "picked_from": row.picked_from and self._draw(row.picked_from),
        }
        return row.model_copy(update=said)

    def _entry(self, row: PartItemRow) -> PartItemRow:
        self._must_know("part", row.part)
        self._must_know("item", row.item)
        return row

    def _draw(self, said: dict[str, Any]) -> dict[str, Any]:
        """A draw as it is stored, its pool by its number; one of a pool that is not there stays one."""
        pool = said.get("pool")
        if pool is not None and not isinstance(pool, int):
            raise TypeError("a pool without a number")
        draw = Draw(pool=[], pick=said["pick"], alone=said.get("alone", False), where=said.get("where", []))
        never = [key for key in said.get("without", []) if key in self.known["item"]]
        return draw.model_dump(mode="json", exclude={"pool", "without"}) | {"pool": pool, "without": never}

    def _plan(self, said: dict[str, Any]) -> dict[str, Any]:
        rows = [self._draw(row) for row in said.get("rows", [])]
        return Plan(**said | {"rows": []}).model_dump(mode="json") | {"rows": rows}

    def _operation(self, row: OperationRow) -> OperationRow:
        """What was done: as history of the rows that are still there."""
        kept = [change for change in row.changes if change.row in self.known[change.table]]
        for change in kept:
            change.before, change.after = self._said(change.before), self._said(change.after)
        return row.model_copy(update={"changes": kept})

    def _said(self, said: dict[str, Any] | None) -> dict[str, Any] | None:
        if said is None or not isinstance(said.get("body"), dict):
            return said
        return said | {"body": admit_item(item_from(said["body"]), self.gate).model_dump(mode="json")}


def _depth(key: int, parents: dict[int, int | None], depths: dict[int, int | None]) -> int | None:
    """How many pools a pool lies in; None where it lies in itself. `depths` are those that are known."""
    path: list[int] = []
    seen: set[int] = set()
    at: int | None = key
    while at is not None and at not in depths:
        if at in seen:
            depths.update(dict.fromkeys(path))
            return None
        seen.add(at)
        path.append(at)
        at = parents[at]
    below = 0 if at is None else depths[at]
    for place, pool in enumerate(reversed(path), 0 if at is None else 1):
        depths[pool] = None if below is None else below + place
    return depths[key]

"""A course as one file, and a course from one: pools, items with their history, passages, media, quizzes, outcomes.

The file is a zip: `course.json` says what the course is, `*.jsonl` hold one row a line, `media/` the files by their SHA-256. Rows
name each other by the numbers that they had. What comes in such a file is admitted as what comes from any other source.
"""

from __future__ import annotations

import zipfile
from collections.abc import Callable, Iterator
from datetime import UTC, datetime
from typing import IO, Annotated, Any, BinaryIO, Literal, TypeVar

from django.db import models, transaction
from pydantic import BaseModel, Field, ValidationError

from rogatum.core.admission import Gate, admit_item
from rogatum.core.errors import UnreadableSource
from rogatum.core.items import item_from
from rogatum.core.items.outcomes import Outcome
from rogatum.core.quizzes.model import Settings
from rogatum.core.sources import MediaBox
from rogatum.web.bounds import Name, Words
from rogatum.web.bulk import save_columns
from rogatum.web.courses.models import Change, Course, CourseMedia, Operation
from rogatum.web.courses.rules import can_see, must
from rogatum.web.courses.services import own_media, store_media
from rogatum.web.files import MEDIA
from rogatum.web.pools.bodies import columns_of
from rogatum.web.pools.models import Item, Pool
from rogatum.web.quizzes.models import Part, PartItem, Quiz

FORMAT: Literal["rogatum-course/1"] = "rogatum-course/1"
EPOCH = (1980, 1, 1, 0, 0, 0)
LONGEST_LINE, MOST_ROWS, MOST_BYTES, LARGEST_FILE = 20_000_000, 2_000_000, 4_000_000_000, 500_000_000
BATCH = 1000
WAY_OUT = "Choose a file that was made by Save the course."

Key = Annotated[int, Field(ge=1, le=2**62)]


class Head(BaseModel):
    """`course.json`."""

    format: Literal["rogatum-course/1"]
    name: Annotated[str, Field(max_length=200)]
    columns: dict[str, str] = {}
    outcomes: Annotated[list[Outcome], Field(max_length=2000)] = []
    advice_off: Annotated[list[Name], Field(max_length=200)] = []


class MediaRow(BaseModel):
    sha256: Annotated[str, Field(pattern=r"^[0-9a-f]{64}$")]
    name: Annotated[str, Field(max_length=200)]
    type: Annotated[str, Field(max_length=100)]
    size: Annotated[int, Field(ge=0, le=LARGEST_FILE)]


class PoolRow(BaseModel):
    id: Key
    parent: Key | None
    name: Annotated[str, Field(min_length=1, max_length=300)]
    position: Annotated[int, Field(ge=0, le=10**9)]


class ItemRow(BaseModel):
    id: Key
    pool: Key
    position: Annotated[int, Field(ge=0, le=10**9)]
    body: dict[str, Any]
    passage: str | None
    origin: Annotated[str, Field(max_length=400)]
    source: Annotated[str, Field(max_length=300)]
    handed: datetime | None
    created: datetime
    updated: datetime


class QuizRow(BaseModel):
    id: Key
    title: Annotated[str, Field(max_length=300)]
    settings: dict[str, Any]


class PartRow(BaseModel):
    id: Key
    quiz: Key
    kind: Literal["fixed", "draw"]
    position: Annotated[int, Field(ge=0, le=10**9)]
    title: Annotated[str, Field(max_length=300)]
    pool: Key | None
    pick: Annotated[int, Field(ge=0, le=100_000)]
    points_each: Annotated[float, Field(allow_inf_nan=False)] | None
    points: dict[str, float]


class PartItemRow(BaseModel):
    id: Key
    part: Key
    item: Key
    position: Annotated[int, Field(ge=0, le=10**9)]


class ChangeRow(BaseModel):
    table: Literal["pool", "item", "quiz", "part", "partitem"]
    row: Key
    before: dict[str, Any] | None
    after: dict[str, Any] | None


class OperationRow(BaseModel):
    label: Words
    by: Annotated[str, Field(max_length=150)]
    created: datetime
    undone: bool
    changes: list[ChangeRow]


# Saving


def save_course(course: Course, user: Any, target: IO[bytes]) -> None:
    """Writes a course into a file, as it is at one moment."""
    must(can_see(user, course))
    with transaction.atomic(), zipfile.ZipFile(target, "w") as archive:
        head = Head(format=FORMAT, name=course.name, columns=course.columns, outcomes=course.outcomes, advice_off=course.advice_off)
        archive.writestr(_entry("course.json"), head.model_dump_json(indent=1), zipfile.ZIP_DEFLATED)
        for name, rows in _tables(course).items():
            with archive.open(_entry(f"{name}.jsonl"), "w", force_zip64=True) as member:
                for row in rows():
                    member.write(row.model_dump_json().encode() + b"\n")
        for media in CourseMedia.objects.filter(course=course):
            archive.write(MEDIA.path(media.sha256), f"media/{media.sha256}")


def _entry(name: str) -> zipfile.ZipInfo:
    entry = zipfile.ZipInfo(name, EPOCH)
    entry.compress_type = zipfile.ZIP_DEFLATED
    return entry


def _tables(course: Course) -> dict[str, Callable[[], Iterator[BaseModel]]]:
    return {
        "media": lambda: (
            MediaRow(sha256=row.sha256, name=row.name, type=row.type, size=row.size)
            for row in CourseMedia.objects.filter(course=course).order_by("pk")
        ),
        "pools": lambda: (
            PoolRow(id=row.pk, parent=row.parent_id, name=row.name, position=row.position)
            for row in Pool.objects.filter(course=course).order_by("pk")
        ),
        "items": lambda: map(_item_row, _each(Item.objects.filter(course=course).order_by("pk"))),
        "quizzes": lambda: (
            QuizRow(id=row.pk, title=row.title, settings=row.settings) for row in Quiz.objects.filter(course=course).order_by("pk")
        ),
        "parts": lambda: map(_part_row, Part.objects.filter(quiz__course=course).order_by("pk")),
        "entries": lambda: (
            PartItemRow(id=row.pk, part=row.part_id, item=row.item_id, position=row.position)
            for row in PartItem.objects.filter(part__quiz__course=course).order_by("pk")
        ),
        "history": lambda: map(_operation_row, _each(Operation.objects.filter(course=course).order_by("pk"))),
    }


Row = TypeVar("Row", bound=models.Model)


def _each(rows: models.QuerySet[Row]) -> Iterator[Row]:
    return rows.iterator(chunk_size=BATCH)


def _item_row(row: Item) -> ItemRow:
    return ItemRow(
        id=row.pk,
        pool=row.pool_id,
        position=row.position,
        body=row.body,
        passage=(row.stimulus or {}).get("content"),
        origin=row.origin,
        source=row.source,
        handed=row.handed,
        created=row.created,
        updated=row.updated,
    )


def _part_row(row: Part) -> PartRow:
    return PartRow(
        id=row.pk,
        quiz=row.quiz_id,
        kind=row.kind,
        position=row.position,
        title=row.title,
        pool=row.pool_id,
        pick=row.pick,
        points_each=row.points_each,
        points=row.points,
    )


# The tables whose history goes with a course: sources and readings stay where they are.
_OF_COURSE = ("pool", "item", "quiz", "part", "partitem")


def _operation_row(row: Operation) -> OperationRow:
    changes = [
        ChangeRow(table=change.table, row=change.row, before=change.before, after=change.after)
        for change in row.changes.filter(table__in=_OF_COURSE)
    ]
    by = row.by or row.user.get_username()
    return OperationRow(label=row.label, by=by, created=row.created, undone=row.undone, changes=changes)


# Opening


def check_saved(stream: BinaryIO, name: str) -> Head:
    """What a saved course is called, and what its head says. Raises UnreadableSource for what is none."""
    with _opened(stream, name) as archive:
        return _head(archive, name)


def _opened(stream: BinaryIO, name: str) -> zipfile.ZipFile:
    try:
        return zipfile.ZipFile(stream)
    except (zipfile.BadZipFile, OSError, ValueError):
        raise UnreadableSource(f"{name} is no saved course", "It is no zip archive.", WAY_OUT) from None


def _head(archive: zipfile.ZipFile, name: str) -> Head:
    try:
        with archive.open("course.json") as member:
            return Head.model_validate_json(member.read(LONGEST_LINE))
    except (KeyError, ValidationError, zipfile.BadZipFile, OSError, ValueError):
        raise UnreadableSource(f"{name} is no saved course", "It says of no course what it is.", WAY_OUT) from None


def open_saved(course: Course, user: Any, stream: BinaryIO, name: str) -> int:
    """Fills a new course from a saved one, all of it or nothing; returns how many items. Raises UnreadableSource."""
    must(course.owner_id == user.pk)
    with _opened(stream, name) as archive, transaction.atomic():
        head = _head(archive, name)
        course.columns, course.advice_off = head.columns, head.advice_off
        course.outcomes = [outcome.model_dump() for outcome in head.outcomes]
        course.save(update_fields=["columns", "outcomes", "advice_off"])
        return _Opening(archive, course, user, name).run()


Model = TypeVar("Model", bound=BaseModel)


class _Opening:
    """One course on its way in: rows get new numbers, and everything that names them goes by these."""

    def __init__(self, archive: zipfile.ZipFile, course: Course, user: Any, name: str) -> None:
        self.archive, self.course, self.user, self.name = archive, course, user, name
        self.read = 0
        # The new number of each old one, by table.
        self.numbers: dict[str, dict[int, int]] = {table: {} for table in _OF_COURSE}

    def run(self) -> int:
        try:
            self._media()
            self._pools()
            self._items()
            self._quizzes()
            self._history()
        except (ValidationError, KeyError, zipfile.BadZipFile, OSError, UnicodeDecodeError) as error:
            where = error.title if isinstance(error, ValidationError) else str(error)[:100]
            raise UnreadableSource(f"{self.name} is damaged", f"What it says cannot be true at {where}.", WAY_OUT) from None
        return len(self.numbers["item"])

    def _rows(self, table: str, model: type[Model]) -> Iterator[Model]:
        with self.archive.open(f"{table}.jsonl") as member:
            for _ in range(MOST_ROWS):
                line = member.readline(LONGEST_LINE)
                if not line:
                    return
                self.read += len(line)
                if self.read > MOST_BYTES:
                    break
                yield model.model_validate_json(line)
        raise UnreadableSource(f"{self.name} holds too much", f"Its {table} are more than a course can have.", WAY_OUT)

    def _media(self) -> None:
        for row in self._rows("media", MediaRow):
            info = self.archive.getinfo(f"media/{row.sha256}")
            if info.file_size > LARGEST_FILE:
                raise UnreadableSource(f"{self.name} holds too much", f"{row.name} is too large.", WAY_OUT)
            box = MediaBox()
            with self.archive.open(info) as stream:
                ref = box.add_bytes(row.name, stream.read(LARGEST_FILE))
            # Its hash is found from the bytes: a file that is another than the course says is none of its.
            if box.entry(ref).sha256 == row.sha256:
                store_media(self.course, box)
                CourseMedia.objects.filter(course=self.course, sha256=row.sha256).update(name=row.name)

    def _pools(self) -> None:
        rows = list(self._rows("pools", PoolRow))
        made = Pool.objects.bulk_create(
            [Pool(course=self.course, name=row.name, position=row.position) for row in rows], batch_size=BATCH
        )
        numbers = self.numbers["pool"] = {row.id: pool.pk for row, pool in zip(rows, made, strict=True)}
        parents = {row.id: row.parent for row in rows}
        for row in rows:
            if row.parent is not None and not _in_circle(row.id, parents):
                Pool.objects.filter(pk=numbers[row.id]).update(parent_id=numbers[row.parent])

    def _items(self) -> None:
        gate = Gate(own_media(self.course))
        batch: list[tuple[ItemRow, Item]] = []
        for row in self._rows("items", ItemRow):
            batch.append((row, self._item(row, gate)))
            if len(batch) == BATCH:
                self._store_items(batch)
                batch = []
        self._store_items(batch)

    def _item(self, row: ItemRow, gate: Gate) -> Item:
        item = admit_item(item_from(row.body), gate)
        stimulus = None if row.passage is None else {"id": item.stimulus or "s1", "content": gate.content(row.passage)}
        return Item(
            course=self.course,
            pool_id=self.numbers["pool"][row.pool],
            position=row.position,
            stimulus=stimulus,
            origin=row.origin,
            source=row.source,
            handed=row.handed,
            **columns_of(item, stimulus),
        )

    def _store_items(self, batch: list[tuple[ItemRow, Item]]) -> None:
        Item.objects.bulk_create([item for _, item in batch], batch_size=BATCH)
        for row, item in batch:
            self.numbers["item"][row.id] = item.pk
            item.created, item.updated = row.created, row.updated
        # The moments of a row are set when it is made, whatever it says of them.
        save_columns([item for _, item in batch], ["created", "updated"])

    def _quizzes(self) -> None:
        for quiz in self._rows("quizzes", QuizRow):
            settings = Settings(**quiz.settings).model_dump(mode="json", exclude_none=True)
            made = Quiz.objects.create(course=self.course, title=quiz.title, settings=settings)
            self.numbers["quiz"][quiz.id] = made.pk
        for part in self._rows("parts", PartRow):
            points = {str(self.numbers["item"].get(int(key), 0)): value for key, value in part.points.items() if key.isdecimal()}
            row = Part.objects.create(
                quiz_id=self.numbers["quiz"][part.quiz],
                kind=part.kind,
                position=part.position,
                title=part.title,
                pool_id=None if part.pool is None else self.numbers["pool"][part.pool],
                pick=part.pick,
                points_each=part.points_each,
                points={key: value for key, value in points.items() if key != "0"},
            )
            self.numbers["part"][part.id] = row.pk
        for entry in self._rows("entries", PartItemRow):
            held = PartItem.objects.create(
                part_id=self.numbers["part"][entry.part], item_id=self.numbers["item"][entry.item], position=entry.position
            )
            self.numbers["partitem"][entry.id] = held.pk

    def _history(self) -> None:
        """What was done, by whom: as history of the rows that are still there. It cannot be undone here."""
        for row in self._rows("history", OperationRow):
            operation = Operation.objects.create(
                course=self.course, user=self.user, label=row.label[:300], by=row.by or "somebody", undone=row.undone
            )
            Operation.objects.filter(pk=operation.pk).update(created=row.created.astimezone(UTC))
            changes = [
                Change(
                    operation=operation,
                    table=change.table,
                    row=self.numbers[change.table][change.row],
                    before=self._renumbered(change.before),
                    after=self._renumbered(change.after),
                )
                for change in row.changes
                if change.row in self.numbers[change.table]
            ]
            Change.objects.bulk_create(changes, batch_size=BATCH)

    def _renumbered(self, said: dict[str, Any] | None) -> dict[str, Any] | None:
        if said is None:
            return None
        return {name: self._named(name, value) for name, value in said.items()}

    def _named(self, name: str, value: Any) -> Any:
        if name == "course_id":
            return self.course.pk
        if name == "body" and isinstance(value, dict):
            return admit_item(item_from(value), Gate(own_media(self.course))).model_dump(mode="json")
        table = _TABLE_OF.get(name)
        return self.numbers[table].get(value) if table and isinstance(value, int) else value


_TABLE_OF = {"pool_id": "pool", "parent_id": "pool", "item_id": "item", "quiz_id": "quiz", "part_id": "part"}


def _in_circle(key: int, parents: dict[int, int | None]) -> bool:
    seen: set[int] = set()
    at: int | None = key
    while at is not None:
        if at in seen:
            return True
        seen.add(at)
        at = parents.get(at)
    return False


def saved_name(course: Course) -> str:
    """A name that says what the file holds, and of when it is."""
    words = "-".join("".join(sign if sign.isalnum() else " " for sign in course.name).split())
    return f"{words or 'course'}-{datetime.now(UTC):%Y-%m-%d}.rogatum-course.zip"

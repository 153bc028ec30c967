"""A new course from a saved one, all of it or nothing. What such a file says is admitted as what any other source says."""

from __future__ import annotations

import zipfile
from collections.abc import Callable, Iterable, Iterator
from datetime import UTC
from typing import Any, BinaryIO, TypeVar

from django.db import transaction
from pydantic import BaseModel, ValidationError

from rogatum.core.admission import Gate, admit_item
from rogatum.core.errors import UnreadableSource
from rogatum.core.items import item_from
from rogatum.core.quizzes.criteria import Condition, Draw
from rogatum.core.quizzes.plan import Plan
from rogatum.core.quizzes.settings import Settings
from rogatum.core.sources import MediaBox
from rogatum.web.bulk import save_columns
from rogatum.web.courses.models import Change, Course, CourseMedia, Operation, Section
from rogatum.web.courses.rules import must
from rogatum.web.courses.services import known_zone, own_media, store_media
from rogatum.web.keeping.saved_rows import (
    LARGEST_FILE,
    OF_COURSE,
    Head,
    ItemRow,
    MediaRow,
    OperationRow,
    PartItemRow,
    PartRow,
    PoolRow,
    QuizRow,
)
from rogatum.web.pools.bodies import columns_of
from rogatum.web.pools.models import Item, Pool
from rogatum.web.quizzes.models import Part, PartItem, Pattern, Quiz
from rogatum.web.quizzes.storing import stored_settings

LONGEST_LINE, MOST_ROWS, MOST_BYTES = 20_000_000, 2_000_000, 4_000_000_000
BATCH = 1000
WAY_OUT = "Choose a file that was made by Save the course."


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
        course.time_zone = known_zone(head.time_zone)
        course.save(update_fields=["columns", "outcomes", "advice_off", "time_zone"])
        _keep_sections(course, head)
        return _Opening(archive, course, user, name).run()


def _keep_sections(course: Course, head: Head) -> None:
    """The sections of a course and its patterns of settings, each once by its name."""
    for section in {row.name: row for row in head.sections}.values():
        Section.objects.create(course=course, name=section.name, students=section.students)
    for pattern in {row.name: row for row in head.patterns}.values():
        Pattern.objects.create(course=course, name=pattern.name, settings=stored_settings(Settings(**pattern.settings)))


Model = TypeVar("Model", bound=BaseModel)


class _Opening:
    """One course on its way in: rows get new numbers, and everything that names them goes by these."""

    def __init__(self, archive: zipfile.ZipFile, course: Course, user: Any, name: str) -> None:
        self.archive, self.course, self.user, self.name = archive, course, user, name
        self.read = 0
        # The new number of each old one, by table.
        self.numbers: dict[str, dict[int, int]] = {table: {} for table in OF_COURSE}

    def run(self) -> int:
        try:
            self._media()
            self.gate = Gate(own_media(self.course))
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
        batch: list[tuple[ItemRow, Item]] = []
        for row in self._rows("items", ItemRow):
            batch.append((row, self._item(row)))
            if len(batch) == BATCH:
                self._store_items(batch)
                batch = []
        self._store_items(batch)

    def _item(self, row: ItemRow) -> Item:
        item = admit_item(item_from(row.body), self.gate)
        stimulus = None if row.passage is None else {"id": item.stimulus or "s1", "content": self.gate.content(row.passage)}
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
            settings = stored_settings(Settings(**quiz.settings))
            made = Quiz.objects.create(course=self.course, title=quiz.title, settings=settings, plan=quiz.plan)
            self.numbers["quiz"][quiz.id] = made.pk
        for row in Quiz.objects.filter(course=self.course, plan__isnull=False):
            row.plan = self._plan(row.plan)
            row.save(update_fields=["plan"])
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
                instructions=self.gate.content(part.instructions),
                page_break=part.page_break,
                alone=part.alone,
                where=[Condition(**said).model_dump(mode="json") for said in part.where],
                without=self._items_there(part.without),
                picked_from=part.picked_from and self._draw(part.picked_from),
            )
            self.numbers["part"][part.id] = row.pk
        for entry in self._rows("entries", PartItemRow):
            held = PartItem.objects.create(
                part_id=self.numbers["part"][entry.part], item_id=self.numbers["item"][entry.item], position=entry.position
            )
            self.numbers["partitem"][entry.id] = held.pk

    def _items_there(self, keys: Iterable[Any]) -> list[int]:
        return [self.numbers["item"][key] for key in keys if key in self.numbers["item"]]

    def _draw(self, said: dict[str, Any]) -> dict[str, Any]:
        """A stored draw by the new numbers; a pool that is not there stays gone. Raises ValidationError for what is no draw."""
        pool = said.get("pool")
        draw = Draw(pool=[], pick=said["pick"], alone=said.get("alone", False), where=said.get("where", []))
        kept = draw.model_dump(mode="json", exclude={"pool", "without"})
        return kept | {"pool": pool and self.numbers["pool"].get(pool, 0), "without": self._items_there(said.get("without", []))}

    def _plan(self, said: dict[str, Any]) -> dict[str, Any]:
        """A stored plan by the new numbers; quizzes that are not there are not left out."""
        rows = [self._draw(row) for row in said.get("rows", [])]
        known = {str(key): str(number) for key, number in self.numbers["quiz"].items()}
        apart = [known[key] for key in said.get("apart_from", []) if key in known]
        return Plan(**said | {"rows": [], "apart_from": apart}).model_dump(mode="json") | {"rows": rows}

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
            return admit_item(item_from(value), self.gate).model_dump(mode="json")
        if name in _NESTED and value:
            try:
                return _NESTED[name](self, value)
            except KeyError:  # its pool is gone
                return None
        table = _TABLE_OF.get(name)
        return self.numbers[table].get(value) if table and isinstance(value, int) else value


# What of a row names others within: plans, what was picked from where, what is never drawn.
_NESTED: dict[str, Callable[[_Opening, Any], Any]] = {
    "plan": _Opening._plan,
    "picked_from": _Opening._draw,
    "without": _Opening._items_there,
}
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

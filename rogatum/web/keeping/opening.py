"""A new course from a saved one that was admitted: stored in short transactions, and there for nobody until all of it is."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from datetime import UTC
from pathlib import Path
from typing import Any, TypeVar

from pydantic import BaseModel

from rogatum.core.quizzes.settings import Settings
from rogatum.core.saved.rows import Admitted, Head, MediaRow, OperationRow, PartItemRow, PartRow, PoolRow, QuizRow
from rogatum.web.bulk import save_columns
from rogatum.web.courses.models import Change, Course, CourseMedia, Operation, Section
from rogatum.web.courses.services import known_zone
from rogatum.web.database.steps import in_steps
from rogatum.web.files import MEDIA
from rogatum.web.jobs.services import AtWork
from rogatum.web.pools.models import Item, Pool
from rogatum.web.quizzes.models import Part, PartItem, Pattern, Quiz
from rogatum.web.quizzes.storing import stored_settings

# How many rows one short transaction stores: of items, and of what is small.
STEP, SMALL = 100, 400
Row = TypeVar("Row", bound=BaseModel)


class Filling:
    """A course that is filled: rows get new numbers, and everything that names them goes by these."""

    def __init__(self, at_work: AtWork, folder: Path) -> None:
        self.at_work, self.folder = at_work, folder
        self.user = at_work.job.user
        # The new number of each old one, by table.
        self.numbers: dict[str, dict[int, int]] = {table: {} for table in ("pool", "item", "quiz", "part", "partitem")}

    def run(self) -> Course:
        """Stores everything; the course is still hidden behind it."""
        with self.at_work.step():
            self.course = self._head()
        self._media()
        self._pools()
        self._items()
        self._quizzes()
        self._history()
        return self.course

    def _rows(self, table: str, model: type[Row]) -> Iterator[Row]:
        with (self.folder / f"{table}.jsonl").open("rb") as lines:
            for line in lines:
                yield model.model_validate_json(line)

    def _head(self) -> Course:
        head = Head.model_validate_json((self.folder / "head.json").read_bytes())
        course = Course.objects.create(
            owner=self.user,
            name=head.name.strip() or "New course",
            columns=head.columns,
            outcomes=[outcome.model_dump() for outcome in head.outcomes],
            advice_off=head.advice_off,
            time_zone=known_zone(head.time_zone),
            job=self.at_work.job.pk,
        )
        # Each once by its name, whatever the file says.
        for section in {row.name: row for row in head.sections}.values():
            Section.objects.create(course=course, name=section.name, students=section.students)
        for pattern in {row.name: row for row in head.patterns}.values():
            Pattern.objects.create(course=course, name=pattern.name, settings=stored_settings(Settings(**pattern.settings)))
        return course

    def _media(self) -> None:
        for row in self._rows("media", MediaRow):
            with (self.folder / f"media-{row.sha256}").open("rb") as stream, MEDIA.writing(stream) as stored, self.at_work.step():
                stored.place()
                CourseMedia.objects.create(course=self.course, sha256=stored.sha256, name=row.name, type=row.type, size=stored.size)

    def _pools(self) -> None:
        rows = list(self._rows("pools", PoolRow))
        numbers = self.numbers["pool"]
        for part in in_steps(rows, SMALL):
            with self.at_work.step():
                made = Pool.objects.bulk_create(Pool(course=self.course, name=row.name, position=row.position) for row in part)
            numbers.update({row.id: pool.pk for row, pool in zip(part, made, strict=True)})
        lying = [Pool(pk=numbers[row.id], parent_id=numbers[row.parent]) for row in rows if row.parent is not None]
        for some in in_steps(lying, SMALL):
            with self.at_work.step():
                save_columns(some, ["parent_id"])

    def _items(self) -> None:
        for part in in_steps(self._rows("items", Admitted), STEP):
            made = [self._item(entry) for entry in part]
            with self.at_work.step():
                Item.objects.bulk_create(made)
                for entry, item in zip(part, made, strict=True):
                    self.numbers["item"][entry.row.id] = item.pk
                    item.created, item.updated = entry.row.created, entry.row.updated
                # The moments of a row are set when it is made, whatever it says of them.
                save_columns(made, ["created", "updated"])
            self.at_work.progress(len(self.numbers["item"]), 0)

    def _item(self, entry: Admitted) -> Item:
        row = entry.row
        return Item(
            course=self.course,
            pool_id=self.numbers["pool"][row.pool],
            position=row.position,
            stimulus=entry.stimulus,
            origin=row.origin,
            source=row.source,
            handed=row.handed,
            **entry.columns,
        )

    def _quizzes(self) -> None:
        rows = list(self._rows("quizzes", QuizRow))
        for some in in_steps(rows, SMALL):
            with self.at_work.step():
                made = Quiz.objects.bulk_create(Quiz(course=self.course, title=row.title, settings=row.settings) for row in some)
            self.numbers["quiz"].update({row.id: quiz.pk for row, quiz in zip(some, made, strict=True)})
        planned = [Quiz(pk=self.numbers["quiz"][row.id], plan=self._plan(row.plan)) for row in rows if row.plan]
        for quizzes in in_steps(planned, SMALL):
            with self.at_work.step():
                save_columns(quizzes, ["plan"])
        for parts in in_steps(self._rows("parts", PartRow), SMALL):
            with self.at_work.step():
                stored = Part.objects.bulk_create(self._part(row) for row in parts)
            self.numbers["part"].update({row.id: part.pk for row, part in zip(parts, stored, strict=True)})
        for entries in in_steps(self._rows("entries", PartItemRow), SMALL):
            with self.at_work.step():
                held = PartItem.objects.bulk_create(self._entry(row) for row in entries)
            self.numbers["partitem"].update({row.id: entry.pk for row, entry in zip(entries, held, strict=True)})

    def _part(self, row: PartRow) -> Part:
        said = row.model_dump(exclude={"id", "quiz", "pool", "points", "without", "picked_from"})
        return Part(
            quiz_id=self.numbers["quiz"][row.quiz],
            pool_id=None if row.pool is None else self.numbers["pool"][row.pool],
            points={str(self.numbers["item"][int(key)]): value for key, value in row.points.items()},
            without=self._items_there(row.without),
            picked_from=row.picked_from and self._draw(row.picked_from),
            **said,
        )

    def _entry(self, row: PartItemRow) -> PartItem:
        return PartItem(part_id=self.numbers["part"][row.part], item_id=self.numbers["item"][row.item], position=row.position)

    def _items_there(self, keys: list[Any]) -> list[int]:
        return [self.numbers["item"][key] for key in keys if key in self.numbers["item"]]

    def _draw(self, said: dict[str, Any]) -> dict[str, Any]:
        """A stored draw by the new numbers; a pool that is not there stays gone."""
        pool = said.get("pool")
        return said | {"pool": pool and self.numbers["pool"].get(pool, 0), "without": self._items_there(said.get("without", []))}

    def _plan(self, said: dict[str, Any]) -> dict[str, Any]:
        """A stored plan by the new numbers; quizzes that are not there are not left out."""
        known = {str(key): str(number) for key, number in self.numbers["quiz"].items()}
        apart = [known[key] for key in said.get("apart_from", []) if key in known]
        return said | {"rows": [self._draw(row) for row in said.get("rows", [])], "apart_from": apart}

    def _history(self) -> None:
        """What was done, by whom: as history of the rows that are still there. It cannot be undone here."""
        for part in in_steps(self._rows("history", OperationRow), STEP):
            with self.at_work.step():
                made = Operation.objects.bulk_create(
                    Operation(course=self.course, user=self.user, label=row.label[:300], by=row.by or "somebody", undone=row.undone)
                    for row in part
                )
                for row, operation in zip(part, made, strict=True):
                    operation.created = row.created.astimezone(UTC)
                save_columns(made, ["created"])
            changes = (change for row, operation in zip(part, made, strict=True) for change in self._changes(row, operation))
            for some in in_steps(changes, STEP):
                with self.at_work.step():
                    Change.objects.bulk_create(some)

    def _changes(self, row: OperationRow, operation: Operation) -> Iterator[Change]:
        for change in row.changes:
            yield Change(
                operation=operation,
                table=change.table,
                row=self.numbers[change.table][change.row],
                before=self._renumbered(change.before),
                after=self._renumbered(change.after),
                undone=row.undone,
            )

    def _renumbered(self, said: dict[str, Any] | None) -> dict[str, Any] | None:
        return None if said is None else {name: self._named(name, value) for name, value in said.items()}

    def _named(self, name: str, value: Any) -> Any:
        if name == "course_id":
            return self.course.pk
        if name in _NESTED and value:
            return _NESTED[name](self, value)
        table = _TABLE_OF.get(name)
        return self.numbers[table].get(value) if table and isinstance(value, int) else value


# What of a row names others within: plans, what was picked from where, what is never drawn.
_NESTED: dict[str, Callable[[Filling, Any], Any]] = {
    "plan": Filling._plan,
    "picked_from": Filling._draw,
    "without": Filling._items_there,
}
_TABLE_OF = {"pool_id": "pool", "parent_id": "pool", "item_id": "item", "quiz_id": "quiz", "part_id": "part"}

"""What is done to a selection of items at once: each says before what it will do, is one operation, and undone as one."""

from __future__ import annotations

import secrets
from collections.abc import Callable, Iterable, Iterator, Sequence
from typing import Any

from django.db.models import QuerySet
from django.shortcuts import get_object_or_404
from django.utils import timezone
from pydantic import TypeAdapter

from rogatum.core.admission import Gate
from rogatum.core.items.parts import content_fields
from rogatum.core.pools.changing import Becomes, ChangeOfMany, SetFeedback, SetMetadata, Tally, change_words, changed, tally_of
from rogatum.core.pools.subsets import random_subset
from rogatum.web.courses import rules as courses
from rogatum.web.courses.history import Recorder, WorkedOut, in_parts, worked_out
from rogatum.web.courses.models import Course
from rogatum.web.courses.rules import must
from rogatum.web.courses.services import copy_media, media_named, own_media
from rogatum.web.database.steps import Pace
from rogatum.web.errors import NotPossible
from rogatum.web.jobs.models import Job
from rogatum.web.jobs.services import CHANGING, AtWork, Staged, start_job, work
from rogatum.web.pools.bodies import MIRRORED, core_item, passage_of, set_body
from rogatum.web.pools.models import Item, Pool
from rogatum.web.pools.rules import can_see, must_edit
from rogatum.web.pools.schemas import Selection
from rogatum.web.pools.services import count_words, next_position, pool_at, refuse_used, selected
from rogatum.web.pools.tree import PoolTree

# More items than this are changed by a job; of more than that, a preview looks at so many.
AT_ONCE, LOOKED_AT = 100, 5000
MOST_COPIED = 100_000
STRETCH = 400
# How many items one short transaction of a job writes.
STEP = 50
_CHANGE: TypeAdapter[ChangeOfMany] = TypeAdapter(ChangeOfMany)


# Changing what items say


def tally(course: Course, user: Any, selection: Selection, change: ChangeOfMany) -> tuple[Tally, int, int]:
    """What a change would do, how many items are selected, and how many of them were looked at: all, or many spread over all."""
    courses.must_edit(user, course)
    rows = selected(course, selection)
    keys = list(rows.values_list("pk", flat=True))
    step = -(-len(keys) // LOOKED_AT) or 1
    looked = keys[::step]
    return tally_of(((row.pk, core_item(row)) for row in _in_order(looked)), change), len(keys), len(looked)


def _in_order(keys: list[int]) -> Iterator[Item]:
    for start in range(0, len(keys), STRETCH):
        yield from Item.objects.filter(pk__in=keys[start : start + STRETCH]).order_by("position", "pk")


def change_many(course: Course, user: Any, selection: Selection, change: ChangeOfMany) -> tuple[int, Job | None]:
    """Changes what a selection holds; returns how many items, or the job that changes them where they are many."""
    courses.must_edit(user, course)
    admitted = _admitted(course, change)
    count = selected(course, selection).count()
    if count > AT_ONCE:
        said = {"selection": selection.model_dump(mode="json"), "change": admitted.model_dump(mode="json")}
        return count, start_job(course, user, "change-items", f"{change_words(admitted)} on {count_words(count)}", said)
    told = Tally()
    found = _worked_out(selected(course, selection), admitted, told)
    with Recorder(course, user, "") as record:
        _write(found, told, record)
        record.label = f"{change_words(admitted)} on {count_words(told.changes)}"
    return told.changes, None


def _admitted(course: Course, change: ChangeOfMany) -> ChangeOfMany:
    """What a person wrote, as clean as an item must be."""
    gate = Gate(own_media(course))
    if isinstance(change, SetFeedback):
        return change.model_copy(update={"content": gate.content(change.content)})
    if isinstance(change, SetMetadata) and change.how != "remove" and not (change.values or change.how == "replace"):
        raise NotPossible("There is nothing to add.", "Type in a value.", status=422)
    return change


@work("change-items", lane=CHANGING)
def change_work(job: Job, at_work: AtWork) -> None:
    """Finds out what each item becomes, and writes it in short transactions: others can work meanwhile."""
    course, said = job.course, job.arguments
    selection, change = Selection(**said["selection"]), _CHANGE.validate_python(said["change"])
    keys = list(selected(course, selection).values_list("pk", flat=True))
    told, staged = Tally(), Staged(at_work, change_words(change))
    for part in staged.each(keys, STEP):
        found = _worked_out(_in_order(part), change, told)
        with staged.step() as record:
            _write(found, told, record)
    with staged.finishing() as (record, finish):
        record.label = f"{change_words(change)} on {count_words(told.changes)}"
        finish({"changed": told.changes, "same": told.same, "stays": sum(told.stays.values())})


def _worked_out(rows: Iterable[Item], change: ChangeOfMany, told: Tally) -> list[WorkedOut[Item]]:
    """What rows become, counted in `told`."""

    def become(row: Item) -> bool:
        item = core_item(row)
        outcome = changed(item, change)
        told.add(row.pk, item, outcome, change)
        if not isinstance(outcome, Becomes) or outcome.item == item:
            return False
        set_body(row, outcome.item.model_copy(update={"id": row.body["id"]}))
        row.updated = timezone.now()
        return True

    return worked_out(rows, become)


def _write(found: Sequence[WorkedOut[Item]], told: Tally, record: Recorder) -> None:
    counted = told.changes - len(found)
    told.changes = counted + record.put_all("item", found, Item.objects.all(), ["updated"])


# Moving, copying, deleting


def target_pool(course: Course, pool: Pool | None, name: str, record: Recorder) -> Pool:
    """The pool that items go to: the one given, or the one of this name below it, made where it is missing."""
    if name.strip():
        return pool_at(course, [name.strip()], record, pool)
    if pool is None:
        raise NotPossible("There is no pool to put them into.", "Choose one, or name a new one.", status=422)
    return pool


def move_items(course: Course, user: Any, selection: Selection, pool: Pool | None, name: str = "") -> tuple[int, Job | None]:
    """Moves items to a pool of the same course; returns how many, and the job that moves them where they are many."""
    courses.must_edit(user, course)
    if pool is not None:
        must_edit(user, pool)
        if pool.course_id != course.pk:
            raise NotPossible("That pool belongs to another course.", "Copy the items there, or choose a pool of this course.")
    rows = selected(course, selection)
    if (count := rows.count()) > AT_ONCE:
        return count, start_job(course, user, "move-items", f"Move {count_words(count)}", _told(rows, pool, name))
    with Recorder(course, user, "") as record:
        target = target_pool(course, record.current(pool) if pool else None, name, record)
        count = move_rows(rows, target, record)
        record.label = f"Moved {count_words(count)} to {target.name}"
    return count, None


def _told(rows: QuerySet[Item], pool: Pool | None, name: str) -> dict[str, Any]:
    """What a job is told of items and of where they go: those that were selected then, whatever a filter would give later."""
    keys = list(rows.values_list("pk", flat=True))
    return {"items": keys, "pool": pool and pool.pk, "name": name, "to": name.strip() or (pool.name if pool else "")}


def move_rows(rows: QuerySet[Item], target: Pool, record: Recorder) -> int:
    """Moves items to a pool of their course, within an operation; returns how many."""
    known = list(rows.values_list("pk", "pool_id"))
    for part in in_parts(known, STRETCH):
        Item.objects.filter(pk__in=[key for key, _ in part]).update(pool=target)
    record.set_field("item", known, "pool_id", target.pk)
    return len(known)


# What is found out of items before the lock, and writes them within a transaction; it returns how many.
Write = Callable[[Recorder], int]
FindOut = Callable[[QuerySet[Item]], Write]


def _in_steps(job: Job, at_work: AtWork, course: Course, label: Callable[[str], str], find_out: FindOut) -> None:
    """Does something to the items of a job, which lie in a course, in short transactions. `label` says what, told how many."""
    staged, count = Staged(at_work, job.label), 0
    for part in staged.each(job.arguments["items"], STEP):
        write = find_out(Item.objects.filter(course=course, pk__in=part))
        with staged.step() as record:
            count += write(record)
    with staged.finishing() as (record, finish):
        record.label = label(count_words(count))
        finish({"count": count})


def _pool_of(job: Job, record: Recorder) -> Pool:
    """The pool that the items of a job go to. Raises NotPossible where it is gone."""
    said = job.arguments
    pool = Pool.objects.filter(course=job.course, pk=said["pool"]).first() if said["pool"] else None
    if said["pool"] and pool is None:
        raise NotPossible("The pool that they were to go to was deleted in the meantime.", "Choose another.")
    return target_pool(job.course, pool, said["name"], record)


@work("move-items", lane=CHANGING)
def move_work(job: Job, at_work: AtWork) -> None:
    def label(items: str) -> str:
        return f"Moved {items} to {job.arguments['to']}"

    _in_steps(job, at_work, job.course, label, lambda rows: lambda record: move_rows(rows, _pool_of(job, record), record))


def copy_items(
    source: Course, user: Any, selection: Selection, target: Course, pool: Pool | None, name: str = ""
) -> tuple[int, Job | None]:
    """Copies items into a pool of a course that one may change, with feedback, pictures and passages.

    Returns how many, and the job that copies them where they are many.
    """
    must(courses.can_see(user, source) and (pool is None or (can_see(user, pool) and pool.course_id == target.pk)))
    courses.must_edit(user, target)
    rows = selected(source, selection)
    if (count := rows.count()) > MOST_COPIED:
        raise NotPossible(f"These are more than {MOST_COPIED:,} items.", "Save the course, and open it as another.", status=422)
    if count > AT_ONCE:
        said = _told(rows, pool, name) | {"from": source.pk}
        return count, start_job(target, user, "copy-items", f"Copy {count_words(count)}", said)
    copying = Copying(rows, source, target)
    with Recorder(target, user, "") as record:
        to = target_pool(target, pool, name, record)
        count = copying.of_now(rows).into(to, record)
        record.label = f"Copied {count_words(count)} to {to.name}"
    return count, None


@work("copy-items", lane=CHANGING)
def copy_work(job: Job, at_work: AtWork) -> None:
    source = get_object_or_404(courses.courses_for(job.user), pk=job.arguments["from"])

    def label(items: str) -> str:
        return f"Copied {items} to {job.arguments['to']}"

    def find_out(rows: QuerySet[Item]) -> Write:
        copying = Copying(rows, source, job.course)
        return lambda record: copying.into(_pool_of(job, record), record)

    _in_steps(job, at_work, source, label, find_out)


class Copying:
    """Items on their way into a course, with what they show: found out before the lock, and written within an operation."""

    def __init__(self, rows: Iterable[Item], source: Course, target: Course) -> None:
        self.rows, self.source, self.target = list(rows), source, target
        self.media = set[str]() if source.pk == target.pk else media_named(self._contents())

    def _contents(self) -> Iterator[str]:
        for row in self.rows:
            yield from content_fields(core_item(row))
            yield passage_of(row.stimulus)

    def of_now(self, rows: QuerySet[Item]) -> Copying:
        """These, within the operation, where the same are selected still; else those that are by now."""
        same = list(rows.values_list("pk", flat=True)) == [row.pk for row in self.rows]
        return self if same else Copying(rows.all(), self.source, self.target)

    def into(self, pool: Pool, record: Recorder) -> int:
        """Writes all of them into one pool; returns how many."""
        return len(self.write(lambda _row: pool, record))

    def write(self, pool_of: Callable[[Item], Pool], record: Recorder) -> list[Item]:
        """Writes them into the pools that each is to lie in; returns the copies, in the same order."""
        if self.media:
            copy_media(self.source, self.target, self.media)
        position = next_position(self.target)
        made = [
            Item(
                course=self.target,
                pool=pool_of(row),
                position=position + number,
                stimulus=row.stimulus,
                **_carried(row),
                origin=_from(row, self.source),
            )
            for number, row in enumerate(self.rows)
        ]
        Item.objects.bulk_create(made, batch_size=STRETCH)
        record.created("item", made)
        return made


def _carried(row: Item) -> dict[str, Any]:
    return {name: getattr(row, name) for name in (*MIRRORED, "source")}


def _from(row: Item, source: Course) -> str:
    return (row.origin or f"copied from {source.name}")[:400]


def delete_items(course: Course, user: Any, selection: Selection) -> tuple[int, Job | None]:
    """Deletes items, which no quiz may have; returns how many, and the job that deletes them where they are many."""
    courses.must_edit(user, course)
    rows = selected(course, selection)
    if (count := rows.count()) > AT_ONCE:
        refuse_used(course, rows)
        said = {"items": list(rows.values_list("pk", flat=True))}
        return count, start_job(course, user, "delete-items", f"Delete {count_words(count)}", said)
    with Recorder(course, user, "") as record:
        count = _delete(rows, record)
        record.label = f"Deleted {count_words(count)}"
    return count, None


def _delete(rows: QuerySet[Item], record: Recorder) -> int:
    refuse_used(record.course, rows)
    return record.delete(rows)


@work("delete-items", lane=CHANGING)
def delete_work(job: Job, at_work: AtWork) -> None:
    _in_steps(job, at_work, job.course, lambda items: f"Deleted {items}", lambda rows: lambda record: _delete(rows, record))


def delete_pool(pool: Pool, user: Any) -> Job | None:
    """Deletes a pool with its sub-pools and items, which undo brings back; returns the job that does where they are many."""
    must_edit(user, pool)
    keys, rows = _lying_in(pool)
    if rows.count() > AT_ONCE:
        refuse_used(pool.course, rows, keys, pool.name)
        return start_job(pool.course, user, "delete-pool", f"Delete the pool {pool.name}", {"pool": pool.pk})
    with Recorder(pool.course, user, f"Deleted the pool {pool.name}") as record:
        _delete_pool(record.current(pool), record)
    return None


def _lying_in(pool: Pool) -> tuple[list[int], QuerySet[Item]]:
    """A pool and those below it, by their numbers, and the items that lie in them."""
    keys = PoolTree(pool.course_id).below(pool.pk)
    return keys, Item.objects.filter(pool_id__in=keys)


def _delete_pool(pool: Pool, record: Recorder) -> None:
    keys, rows = _lying_in(pool)
    refuse_used(pool.course, rows, keys, pool.name)
    record.delete([pool])


@work("delete-pool", lane=CHANGING)
def delete_pool_work(job: Job, at_work: AtWork) -> None:
    """First the items, in short transactions, then the pools."""
    pool = get_object_or_404(Pool.objects.select_related("course"), pk=job.arguments["pool"], course=job.course)
    staged, deleted = Staged(at_work, f"Deleted the pool {pool.name}"), 0
    lying = _lying_in(pool)[1]
    count, pace = lying.count(), Pace(STEP)
    while keys := list(lying.order_by("pk").values_list("pk", flat=True)[: pace.next()]):
        with staged.step() as record:
            deleted += _delete(Item.objects.filter(pk__in=keys), record)
        at_work.progress(deleted, count)
    with staged.finishing() as (record, finish):
        _delete_pool(record.current(pool), record)
        finish({"count": deleted})


# A choice by chance


def choose_subset(
    course: Course, user: Any, selection: Selection, count: int, seed: int | None, spread: str
) -> tuple[list[int], int, int]:
    """So many items of a selection by chance, the seed that makes the choice again, and how many there were."""
    must(courses.can_see(user, course))
    rows: QuerySet[Item] = selected(course, selection)
    known = list(rows.values_list("pk", *([spread] if spread else [])))
    keys = [entry[0] for entry in known]
    groups = {entry[0]: str(entry[1]) for entry in known} if spread else None
    seed = secrets.randbelow(1_000_000) if seed is None else seed
    return random_subset(keys, count, seed, groups), seed, len(keys)

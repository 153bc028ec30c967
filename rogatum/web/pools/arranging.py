"""The tree of pools put in order: places, merging, names by pattern, empty ones; and what was deleted, brought back."""

from __future__ import annotations

import re
from collections import Counter
from collections.abc import Iterator, Sequence
from typing import Any

from django.db.models import Count, Q
from django.dispatch import Signal
from django.shortcuts import get_object_or_404
from django.utils import timezone

from rogatum.web.courses import rules as courses
from rogatum.web.courses.history import Recorder, fields_of
from rogatum.web.courses.models import Course, Operation
from rogatum.web.courses.rules import can_see, must
from rogatum.web.courses.services import KEPT_FOR
from rogatum.web.database.steps import Pace
from rogatum.web.errors import NotPossible
from rogatum.web.jobs.models import Job
from rogatum.web.jobs.services import CHANGING, AtWork, Staged, start_job, work
from rogatum.web.pools import many
from rogatum.web.pools.models import Item, Pool
from rogatum.web.pools.rules import must_edit
from rogatum.web.pools.services import check_name, name_taken
from rogatum.web.pools.tree import PoolTree


def place_pool(pool: Pool, user: Any, parent: Pool | None, before: Pool | None) -> Pool:
    """Puts a pool below another (None is the top), before one of those there, or last; the others keep their order."""
    must_edit(user, pool)
    course = pool.course
    if any(other is not None and other.course_id != course.pk for other in (parent, before)):
        raise NotPossible("That pool belongs to another course.", "Choose a place in this course.")
    with Recorder(course, user, f"Moved the pool {pool.name}") as record:
        pool = record.current(pool)
        if parent is not None and parent.pk in PoolTree(course).below(pool.pk):
            raise NotPossible("A pool cannot be moved below itself.", "Choose another place.")
        check_name(course, pool.name, parent, but=pool.pk)
        level = [row for row in Pool.objects.filter(course=course, parent=parent) if row.pk != pool.pk]
        place = next((n for n, row in enumerate(level) if before is not None and row.pk == before.pk), len(level))
        level.insert(place, pool)
        made = [(row, fields_of(row)) for row in level]
        pool.parent = parent
        for position, row in enumerate(level, 1):
            row.position = position
        record.save("pool", made)
    return pool


# Sent within the operation, before `gone` is removed: with `gone`, `into` and `record`. Who names pools follows.
pool_merged = Signal()


def merge_pools(into: Pool, user: Any, others: Sequence[Pool]) -> tuple[int, Job | None]:
    """Puts items and sub-pools of other pools into one, and removes those; quizzes draw from it instead.

    Returns how many, and the job that merges them where they hold many items.
    """
    must_edit(user, into)
    course = into.course
    wanted = [other for other in others if other.pk != into.pk and other.course_id == course.pk]
    for other in wanted:
        _refuse_into_itself(other, into)
    words = f"{len(wanted)} {'pool' if len(wanted) == 1 else 'pools'} into {into.name}"
    tree = PoolTree(course)
    below = {key for other in wanted for key in tree.below(other.pk)}
    if Item.objects.filter(pool__in=below).count() > many.AT_ONCE:
        said = {"into": into.pk, "pools": [other.pk for other in wanted]}
        return len(wanted), start_job(course, user, "merge-pools", f"Merge {words}", said)
    with Recorder(course, user, f"Merged {words}") as record:
        into = record.current(into)
        for other in wanted:
            other = record.current(other)
            _refuse_into_itself(other, into)
            _merge(other, into, record)
    return len(wanted), None


def _refuse_into_itself(other: Pool, into: Pool) -> None:
    if into.pk in PoolTree(into.course_id).below(other.pk):
        raise NotPossible(f"{into.name} lies below {other.name}.", f"Merge into {other.name}, or move {into.name} first.")


@work("merge-pools", lane=CHANGING)
def merge_work(job: Job, at_work: AtWork) -> None:
    """First the items, in short transactions, then the pools, which hold next to none by then."""
    said, course = job.arguments, job.course
    into = get_object_or_404(Pool.objects.select_related("course"), pk=said["into"], course=course)
    others = list(Pool.objects.filter(course=course, pk__in=said["pools"]))
    words = f"{len(others)} {'pool' if len(others) == 1 else 'pools'} into {into.name}"
    staged, done, pace = Staged(at_work, f"Merged {words}"), 0, Pace(many.STEP)
    for other in others:
        _refuse_into_itself(other, into)
        for leaving, holding in list(_meeting(other, into)):
            lying = Item.objects.filter(pool=leaving).order_by("pk").values_list("pk", flat=True)
            while keys := list(lying[: pace.next()]):
                with staged.step() as record:
                    done += many.move_rows(Item.objects.filter(pool=leaving, pk__in=keys), record.current(holding), record)
                at_work.progress(done, done + lying.count())
        with staged.step() as record:
            other, into = record.current(other), record.current(into)
            _refuse_into_itself(other, into)
            _merge(other, into, record)
    with staged.finishing() as (_record, finish):
        finish({"count": len(others)})


def _meeting(other: Pool, into: Pool) -> Iterator[tuple[Pool, Pool]]:
    """The pools that become one, by the names of their sub-pools: each that goes, with the one that stays."""
    yield other, into
    there = {row.name: row for row in Pool.objects.filter(parent=into)}
    for child in Pool.objects.filter(parent=other):
        if child.name in there:
            yield from _meeting(child, there[child.name])


def _merge(other: Pool, into: Pool, record: Recorder) -> None:
    many.move_rows(Item.objects.filter(pool=other), into, record)
    pool_merged.send(Pool, gone=other, into=into, record=record)
    there = {row.name: row for row in Pool.objects.filter(parent=into)}
    for child in Pool.objects.filter(parent=other):
        if child.name in there:
            _merge(child, there[child.name], record)
            continue
        before = fields_of(child)
        child.parent = into
        child.save(update_fields=["parent"])
        record.changed("pool", child, before)
    record.delete([other])


_FIELD = re.compile(r"\{(\w+)\}")
_NUMBER = re.compile(r"\d+(?:\.\d+)*")


def new_names(course: Course, user: Any, keys: Sequence[int], pattern: str, find: str, replace: str) -> list[tuple[Pool, str]]:
    """What pools would be called: by a pattern of {name}, {number}, {course}, {parent}, after words were replaced in names."""
    must(can_see(user, course))
    rows = Pool.objects.filter(course=course, pk__in=keys).select_related("parent")
    found = []
    for number, pool in enumerate(rows, 1):
        name = pool.name.replace(find, replace) if find else pool.name
        own = _NUMBER.search(name)
        values = {
            "name": name,
            "number": own[0] if own else str(number),
            "course": course.name,
            "parent": pool.parent.name if pool.parent else "",
        }
        made = _FIELD.sub(lambda match, values=values: values.get(match[1], match[0]), pattern)
        found.append((pool, re.sub(r"\s+", " ", made).strip(" ,;:·/–-")[:300] or pool.name))
    return found


def rename_pools(course: Course, user: Any, keys: Sequence[int], pattern: str, find: str, replace: str) -> int:
    """Names several pools at once; returns how many have another name. Raises NotPossible where two of a level would have one."""
    courses.must_edit(user, course)
    with Recorder(course, user, "") as record:
        wanted = [(pool, name) for pool, name in new_names(course, user, keys, pattern, find, replace) if pool.name != name]
        made = [(pool, fields_of(pool)) for pool, _ in wanted]
        for pool, name in wanted:
            pool.name = name
        record.save("pool", made)
        named = Counter(Pool.objects.filter(course=course).values_list("parent", "name"))
        twin = next((name for pool, name in wanted if named[pool.parent_id, name] > 1), None)
        if twin is not None:
            raise name_taken(twin)
        record.label = f"Renamed {len(wanted)} pools"
    return len(wanted)


def remove_empty(course: Course, user: Any) -> int:
    """Removes the pools that hold no items, nor have any below them, and that no quiz draws from; returns how many."""
    courses.must_edit(user, course)
    removed = 0
    with Recorder(course, user, "") as record:
        empty = Pool.objects.filter(course=course).annotate(held=Count("items"), below=Count("children"), drawn=Count("drawn_by"))
        while rows := list(empty.filter(held=0, below=0, drawn=0)):
            removed += record.delete(rows)
        record.label = f"Removed {removed} empty {'pool' if removed == 1 else 'pools'}"
    return removed


def deleted_in(course: Course, user: Any) -> list[Operation]:
    """What was deleted in a course and can still be brought back, the newest first; with how many pools, items and sources."""
    must(can_see(user, course))
    put_away = Q(changes__table="source", changes__before__put_away=None, changes__after__put_away__gt="", changes__undone=False)
    gone = Q(changes__after__isnull=True, changes__before__isnull=False, changes__undone=False)
    rows = Operation.objects.filter(course=course, by="", job=None, created__gte=timezone.now() - KEPT_FOR)
    counted = rows.annotate(
        pools_gone=Count("changes", filter=gone & Q(changes__table="pool")),
        items_gone=Count("changes", filter=gone & Q(changes__table="item")),
        sources_gone=Count("changes", filter=put_away),
    )
    held = Q(pools_gone__gt=0) | Q(items_gone__gt=0) | Q(sources_gone__gt=0)
    return list(counted.filter(held).select_related("user").order_by("-pk")[:200])

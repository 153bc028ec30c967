"""Every change to pools and items: permission, transaction, history."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any

from django.db.models import Max, QuerySet
from django.shortcuts import get_object_or_404

from rogatum.core.admission import Gate, admit_item
from rogatum.core.items import Item as CoreItem
from rogatum.web.courses import rules as courses
from rogatum.web.courses.history import Recorder, fields_of
from rogatum.web.courses.models import Course
from rogatum.web.courses.rules import must
from rogatum.web.courses.services import own_media
from rogatum.web.errors import NotPossible
from rogatum.web.pools.bodies import set_body
from rogatum.web.pools.models import Item, Pool
from rogatum.web.pools.rules import can_edit
from rogatum.web.pools.schemas import Selection
from rogatum.web.pools.search import matching
from rogatum.web.pools.tree import PoolTree

CHUNK = 2000


def filtered(course: Course, selection: Selection) -> QuerySet[Item]:
    """The items of a course that a filter means."""
    rows = Item.objects.filter(course=course)
    if selection.pool is not None:
        pool = get_object_or_404(Pool, pk=selection.pool, course=course)
        rows = rows.filter(pool_id__in=PoolTree(course).below(pool.pk)) if selection.with_subpools else rows.filter(pool=pool)
    if selection.type:
        rows = rows.filter(type=selection.type)
    return matching(rows, selection.query) if selection.query.strip() else rows


def selected(course: Course, selection: Selection) -> QuerySet[Item]:
    if selection.all_matching:
        return filtered(course, selection)
    return Item.objects.filter(course=course, pk__in=selection.ids)


# Pools


def create_pool(course: Course, user: Any, name: str, parent: Pool | None = None) -> Pool:
    must(courses.can_edit(user, course))
    with Recorder(course, user, f"Made the pool {name}") as record:
        _check_name(course, name, parent)
        pool = Pool.objects.create(course=course, parent=parent, name=name.strip())
        record.created("pool", [pool])
    return pool


def _check_name(course: Course, name: str, parent: Pool | None, but: int | None = None) -> None:
    if not name.strip():
        raise NotPossible("A pool needs a name.", "Type one in.", status=422)
    twins = Pool.objects.filter(course=course, parent=parent, name=name.strip()).exclude(pk=but)
    if twins.exists():
        raise NotPossible(f"There is a pool called {name} here already.", "Choose another name.")


def change_pool(pool: Pool, user: Any, name: str | None, parent: Pool | None, moved: bool, version: str | None = None) -> Pool:
    """Renames a pool, or moves it below another (`parent` None is the course itself). Raises Outdated over an unseen change."""
    must(can_edit(user, pool))
    label = f"Renamed {pool.name} to {name}" if name else f"Moved the pool {pool.name}"
    with Recorder(pool.course, user, label) as record:
        pool = record.current(pool, version)
        before = fields_of(pool)
        new_parent = record.current(parent) if moved and parent is not None else None if moved else pool.parent
        _check_name(pool.course, name or pool.name, new_parent, but=pool.pk)
        if new_parent is not None and moved and new_parent.pk in PoolTree(pool.course_id).below(pool.pk):
            raise NotPossible("A pool cannot be moved below itself.", "Choose another place.")
        pool.name, pool.parent = (name or pool.name).strip(), new_parent
        pool.save()
        record.changed("pool", pool, before)
    return pool


def delete_pool(pool: Pool, user: Any) -> None:
    """Deletes a pool with its sub-pools and items; undo brings all back."""
    must(can_edit(user, pool))
    with Recorder(pool.course, user, f"Deleted the pool {pool.name}") as record:
        pool = record.current(pool)
        keys = PoolTree(pool.course_id).below(pool.pk)
        in_draws = pool.course.quizzes.filter(parts__pool_id__in=keys).values_list("title", flat=True).first()
        if in_draws:
            raise NotPossible(f"The quiz {in_draws} draws from {pool.name}.", "Take the draw out of the quiz first.")
        items = Item.objects.filter(pool_id__in=keys)
        _refuse_used(items)
        record.deleted("item", items)
        # Children behind their parents, so that undo brings parents back first.
        order = {key: place for place, key in enumerate(keys)}
        record.deleted("pool", sorted(Pool.objects.filter(pk__in=keys), key=lambda p: order[p.pk]))
        pool.delete()


def pool_at(course: Course, path: Sequence[str], record: Recorder, below: Pool | None = None) -> Pool:
    """The pool with this path, made where it is missing."""
    pool = below
    for name in path:
        found = Pool.objects.filter(course=course, parent=pool, name=name[:300]).first()
        if found is None:
            found = Pool.objects.create(course=course, parent=pool, name=name[:300])
            record.created("pool", [found])
        pool = found
    assert pool is not None
    return pool


# Items


def next_position(course: Course) -> int:
    return (Item.objects.filter(course=course).aggregate(top=Max("position"))["top"] or 0) + 1


def change_item(row: Item, user: Any, changed: CoreItem, version: str | None = None) -> Item:
    """Saves an item over the `version` that was seen. Raises Outdated where it is another by now."""
    must(can_edit(user, row))
    with Recorder(row.course, user, f"Edited “{row.text[:60]}”") as record:
        row = record.current(row, version)
        before = fields_of(row)
        set_body(row, admit_item(changed.model_copy(update={"id": row.body["id"]}), Gate(own_media(row.course))))
        row.save()
        record.changed("item", row, before)
    return row


def move_items(course: Course, user: Any, selection: Selection, target: Pool) -> int:
    """Moves items to a pool of the same course; returns how many."""
    must(courses.can_edit(user, course) and can_edit(user, target))
    if target.course_id != course.pk:
        raise NotPossible("That pool belongs to another course.", "Choose a pool of this course.")
    with Recorder(course, user, "") as record:
        target = record.current(target)
        rows = list(selected(course, selection).values_list("id", "pool_id"))
        record.label = f"Moved {_count(len(rows))} to {target.name}"
        for start in range(0, len(rows), CHUNK):
            Item.objects.filter(pk__in=[key for key, _ in rows[start : start + CHUNK]]).update(pool=target)
        record.set_field("item", rows, "pool_id", target.pk)
    return len(rows)


def set_points(course: Course, user: Any, selection: Selection, points: float) -> int:
    must(courses.can_edit(user, course))
    with Recorder(course, user, "") as record:
        rows = list(selected(course, selection).exclude(type="information"))
        record.label = f"Set points to {points:g} on {_count(len(rows))}"
        for row in rows:
            before = {"points": row.points, "body": row.body}
            row.points, row.body = points, row.body | {"points": points}
            record.changed("item", row, fields_of(row) | before)
        Item.objects.bulk_update(rows, ["points", "body"], batch_size=400)
    return len(rows)


def delete_items(course: Course, user: Any, selection: Selection) -> int:
    must(courses.can_edit(user, course))
    with Recorder(course, user, "") as record:
        rows = selected(course, selection)
        _refuse_used(rows)
        keys = list(rows.values_list("id", flat=True))
        record.label = f"Deleted {_count(len(keys))}"
        for start in range(0, len(keys), CHUNK):
            chunk = Item.objects.filter(pk__in=keys[start : start + CHUNK])
            record.deleted("item", chunk)
            chunk.delete()
    return len(keys)


def _refuse_used(rows: QuerySet[Item]) -> None:
    used = rows.filter(in_parts__isnull=False).values_list("in_parts__part__quiz__title", flat=True).first()
    if used:
        raise NotPossible(f"The quiz {used} has some of these items.", "Take them out of the quiz first.")


def _count(number: int) -> str:
    return "1 item" if number == 1 else f"{number} items"

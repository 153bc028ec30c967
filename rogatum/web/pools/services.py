"""Every change to pools and items: permission, transaction, history."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from typing import Any

from django.db.models import Max, Q, QuerySet
from django.shortcuts import get_object_or_404

from rogatum.core.admission import Gate, admit_item
from rogatum.core.items import Item as CoreItem
from rogatum.web.courses import rules as courses
from rogatum.web.courses.history import Recorder, fields_of, in_parts, worked_out
from rogatum.web.courses.models import Course
from rogatum.web.courses.rules import must
from rogatum.web.courses.services import own_media
from rogatum.web.errors import NotPossible
from rogatum.web.pools.bodies import set_body
from rogatum.web.pools.filters import filtered
from rogatum.web.pools.models import Item, KeptFilter, Pool
from rogatum.web.pools.rules import must_edit
from rogatum.web.pools.schemas import ItemFilter, Selection, Sort
from rogatum.web.pools.tree import Path, PoolTree

CHUNK = 2000


def selected(course: Course, selection: Selection) -> QuerySet[Item]:
    """The items that a selection holds; those of another course never."""
    if selection.all_matching:
        return filtered(course, selection).exclude(pk__in=selection.without)
    return Item.objects.filter(course=course, pk__in=selection.ids)


SHOWN = (
    "id pool_id type text title points outcome difficulty source picture formula feedback findings advice handed updated".split()
)


def page_of(rows: QuerySet[Item], sort: Sort, descending: bool, offset: int, size: int) -> list[dict[str, Any]]:
    """A page of a list in order, as its columns. The page is found by an index alone, and only its own rows are read."""
    order = [f"{'-' if descending else ''}{sort}", "position", "id"] if sort != "position" else ["position", "id"]
    keys = list(rows.order_by(*order).values_list("pk", flat=True)[offset : offset + size])
    found = {row["id"]: row for row in Item.objects.filter(pk__in=keys).values(*SHOWN)}
    return [found[key] for key in keys if key in found]


# Pools


def create_pool(course: Course, user: Any, name: str, parent: Pool | None = None) -> Pool:
    courses.must_edit(user, course)
    with Recorder(course, user, f"Made the pool {name}") as record:
        check_name(course, name, parent)
        pool = Pool.objects.create(course=course, parent=parent, name=name.strip(), position=last_place(course, parent))
        record.created("pool", [pool])
    return pool


def check_name(course: Course, name: str, parent: Pool | None, but: int | None = None) -> None:
    if not name.strip():
        raise NotPossible("A pool needs a name.", "Type one in.", status=422)
    twins = Pool.objects.filter(course=course, parent=parent, name=name.strip()).exclude(pk=but)
    if twins.exists():
        raise name_taken(name)


def name_taken(name: str) -> NotPossible:
    return NotPossible(f"There is a pool called {name} here already.", "Choose another name.")


def change_pool(pool: Pool, user: Any, name: str | None, parent: Pool | None, moved: bool, version: str | None = None) -> Pool:
    """Renames a pool, or moves it below another (`parent` None is the course itself). Raises Outdated over an unseen change."""
    must_edit(user, pool)
    label = f"Renamed {pool.name} to {name}" if name else f"Moved the pool {pool.name}"
    with Recorder(pool.course, user, label) as record:
        pool = record.current(pool, version)
        before = fields_of(pool)
        new_parent = record.current(parent) if moved and parent is not None else None if moved else pool.parent
        check_name(pool.course, name or pool.name, new_parent, but=pool.pk)
        if new_parent is not None and moved and new_parent.pk in PoolTree(pool.course_id).below(pool.pk):
            raise NotPossible("A pool cannot be moved below itself.", "Choose another place.")
        pool.name, pool.parent = (name or pool.name).strip(), new_parent
        pool.save()
        record.changed("pool", pool, before)
    return pool


def last_place(course: Course, parent: Pool | None) -> int:
    """Where a new pool comes: last where those of its level were put in order by hand, else by its name."""
    return _behind(Pool.objects.filter(course=course, parent=parent).aggregate(top=Max("position"))["top"])


def _behind(last: int | None) -> int:
    return last + 1 if last else 0


def pool_at(course: Course, path: Sequence[str], record: Recorder, below: Pool | None = None) -> Pool:
    """The pool with this path below another, or in the course, made where it is missing."""
    pool = pools_at(course, [path], record, below)[tuple(path)] if path else below
    assert pool is not None
    return pool


def pools_at(course: Course, paths: Iterable[Sequence[str]], record: Recorder, below: Pool | None = None) -> dict[Path, Pool]:
    """The pools with these paths, made where they are missing: in some queries for each level, however many they are."""
    paths, found = [tuple(path) for path in paths], dict[Path, Pool]()
    for depth in range(1, max(map(len, paths), default=0) + 1):
        level = {path[:depth]: found.get(path[: depth - 1], below) for path in paths if len(path) >= depth}
        for part in in_parts(level.items(), CHUNK):
            found |= _level_at(course, part, record)
    return found


def _level_at(course: Course, level: Sequence[tuple[Path, Pool | None]], record: Recorder) -> dict[Path, Pool]:
    """The pools with these paths, of which each comes with the pool that it lies in."""
    holders = {holder.pk for _, holder in level if holder}
    names = {path[-1][:300] for path, _ in level}
    lying = Q(parent__in=holders) | (Q(parent=None) if any(holder is None for _, holder in level) else Q())
    rows = Pool.objects.filter(lying, course=course)
    there = {(row.parent_id, row.name): row for row in reversed(rows.filter(name__in=names))}
    places = dict(rows.order_by().values_list("parent").annotate(Max("position")))
    fresh: dict[tuple[int | None, str], Pool] = {}
    found = {path: (holder and holder.pk, path[-1][:300]) for path, holder in level}
    for key in found.values():
        if key not in there and key not in fresh:
            parent, name = key
            places[parent] = place = _behind(places.get(parent))
            fresh[key] = Pool(course=course, parent_id=parent, name=name, position=place)
    Pool.objects.bulk_create(fresh.values())
    record.created("pool", fresh.values())
    there |= fresh
    return {path: there[key] for path, key in found.items()}


# Items


def next_position(course: Course) -> int:
    return (Item.objects.filter(course=course).aggregate(top=Max("position"))["top"] or 0) + 1


def change_item(row: Item, user: Any, changed: CoreItem, version: str | None = None) -> Item:
    """Saves an item over the `version` that was seen. Raises Outdated where it is another by now."""
    must_edit(user, row)
    label = f"Edited “{row.text[:60]}”"
    item = admit_item(changed.model_copy(update={"id": row.body["id"]}), Gate(own_media(row.course)))
    [found] = worked_out([row], lambda now: set_body(now, item))
    with Recorder(row.course, user, label) as record:
        return record.put("item", found, version)


def quizzes_using(course: Course, rows: QuerySet[Item], drawn_from: Sequence[int] = ()) -> list[str]:
    """The titles of the quizzes that have some of these items, or draw from one of these pools."""
    quizzes = course.quizzes
    fixed = quizzes.filter(parts__entries__item__in=rows).values_list("title", flat=True)
    drawn = quizzes.filter(parts__pool_id__in=drawn_from).values_list("title", flat=True)
    return sorted({*fixed, *drawn})


def refuse_used(course: Course, rows: QuerySet[Item], drawn_from: Sequence[int] = (), what: str = "") -> None:
    """Raises NotPossible where quizzes use what is to be deleted, and names them all."""
    using = quizzes_using(course, rows, drawn_from)
    if using:
        named = f"{'The quiz' if len(using) == 1 else 'The quizzes'} {', '.join(using)} {'uses' if len(using) == 1 else 'use'}"
        out = "Take it out of the quiz first." if len(using) == 1 else "Take it out of the quizzes first."
        raise NotPossible(f"{named} {what or 'some of these items'}.", out)


def count_words(number: int) -> str:
    return "1 item" if number == 1 else f"{number:,} items"


def keep_filter(course: Course, user: Any, name: str, wanted: ItemFilter) -> KeptFilter:
    """Keeps a filter of one's own for a course; one of that name is replaced. Readers may keep theirs too."""
    must(courses.can_see(user, course))
    row, _ = KeptFilter.objects.update_or_create(
        course=course, user=user, name=name, defaults={"filter": wanted.model_dump(mode="json", exclude_defaults=True)}
    )
    return row


def forget_filter(course: Course, user: Any, filter_id: int) -> None:
    """Forgets a filter that one kept. Raises a 404 for one of others."""
    must(courses.can_see(user, course))
    get_object_or_404(KeptFilter, pk=filter_id, course=course, user__pk=user.pk).delete()

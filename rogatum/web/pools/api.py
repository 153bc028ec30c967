"""Pools and items."""

from __future__ import annotations

from typing import Any

from django.db.models import Count, Q
from django.http import HttpRequest
from django.shortcuts import get_object_or_404
from ninja import Query, Router

from rogatum.core.pools.columns import findings_of
from rogatum.web.bounds import Id, Limit, Offset
from rogatum.web.courses.history import version_of
from rogatum.web.courses.schemas import Counted, Done
from rogatum.web.courses.services import KEPT_FOR, course_for
from rogatum.web.errors import Conflict
from rogatum.web.jobs.schemas import CountedOrJob
from rogatum.web.pools import arranging, item_page, many, services
from rogatum.web.pools.alike import pairs_for
from rogatum.web.pools.alike_api import pair_row
from rogatum.web.pools.bodies import core_item
from rogatum.web.pools.circles import cut
from rogatum.web.pools.filters import counts_of, filtered
from rogatum.web.pools.item_page_schemas import ItemPageOut, VersionOut
from rogatum.web.pools.many_schemas import AboutOut, DeletedOut, NameOut, NamesIn, PlaceIn, PoolsIn
from rogatum.web.pools.models import Item, KeptFilter, Pool
from rogatum.web.pools.rules import can_edit, items_for, pools_for
from rogatum.web.pools.schemas import (
    CountsOut,
    ItemEdit,
    ItemFilter,
    ItemOut,
    ItemPage,
    ItemRow,
    KeptFilterIn,
    KeptFilterOut,
    PoolChange,
    PoolDeleted,
    PoolIn,
    PoolOut,
    Sort,
)
from rogatum.web.pools.tree import PoolTree

router = Router()
PAGE = 200


@router.get("/courses/{course_id}/pools", response=list[PoolOut], operation_id="pools_list")
def list_pools(request: HttpRequest, course_id: Id) -> object:
    pools = Pool.objects.filter(course=course_for(request.user, course_id)).annotate(count=Count("items"))
    pools = pools.order_by(*Pool._meta.ordering)  # counting leaves the usual order out
    # Of a circle, which an older program let in, the first pool is shown at the top.
    cut_off = cut({pool.pk: pool.parent_id for pool in pools})
    return [_pool_out(pool, pool.count, pool.pk in cut_off) for pool in pools]


def _pool_out(pool: Pool, items: int, at_the_top: bool = False) -> PoolOut:
    return PoolOut(id=pool.pk, parent=None if at_the_top else pool.parent_id, name=pool.name, items=items, version=version_of(pool))


@router.post("/courses/{course_id}/pools", response=PoolOut, operation_id="pools_create")
def add_pool(request: HttpRequest, course_id: Id, body: PoolIn) -> object:
    course = course_for(request.user, course_id)
    parent = get_object_or_404(Pool, pk=body.parent, course=course) if body.parent else None
    pool = services.create_pool(course, request.user, body.name, parent)
    return _pool_out(pool, 0)


@router.patch("/pools/{pool_id}", response={200: PoolOut, 412: Conflict}, operation_id="pools_change")
def change_pool(request: HttpRequest, pool_id: Id, body: PoolChange) -> object:
    pool = get_object_or_404(pools_for(request.user), pk=pool_id)
    parent = get_object_or_404(Pool, pk=body.parent, course=pool.course) if body.parent else None
    changed = services.change_pool(pool, request.user, body.name, parent, body.move, body.version)
    return _pool_out(changed, changed.items.count())


@router.put("/pools/{pool_id}/place", response=PoolOut, operation_id="pools_place")
def place_pool(request: HttpRequest, pool_id: Id, body: PlaceIn) -> object:
    """Puts a pool into its place in the tree."""
    pool = get_object_or_404(pools_for(request.user), pk=pool_id)
    parent, before = (get_object_or_404(Pool, pk=key, course=pool.course) if key else None for key in (body.parent, body.before))
    placed = arranging.place_pool(pool, request.user, parent, before)
    return _pool_out(placed, placed.items.count())


@router.get("/pools/{pool_id}/about", response=AboutOut, operation_id="pools_about")
def about_pool(request: HttpRequest, pool_id: Id) -> object:
    """How many items a pool holds with those below it, and which quizzes use it."""
    pool = get_object_or_404(pools_for(request.user), pk=pool_id)
    keys = PoolTree(pool.course_id).below(pool.pk)
    rows = Item.objects.filter(pool_id__in=keys)
    return AboutOut(items=rows.count(), quizzes=services.quizzes_using(pool.course, rows, keys))


@router.delete("/pools/{pool_id}", response=PoolDeleted, operation_id="pools_delete")
def delete_pool(request: HttpRequest, pool_id: Id) -> object:
    job = many.delete_pool(get_object_or_404(pools_for(request.user), pk=pool_id), request.user)
    return PoolDeleted(job=job.pk if job else None)


@router.post("/courses/{course_id}/pools/merge", response=CountedOrJob, operation_id="pools_merge")
def merge_pools(request: HttpRequest, course_id: Id, body: PoolsIn) -> object:
    course = course_for(request.user, course_id)
    into = get_object_or_404(Pool, pk=body.into, course=course)
    others = list(Pool.objects.filter(course=course, pk__in=body.pools))
    return CountedOrJob.by(*arranging.merge_pools(into, request.user, others))


@router.post("/courses/{course_id}/pools/names", response=list[NameOut], operation_id="pools_names")
def new_names(request: HttpRequest, course_id: Id, body: NamesIn) -> object:
    """What several pools would be called."""
    course = course_for(request.user, course_id)
    found = arranging.new_names(course, request.user, body.pools, body.pattern, body.find, body.replace)
    return [NameOut(id=pool.pk, before=pool.name, after=name) for pool, name in found]


@router.post("/courses/{course_id}/pools/rename", response=Counted, operation_id="pools_rename")
def rename_pools(request: HttpRequest, course_id: Id, body: NamesIn) -> object:
    course = course_for(request.user, course_id)
    return Counted(count=arranging.rename_pools(course, request.user, body.pools, body.pattern, body.find, body.replace))


@router.post("/courses/{course_id}/pools/tidy", response=Counted, operation_id="pools_tidy")
def remove_empty_pools(request: HttpRequest, course_id: Id) -> object:
    return Counted(count=arranging.remove_empty(course_for(request.user, course_id), request.user))


@router.get("/courses/{course_id}/deleted", response=list[DeletedOut], operation_id="deleted_list")
def list_deleted(request: HttpRequest, course_id: Id) -> object:
    """What was deleted in the course and can be brought back."""
    return [
        DeletedOut(
            id=row.pk,
            label=row.label,
            by=row.user.get_username(),
            created=row.created,
            until=row.created + KEPT_FOR,
            pools=row.pools_gone,  # type: ignore[attr-defined]
            items=row.items_gone,  # type: ignore[attr-defined]
            sources=row.sources_gone,  # type: ignore[attr-defined]
        )
        for row in arranging.deleted_in(course_for(request.user, course_id), request.user)
    ]


@router.get("/courses/{course_id}/filters", response=list[KeptFilterOut], operation_id="filters_list")
def list_filters(request: HttpRequest, course_id: Id) -> object:
    """The filters that one has kept for the course."""
    rows = KeptFilter.objects.filter(course=course_for(request.user, course_id), user=request.user)
    return [KeptFilterOut(id=row.pk, name=row.name, filter=ItemFilter(**row.filter)) for row in rows]


@router.post("/courses/{course_id}/filters", response=KeptFilterOut, operation_id="filters_keep")
def keep_filter(request: HttpRequest, course_id: Id, body: KeptFilterIn) -> object:
    """Keeps a filter under a name; one of that name is replaced."""
    row = services.keep_filter(course_for(request.user, course_id), request.user, body.name, body.filter)
    return KeptFilterOut(id=row.pk, name=row.name, filter=body.filter)


@router.delete("/courses/{course_id}/filters/{filter_id}", response=Done, operation_id="filters_forget")
def forget_filter(request: HttpRequest, course_id: Id, filter_id: Id) -> object:
    services.forget_filter(course_for(request.user, course_id), request.user, filter_id)
    return Done()


@router.get("/courses/{course_id}/items", response=ItemPage, operation_id="items_list")
def list_items(
    request: HttpRequest,
    course_id: Id,
    wanted: Query[ItemFilter],
    sort: Sort = "position",
    descending: bool = False,
    offset: Offset = 0,
    limit: Limit = PAGE,
) -> object:
    course, size = course_for(request.user, course_id), min(limit, PAGE)
    rows = filtered(course, wanted)
    page = services.page_of(rows, sort, descending, offset, size)
    return ItemPage(total=rows.count(), offset=offset, size=size, rows=[ItemRow(pool=row.pop("pool_id"), **row) for row in page])


@router.get("/courses/{course_id}/items/counts", response=CountsOut, operation_id="items_counts")
def count_items(request: HttpRequest, course_id: Id, wanted: Query[ItemFilter]) -> object:
    """How many items each value of each condition of a filter leaves."""
    return CountsOut(counts=counts_of(course_for(request.user, course_id), wanted))


@router.get("/items/{item_id}", response=ItemOut, operation_id="items_get")
def get_item(request: HttpRequest, item_id: Id) -> object:
    return item_out(get_object_or_404(items_for(request.user), pk=item_id))


def item_out(row: Any) -> ItemOut:
    item = core_item(row)
    return ItemOut(
        id=row.pk,
        pool=row.pool_id,
        path=list(PoolTree(row.course_id).path(row.pool_id)),
        origin=row.origin,
        item=item,
        stimulus=(row.stimulus or {}).get("content"),
        findings=findings_of(item),
        version=version_of(row),
    )


@router.put("/items/{item_id}", response={200: ItemOut, 412: Conflict}, operation_id="items_change")
def change_item(request: HttpRequest, item_id: Id, body: ItemEdit) -> object:
    row = get_object_or_404(items_for(request.user), pk=item_id)
    return item_out(services.change_item(row, request.user, body.item, body.version))


@router.get("/items/{item_id}/page", response=ItemPageOut, operation_id="items_page")
def get_item_page(request: HttpRequest, item_id: Id) -> object:
    """All that is known of an item."""
    row = get_object_or_404(items_for(request.user).select_related("course__owner"), pk=item_id)
    alike = pairs_for(request.user).filter(Q(a=row) | Q(b=row))
    return ItemPageOut(
        item=item_out(row),
        course=row.course_id,
        course_name=row.course.name,
        owner=row.course.owner.get_username(),
        editable=can_edit(request.user, row),
        advice=item_page.advice_on(row),
        came_from=item_page.came_from(row),
        used=item_page.used_in(row),
        handed=row.handed,
        updated=row.updated,
        alike=[pair_row(pair) for pair in alike],
        versions=[_version_out(version) for version in item_page.versions_of(row, request.user)],
    )


def _version_out(version: item_page.Version) -> VersionOut:
    operation = version.change.operation
    return VersionOut(
        operation=operation.pk,
        label=operation.label,
        by=operation.by or operation.user.get_username(),
        created=operation.created,
        undone=operation.undone,
        lines=version.lines,
        moved=version.moved,
        restorable=version.restorable,
    )


@router.post("/items/{item_id}/versions/{operation_id}", response=ItemOut, operation_id="items_restore")
def restore_item(request: HttpRequest, item_id: Id, operation_id: Id) -> object:
    """Brings an item back as it was before an operation changed it."""
    row = get_object_or_404(items_for(request.user), pk=item_id)
    return item_out(item_page.restore_version(row, request.user, operation_id))

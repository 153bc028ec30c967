"""Pools and items."""

from __future__ import annotations

from typing import Any

from django.db.models import Count
from django.http import HttpRequest
from django.shortcuts import get_object_or_404
from ninja import Router

from rogatum.core.admission import missing_media
from rogatum.core.checks import check_item
from rogatum.core.items import Cloze
from rogatum.core.items.changes import with_blanks_of_stem, with_shares
from rogatum.core.items.key import set_key
from rogatum.core.items.number_forms import turned
from rogatum.core.items.retyping import as_type, blank_as
from rogatum.web.bounds import Id, Limit, Offset, Words
from rogatum.web.courses.history import version_of
from rogatum.web.courses.models import Change
from rogatum.web.courses.services import course_for
from rogatum.web.errors import Conflict
from rogatum.web.pools import services
from rogatum.web.pools.bodies import core_item
from rogatum.web.pools.models import Pool
from rogatum.web.pools.rules import items_for, pools_for
from rogatum.web.pools.schemas import (
    BlankIn,
    BlankOut,
    Counted,
    Done,
    HistoryEntry,
    ItemBodyIn,
    ItemEdit,
    ItemOut,
    ItemPage,
    ItemRow,
    KeyIn,
    KeyOut,
    MoveIn,
    NumberBody,
    PointsIn,
    PoolChange,
    PoolIn,
    PoolOut,
    RetypedOut,
    RetypeIn,
    Selection,
    SharesIn,
)
from rogatum.web.pools.tree import PoolTree

router = Router()
PAGE = 200


@router.get("/courses/{course_id}/pools", response=list[PoolOut], operation_id="pools_list")
def list_pools(request: HttpRequest, course_id: Id) -> object:
    pools = Pool.objects.filter(course=course_for(request.user, course_id)).annotate(count=Count("items"))
    return [_pool_out(pool, pool.count) for pool in pools]


def _pool_out(pool: Pool, items: int) -> PoolOut:
    return PoolOut(id=pool.pk, parent=pool.parent_id, name=pool.name, items=items, version=version_of(pool))


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


@router.delete("/pools/{pool_id}", response=Done, operation_id="pools_delete")
def delete_pool(request: HttpRequest, pool_id: Id) -> object:
    services.delete_pool(get_object_or_404(pools_for(request.user), pk=pool_id), request.user)
    return Done()


@router.get("/courses/{course_id}/items", response=ItemPage, operation_id="items_list")
def list_items(
    request: HttpRequest,
    course_id: Id,
    pool: Id | None = None,
    with_subpools: bool = True,
    query: Words = "",
    type: Words = "",
    offset: Offset = 0,
    limit: Limit = PAGE,
) -> object:
    course = course_for(request.user, course_id)
    selection = Selection(pool=pool, with_subpools=with_subpools, query=query, type=type)
    rows = services.filtered(course, selection)
    page = rows.values("id", "pool_id", "type", "text", "title", "points", "outcome", "difficulty")[
        offset : offset + min(limit, PAGE)
    ]
    return ItemPage(
        total=rows.count(), offset=offset, size=min(limit, PAGE), rows=[ItemRow(pool=row.pop("pool_id"), **row) for row in page]
    )


@router.get("/items/{item_id}", response=ItemOut, operation_id="items_get")
def get_item(request: HttpRequest, item_id: Id) -> object:
    return _item_out(get_object_or_404(items_for(request.user), pk=item_id))


def _item_out(row: Any) -> ItemOut:
    item = core_item(row)
    return ItemOut(
        id=row.pk,
        pool=row.pool_id,
        path=list(PoolTree(row.course_id).path(row.pool_id)),
        origin=row.origin,
        item=item,
        stimulus=(row.stimulus or {}).get("content"),
        findings=[*check_item(item), *missing_media(item)],
        version=version_of(row),
    )


@router.put("/items/{item_id}", response={200: ItemOut, 412: Conflict}, operation_id="items_change")
def change_item(request: HttpRequest, item_id: Id, body: ItemEdit) -> object:
    row = get_object_or_404(items_for(request.user), pk=item_id)
    return _item_out(services.change_item(row, request.user, body.item, body.version))


@router.get("/items/{item_id}/history", response=list[HistoryEntry], operation_id="items_history")
def item_history(request: HttpRequest, item_id: Id) -> object:
    row = get_object_or_404(items_for(request.user), pk=item_id)
    changes = Change.objects.filter(table="item", row=row.pk, operation__course=row.course).select_related("operation")
    return [
        HistoryEntry(
            label=change.operation.label,
            created=change.operation.created,
            undone=change.operation.undone,
            fields=sorted(set(change.after or {}) - {"text", "digest"}) if change.before else [],
        )
        for change in changes.order_by("-id")
    ]


@router.post("/courses/{course_id}/items/move", response=Counted, operation_id="items_move")
def move_items(request: HttpRequest, course_id: Id, body: MoveIn) -> object:
    course = course_for(request.user, course_id)
    target = get_object_or_404(pools_for(request.user), pk=body.pool)
    return Counted(count=services.move_items(course, request.user, body.selection, target))


@router.post("/courses/{course_id}/items/points", response=Counted, operation_id="items_points")
def set_points(request: HttpRequest, course_id: Id, body: PointsIn) -> object:
    course = course_for(request.user, course_id)
    return Counted(count=services.set_points(course, request.user, body.selection, body.points))


@router.post("/courses/{course_id}/items/delete", response=Counted, operation_id="items_delete")
def delete_items(request: HttpRequest, course_id: Id, body: Selection) -> object:
    return Counted(count=services.delete_items(course_for(request.user, course_id), request.user, body))


@router.post("/item-key", response=KeyOut, operation_id="items_set_key")
def set_item_key(request: HttpRequest, body: KeyIn) -> object:
    """An item that is being edited with another key; nothing is stored."""
    return KeyOut(item=set_key(body.item, body.right))


@router.post("/item-type", response=RetypedOut, operation_id="items_set_type")
def set_item_type(request: HttpRequest, body: RetypeIn) -> object:
    """An item that is being edited as another type, with what stays and what goes; nothing is stored."""
    made = as_type(body.item, body.type)
    return RetypedOut(item=made.item, stays=made.stays, goes=made.goes)


@router.post("/item-blanks", response=KeyOut, operation_id="items_set_blanks")
def set_item_blanks(request: HttpRequest, body: ItemBodyIn) -> object:
    """A cloze that is being edited with the blanks that its stem has; another type as it is. Nothing is stored."""
    return KeyOut(item=with_blanks_of_stem(body.item) if isinstance(body.item, Cloze) else body.item)


@router.post("/item-blank", response=BlankOut, operation_id="items_set_blank_kind")
def set_blank_kind(request: HttpRequest, body: BlankIn) -> object:
    """A blank that is being edited as another kind; nothing is stored."""
    return BlankOut(blank=blank_as(body.blank, body.kind))


@router.post("/item-shares", response=KeyOut, operation_id="items_set_shares")
def set_item_shares(request: HttpRequest, body: SharesIn) -> object:
    """A matching that is being edited with shares of its pairs, or none; nothing is stored."""
    return KeyOut(item=with_shares(body.item, body.own))


@router.post("/item-number", response=NumberBody, operation_id="items_turn_number")
def turn_number(request: HttpRequest, body: NumberBody) -> object:
    """A number that is accepted as a range where it was a value, and the other way round; nothing is stored."""
    return NumberBody(answer=turned(body.answer))

"""Pools and items."""

from __future__ import annotations

from datetime import datetime
from typing import Any

from django.db.models import Count
from django.http import HttpRequest
from django.shortcuts import get_object_or_404
from ninja import Router, Schema

from rogatum.core.checks import check_item
from rogatum.core.findings import Finding
from rogatum.core.items import Item as CoreItem
from rogatum.web.courses.models import Change
from rogatum.web.courses.services import course_for
from rogatum.web.pools import services
from rogatum.web.pools.bodies import core_item
from rogatum.web.pools.models import Pool
from rogatum.web.pools.services import Selection, items_for, pools_for

router = Router()
PAGE = 200


class PoolOut(Schema):
    id: int
    parent: int | None
    name: str
    items: int


class PoolIn(Schema):
    name: str
    parent: int | None = None


class PoolChange(Schema):
    name: str | None = None
    parent: int | None = None
    move: bool = False


class ItemRow(Schema):
    id: int
    pool: int
    type: str
    text: str
    title: str
    points: float | None
    outcome: str
    difficulty: str


class ItemPage(Schema):
    total: int
    offset: int
    rows: list[ItemRow]


class ItemOut(Schema):
    id: int
    pool: int
    path: list[str]
    origin: str
    item: CoreItem
    stimulus: str | None
    findings: list[Finding]


class ItemEdit(Schema):
    item: CoreItem


class MoveIn(Schema):
    selection: Selection
    pool: int


class PointsIn(Schema):
    selection: Selection
    points: float


class Counted(Schema):
    count: int


class HistoryEntry(Schema):
    label: str
    created: datetime
    undone: bool
    fields: list[str]


class Done(Schema):
    done: bool = True


@router.get("/courses/{course_id}/pools", response=list[PoolOut], operation_id="pools_list")
def list_pools(request: HttpRequest, course_id: int) -> object:
    pools = Pool.objects.filter(course=course_for(request.user, course_id)).annotate(count=Count("items"))
    return [PoolOut(id=p.pk, parent=p.parent_id, name=p.name, items=p.count) for p in pools]


@router.post("/courses/{course_id}/pools", response=PoolOut, operation_id="pools_create")
def add_pool(request: HttpRequest, course_id: int, body: PoolIn) -> object:
    course = course_for(request.user, course_id)
    parent = get_object_or_404(Pool, pk=body.parent, course=course) if body.parent else None
    pool = services.create_pool(course, request.user, body.name, parent)
    return PoolOut(id=pool.pk, parent=pool.parent_id, name=pool.name, items=0)


@router.patch("/pools/{pool_id}", response=PoolOut, operation_id="pools_change")
def change_pool(request: HttpRequest, pool_id: int, body: PoolChange) -> object:
    pool = get_object_or_404(pools_for(request.user), pk=pool_id)
    parent = get_object_or_404(Pool, pk=body.parent, course=pool.course) if body.parent else None
    changed = services.change_pool(pool, request.user, body.name, parent, body.move)
    return PoolOut(id=changed.pk, parent=changed.parent_id, name=changed.name, items=changed.items.count())


@router.delete("/pools/{pool_id}", response=Done, operation_id="pools_delete")
def delete_pool(request: HttpRequest, pool_id: int) -> object:
    services.delete_pool(get_object_or_404(pools_for(request.user), pk=pool_id), request.user)
    return Done()


@router.get("/courses/{course_id}/items", response=ItemPage, operation_id="items_list")
def list_items(
    request: HttpRequest,
    course_id: int,
    pool: int | None = None,
    with_subpools: bool = True,
    query: str = "",
    type: str = "",
    offset: int = 0,
    limit: int = PAGE,
) -> object:
    course = course_for(request.user, course_id)
    selection = Selection(pool=pool, with_subpools=with_subpools, query=query, type=type)
    rows = services.filtered(course, selection)
    page = rows.values("id", "pool_id", "type", "text", "title", "points", "outcome", "difficulty")[
        offset : offset + min(limit, PAGE)
    ]
    return ItemPage(total=rows.count(), offset=offset, rows=[ItemRow(pool=row.pop("pool_id"), **row) for row in page])


@router.get("/items/{item_id}", response=ItemOut, operation_id="items_get")
def get_item(request: HttpRequest, item_id: int) -> object:
    return _item_out(get_object_or_404(items_for(request.user).select_related("pool"), pk=item_id))


def _item_out(row: Any) -> ItemOut:
    item = core_item(row)
    return ItemOut(
        id=row.pk,
        pool=row.pool_id,
        path=services.path_of(row.pool),
        origin=row.origin,
        item=item,
        stimulus=(row.stimulus or {}).get("content"),
        findings=check_item(item),
    )


@router.put("/items/{item_id}", response=ItemOut, operation_id="items_change")
def change_item(request: HttpRequest, item_id: int, body: ItemEdit) -> object:
    row = get_object_or_404(items_for(request.user), pk=item_id)
    return _item_out(services.change_item(row, request.user, body.item))


@router.get("/items/{item_id}/history", response=list[HistoryEntry], operation_id="items_history")
def item_history(request: HttpRequest, item_id: int) -> object:
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
def move_items(request: HttpRequest, course_id: int, body: MoveIn) -> object:
    course = course_for(request.user, course_id)
    target = get_object_or_404(pools_for(request.user), pk=body.pool)
    return Counted(count=services.move_items(course, request.user, body.selection, target))


@router.post("/courses/{course_id}/items/points", response=Counted, operation_id="items_points")
def set_points(request: HttpRequest, course_id: int, body: PointsIn) -> object:
    course = course_for(request.user, course_id)
    return Counted(count=services.set_points(course, request.user, body.selection, body.points))


@router.post("/courses/{course_id}/items/delete", response=Counted, operation_id="items_delete")
def delete_items(request: HttpRequest, course_id: int, body: Selection) -> object:
    return Counted(count=services.delete_items(course_for(request.user, course_id), request.user, body))

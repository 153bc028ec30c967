"""What is done to a selection of items at once."""

from __future__ import annotations

from django.http import HttpRequest
from django.shortcuts import get_object_or_404
from ninja import Router

from rogatum.core.pools.changing import counts
from rogatum.web.bounds import Id
from rogatum.web.courses.services import course_for
from rogatum.web.jobs.schemas import CountedOrJob
from rogatum.web.pools import many
from rogatum.web.pools.many_schemas import AboutOut, ChangeManyIn, CopyIn, MoveIn, SubsetIn, SubsetOut, TallyOut
from rogatum.web.pools.models import Pool
from rogatum.web.pools.rules import pools_for
from rogatum.web.pools.schemas import Selection
from rogatum.web.pools.services import quizzes_using, selected

router = Router()


@router.post("/courses/{course_id}/items/about", response=AboutOut, operation_id="items_about")
def about_items(request: HttpRequest, course_id: Id, body: Selection) -> object:
    """How many items a selection holds, and which quizzes have some of them."""
    course = course_for(request.user, course_id)
    rows = selected(course, body)
    return AboutOut(items=rows.count(), quizzes=quizzes_using(course, rows))


@router.post("/courses/{course_id}/items/change/preview", response=TallyOut, operation_id="items_change_preview")
def preview_change(request: HttpRequest, course_id: Id, body: ChangeManyIn) -> object:
    """What a change would do to a selection."""
    told, count, looked = many.tally(course_for(request.user, course_id), request.user, body.selection, body.change)
    return TallyOut(
        selected=count,
        looked=looked,
        changes=told.changes,
        same=told.same,
        stays=counts(told.stays),
        goes=counts(told.goes),
        marks=counts(told.marks),
        examples=told.examples,
    )


@router.post("/courses/{course_id}/items/change", response=CountedOrJob, operation_id="items_change_many")
def change_many(request: HttpRequest, course_id: Id, body: ChangeManyIn) -> object:
    return CountedOrJob.by(*many.change_many(course_for(request.user, course_id), request.user, body.selection, body.change))


@router.post("/courses/{course_id}/items/move", response=CountedOrJob, operation_id="items_move")
def move_items(request: HttpRequest, course_id: Id, body: MoveIn) -> object:
    course = course_for(request.user, course_id)
    target = get_object_or_404(pools_for(request.user), pk=body.pool) if body.pool else None
    return CountedOrJob.by(*many.move_items(course, request.user, body.selection, target, body.name))


@router.post("/courses/{course_id}/items/copy", response=CountedOrJob, operation_id="items_copy")
def copy_items(request: HttpRequest, course_id: Id, body: CopyIn) -> object:
    """Copies a selection into a pool of this course or of another that one may change."""
    source, target = course_for(request.user, course_id), course_for(request.user, body.course)
    pool = get_object_or_404(Pool, pk=body.pool, course=target) if body.pool else None
    return CountedOrJob.by(*many.copy_items(source, request.user, body.selection, target, pool, body.name))


@router.post("/courses/{course_id}/items/delete", response=CountedOrJob, operation_id="items_delete")
def delete_items(request: HttpRequest, course_id: Id, body: Selection) -> object:
    return CountedOrJob.by(*many.delete_items(course_for(request.user, course_id), request.user, body))


@router.post("/courses/{course_id}/items/subset", response=SubsetOut, operation_id="items_subset")
def choose_subset(request: HttpRequest, course_id: Id, body: SubsetIn) -> object:
    """A random choice of a selection, which its seed makes again; nothing is changed."""
    course = course_for(request.user, course_id)
    ids, seed, of = many.choose_subset(course, request.user, body.selection, body.count, body.seed, body.spread)
    return SubsetOut(ids=ids, seed=seed, of=of)

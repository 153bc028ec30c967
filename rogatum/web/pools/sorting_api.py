"""Sorting a pool item by item, and splitting one."""

from __future__ import annotations

from typing import Any

from django.http import HttpRequest
from django.shortcuts import get_object_or_404
from ninja import Router

from rogatum.web.bounds import Id
from rogatum.web.courses.services import course_for
from rogatum.web.jobs.schemas import CountedOrJob
from rogatum.web.pools import sorting
from rogatum.web.pools.api import item_out
from rogatum.web.pools.models import Pool
from rogatum.web.pools.rules import pools_for
from rogatum.web.pools.sorting_schemas import (
    ExampleOut,
    GroupOut,
    SendIn,
    SortingIn,
    SortingOut,
    SplitDoneIn,
    SplitIn,
    SuggestionOut,
)

router = Router()


def _next(user: Any, body: SortingIn, sent: int | None = None) -> SortingOut:
    pool = get_object_or_404(pools_for(user), pk=body.pool)
    found = sorting.next_to_sort(pool, user, body.pools, body.skipped)
    return SortingOut(
        item=item_out(found.row) if found.row else None,
        left=found.left,
        skipped=len(set(body.skipped)),
        suggestions=[SuggestionOut(pool=s.pool, share=s.share, words=list(s.words)) for s in found.suggestions],
        sent=sent,
    )


@router.post("/sorting/next", response=SortingOut, operation_id="sorting_next")
def next_to_sort(request: HttpRequest, body: SortingIn) -> object:
    """The next item that lies in a pool itself, with what is suggested for it; nothing is changed."""
    return _next(request.user, body)


@router.post("/sorting/send", response=SortingOut, operation_id="sorting_send")
def send(request: HttpRequest, body: SendIn) -> object:
    """Sends an item to a pool, and gives the next."""
    pool, to = (get_object_or_404(pools_for(request.user), pk=key) for key in (body.pool, body.to))
    sent = sorting.send(pool, request.user, body.item, to)
    return _next(request.user, body, sent.pk)


@router.post("/courses/{course_id}/split/preview", response=list[GroupOut], operation_id="split_preview")
def propose_split(request: HttpRequest, course_id: Id, body: SplitIn) -> object:
    """Groups of what a selection holds, each with its telling words and its most typical items."""
    course = course_for(request.user, course_id)
    groups, texts = sorting.propose_split(course, request.user, body.selection, body.by, body.groups)
    return [
        GroupOut(
            name=group.name,
            words=list(group.words),
            items=list(group.items),
            examples=[ExampleOut(id=key, text=texts.get(key, "")) for key in group.examples],
        )
        for group in groups
    ]


@router.post("/courses/{course_id}/split", response=CountedOrJob, operation_id="split_do")
def split_into(request: HttpRequest, course_id: Id, body: SplitDoneIn) -> object:
    """Makes a pool of each group."""
    course = course_for(request.user, course_id)
    below = get_object_or_404(Pool, pk=body.below, course=course) if body.below else None
    return CountedOrJob.by(*sorting.split_into(course, request.user, below, body.pools))

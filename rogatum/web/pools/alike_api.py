"""Near-duplicates: pairs, both sides of one, and what is decided."""

from __future__ import annotations

from typing import Any

from django.http import HttpRequest
from ninja import Router

from rogatum.web.bounds import Id, Limit, Offset
from rogatum.web.courses.services import course_for
from rogatum.web.jobs.models import Job
from rogatum.web.jobs.schemas import JobOut
from rogatum.web.pools import alike
from rogatum.web.pools.alike_schemas import DecidedOut, DecideIn, PairOut, PairPage, PairRow, SideOut
from rogatum.web.pools.bodies import core_item
from rogatum.web.pools.models import Item, LikePair
from rogatum.web.pools.rules import can_edit
from rogatum.web.pools.services import quizzes_using

router = Router()
PAGE, MOST = 200, 1000


def pair_row(pair: LikePair) -> PairRow:
    courses = [pair.a.course.name, pair.b.course.name]
    return PairRow(id=pair.pk, percent=pair.percent, text=pair.a.text, courses=list(dict.fromkeys(courses)), decision=pair.decision)


@router.post("/courses/{course_id}/alike", response=JobOut, operation_id="alike_look")
def look_for_pairs(request: HttpRequest, course_id: Id) -> object:
    """Looks for near-duplicates in all courses that one may see."""
    return alike.start_looking(course_for(request.user, course_id), request.user)


@router.get("/alike", response=PairPage, operation_id="alike_list")
def list_pairs(
    request: HttpRequest,
    all: bool = False,
    course: Id | None = None,
    pool: Id | None = None,
    offset: Offset = 0,
    limit: Limit = PAGE,
) -> object:
    """The pairs that were found, the most alike first: the open ones, or all; of one course or pool, with what lies below it."""
    found = alike.narrowed(alike.pairs_for(request.user), request.user, course, pool)
    still = found.filter(decision="")
    wanted = found if all else still
    looks = Job.objects.filter(user=request.user, work="alike")
    last = looks.filter(state=Job.State.DONE).first()
    return PairPage(
        total=wanted.count(),
        open=still.count(),
        rows=[pair_row(pair) for pair in wanted[offset : offset + min(limit, MOST)]],
        looked=last.finished if last else None,
        running=looks.filter(state__in=[Job.State.WAITING, Job.State.RUNNING]).exists(),
    )


@router.get("/alike/{pair_id}", response=PairOut, operation_id="alike_get")
def get_pair(request: HttpRequest, pair_id: Id) -> object:
    """Both items of a pair, side by side, with where they differ."""
    pair = alike.pair_for(request.user, pair_id)
    sides, paths = alike.sides_of(pair), alike.paths_of([pair.a, pair.b])
    return PairOut(
        id=pair.pk,
        percent=pair.percent,
        decision=pair.decision,
        a=_side(request.user, pair.a, paths[pair.a.pk]),
        b=_side(request.user, pair.b, paths[pair.b.pk]),
        lines=sides.lines,
        into_a=list(sides.into_a.took),
        into_b=list(sides.into_b.took),
        changes=alike.changes_of(pair),
    )


def _side(user: Any, row: Item, path: list[str]) -> SideOut:
    return SideOut(
        id=row.pk,
        course=row.course_id,
        course_name=row.course.name,
        owner=row.course.owner.get_username(),
        path=path,
        quizzes=quizzes_using(row.course, Item.objects.filter(pk=row.pk)),
        editable=can_edit(user, row),
        item=core_item(row),
        stimulus=(row.stimulus or {}).get("content"),
        origin=row.origin,
        updated=row.updated,
    )


@router.post("/alike/{pair_id}", response=DecidedOut, operation_id="alike_decide")
def decide(request: HttpRequest, pair_id: Id, body: DecideIn) -> object:
    pair = alike.pair_for(request.user, pair_id)
    words = alike.decide(pair, request.user, body.decision)
    following = alike.pairs_for(request.user).filter(decision="").values_list("pk", flat=True).first()
    return DecidedOut(words=words, next=following)

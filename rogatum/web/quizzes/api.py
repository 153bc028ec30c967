"""Quizzes, their parts, and trying one."""

from __future__ import annotations

from dataclasses import asdict

from django.http import HttpRequest
from django.shortcuts import get_object_or_404
from ninja import Router

from rogatum.core.quizzes.figures import draw_figures
from rogatum.core.quizzes.model import Part as CorePart
from rogatum.web.bounds import Id
from rogatum.web.courses.history import version_of
from rogatum.web.courses.services import course_for
from rogatum.web.errors import Conflict
from rogatum.web.pools.models import Item
from rogatum.web.pools.rules import pools_for
from rogatum.web.pools.schemas import Selection
from rogatum.web.quizzes import services
from rogatum.web.quizzes.models import Part, Quiz
from rogatum.web.quizzes.rules import parts_for
from rogatum.web.quizzes.schemas import (
    AnswersIn,
    Counted,
    DrawIn,
    DrawOut,
    FiguresOut,
    ItemsIn,
    PartChange,
    PartItemOut,
    PartOut,
    QuizChange,
    QuizIn,
    QuizOfIn,
    QuizOut,
    QuizRow,
    ResultOut,
    TrialIn,
    TrialOut,
)
from rogatum.web.quizzes.services import Shown, quiz_for
from rogatum.web.quizzes.storing import with_parts

router = Router()


def _quiz_out(quiz: Quiz) -> QuizOut:
    now = services.shown_one(quiz)
    items = Item.objects.in_bulk([int(key) for key in now.core.item_ids()])
    rows = {str(part.pk): part for part in now.row.parts.all()}
    return QuizOut(
        id=quiz.pk,
        course=quiz.course_id,
        title=now.core.title,
        settings=now.core.settings,
        parts=[_part_out(part, rows[part.id], now, items) for part in now.core.parts],
        figures=FiguresOut(**asdict(now.figures)),
        version=version_of(now.row),
    )


def _part_out(part: CorePart, row: Part, now: Shown, items: dict[int, Item]) -> PartOut:
    fixed = [items[int(key)] for key in part.items]
    draw = DrawOut(**asdict(draw_figures(len(now.catalogue.given_by(part)), part.draw.pick))) if part.draw else None
    return PartOut(
        id=row.pk,
        kind=row.kind,
        title=part.title,
        pool=row.pool_id,
        pool_path=part.draw.pool if part.draw else [],
        pick=part.draw.pick if part.draw else 0,
        points_each=part.points_each,
        items=[
            PartItemOut(id=item.pk, type=item.type, text=item.text, points=now.catalogue.items[str(item.pk)].points_in(part))
            for item in fixed
        ],
        draw=draw,
        version=version_of(row),
    )


@router.get("/courses/{course_id}/quizzes", response=list[QuizRow], operation_id="quizzes_list")
def list_quizzes(request: HttpRequest, course_id: Id) -> object:
    course = course_for(request.user, course_id)
    return [
        QuizRow(
            id=now.row.pk,
            title=now.row.title,
            parts=len(now.core.parts),
            items=now.figures.items,
            points=now.figures.points,
        )
        for now in services.shown(list(with_parts(Quiz.objects.filter(course=course))), course)
    ]


@router.post("/courses/{course_id}/quizzes", response=QuizOut, operation_id="quizzes_create")
def add_quiz(request: HttpRequest, course_id: Id, body: QuizIn) -> object:
    return _quiz_out(services.create_quiz(course_for(request.user, course_id), request.user, body.title))


@router.get("/quizzes/{quiz_id}", response=QuizOut, operation_id="quizzes_get")
def get_quiz(request: HttpRequest, quiz_id: Id) -> object:
    return _quiz_out(quiz_for(request.user, quiz_id))


@router.patch("/quizzes/{quiz_id}", response={200: QuizOut, 412: Conflict}, operation_id="quizzes_change")
def change_quiz(request: HttpRequest, quiz_id: Id, body: QuizChange) -> object:
    return _quiz_out(services.change_quiz(quiz_for(request.user, quiz_id), request.user, body.title, body.settings, body.version))


@router.delete("/quizzes/{quiz_id}", response=Counted, operation_id="quizzes_delete")
def delete_quiz(request: HttpRequest, quiz_id: Id) -> object:
    services.delete_quiz(quiz_for(request.user, quiz_id), request.user)
    return Counted(count=1)


@router.post("/quizzes/{quiz_id}/draws", response=QuizOut, operation_id="quizzes_add_draw")
def add_draw(request: HttpRequest, quiz_id: Id, body: DrawIn) -> object:
    quiz = quiz_for(request.user, quiz_id)
    pool = get_object_or_404(pools_for(request.user), pk=body.pool)
    return _quiz_out(services.add_draw(quiz, request.user, pool, body.pick, body.points_each))


@router.post("/quizzes/{quiz_id}/items", response=QuizOut, operation_id="quizzes_add_items")
def add_items(request: HttpRequest, quiz_id: Id, body: ItemsIn) -> object:
    quiz = quiz_for(request.user, quiz_id)
    return _quiz_out(services.add_selection(quiz, request.user, body.selection or Selection(ids=body.items)))


@router.post("/courses/{course_id}/quizzes/of-items", response=QuizOut, operation_id="quizzes_of_items")
def make_quiz_of(request: HttpRequest, course_id: Id, body: QuizOfIn) -> object:
    """A new quiz of what a selection holds."""
    course = course_for(request.user, course_id)
    return _quiz_out(services.quiz_of(course, request.user, body.title, body.selection))


@router.patch("/parts/{part_id}", response={200: QuizOut, 412: Conflict}, operation_id="parts_change")
def change_part(request: HttpRequest, part_id: Id, body: PartChange) -> object:
    part = get_object_or_404(parts_for(request.user), pk=part_id)
    if body.position is not None:
        return _quiz_out(services.move_part(part, request.user, body.position))
    return _quiz_out(services.change_part(part, request.user, body.pick, body.points_each, body.set_points, body.version))


@router.delete("/parts/{part_id}", response=QuizOut, operation_id="parts_delete")
def delete_part(request: HttpRequest, part_id: Id) -> object:
    return _quiz_out(services.delete_part(get_object_or_404(parts_for(request.user), pk=part_id), request.user))


@router.post("/quizzes/{quiz_id}/trial", response=TrialOut, operation_id="quizzes_trial")
def trial(request: HttpRequest, quiz_id: Id, body: TrialIn) -> object:
    found = services.trial(quiz_for(request.user, quiz_id), request.user, body.seed)
    return TrialOut(seed=found.seed, items=found.items)


@router.post("/quizzes/{quiz_id}/mark", response=ResultOut, operation_id="quizzes_mark")
def mark_trial(request: HttpRequest, quiz_id: Id, body: AnswersIn) -> object:
    return asdict(services.mark_trial(quiz_for(request.user, quiz_id), request.user, body.seed, body.responses))

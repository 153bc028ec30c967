"""Quizzes, their parts, and trying one."""

from __future__ import annotations

from dataclasses import asdict

from django.http import HttpRequest
from django.shortcuts import get_object_or_404
from ninja import Router, Schema

from rogatum.core.quizzes.figures import draw_figures
from rogatum.core.quizzes.student import StudentItem
from rogatum.web.bounds import Id, Ids, In, Name, Pick, Points, Position, Version
from rogatum.web.courses.history import version_of
from rogatum.web.courses.services import course_for
from rogatum.web.errors import Conflict
from rogatum.web.pools.models import Item
from rogatum.web.pools.services import path_of, pools_for
from rogatum.web.quizzes import services
from rogatum.web.quizzes.models import Part, Quiz
from rogatum.web.quizzes.services import parts_for, quiz_for
from rogatum.web.quizzes.settings import QuizSettings

router = Router()


class FiguresOut(Schema):
    items: int
    points: float | None
    minutes: int
    outcomes: list[str]
    overlap: float
    worst: int
    at_least_half: float
    problems: list[str]


class DrawOut(Schema):
    pool_size: int
    overlap: float
    worst: int
    at_least_half: float
    half: int
    needed_for_quarter: int


class PartItemOut(Schema):
    id: int
    type: str
    text: str
    points: float | None


class PartOut(Schema):
    id: int
    kind: str
    title: str
    pool: int | None
    pool_path: list[str]
    pick: int
    points_each: float | None
    items: list[PartItemOut]
    draw: DrawOut | None
    version: str


class QuizRow(Schema):
    id: int
    title: str
    parts: int
    items: int
    points: float | None


class QuizOut(Schema):
    id: int
    course: int
    title: str
    settings: QuizSettings
    parts: list[PartOut]
    figures: FiguresOut
    version: str


class QuizIn(In):
    title: Name


class QuizChange(In):
    """Title and settings to save; `version` is that of the quiz that was seen, over which they are saved."""

    title: Name | None = None
    settings: QuizSettings | None = None
    version: Version | None = None


class DrawIn(In):
    pool: Id
    pick: Pick
    points_each: Points | None = None


class ItemsIn(In):
    items: Ids


class PartChange(In):
    pick: Pick | None = None
    points_each: Points | None = None
    set_points: bool = False
    position: Position | None = None
    version: Version | None = None


class TrialIn(In):
    seed: Name | None = None


class TrialOut(Schema):
    seed: str
    items: list[StudentItem]


class AnswersIn(In):
    seed: Name
    responses: dict[str, str | list[str] | dict[str, str] | None]


class MarkedOut(Schema):
    id: str
    share: float | None
    earned: float | None
    points: float
    feedback: list[str]
    key: str


class ResultOut(Schema):
    items: list[MarkedOut]
    earned: float
    points: float
    by_hand: float
    release: str


class Counted(Schema):
    count: int


def _quiz_out(quiz: Quiz) -> QuizOut:
    parts = quiz.parts.select_related("pool").prefetch_related("entries__item")
    return QuizOut(
        id=quiz.pk,
        course=quiz.course_id,
        title=quiz.title,
        settings=QuizSettings(**quiz.settings),
        parts=[_part_out(part) for part in parts],
        figures=FiguresOut(**asdict(services.figures(quiz))),
        version=version_of(quiz),
    )


def _part_out(part: Part) -> PartOut:
    draw = None
    if part.kind == Part.Kind.DRAW:
        draw = DrawOut(**asdict(draw_figures(len(services.candidates(part)), part.pick)))
    rows: list[Item] = [entry.item for entry in part.entries.all()]
    return PartOut(
        id=part.pk,
        kind=part.kind,
        title=part.title,
        pool=part.pool_id,
        pool_path=path_of(part.pool),
        pick=part.pick,
        points_each=part.points_each,
        items=[PartItemOut(id=r.pk, type=r.type, text=r.text, points=r.points) for r in rows],
        draw=draw,
        version=version_of(part),
    )


@router.get("/courses/{course_id}/quizzes", response=list[QuizRow], operation_id="quizzes_list")
def list_quizzes(request: HttpRequest, course_id: Id) -> object:
    quizzes = Quiz.objects.filter(course=course_for(request.user, course_id)).prefetch_related("parts")
    rows = []
    for quiz in quizzes:
        figures = services.figures(quiz)
        rows.append(QuizRow(id=quiz.pk, title=quiz.title, parts=len(quiz.parts.all()), items=figures.items, points=figures.points))
    return rows


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
    services.add_draw(quiz, request.user, pool, body.pick, body.points_each)
    return _quiz_out(quiz)


@router.post("/quizzes/{quiz_id}/items", response=QuizOut, operation_id="quizzes_add_items")
def add_items(request: HttpRequest, quiz_id: Id, body: ItemsIn) -> object:
    quiz = quiz_for(request.user, quiz_id)
    services.add_items(quiz, request.user, body.items)
    return _quiz_out(quiz)


@router.patch("/parts/{part_id}", response={200: QuizOut, 412: Conflict}, operation_id="parts_change")
def change_part(request: HttpRequest, part_id: Id, body: PartChange) -> object:
    part = get_object_or_404(parts_for(request.user).select_related("quiz__course"), pk=part_id)
    if body.position is not None:
        services.move_part(part, request.user, body.position)
    else:
        services.change_part(part, request.user, body.pick, body.points_each, body.set_points, body.version)
    return _quiz_out(part.quiz)


@router.delete("/parts/{part_id}", response=QuizOut, operation_id="parts_delete")
def delete_part(request: HttpRequest, part_id: Id) -> object:
    part = get_object_or_404(parts_for(request.user).select_related("quiz__course"), pk=part_id)
    quiz = part.quiz
    services.delete_part(part, request.user)
    return _quiz_out(quiz)


@router.post("/quizzes/{quiz_id}/trial", response=TrialOut, operation_id="quizzes_trial")
def trial(request: HttpRequest, quiz_id: Id, body: TrialIn) -> object:
    found = services.trial(quiz_for(request.user, quiz_id), body.seed)
    return TrialOut(seed=found.seed, items=found.items)


@router.post("/quizzes/{quiz_id}/mark", response=ResultOut, operation_id="quizzes_mark")
def mark_trial(request: HttpRequest, quiz_id: Id, body: AnswersIn) -> object:
    return asdict(services.mark_trial(quiz_for(request.user, quiz_id), body.seed, body.responses))

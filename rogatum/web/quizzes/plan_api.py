"""Plans of quizzes, items like others, and quizzes carried on."""

from __future__ import annotations

from django.http import Http404, HttpRequest
from django.shortcuts import get_object_or_404
from ninja import Router

from rogatum.core.quizzes.criteria import Draw
from rogatum.core.quizzes.plan import Plan
from rogatum.web.bounds import Id
from rogatum.web.courses.services import course_for
from rogatum.web.errors import NotPossible
from rogatum.web.pools.rules import items_for
from rogatum.web.pools.tree import PoolTree
from rogatum.web.quizzes import carrying, planning
from rogatum.web.quizzes.models import Quiz
from rogatum.web.quizzes.plan_schemas import (
    AgainIn,
    CarriedOut,
    CarryIn,
    PlanIn,
    PlanLookOut,
    PlanLookRowOut,
    PlanRowsOut,
    SectionDatesIn,
    WeightIn,
)
from rogatum.web.quizzes.rules import parts_for, quizzes_for
from rogatum.web.quizzes.schemas import PartItemOut, QuizOut
from rogatum.web.quizzes.services import quiz_for
from rogatum.web.quizzes.shown import lines_of, quiz_out, row_out

router = Router()


def _plan(quiz: Quiz, body: PlanIn) -> Plan:
    """A plan with pools of the quiz's course. Raises NotPossible for one of another."""
    tree = PoolTree(quiz.course_id)
    rows = []
    for row in body.rows:
        path = tree.path(row.pool)
        if row.pool is not None and not path:
            raise NotPossible("That pool belongs to another course, or is gone.", "Choose from this course.", status=404)
        rows.append(Draw(pool=list(path), pick=row.pick, alone=row.alone, where=row.where))
    return Plan(rows=rows, as_draws=body.as_draws, apart_from=[str(key) for key in body.apart_from], seed=body.seed)


@router.post("/quizzes/{quiz_id}/plan/look", response=PlanLookOut, operation_id="plans_look")
def look(request: HttpRequest, quiz_id: Id, body: PlanIn) -> object:
    """What of a plan can be met, and what is short; nothing is changed."""
    quiz = quiz_for(request.user, quiz_id)
    found = planning.look(quiz, request.user, _plan(quiz, body))
    rows = [
        PlanLookRowOut(label=row.label, holds=row.holds, apart=row.apart, gets=len(row.items), problem=row.problem())
        for row in found.picks
    ]
    return PlanLookOut(told=found.told, gets=sum(row.gets for row in rows), rows=rows)


@router.post("/quizzes/{quiz_id}/plan", response=QuizOut, operation_id="plans_apply")
def apply_plan(request: HttpRequest, quiz_id: Id, body: PlanIn) -> object:
    """Picks the items, or makes the draws, in the place of those that a plan made before."""
    quiz = quiz_for(request.user, quiz_id)
    return quiz_out(planning.apply_plan(quiz, request.user, _plan(quiz, body)))


@router.post("/quizzes/{quiz_id}/plan/share", response=PlanRowsOut, operation_id="plans_weigh")
def weigh(request: HttpRequest, quiz_id: Id, body: WeightIn) -> object:
    """Rows for a total over pools, by what they hold or the same of each."""
    quiz = quiz_for(request.user, quiz_id)
    rows = planning.rows_by_weight(quiz, request.user, body.total, body.pools, body.equally)
    tree = PoolTree(quiz.course_id)
    return PlanRowsOut(rows=[row_out(row, tree) for row in rows])


@router.get("/quizzes/{quiz_id}/items/{item_id}/alike", response=list[PartItemOut], operation_id="quizzes_alike")
def list_alike(request: HttpRequest, quiz_id: Id, item_id: Id) -> object:
    """Items that could stand for one of the quiz, the most like first."""
    quiz, item = quiz_for(request.user, quiz_id), get_object_or_404(items_for(request.user), pk=item_id)
    return lines_of(planning.alike(quiz, request.user, item))


@router.post("/parts/{part_id}/again", response=QuizOut, operation_id="parts_draw_again")
def draw_again(request: HttpRequest, part_id: Id, body: AgainIn) -> object:
    """Another item in the place of one that a plan picked, or one more."""
    return quiz_out(planning.draw_again(get_object_or_404(parts_for(request.user), pk=part_id), request.user, body.item))


def _chosen(request: HttpRequest, course_id: int, keys: list[int]) -> list[Quiz]:
    """Quizzes of a course, in the order in which they were chosen; a 404 where one is not there."""
    course = course_for(request.user, course_id)
    rows = {quiz.pk: quiz for quiz in quizzes_for(request.user).filter(course=course, pk__in=keys)}
    if len(rows) < len(set(keys)):
        raise Http404
    return [rows[key] for key in dict.fromkeys(keys)]


@router.post("/courses/{course_id}/quizzes/carry", response=CarriedOut, operation_id="quizzes_carry")
def carry(request: HttpRequest, course_id: Id, body: CarryIn) -> object:
    """Copies quizzes into this course or another, with all dates moved by weeks and days."""
    chosen, target = _chosen(request, course_id, body.quizzes), course_for(request.user, body.course)
    way = carrying.Way(body.weeks, body.days, body.pools, body.with_exceptions)
    made, job = carrying.carry(chosen, request.user, target, way)
    return CarriedOut(course=target.pk, quizzes=[quiz.pk for quiz in made], job=job.pk if job else None)


@router.post("/courses/{course_id}/quizzes/section", response=CarriedOut, operation_id="quizzes_section")
def give_section(request: HttpRequest, course_id: Id, body: SectionDatesIn) -> object:
    """Gives a section dates of its own in quizzes: theirs, moved."""
    made = carrying.give_section(_chosen(request, course_id, body.quizzes), request.user, body.section, body.weeks, body.days)
    return CarriedOut(course=course_id, quizzes=[quiz.pk for quiz in made])

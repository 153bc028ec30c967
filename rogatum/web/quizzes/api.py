"""Quizzes and their parts."""

from __future__ import annotations

from typing import Annotated

from django.http import HttpRequest
from django.shortcuts import get_object_or_404
from ninja import Router
from pydantic import Field

from rogatum.core.quizzes.model import Part as CorePart
from rogatum.core.quizzes.settings import Settings
from rogatum.web.bounds import Id, Name
from rogatum.web.courses.schemas import Counted, Done
from rogatum.web.courses.services import course_for
from rogatum.web.errors import Conflict
from rogatum.web.pools.rules import pools_for
from rogatum.web.pools.schemas import Selection
from rogatum.web.quizzes import patterns, services
from rogatum.web.quizzes.edits import Edit
from rogatum.web.quizzes.models import Pattern
from rogatum.web.quizzes.rules import parts_for
from rogatum.web.quizzes.schemas import (
    DrawIn,
    ItemsIn,
    PartChange,
    PatternIn,
    PatternOut,
    QuizChange,
    QuizIn,
    QuizOfIn,
    QuizOut,
    QuizRow,
    ShareIn,
    SumsOut,
)
from rogatum.web.quizzes.services import quiz_for
from rogatum.web.quizzes.shown import quiz_out, quiz_rows, sums_out

router = Router()


@router.get("/courses/{course_id}/quizzes", response=list[QuizRow], operation_id="quizzes_list")
def list_quizzes(request: HttpRequest, course_id: Id) -> object:
    return quiz_rows(course_for(request.user, course_id))


@router.post("/courses/{course_id}/quizzes", response=QuizOut, operation_id="quizzes_create")
def add_quiz(request: HttpRequest, course_id: Id, body: QuizIn) -> object:
    return quiz_out(services.create_quiz(course_for(request.user, course_id), request.user, body.title))


@router.get("/quizzes/{quiz_id}", response=QuizOut, operation_id="quizzes_get")
def get_quiz(request: HttpRequest, quiz_id: Id) -> object:
    return quiz_out(quiz_for(request.user, quiz_id))


@router.get("/quizzes/{quiz_id}/sums", response=SumsOut, operation_id="quizzes_sums")
def get_sums(request: HttpRequest, quiz_id: Id, students: Annotated[int, Field(ge=0, le=500)] = 0, format: Name = "") -> object:
    """What a quiz adds up to for a class of so many students; with a format, what of it that cannot take."""
    return sums_out(quiz_for(request.user, quiz_id), students, format)


@router.patch("/quizzes/{quiz_id}", response={200: QuizOut, 412: Conflict}, operation_id="quizzes_change")
def change_quiz(request: HttpRequest, quiz_id: Id, body: QuizChange) -> object:
    return quiz_out(services.change_quiz(quiz_for(request.user, quiz_id), request.user, body.title, body.settings, body.version))


@router.delete("/quizzes/{quiz_id}", response=Counted, operation_id="quizzes_delete")
def delete_quiz(request: HttpRequest, quiz_id: Id) -> object:
    services.delete_quiz(quiz_for(request.user, quiz_id), request.user)
    return Counted(count=1)


@router.post("/quizzes/{quiz_id}/draws", response=QuizOut, operation_id="quizzes_add_draw")
def add_draw(request: HttpRequest, quiz_id: Id, body: DrawIn) -> object:
    quiz = quiz_for(request.user, quiz_id)
    pool = get_object_or_404(pools_for(request.user), pk=body.pool) if body.pool else None
    return quiz_out(services.add_draw(quiz, request.user, pool, body.pick, body.points_each, body.where, body.alone))


@router.post("/quizzes/{quiz_id}/items", response=QuizOut, operation_id="quizzes_add_items")
def add_items(request: HttpRequest, quiz_id: Id, body: ItemsIn) -> object:
    quiz = quiz_for(request.user, quiz_id)
    return quiz_out(services.add_selection(quiz, request.user, body.selection or Selection(ids=body.items), body.title))


@router.post("/courses/{course_id}/quizzes/of-items", response=QuizOut, operation_id="quizzes_of_items")
def make_quiz_of(request: HttpRequest, course_id: Id, body: QuizOfIn) -> object:
    """A new quiz of what a selection holds."""
    course = course_for(request.user, course_id)
    return quiz_out(services.quiz_of(course, request.user, body.title, body.selection))


@router.post("/quizzes/{quiz_id}/edits", response=QuizOut, operation_id="quizzes_edit")
def edit(request: HttpRequest, quiz_id: Id, body: Edit) -> object:
    """Moves, splits, replaces, takes out, or changes several parts and items at once."""
    return quiz_out(services.edit(quiz_for(request.user, quiz_id), request.user, body))


@router.post("/quizzes/{quiz_id}/points", response=QuizOut, operation_id="quizzes_share_out")
def share_out(request: HttpRequest, quiz_id: Id, body: ShareIn) -> object:
    """Shares a total out over the quiz, or over some of its parts."""
    return quiz_out(services.share_out(quiz_for(request.user, quiz_id), request.user, body.total, body.step, body.parts))


@router.patch("/parts/{part_id}", response={200: QuizOut, 412: Conflict}, operation_id="parts_change")
def change_part(request: HttpRequest, part_id: Id, body: PartChange) -> object:
    part = get_object_or_404(parts_for(request.user), pk=part_id)
    return quiz_out(services.change_part(part, request.user, lambda core: _changed_part(core, body), body.version))


def _changed_part(part: CorePart, body: PartChange) -> CorePart:
    """The part with what was sent of it."""
    sent = {name: getattr(body, name) for name in body.model_fields_set - {"version"}}
    drawn = {name: sent.pop(name) for name in ("pick", "alone", "where") if name in sent}
    if "points_each" in sent:
        sent["points"] = {}
    if part.draw and drawn:
        sent["draw"] = part.draw.model_copy(update=drawn)
    return part.model_copy(update=sent)


@router.delete("/parts/{part_id}", response=QuizOut, operation_id="parts_delete")
def delete_part(request: HttpRequest, part_id: Id) -> object:
    return quiz_out(services.delete_part(get_object_or_404(parts_for(request.user), pk=part_id), request.user))


# Patterns of settings


def _pattern_out(pattern: Pattern) -> PatternOut:
    return PatternOut(id=pattern.pk, name=pattern.name, settings=Settings(**pattern.settings))


@router.get("/courses/{course_id}/patterns", response=list[PatternOut], operation_id="patterns_list")
def list_patterns(request: HttpRequest, course_id: Id) -> object:
    return [_pattern_out(pattern) for pattern in course_for(request.user, course_id).patterns.all()]


@router.post("/quizzes/{quiz_id}/patterns", response=PatternOut, operation_id="patterns_keep")
def keep_pattern(request: HttpRequest, quiz_id: Id, body: PatternIn) -> object:
    """Keeps the settings of a quiz as a pattern of its course."""
    return _pattern_out(patterns.keep_pattern(quiz_for(request.user, quiz_id), request.user, body.name))


@router.post("/quizzes/{quiz_id}/patterns/{pattern_id}", response=QuizOut, operation_id="patterns_put_on")
def put_pattern_on(request: HttpRequest, quiz_id: Id, pattern_id: Id) -> object:
    return quiz_out(patterns.put_on(quiz_for(request.user, quiz_id), request.user, pattern_id))


@router.delete("/courses/{course_id}/patterns/{pattern_id}", response=Done, operation_id="patterns_forget")
def forget_pattern(request: HttpRequest, course_id: Id, pattern_id: Id) -> object:
    patterns.forget_pattern(course_for(request.user, course_id), request.user, pattern_id)
    return Done()

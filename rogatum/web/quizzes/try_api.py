"""Trying a quiz as a student."""

from __future__ import annotations

from dataclasses import asdict

from django.http import HttpRequest
from ninja import Router

from rogatum.core.quizzes.telling import counts_words, refusal_words, student_rules
from rogatum.core.quizzes.terms import days_late, minutes_over
from rogatum.web.bounds import Id, Position
from rogatum.web.quizzes import trying
from rogatum.web.quizzes.services import quiz_for, zone_of
from rogatum.web.quizzes.try_schemas import (
    BeginIn,
    DrawsIn,
    DrawsOut,
    HeadingOut,
    MarkedOut,
    PageIn,
    PageOut,
    ResponsesIn,
    ReviewOut,
    ScoreOut,
    SetUpIn,
    SharedOut,
    SittingOut,
    TermsOut,
    TrialOut,
)
from rogatum.web.quizzes.trying import Score, Standing

router = Router()


def _trial_out(told: Standing) -> TrialOut:
    settings, trial = told.shown.core.settings, told.trial
    terms, course = trial.terms(settings), told.shown.row.course
    return TrialOut(
        title=told.shown.core.title,
        zone=course.time_zone,
        section=trial.section,
        student=trial.student,
        sections=list(course.sections.values_list("name", flat=True)),
        students=[own.student for own in settings.exceptions or []],
        now=told.now,
        clock_set=bool(trial.ahead),
        terms=TermsOut(**asdict(terms)),
        rules=student_rules(told.shown.core, told.shown.catalogue, terms, zone_of(course)),
        code_wanted=bool(settings.access_code),
        refusal=refusal_words(told.refusal, zone_of(course)),
        counts=told.counts,
        counts_words=counts_words(settings, terms),
        scores=[_score_out(score, told) for score in told.scores],
        sitting=_sitting_out(told),
    )


def _score_out(score: Score, told: Standing) -> ScoreOut:
    sitting, terms = score.sitting, told.trial.terms(told.shown.core.settings)
    assert sitting.submitted is not None
    return ScoreOut(
        number=score.number,
        started=sitting.started,
        submitted=sitting.submitted,
        ended=sitting.ended,
        earned=score.earned,
        points=score.points,
        by_hand=score.by_hand,
        days_late=days_late(terms, sitting.submitted),
        over=minutes_over(terms, sitting.started, sitting.submitted),
        released=sorted(score.released),
        counts=score.number in told.counting,
    )


def _sitting_out(told: Standing) -> SittingOut | None:
    sitting, page = told.trial.open, told.page
    if sitting is None or page is None:
        return None
    settings = told.shown.core.settings
    on_page = {place: number for number, places in enumerate(told.pages) for place in places}
    return SittingOut(
        number=len(told.trial.sittings),
        seed=sitting.seed,
        started=sitting.started,
        ends=told.deadline,
        page=_page_out(told),
        responses=sitting.responses,
        unanswered=[place + 1 for place in told.unanswered],
        pages_of_unanswered=[on_page[place] for place in told.unanswered],
        items=len(sitting.given),
        back=settings.navigation != "in order" and settings.submission != "item by item",
    )


def _page_out(told: Standing) -> PageOut:
    sitting, page = told.trial.open, told.page
    assert sitting is not None and page is not None
    # What a part of fixed items is called by itself says nothing to students.
    titles = {item: part.title for item, part in page.parts.items()}
    headings = {
        item: HeadingOut(title=titles[item], instructions=part.instructions)
        for item, part in page.parts.items()
        if titles[item] or part.instructions
    }
    # The quiz may have fewer pages than when the attempt began.
    number = min(sitting.page, len(told.pages) - 1)
    places = {sitting.given[place].item: place + 1 for place in told.pages[number]}
    return PageOut(number=number, of=len(told.pages), items=page.items, headings=headings, places=places)


@router.get("/quizzes/{quiz_id}/trial", response=TrialOut, operation_id="trials_get")
def come(request: HttpRequest, quiz_id: Id, again: bool = False) -> object:
    """The trial where it stands; `again` says that its page was opened anew."""
    return _trial_out(trying.come(quiz_for(request.user, quiz_id), request.user, again))


@router.put("/quizzes/{quiz_id}/trial", response=TrialOut, operation_id="trials_set_up")
def set_up(request: HttpRequest, quiz_id: Id, body: SetUpIn) -> object:
    """As whom the quiz is tried, and when."""
    quiz = quiz_for(request.user, quiz_id)
    return _trial_out(trying.set_up(quiz, request.user, body.section, body.student, body.clock, body.anew))


@router.post("/quizzes/{quiz_id}/trial/begin", response=TrialOut, operation_id="trials_begin")
def begin(request: HttpRequest, quiz_id: Id, body: BeginIn) -> object:
    return _trial_out(trying.begin(quiz_for(request.user, quiz_id), request.user, body.code, body.seed))


@router.put("/quizzes/{quiz_id}/trial/responses", response=TrialOut, operation_id="trials_answer")
def answer(request: HttpRequest, quiz_id: Id, body: ResponsesIn) -> object:
    """Keeps responses as they are given."""
    return _trial_out(trying.answer(quiz_for(request.user, quiz_id), request.user, body.responses))


@router.put("/quizzes/{quiz_id}/trial/page", response=TrialOut, operation_id="trials_turn")
def turn(request: HttpRequest, quiz_id: Id, body: PageIn) -> object:
    return _trial_out(trying.turn(quiz_for(request.user, quiz_id), request.user, body.page))


@router.post("/quizzes/{quiz_id}/trial/submit", response=TrialOut, operation_id="trials_submit")
def submit(request: HttpRequest, quiz_id: Id) -> object:
    return _trial_out(trying.submit(quiz_for(request.user, quiz_id), request.user))


@router.get("/quizzes/{quiz_id}/trial/attempts/{number}", response=ReviewOut, operation_id="trials_review")
def review(request: HttpRequest, quiz_id: Id, number: Position) -> object:
    """An attempt as its student may look at it now."""
    found = trying.review(quiz_for(request.user, quiz_id), request.user, number)
    return ReviewOut(
        number=number,
        items=found.items,
        responses=found.responses,
        marked=[MarkedOut(**asdict(entry)) for entry in found.result.items] if found.items else [],
        earned=found.result.earned,
        points=found.result.points,
        by_hand=found.result.by_hand,
        released=found.result.released,
        said=found.said,
    )


@router.post("/quizzes/{quiz_id}/draws-of-many", response=DrawsOut, operation_id="trials_draws")
def draws_of_many(request: HttpRequest, quiz_id: Id, body: DrawsIn) -> object:
    """What each of several students would get, and what each two of them share."""
    found = trying.draws_of_many(quiz_for(request.user, quiz_id), request.user, body.students, body.seed)
    shared = [SharedOut(one=one + 1, other=other + 1, items=items) for one, other, items in found.shared]
    return DrawsOut(items=found.items, texts=found.texts, shared=shared)

"""Trying a quiz as a student: the core's trial, kept for each account and quiz, so that a reload goes on where it was."""

from __future__ import annotations

import secrets
from collections.abc import Callable, Mapping
from dataclasses import dataclass, field
from datetime import datetime
from itertools import combinations
from typing import Any

from django.db import transaction
from django.utils import timezone

from rogatum.core.items import Item as CoreItem
from rogatum.core.items.one_line import line_of
from rogatum.core.quizzes import trying
from rogatum.core.quizzes.attempt import Given, Result, arranged, drawn, earned_by, mark_attempt, pages_of, parts_begun
from rogatum.core.quizzes.figures import given_parts
from rogatum.core.quizzes.marking import Response
from rogatum.core.quizzes.model import Part as CorePart
from rogatum.core.quizzes.settings import Settings
from rogatum.core.quizzes.student import StudentItem, student_item
from rogatum.core.quizzes.terms import (
    Refusal,
    after_deduction,
    counted,
    counting,
    counts_for_nothing,
    refusal_of,
    released,
    said_at_end,
)
from rogatum.core.quizzes.trying import Clock, Sitting, Trial
from rogatum.web.courses.rules import must
from rogatum.web.errors import NotPossible
from rogatum.web.pools.bodies import core_item, passage_of
from rogatum.web.pools.models import Item
from rogatum.web.quizzes.models import Quiz, Rehearsal
from rogatum.web.quizzes.rules import can_see
from rogatum.web.quizzes.services import Shown, refused_in_words, shown_one
from rogatum.web.quizzes.stock import passages_in

MOST_DRAWS = 200
# How many items are ranked for the draws of a class, over all its students.
MOST_WORK = 200_000


@dataclass(frozen=True)
class Page:
    """A page of an attempt: its items, and what stands before them of the parts that begin on it."""

    items: list[StudentItem]
    parts: dict[str, CorePart]


@dataclass
class Score:
    """What an attempt came to, as far as its student is shown it; `earned` is None where marks are not released."""

    number: int
    sitting: Sitting
    released: frozenset[str]
    earned: float | None
    points: float
    by_hand: float


@dataclass
class Standing:
    """A trial as it stands: whether an attempt may begin, the one that goes on, and those before."""

    shown: Shown
    trial: Trial
    now: datetime
    refusal: Refusal | None
    deadline: datetime | None
    scores: list[Score]
    counts: float | None
    counting: frozenset[int] = frozenset()
    page: Page | None = None
    pages: list[list[int]] = field(default_factory=list)
    unanswered: list[int] = field(default_factory=list)


def _row(quiz: Quiz, user: Any) -> Rehearsal:
    row, _ = Rehearsal.objects.get_or_create(quiz=quiz, user=user)
    return row


def _changed(quiz: Quiz, user: Any, change: Callable[[Trial, Shown], Trial]) -> Standing:
    """Stores a trial as `change` makes it, and tells how it stands."""
    must(can_see(user, quiz))
    row, shown = _row(quiz, user), shown_one(quiz)
    before, after = _after(row, shown, change)
    if after != before:
        with transaction.atomic():
            now = _row(quiz, user)
            if now.state != row.state:
                _, after = _after(now, shown, change)
            now.state = after.model_dump(mode="json")
            now.save(update_fields=["state"])
    return standing(shown, after)


def _after(row: Rehearsal, shown: Shown, change: Callable[[Trial, Shown], Trial]) -> tuple[Trial, Trial]:
    """A trial as it is and as `change` makes it."""
    before = Trial.model_validate(row.state)
    return before, refused_in_words(lambda: change(before, shown))


def come(quiz: Quiz, user: Any, again: bool) -> Standing:
    """A trial where it stands. `again` says that its page was opened anew, which ends what is to be made in one sitting."""
    real = timezone.now()
    step = trying.come_back if again else trying.caught_up
    return _changed(quiz, user, lambda trial, shown: step(trial, shown.core.settings, real))


def set_up(quiz: Quiz, user: Any, section: str, student: str, clock: Clock, anew: bool) -> Standing:
    """As whom a quiz is tried, and when; `anew` begins without the attempts so far."""
    real = timezone.now()

    def change(trial: Trial, shown: Shown) -> Trial:
        settings = shown.core.settings
        kept = [] if anew or (section, student) != (trial.section, trial.student) else trial.sittings
        wanted = trial.model_copy(update={"section": section, "student": student, "sittings": kept})
        return trying.caught_up(trying.with_clock(wanted, settings, clock, real), settings, real)

    return _changed(quiz, user, change)


def begin(quiz: Quiz, user: Any, code: str, seed: str | None) -> Standing:
    """Begins an attempt. Raises NotPossible where the rules of the quiz allow none."""
    seed, real = seed or secrets.token_hex(4), timezone.now()

    def change(trial: Trial, shown: Shown) -> Trial:
        trial = trying.caught_up(trial, shown.core.settings, real)
        return trying.begun(trial, shown.core.settings, real, code, seed, given_in(shown, seed))

    return _changed(quiz, user, change)


def given_in(shown: Shown, seed: str) -> list[Given]:
    """The items of one attempt in the order in which they are shown."""
    given = drawn(shown.core, shown.catalogue, seed)
    return arranged(shown.core, given, passages_in(shown.row.course_id, [entry.item for entry in given]), seed)


Step = Callable[[Trial, Settings, list[list[int]], datetime], Trial]


def _step(quiz: Quiz, user: Any, step: Step) -> Standing:
    real = timezone.now()

    def change(trial: Trial, shown: Shown) -> Trial:
        pages = pages_of(shown.core, trial.open.given) if trial.open else []
        return step(trial, shown.core.settings, pages, real)

    return _changed(quiz, user, change)


def answer(quiz: Quiz, user: Any, responses: Mapping[str, Response]) -> Standing:
    """Keeps responses as they are given."""
    return _step(quiz, user, lambda trial, settings, pages, real: trying.answered(trial, settings, pages, real, responses))


def turn(quiz: Quiz, user: Any, page: int) -> Standing:
    return _step(quiz, user, lambda trial, settings, pages, real: trying.turned_to(trial, settings, pages, real, page))


def submit(quiz: Quiz, user: Any) -> Standing:
    return _step(quiz, user, lambda trial, settings, _pages, real: trying.handed_in(trial, settings, real))


# How it stands


def standing(shown: Shown, trial: Trial) -> Standing:
    settings, now = shown.core.settings, trial.now(timezone.now())
    terms, end = trial.terms(settings), trying.deadline(trial, settings)
    held = _Held.of(trial)
    scores = [
        _score(number, sitting, trial, settings, now, held) for number, sitting in enumerate(trial.sittings, 1) if sitting.submitted
    ]
    # Where marks are not shown, neither is which of them counts.
    known = [score.earned for score in scores if score.earned is not None]
    marks = known if len(known) == len(scores) else []
    told = Standing(
        shown=shown,
        trial=trial,
        now=now,
        refusal=None if trial.open else refusal_of(settings, terms, trial.attempts, now, trial.used),
        deadline=end.at if end else None,
        scores=scores,
        counts=counted(marks, settings.counts),
        counting=frozenset(scores[place].number for place in counting(marks, settings.counts)),
    )
    if trial.open:
        told.pages = pages_of(shown.core, trial.open.given)
        told.page = _page(shown, trial.open, told.pages, held)
        told.unanswered = trying.unanswered(trial.open, range(len(trial.open.given)))
    return told


@dataclass(frozen=True)
class _Held:
    """The items of a trial, each asked for once."""

    items: dict[str, CoreItem]
    passages: dict[str, str]

    @classmethod
    def of(cls, trial: Trial) -> _Held:
        keys = {int(entry.item) for sitting in trial.sittings for entry in sitting.given}
        rows = {str(key): row for key, row in Item.objects.in_bulk(keys).items()}
        passages = {key: passage_of(row.stimulus) for key, row in rows.items()}
        return cls({key: core_item(row) for key, row in rows.items()}, passages)

    def of_sitting(self, sitting: Sitting) -> list[tuple[CoreItem, float]]:
        """Its items with what they are worth; what was deleted meanwhile is not there."""
        return [(self.items[entry.item], entry.points) for entry in sitting.given if entry.item in self.items]


def _score(number: int, sitting: Sitting, trial: Trial, settings: Settings, now: datetime, held: _Held) -> Score:
    terms, given = trial.terms(settings), held.of_sitting(sitting)
    assert sitting.submitted is not None
    earned = 0.0 if counts_for_nothing(settings, sitting.ended) else earned_by(given, sitting.responses)
    out = released(settings, terms, trial.attempts, now, trial.used)
    marked = mark_attempt(given, sitting.responses, out)
    return Score(
        number=number,
        sitting=sitting,
        released=out,
        earned=after_deduction(settings, terms, earned, sitting.submitted) if "show_marks" in out else None,
        points=marked.points,
        by_hand=marked.by_hand,
    )


def _page(shown: Shown, sitting: Sitting, pages: list[list[int]], held: _Held) -> Page:
    places = pages[min(sitting.page, len(pages) - 1)]
    return Page(_students_items(shown, sitting, places, held), parts_begun(shown.core, sitting.given, places))


def _students_items(shown: Shown, sitting: Sitting, places: list[int], held: _Held) -> list[StudentItem]:
    mixed = shown.core.settings.shuffle_choices is not False
    entries = [sitting.given[place] for place in places]
    return [
        student_item(held.items[e.item], e.points, f"{sitting.seed}/{e.item}", mixed, held.passages[e.item] or None)
        for e in entries
        if e.item in held.items
    ]


@dataclass
class Review:
    """An attempt that was handed in, as its student may look at it now."""

    items: list[StudentItem]
    responses: dict[str, Response]
    result: Result
    said: list[str]


def review(quiz: Quiz, user: Any, number: int) -> Review:
    """What is released of an attempt, counted from 1. Raises NotPossible where there is nothing to see yet."""
    told = come(quiz, user, again=False)
    score = next((score for score in told.scores if score.number == number), None)
    if score is None:
        raise NotPossible("This attempt has not been handed in.", "Hand it in first.", status=404)
    sitting, held = score.sitting, _Held.of(told.trial)
    result = mark_attempt(held.of_sitting(sitting), sitting.responses, score.released)
    if "show_marks" in score.released:
        result.earned = score.earned
    seen = score.released & {"show_responses", "show_right", "show_key", "show_feedback"}
    places = list(range(len(sitting.given))) if seen else []
    return Review(
        items=_students_items(told.shown, sitting, places, held),
        responses=sitting.responses if "show_responses" in score.released else {},
        result=result,
        said=said_at_end(told.shown.core.settings, score.earned, score.points) if "show_feedback" in score.released else [],
    )


# The draws of several students


@dataclass(frozen=True)
class DrawsOfMany:
    """The items that each of several students gets, each item in one line, and how many each two of them share."""

    items: list[list[str]]
    texts: dict[str, str]
    shared: list[tuple[int, int, int]]


def draws_of_many(quiz: Quiz, user: Any, students: int, seed: str) -> DrawsOfMany:
    must(can_see(user, quiz))
    shown = shown_one(quiz)
    work = students * sum(part.held for part in given_parts(shown.core, shown.catalogue))
    if work > MOST_WORK:
        raise NotPossible("These are many students over large pools.", "Draw for fewer students.", status=422)
    seeds = [f"{seed or 'class'}/{number}" for number in range(1, min(students, MOST_DRAWS) + 1)]
    drawn_items = [[entry.item for entry in drawn(shown.core, shown.catalogue, one)] for one in seeds]
    keys = {int(key) for items in drawn_items for key in items}
    stems = Item.objects.filter(pk__in=keys).values_list("id", "body__stem")
    pairs = combinations(range(len(seeds)), 2)
    return DrawsOfMany(
        drawn_items,
        {str(key): line_of(stem or "") for key, stem in stems},
        [(a, b, len(set(drawn_items[a]) & set(drawn_items[b]))) for a, b in pairs],
    )

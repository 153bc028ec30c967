"""Quizzes: every change is one of the core's, stored with its history; what a quiz adds up to is asked of the core too."""

from __future__ import annotations

import secrets
from collections.abc import Callable
from dataclasses import dataclass
from typing import Any

from django.shortcuts import get_object_or_404

from rogatum.core.admission import Gate
from rogatum.core.errors import InQuizAlready, NotInQuiz, QuizRefused
from rogatum.core.items import Item as CoreItem
from rogatum.core.items.walking import with_content
from rogatum.core.quizzes import editing
from rogatum.core.quizzes.attempt import Result, attempt, mark_attempt
from rogatum.core.quizzes.catalogue import Catalogue
from rogatum.core.quizzes.figures import Figures, figures_of_quiz
from rogatum.core.quizzes.marking import Response
from rogatum.core.quizzes.model import Quiz as CoreQuiz
from rogatum.core.quizzes.model import Settings
from rogatum.core.quizzes.student import StudentItem, student_item
from rogatum.web.courses import rules as courses
from rogatum.web.courses.history import Recorder
from rogatum.web.courses.models import Course
from rogatum.web.courses.rules import must
from rogatum.web.courses.services import own_media
from rogatum.web.errors import NotPossible
from rogatum.web.pools import rules as pools
from rogatum.web.pools.bodies import core_item
from rogatum.web.pools.models import Item, Pool
from rogatum.web.pools.schemas import Selection
from rogatum.web.pools.services import count_words, selected
from rogatum.web.pools.tree import PoolTree
from rogatum.web.quizzes.models import Part, Quiz
from rogatum.web.quizzes.rules import can_see, must_edit, quizzes_for
from rogatum.web.quizzes.storing import catalogue_for, core_quiz, store, stored_settings, with_parts

MOST_FIXED = 2000
Change = Callable[[CoreQuiz], CoreQuiz]
# What a change is called, told of the quiz before and after it.
Label = Callable[[CoreQuiz, CoreQuiz], str]
# Why a quiz refuses a change, as a status; any other reason lies in what was asked for.
_STATUS: dict[type[QuizRefused], int] = {NotInQuiz: 404, InQuizAlready: 409}


def quiz_for(user: Any, quiz_id: int) -> Quiz:
    return get_object_or_404(quizzes_for(user), pk=quiz_id)


def create_quiz(course: Course, user: Any, title: str) -> Quiz:
    courses.must_edit(user, course)
    with Recorder(course, user, f"Made the quiz {title.strip()}") as record:
        return add_quiz(course, CoreQuiz(title=title), record)


def add_quiz(course: Course, quiz: CoreQuiz, record: Recorder) -> Quiz:
    """A new quiz as the core has it, within an operation that makes it."""
    wanted = _refused_in_words(lambda: editing.with_title(quiz, quiz.title))
    row = Quiz.objects.create(course=course, title=wanted.title[:300], settings=stored_settings(wanted))
    record.created("quiz", [row])
    store(row, wanted, PoolTree(course), record)
    return row


def _refused_in_words(change: Callable[[], CoreQuiz]) -> CoreQuiz:
    try:
        return change()
    except QuizRefused as refused:
        raise NotPossible(refused.fact, refused.way_out, status=_STATUS.get(type(refused), 422)) from None


def _changed(
    quiz: Quiz, user: Any, label: str | Label, change: Change, seen: Quiz | Part | None = None, version: str | None = None
) -> Quiz:
    """Stores a quiz as `change` makes it. Raises Outdated where `seen` is another than the `version` that was seen of it."""
    must_edit(user, quiz)
    with Recorder(quiz.course, user, "") as record:
        if seen is not None and seen is not quiz:
            record.current(seen, version)
        quiz = record.current(quiz, version if seen is quiz else None)
        tree = PoolTree(quiz.course_id)
        before = core_quiz(with_parts(Quiz.objects.filter(pk=quiz.pk)).get(), tree)
        wanted = _refused_in_words(lambda: change(before))
        record.label = label if isinstance(label, str) else label(before, wanted)
        if wanted != before:
            store(quiz, wanted, tree, record)
    return quiz


def change_quiz(quiz: Quiz, user: Any, title: str | None, settings: Settings | None, version: str | None = None) -> Quiz:
    """Saves title and settings over the `version` that was seen. Raises Outdated where it is another by now."""

    def change(core: CoreQuiz) -> CoreQuiz:
        if title and title.strip():
            core = editing.with_title(core, title)
        if settings is not None:
            core = editing.with_settings(core, with_content(settings, Gate(own_media(quiz.course)).content))
        return core

    return _changed(quiz, user, f"Changed the quiz {quiz.title}", change, quiz, version)


def delete_quiz(quiz: Quiz, user: Any) -> None:
    must_edit(user, quiz)
    with Recorder(quiz.course, user, f"Deleted the quiz {quiz.title}") as record:
        quiz = record.current(quiz)
        for part in quiz.parts.all():
            record.deleted("partitem", part.entries.all())
        record.deleted("part", quiz.parts.all())
        record.deleted("quiz", [quiz])
        quiz.delete()


# Parts


def add_draw(quiz: Quiz, user: Any, pool: Pool, pick: int, points_each: float | None) -> Quiz:
    must_edit(user, quiz)
    must(pools.can_see(user, pool))
    if quiz.course_id != pool.course_id:
        raise NotPossible("That belongs to another course.", "Choose from this course.")

    def change(core: CoreQuiz) -> CoreQuiz:
        path = PoolTree(quiz.course_id).path(pool.pk)
        must(bool(path))
        return editing.with_draw(core, path, pick, points_each)

    return _changed(quiz, user, f"Added a draw of {pick} from {pool.name}", change)


def add_items(quiz: Quiz, user: Any, item_ids: list[int]) -> Quiz:
    """Adds fixed items behind the others; into the last part where that is one of fixed items."""
    return add_selection(quiz, user, Selection(ids=item_ids))


def add_selection(quiz: Quiz, user: Any, selection: Selection) -> Quiz:
    """Adds what a selection holds behind the other items; into the last part where that is one of fixed items."""
    must_edit(user, quiz)

    def label(before: CoreQuiz, after: CoreQuiz) -> str:
        count = len(after.item_ids()) - len(before.item_ids())
        return f"Added {count_words(count)} to {quiz.title}"

    return _changed(quiz, user, label, lambda core: editing.with_items(core, _held(quiz.course, selection)))


def _held(course: Course, selection: Selection) -> list[str]:
    """The items of a selection by their numbers: in the order in which they were named, else in that of the pools."""
    there = [str(key) for key in selected(course, selection).values_list("pk", flat=True)[: MOST_FIXED + 1]]
    if len(there) > MOST_FIXED:
        raise NotPossible(f"A quiz has at most {MOST_FIXED:,} fixed items.", "Choose fewer, or draw from their pool.")
    order = {str(key): place for place, key in enumerate(selection.ids)}
    return sorted(there, key=lambda key: order.get(key, 0))


def quiz_of(course: Course, user: Any, title: str, selection: Selection) -> Quiz:
    """A new quiz of what a selection holds, as one operation."""
    courses.must_edit(user, course)
    with Recorder(course, user, "") as record:
        held = _held(course, selection)
        core = _refused_in_words(lambda: editing.with_items(CoreQuiz(title=title), held))
        record.label = f"Made the quiz {title.strip()} of {count_words(len(held))}"
        return add_quiz(course, core, record)


def change_part(
    part: Part, user: Any, pick: int | None, points_each: float | None, set_points: bool, version: str | None = None
) -> Quiz:
    """Saves a part over the `version` that was seen. Raises Outdated where it is another by now."""

    def change(core: CoreQuiz) -> CoreQuiz:
        if pick is not None:
            core = editing.with_part(core, str(part.pk), editing.picking(pick))
        return editing.with_part(core, str(part.pk), editing.worth(points_each)) if set_points else core

    return _changed(part.quiz, user, f"Changed a part of {part.quiz.title}", change, part, version)


def move_part(part: Part, user: Any, position: int) -> Quiz:
    """Moves a part to a position, counted from 0."""
    return _changed(
        part.quiz,
        user,
        f"Moved a part of {part.quiz.title}",
        lambda core: editing.with_part_at(core, str(part.pk), position),
        part,
    )


def delete_part(part: Part, user: Any) -> Quiz:
    label = f"Took a part out of {part.quiz.title}"
    return _changed(part.quiz, user, label, lambda core: editing.without_part(core, str(part.pk)), part)


# What it adds up to


@dataclass(frozen=True)
class Shown:
    """A quiz with what it is assembled from and what it adds up to."""

    row: Quiz
    core: CoreQuiz
    catalogue: Catalogue
    figures: Figures


def shown(quizzes: list[Quiz], course: Course | int) -> list[Shown]:
    """Quizzes of one course, read by `with_parts`, with their figures: as many queries for many as for one."""
    tree = PoolTree(course)
    cores = [core_quiz(quiz, tree) for quiz in quizzes]
    catalogue = catalogue_for(cores, course, tree)
    return [Shown(quiz, core, catalogue, figures_of_quiz(core, catalogue)) for quiz, core in zip(quizzes, cores, strict=True)]


def shown_one(quiz: Quiz) -> Shown:
    return shown([with_parts(Quiz.objects.filter(pk=quiz.pk)).get()], quiz.course_id)[0]


# Trying it


@dataclass(frozen=True)
class Entry:
    row: Item
    item: CoreItem
    points: float


def _entries(quiz: Quiz, seed: str) -> tuple[CoreQuiz, list[Entry]]:
    """The items of one attempt with what each is worth, in the order in which they are shown."""
    now = shown_one(quiz)
    given = attempt(now.core, now.catalogue, seed)
    rows = Item.objects.in_bulk([int(entry.item) for entry in given])
    return now.core, [Entry(rows[int(g.item)], core_item(rows[int(g.item)]), g.points) for g in given]


@dataclass
class Trial:
    seed: str
    items: list[StudentItem]


def trial(quiz: Quiz, user: Any, seed: str | None) -> Trial:
    """An attempt as a student gets it; the seed reproduces it."""
    must(can_see(user, quiz))
    seed = seed or secrets.token_hex(4)
    core, entries = _entries(quiz, seed)
    shuffle = core.settings.shuffle_choices is not False
    items = [student_item(e.item, e.points, f"{seed}/{e.item.id}", shuffle, (e.row.stimulus or {}).get("content")) for e in entries]
    if not items:
        raise NotPossible("This quiz has no items yet.", "Add fixed items or a draw.")
    return Trial(seed, items)


def mark_trial(quiz: Quiz, user: Any, seed: str, responses: dict[str, Response]) -> Result:
    """Marks an attempt, and gives back as much as the quiz releases."""
    must(can_see(user, quiz))
    core, entries = _entries(quiz, seed)
    return mark_attempt([(entry.item, entry.points) for entry in entries], responses, core.settings.release)

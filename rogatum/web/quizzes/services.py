"""Quizzes: every change is one of the core's, stored with its history; what a quiz adds up to is asked of the core too."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from typing import Any, TypeVar
from zoneinfo import ZoneInfo

from django.shortcuts import get_object_or_404

from rogatum.core.admission import Gate
from rogatum.core.errors import InQuizAlready, NotInQuiz, NotNow, QuizRefused
from rogatum.core.items.walking import with_content
from rogatum.core.quizzes import editing
from rogatum.core.quizzes.catalogue import Catalogue
from rogatum.core.quizzes.criteria import Condition, Draw
from rogatum.core.quizzes.figures import Figures, figures_of_quiz
from rogatum.core.quizzes.model import Part as CorePart
from rogatum.core.quizzes.model import Quiz as CoreQuiz
from rogatum.core.quizzes.settings import Settings
from rogatum.core.quizzes.sharing_out import with_total
from rogatum.web.courses import rules as courses
from rogatum.web.courses.history import Recorder, refuse_unseen, seen_fields
from rogatum.web.courses.models import Course
from rogatum.web.courses.rules import must
from rogatum.web.courses.services import own_media
from rogatum.web.errors import NotPossible
from rogatum.web.pools import rules as pools
from rogatum.web.pools.models import Item, Pool
from rogatum.web.pools.schemas import Selection
from rogatum.web.pools.services import count_words, selected
from rogatum.web.pools.tree import PoolTree
from rogatum.web.quizzes.edits import Edit
from rogatum.web.quizzes.models import Part, Quiz
from rogatum.web.quizzes.rules import must_edit, quizzes_for
from rogatum.web.quizzes.stock import catalogue_for
from rogatum.web.quizzes.storing import core_quiz, quiz_now, store, stored_settings, with_parts

MOST_FIXED = 2000
Change = Callable[[CoreQuiz], CoreQuiz]
# What a change is called, told of the quiz before and after it.
Label = Callable[[CoreQuiz, CoreQuiz], str]
Made = TypeVar("Made")
MOST_PARTS = 200
# Why a quiz refuses a change, as a status; any other reason lies in what was asked for.
_STATUS: dict[type[QuizRefused], int] = {NotInQuiz: 404, InQuizAlready: 409, NotNow: 409}


def quiz_for(user: Any, quiz_id: int) -> Quiz:
    return get_object_or_404(quizzes_for(user), pk=quiz_id)


def create_quiz(course: Course, user: Any, title: str) -> Quiz:
    courses.must_edit(user, course)
    with Recorder(course, user, f"Made the quiz {title.strip()}") as record:
        return add_quiz(course, CoreQuiz(title=title), record)


def add_quiz(course: Course, quiz: CoreQuiz, record: Recorder) -> Quiz:
    """A new quiz as the core has it, within an operation that makes it."""
    wanted = refused_in_words(lambda: editing.with_title(quiz, quiz.title))
    row = Quiz.objects.create(course=course, title=wanted.title[:300], settings=stored_settings(wanted.settings))
    record.created("quiz", [row])
    store(row, wanted, PoolTree(course), record)
    return row


def refused_in_words(change: Callable[[], Made]) -> Made:
    """What the core makes. Raises NotPossible where it refuses."""
    try:
        return change()
    except QuizRefused as refused:
        raise NotPossible(refused.fact, refused.way_out, status=_STATUS.get(type(refused), 422)) from None


def changed(
    quiz: Quiz, user: Any, label: str | Label, change: Change, seen: Quiz | Part | None = None, version: str | None = None
) -> Quiz:
    """Stores a quiz as `change` makes it. Raises Outdated where `seen` is another than the `version` that was seen of it.

    What it becomes is worked out before the lock, and again where somebody changed the quiz or the pools since.
    """
    must_edit(user, quiz)
    if seen is not None:
        refuse_unseen(version, seen_fields(seen))
    tree = PoolTree(quiz.course_id)
    looked_at = quiz_now(quiz.pk, tree)
    wanted = refused_in_words(lambda: change(looked_at))
    with Recorder(quiz.course, user, "") as record:
        if seen is not None and seen is not quiz:
            record.current(seen, version)
        quiz = record.current(quiz, version if seen is quiz else None)
        there = PoolTree(quiz.course_id)
        before = quiz_now(quiz.pk, there)
        if before != looked_at or there != tree or _gone(quiz.course_id, before, wanted):
            tree, wanted = there, refused_in_words(lambda: change(before))
            must(not _gone(quiz.course_id, before, wanted))
        if len(wanted.parts) > max(MOST_PARTS, len(before.parts)):
            raise NotPossible(f"A quiz has at most {MOST_PARTS} parts.", "Put more items into the parts that it has.", status=422)
        record.label = label if isinstance(label, str) else label(before, wanted)
        if wanted != before:
            store(quiz, wanted, tree, record)
    return quiz


def _gone(course: int, before: CoreQuiz, wanted: CoreQuiz) -> bool:
    """Whether an item that a quiz is to have newly is there no more."""
    fresh = set(wanted.item_ids()) - set(before.item_ids())
    return Item.objects.filter(course=course, pk__in=map(int, fresh)).count() < len(fresh)


def change_quiz(quiz: Quiz, user: Any, title: str | None, settings: Settings | None, version: str | None = None) -> Quiz:
    """Saves title and settings over the `version` that was seen. Raises Outdated where it is another by now."""

    def change(core: CoreQuiz) -> CoreQuiz:
        if title and title.strip():
            core = editing.with_title(core, title)
        if settings is not None:
            core = editing.with_settings(core, with_content(settings, Gate(own_media(quiz.course)).content))
        return core

    return changed(quiz, user, f"Changed the quiz {quiz.title}", change, quiz, version)


def delete_quiz(quiz: Quiz, user: Any) -> None:
    must_edit(user, quiz)
    with Recorder(quiz.course, user, f"Deleted the quiz {quiz.title}") as record:
        record.delete([record.current(quiz)])


# Parts


def add_draw(
    quiz: Quiz,
    user: Any,
    pool: Pool | None,
    pick: int,
    points_each: float | None,
    where: list[Condition] | None = None,
    alone: bool = False,
) -> Quiz:
    """Adds a draw from a pool, or from the whole course, of items that meet conditions."""
    must_edit(user, quiz)
    if pool is not None:
        must(pools.can_see(user, pool))
        if quiz.course_id != pool.course_id:
            raise NotPossible("That belongs to another course.", "Choose from this course.")
    name = pool.name if pool else quiz.course.name

    def change(core: CoreQuiz) -> CoreQuiz:
        path = PoolTree(quiz.course_id).path(pool.pk) if pool else ()
        must(bool(path) or pool is None)
        draw = Draw(pool=list(path), pick=pick, where=where or [], alone=alone)
        return editing.with_draw(core, draw, points_each)

    return changed(quiz, user, f"Added a draw of {pick} from {name}", change)


def add_items(quiz: Quiz, user: Any, item_ids: list[int]) -> Quiz:
    """Adds fixed items behind the others; into the last part where that is one of fixed items."""
    return add_selection(quiz, user, Selection(ids=item_ids))


def add_selection(quiz: Quiz, user: Any, selection: Selection, title: str = "") -> Quiz:
    """Adds what a selection holds behind the other items; into the last part where that is one of fixed items.

    With a title, it is a part of its own.
    """
    must_edit(user, quiz)

    def label(before: CoreQuiz, after: CoreQuiz) -> str:
        count = len(after.item_ids()) - len(before.item_ids())
        return f"Added {count_words(count)} to {quiz.title}"

    return changed(quiz, user, label, lambda core: editing.with_items(core, _held(quiz.course, selection), title))


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
    held = _held(course, selection)
    core = refused_in_words(lambda: editing.with_items(CoreQuiz(title=title), held))
    with Recorder(course, user, f"Made the quiz {title.strip()} of {count_words(len(held))}") as record:
        must(not _gone(course.pk, CoreQuiz(title=title), core))
        return add_quiz(course, core, record)


def change_part(part: Part, user: Any, change: Callable[[CorePart], CorePart], version: str | None = None) -> Quiz:
    """Saves a part over the `version` that was seen. Raises Outdated where it is another by now."""
    gate = Gate(own_media(part.quiz.course))

    def admitted(core: CorePart) -> CorePart:
        wanted = change(core)
        return wanted.model_copy(update={"instructions": gate.content(wanted.instructions)})

    label = f"Changed a part of {part.quiz.title}"
    return changed(part.quiz, user, label, lambda core: editing.with_part(core, str(part.pk), admitted), part, version)


def delete_part(part: Part, user: Any) -> Quiz:
    label = f"Took a part out of {part.quiz.title}"
    return changed(part.quiz, user, label, lambda core: editing.without_parts(core, [str(part.pk)]), part)


def edit(quiz: Quiz, user: Any, wanted: Edit) -> Quiz:
    """Moves, splits, replaces, takes out, or changes several parts and items alike: one operation."""
    must_edit(user, quiz)
    fresh = [str(key) for key in wanted.fresh_items()]
    if Item.objects.filter(course=quiz.course_id, pk__in=[int(key) for key in fresh]).count() < len(set(fresh)):
        raise NotPossible("That belongs to another course.", "Choose from this course.", status=404)
    return changed(quiz, user, f"{wanted.label()} in {quiz.title}", wanted.applied)


def share_out(quiz: Quiz, user: Any, total: float, step: float, parts: list[int]) -> Quiz:
    """Shares a total out over a quiz, or over some of its parts."""

    def change(core: CoreQuiz) -> CoreQuiz:
        tree = PoolTree(quiz.course_id)
        return with_total(core, catalogue_for([core], quiz.course_id, tree), total, step, [str(part) for part in parts])

    return changed(quiz, user, f"Shared out {total:g} points in {quiz.title}", change)


# What it adds up to


@dataclass(frozen=True)
class Shown:
    """A quiz with what it is assembled from and what it adds up to."""

    row: Quiz
    core: CoreQuiz
    tree: PoolTree
    catalogue: Catalogue
    figures: Figures


def shown(quizzes: list[Quiz], course: Course | int) -> list[Shown]:
    """Quizzes of one course, read by `with_parts`, with their figures: as many queries for many as for one."""
    tree = PoolTree(course)
    cores = [core_quiz(quiz, tree) for quiz in quizzes]
    catalogue = catalogue_for(cores, course, tree)
    return [Shown(quiz, core, tree, catalogue, figures_of_quiz(core, catalogue)) for quiz, core in zip(quizzes, cores, strict=True)]


def shown_one(quiz: Quiz) -> Shown:
    return shown([with_parts(Quiz.objects.filter(pk=quiz.pk)).get()], quiz.course_id)[0]


def zone_of(course: Course) -> ZoneInfo:
    """By whose clocks the moments of a course are told."""
    return ZoneInfo(course.time_zone)

"""Quizzes: parts, figures, trying one as a student."""

from __future__ import annotations

import secrets
from dataclasses import dataclass
from typing import Any

from django.db.models import QuerySet
from django.shortcuts import get_object_or_404

from rogatum.core.items import Item as CoreItem
from rogatum.core.items.key import key_words
from rogatum.core.quizzes.draws import PartPlan, assemble, shuffled
from rogatum.core.quizzes.figures import Candidate, Figures, PartFacts, figures_of
from rogatum.core.quizzes.marking import Response, feedback_for, mark
from rogatum.core.quizzes.student import StudentItem, student_item
from rogatum.web.courses.history import Recorder, fields_of
from rogatum.web.courses.models import Course
from rogatum.web.courses.services import courses_for
from rogatum.web.errors import NotPossible
from rogatum.web.pools.bodies import core_item
from rogatum.web.pools.models import Item, Pool
from rogatum.web.pools.services import subtree
from rogatum.web.quizzes.models import Part, PartItem, Quiz
from rogatum.web.quizzes.settings import QuizSettings


def quizzes_for(user: Any) -> QuerySet[Quiz]:
    return Quiz.objects.filter(course__in=courses_for(user))


def parts_for(user: Any) -> QuerySet[Part]:
    return Part.objects.filter(quiz__course__in=courses_for(user))


def create_quiz(course: Course, user: Any, title: str) -> Quiz:
    if not title.strip():
        raise NotPossible("A quiz needs a title.", "Type one in.", status=422)
    with Recorder(course, user, f"Made the quiz {title.strip()}") as record:
        quiz = Quiz.objects.create(course=course, title=title.strip(), settings=QuizSettings().model_dump(mode="json"))
        record.created("quiz", [quiz])
    return quiz


def change_quiz(quiz: Quiz, user: Any, title: str | None, settings: QuizSettings | None, version: str | None = None) -> Quiz:
    """Saves title and settings over the `version` that was seen. Raises Outdated where it is another by now."""
    with Recorder(quiz.course, user, f"Changed the quiz {quiz.title}") as record:
        quiz = record.current(quiz, version)
        before = fields_of(quiz)
        if title and title.strip():
            quiz.title = title.strip()
        if settings is not None:
            if settings.opens and settings.closes and settings.closes <= settings.opens:
                raise NotPossible("The quiz would close before it opens.", "Set a later closing time.", status=422)
            quiz.settings = settings.model_dump(mode="json")
        quiz.save()
        record.changed("quiz", quiz, before)
    return quiz


def delete_quiz(quiz: Quiz, user: Any) -> None:
    with Recorder(quiz.course, user, f"Deleted the quiz {quiz.title}") as record:
        quiz = record.current(quiz)
        for part in quiz.parts.all():
            record.deleted("partitem", part.entries.all())
        record.deleted("part", quiz.parts.all())
        record.deleted("quiz", [quiz])
        quiz.delete()


# Parts


def add_draw(quiz: Quiz, user: Any, pool: Pool, pick: int, points_each: float | None) -> Part:
    _same_course(quiz, pool.course_id)
    with Recorder(quiz.course, user, f"Added a draw of {pick} from {pool.name}") as record:
        quiz, pool = record.current(quiz), record.current(pool)
        part = Part.objects.create(
            quiz=quiz,
            kind=Part.Kind.DRAW,
            position=_next(quiz),
            title=pool.name,
            pool=pool,
            pick=pick,
            points_each=points_each,
        )
        record.created("part", [part])
    return part


def _same_course(quiz: Quiz, course_id: int) -> None:
    if quiz.course_id != course_id:
        raise NotPossible("That belongs to another course.", "Choose from this course.")


def _next(quiz: Quiz) -> int:
    return max((part.position for part in quiz.parts.all()), default=0) + 1


def add_items(quiz: Quiz, user: Any, item_ids: list[int]) -> Part:
    """Adds fixed items behind the others; into the last part where that is one of fixed items."""
    with Recorder(quiz.course, user, "") as record:
        quiz = record.current(quiz)
        rows = {row.pk: row for row in Item.objects.filter(course=quiz.course, pk__in=item_ids)}
        known = set(PartItem.objects.filter(part__quiz=quiz).values_list("item_id", flat=True))
        fresh = [rows[key] for key in dict.fromkeys(item_ids) if key in rows and key not in known]
        if not fresh:
            raise NotPossible("These items are in the quiz already.", "Choose others.")
        record.label = f"Added {len(fresh)} items to {quiz.title}"
        last = quiz.parts.last()
        if last is None or last.kind != Part.Kind.FIXED:
            last = Part.objects.create(quiz=quiz, kind=Part.Kind.FIXED, position=_next(quiz), title="Fixed items")
            record.created("part", [last])
        start = last.entries.count()
        entries = [PartItem(part=last, item=row, position=start + n) for n, row in enumerate(fresh)]
        PartItem.objects.bulk_create(entries)
        record.created("partitem", entries)
    return last


def change_part(
    part: Part, user: Any, pick: int | None, points_each: float | None, set_points: bool, version: str | None = None
) -> Part:
    """Saves a part over the `version` that was seen. Raises Outdated where it is another by now."""
    with Recorder(part.quiz.course, user, f"Changed a part of {part.quiz.title}") as record:
        part = record.current(part, version)
        before = fields_of(part)
        part.pick = pick if pick is not None else part.pick
        part.points_each = points_each if set_points else part.points_each
        part.save()
        record.changed("part", part, before)
    return part


def delete_part(part: Part, user: Any) -> None:
    with Recorder(part.quiz.course, user, f"Took {part.title or 'a part'} out of {part.quiz.title}") as record:
        part = record.current(part)
        record.deleted("partitem", part.entries.all())
        record.deleted("part", [part])
        part.delete()


def move_part(part: Part, user: Any, position: int) -> None:
    """Puts a part at a place, counted from 0."""
    with Recorder(part.quiz.course, user, f"Moved {part.title} in {part.quiz.title}") as record:
        part = record.current(part)
        parts = [p for p in part.quiz.parts.all() if p.pk != part.pk]
        parts.insert(max(0, position), part)
        for place, row in enumerate(parts, 1):
            before = fields_of(row)
            row.position = place
            row.save(update_fields=["position"])
            record.changed("part", row, before)


# Figures


def candidates(part: Part) -> list[int]:
    """The items that a part can give, in order."""
    if part.kind == Part.Kind.FIXED:
        return list(part.entries.values_list("item_id", flat=True))
    assert part.pool is not None
    return list(Item.objects.filter(pool_id__in=subtree(part.pool)).exclude(type="information").values_list("id", flat=True))


def figures(quiz: Quiz) -> Figures:
    """Totals and exposure of the whole quiz."""
    parts = list(quiz.parts.select_related("pool").prefetch_related("entries"))
    pools = {part.pk: candidates(part) for part in parts}
    rows = Item.objects.filter(pk__in={key for keys in pools.values() for key in keys})
    known = {row["id"]: _candidate(row) for row in rows.values("id", "type", "points", "outcome")}
    return figures_of([_facts(part, [known[key] for key in pools[part.pk]]) for part in parts])


def _candidate(row: dict[str, Any]) -> Candidate:
    outcomes = tuple(outcome.strip() for outcome in row["outcome"].split(";") if outcome.strip())
    return Candidate(row["id"], row["type"], row["points"], outcomes)


def _facts(part: Part, given: list[Candidate]) -> PartFacts:
    pick = part.pick if part.kind == Part.Kind.DRAW else None
    return PartFacts(part.title, tuple(given), pick, part.points_each, part.pool_id or 0)


# Trying it


@dataclass
class Entry:
    row: Item
    item: CoreItem
    points: float


def entries(quiz: Quiz, seed: str) -> list[Entry]:
    """The items of one attempt with what each is worth, in the order in which they are shown."""
    parts = list(quiz.parts.select_related("pool"))
    plans = [PartPlan(tuple(map(str, candidates(part))), None if part.kind == Part.Kind.FIXED else part.pick) for part in parts]
    chosen = assemble(plans, seed)
    rows = Item.objects.in_bulk([int(key) for keys in chosen for key in keys])
    found = []
    for part, keys in zip(parts, chosen, strict=True):
        for key in keys:
            row = rows[int(key)]
            points = part.points_each if part.points_each is not None else (1.0 if row.points is None else row.points)
            found.append(Entry(row, core_item(row), 0.0 if row.type == "information" else points))
    if QuizSettings(**quiz.settings).shuffle_items:
        order = shuffled([entry.item.id for entry in found], f"{seed}/items")
        found.sort(key=lambda entry: order.index(entry.item.id))
    return found


@dataclass
class Trial:
    seed: str
    items: list[StudentItem]


def trial(quiz: Quiz, seed: str | None) -> Trial:
    """An attempt as a student gets it; the seed reproduces it."""
    seed = seed or secrets.token_hex(4)
    shuffle = QuizSettings(**quiz.settings).shuffle_choices
    items = [
        student_item(e.item, e.points, f"{seed}/{e.item.id}", shuffle, (e.row.stimulus or {}).get("content"))
        for e in entries(quiz, seed)
    ]
    if not items:
        raise NotPossible("This quiz has no items yet.", "Add fixed items or a draw.")
    return Trial(seed, items)


@dataclass
class Marked:
    id: str
    share: float | None
    earned: float | None
    points: float
    feedback: list[str]
    key: str


@dataclass
class Result:
    items: list[Marked]
    earned: float
    points: float
    by_hand: float
    release: str


def mark_trial(quiz: Quiz, seed: str, responses: dict[str, Response]) -> Result:
    """Marks an attempt, and gives back as much as the quiz releases."""
    release = QuizSettings(**quiz.settings).release
    marked = []
    for entry in entries(quiz, seed):
        response = responses.get(entry.item.id)
        share = mark(entry.item, response)
        earned = None if share is None else round(max(share, 0.0) * entry.points, 4)
        shown = feedback_for(entry.item, response) if release in ("feedback", "everything") else []
        marked.append(
            Marked(
                entry.item.id,
                share,
                earned,
                entry.points,
                shown,
                key_words(entry.item) if release == "everything" else "",
            )
        )
    return Result(
        items=marked,
        earned=round(sum(m.earned or 0.0 for m in marked), 4),
        points=round(sum(m.points for m in marked), 4),
        by_hand=round(sum(m.points for m in marked if m.share is None), 4),
        release=release,
    )


def quiz_for(user: Any, quiz_id: int) -> Quiz:
    return get_object_or_404(quizzes_for(user).select_related("course"), pk=quiz_id)

"""A quiz as the API tells it: what is stored, what the core finds in it, and what it adds up to."""

from __future__ import annotations

from collections import Counter
from dataclasses import asdict
from typing import Any

from rogatum.core.formats import format_named
from rogatum.core.items.one_line import line_of, line_text
from rogatum.core.quizzes.catalogue import count_of, ids_of
from rogatum.core.quizzes.criteria import Draw
from rogatum.core.quizzes.figures import draw_figures, given_parts
from rogatum.core.quizzes.model import Part as CorePart
from rogatum.core.quizzes.phrases import draw_words, where_words
from rogatum.core.quizzes.plan import Plan
from rogatum.core.quizzes.second_look import second_look
from rogatum.core.quizzes.sums import sums_of
from rogatum.core.quizzes.telling import heading, in_words
from rogatum.web.courses.history import version_of
from rogatum.web.courses.models import Course
from rogatum.web.pools.models import Item
from rogatum.web.pools.tree import PoolTree
from rogatum.web.quizzes import services
from rogatum.web.quizzes.models import Part, Quiz
from rogatum.web.quizzes.schemas import (
    DoubtOut,
    DrawOut,
    FiguresOut,
    PartItemOut,
    PartOut,
    PickedOut,
    PlanRowOut,
    QuizOut,
    QuizPlanOut,
    QuizRow,
    SumsOut,
    ToldOut,
)
from rogatum.web.quizzes.services import Shown, zone_of
from rogatum.web.quizzes.stock import passages_of, traits_of

# What of a fixed item is shown; its body is not read for it.
_SHOWN = ("id", "type", "points", "outcome", "difficulty", "picture", "formula", "body__stem", "stimulus__id")


def quiz_out(quiz: Quiz) -> QuizOut:
    now = services.shown_one(quiz)
    zone = zone_of(quiz.course)
    rows = {str(part.pk): part for part in now.row.parts.all()}
    lines = _lines(now)
    return QuizOut(
        id=quiz.pk,
        course=quiz.course_id,
        title=now.core.title,
        zone=quiz.course.time_zone,
        settings=now.core.settings,
        parts=[_part_out(part, rows[part.id], now, lines) for part in now.core.parts],
        figures=FiguresOut(**asdict(now.figures)),
        plan=plan_out(now.core.plan, now.tree) if now.core.plan else None,
        told=[ToldOut(**asdict(told)) for told in in_words(now.core, now.catalogue, zone)],
        doubts=[DoubtOut(**asdict(doubt)) for doubt in second_look(now.core, now.catalogue, zone)],
        version=version_of(now.row),
    )


def _lines(now: Shown) -> dict[str, dict[str, Any]]:
    """The fixed items, each with what one line shows of it."""
    rows = Item.objects.filter(pk__in=[int(key) for key in now.core.item_ids()]).values(*_SHOWN)
    return {str(row["id"]): row for row in rows}


def item_line(row: dict[str, Any], points: float | None) -> PartItemOut:
    """An item in one line."""
    stem = row["body__stem"] or ""
    return PartItemOut(
        **{name: row[name] for name in ("id", "type", "outcome", "difficulty", "picture", "formula")},
        text=line_text(stem),
        line=line_of(stem) if "<math" in stem else "",
        table="<table" in stem,
        passage=row["stimulus__id"] is not None,
        points=points,
    )


def lines_of(items: list[Item]) -> list[PartItemOut]:
    """Items in one line each, in this order, with their own points."""
    rows = {row["id"]: row for row in Item.objects.filter(pk__in=[item.pk for item in items]).values(*_SHOWN)}
    return [item_line(rows[item.pk], item.points) for item in items]


def _part_out(part: CorePart, row: Part, now: Shown, lines: dict[str, dict[str, Any]]) -> PartOut:
    return PartOut(
        id=row.pk,
        kind=row.kind,
        title=part.title,
        instructions=part.instructions,
        page_break=part.page_break,
        pool=row.pool_id,
        pool_path=part.draw.pool if part.draw else [],
        pick=part.draw.pick if part.draw else 0,
        points_each=part.points_each,
        items=[item_line(lines[key], now.catalogue.items[key].points_in(part, key)) for key in part.items if key in lines],
        draw=_draw_out(part, now),
        picked_from=PickedOut(label=draw_words(part.picked_from), wanted=part.picked_from.pick) if part.picked_from else None,
        version=version_of(row),
    )


def _draw_out(part: CorePart, now: Shown) -> DrawOut | None:
    if part.draw is None:
        return None
    figures = draw_figures(count_of(now.catalogue.given_by(part)), part.draw.pick)
    said = {"alone": part.draw.alone, "where": part.draw.where, "without": len(part.draw.without)}
    return DrawOut(**asdict(figures), **said, where_words=where_words(part.draw.where))


def plan_out(plan: Plan, tree: PoolTree) -> QuizPlanOut:
    return QuizPlanOut(
        rows=[row_out(row, tree) for row in plan.rows],
        as_draws=plan.as_draws,
        apart_from=[int(key) for key in plan.apart_from if key.isdecimal()],
        seed=plan.seed,
    )


def row_out(row: Draw, tree: PoolTree) -> PlanRowOut:
    return PlanRowOut(
        pool=tree.at(row.pool) if row.pool else None, pool_path=row.pool, pick=row.pick, alone=row.alone, where=row.where
    )


def quiz_rows(course: Course) -> list[QuizRow]:
    quizzes = list(services.with_parts(Quiz.objects.filter(course=course)))
    zone = zone_of(course)
    return [
        QuizRow(
            id=now.row.pk,
            title=now.row.title,
            parts=len(now.core.parts),
            items=now.figures.items,
            points=now.figures.points,
            opens=now.core.settings.opens,
            closes=now.core.settings.closes,
            heading=heading(in_words(now.core, now.catalogue, zone)),
            doubts=len(second_look(now.core, now.catalogue, zone)) + len(now.figures.problems),
        )
        for now in services.shown(quizzes, course)
    ]


def sums_out(quiz: Quiz, students: int, format_name: str) -> SumsOut:
    """What a quiz adds up to for a class of so many (0: as many as its sections have), and what a format has no place for."""
    now = services.shown_one(quiz)
    students = students or sum(quiz.course.sections.values_list("students", flat=True)) or 30
    found = sums_of(now.core, now.catalogue, passages_of([now.core], quiz.course_id, now.tree), students)
    can_give = {key for part in given_parts(now.core, now.catalogue) for key in ids_of(part.lots)}
    traits = traits_of(now.core, quiz.course_id, now.tree, ("type", "key_place", "feedback", "advice"), can_give)
    off = set(quiz.course.advice_off)
    return SumsOut(
        **asdict(found),
        students=students,
        can_give=len(can_give),
        keys=_counted(traits, lambda _type, key, *_: key),
        without_feedback=sum(count for (kind, _, feedback, _), count in traits.items() if not feedback and kind != "information"),
        advised=sum(count for (*_, advice), count in traits.items() if set(advice.split()) - off),
        not_taken=_not_taken(traits, format_name),
    )


def _counted(traits: Counter[tuple[Any, ...]], name_of: Any) -> dict[str, int]:
    found: Counter[str] = Counter()
    for values, count in traits.items():
        if name := name_of(*values):
            found[name] += count
    return dict(sorted(found.items()))


def _not_taken(traits: Counter[tuple[Any, ...]], format_name: str) -> dict[str, int]:
    """The items that a format has no place for, by type."""
    if not format_name:
        return {}
    carried = format_named(format_name).carries.types
    return _counted(traits, lambda kind, *_: "" if kind in carried else kind)

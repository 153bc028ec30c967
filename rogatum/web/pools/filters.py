"""What a filter means: each of its conditions as a query, and how many items each of their values would leave."""

from __future__ import annotations

from collections import Counter
from collections.abc import Callable, Mapping
from datetime import UTC, datetime, time
from typing import Any

from django.db.models import Case, CharField, Count, F, QuerySet, Value, When
from django.shortcuts import get_object_or_404

from rogatum.web.courses.models import Course
from rogatum.web.pools.bodies import parts_of
from rogatum.web.pools.models import Item, Pool
from rogatum.web.pools.schemas import NONE, ItemFilter
from rogatum.web.pools.search import matching
from rogatum.web.pools.tree import PoolTree
from rogatum.web.pools.uses import Uses

Rows = QuerySet[Item]
# How many values of one condition are told at most; the rest are found by typing.
MOST_VALUES = 200

HANDED = Case(
    When(handed__isnull=True, then=Value("no")),
    When(updated__gt=F("handed"), then=Value("changed")),
    default=Value("yes"),
    output_field=CharField(),
)


def _is(column: str) -> Callable[[Rows, Any, Course], Rows]:
    return lambda rows, value, _course: rows.filter(**{column: "" if value == NONE else value})


def _points(rows: Rows, value: str, _course: Course) -> Rows:
    if value == NONE:
        return rows.filter(points__isnull=True)
    try:
        return rows.filter(points=float(value))
    except ValueError:
        return rows.none()


def _among(column: str) -> Callable[[Rows, Any, Course], Rows]:
    """Items one of whose values it is: the distinct texts of a column are few, and are looked through instead of the items."""

    def narrowed(rows: Rows, value: str, course: Course) -> Rows:
        if value == NONE:
            return rows.filter(**{column: ""})
        said = Item.objects.filter(course=course).order_by().values_list(column, flat=True).distinct()
        return rows.filter(**{f"{column}__in": [text for text in said if value in parts_of(column, text)]})

    return narrowed


def _advised(rows: Rows, value: str, course: Course) -> Rows:
    """Items with advice that is not put off: any, one kind, or none."""
    said = Item.objects.filter(course=course).order_by().values_list("advice", flat=True).distinct()
    off = set(course.advice_off)
    told = {text: set(text.split()) - off for text in said}
    if value == NONE:
        return rows.filter(advice__in=[text for text, codes in told.items() if not codes])
    return rows.filter(advice__in=[text for text, codes in told.items() if (codes if value == "any" else value in codes)])


def _found(rows: Rows, value: str, course: Course) -> Rows:
    return rows.exclude(findings="") if value == "any" else _among("findings")(rows, value, course)


def _used(rows: Rows, value: str, course: Course) -> Rows:
    uses = Uses(course)
    if value == NONE:
        return rows.exclude(uses.given_by(uses.by_quiz))
    return rows.filter(uses.given_by([int(value)])) if value.isdecimal() else rows.none()


def _handed(rows: Rows, value: str, _course: Course) -> Rows:
    return rows.alias(handed_on=HANDED).filter(handed_on=value)


def _since(rows: Rows, value: Any, _course: Course) -> Rows:
    return rows.filter(updated__gte=datetime.combine(value, time.min, UTC))


# The conditions of a filter but for pool and words, by the names of its fields.
CONDITIONS: Mapping[str, Callable[[Rows, Any, Course], Rows]] = {
    "type": _is("type"),
    "difficulty": _is("difficulty"),
    "source": _is("source"),
    "points": _points,
    "outcome": _among("outcome"),
    "findings": _found,
    "advice": _advised,
    "picture": lambda rows, value, _course: rows.filter(picture=value),
    "formula": lambda rows, value, _course: rows.filter(formula=value),
    "feedback": lambda rows, value, _course: rows.filter(feedback=value),
    "quiz": _used,
    "handed": _handed,
    "since": _since,
}


def is_set(value: Any) -> bool:
    return value is not None and value != ""


def filtered(course: Course, wanted: ItemFilter, but: str = "") -> Rows:
    """The items of a course that a filter means, without one of its conditions where that is named."""
    rows = Item.objects.filter(course=course)
    if wanted.pool is not None and but != "pool":
        pool = get_object_or_404(Pool, pk=wanted.pool, course=course)
        rows = rows.filter(pool_id__in=PoolTree(course).below(pool.pk)) if wanted.with_subpools else rows.filter(pool=pool)
    for name, narrowed in CONDITIONS.items():
        value = getattr(wanted, name)
        if is_set(value) and name != but:
            rows = narrowed(rows, value, course)
    return matching(rows, wanted.query) if wanted.query.strip() else rows


# Counts

# What is counted, in groups of what is counted in one go: the more columns a group has, the more different rows come of it.
_GROUPS = (
    ("pool_id", "type", "difficulty", "points", "picture", "formula", "feedback"),
    ("source", "outcome"),
    ("findings", "advice"),
    ("handed",),
)
# What of these has several values in it, and what is open or not.
_SEVERAL = frozenset({"outcome", "findings", "advice"})
_OPEN = frozenset({"findings", "advice"})
_CONDITION_OF = {"pool_id": "pool"}


def counts_of(course: Course, wanted: ItemFilter) -> dict[str, dict[str, int]]:
    """For each condition, how many items each of its values leaves, all other conditions being as they are.

    What no condition is set for is counted in one go.
    """
    names = {column: _CONDITION_OF.get(column, column) for group in _GROUPS for column in group}
    set_ones = [column for column, name in names.items() if is_set(getattr(wanted, name))]
    found: dict[str, Counter[Any]] = {}
    for group in _GROUPS:
        found |= _grouped(filtered(course, wanted), [column for column in group if column not in set_ones])
    for column in set_ones:
        found |= _grouped(filtered(course, wanted, but=names[column]), [column])
    told = {names[column]: _told(column, values, course) for column, values in found.items()}
    return told | {"quiz": _by_quiz(course, filtered(course, wanted, but="quiz"))}


def _grouped(rows: Rows, columns: list[str]) -> dict[str, Counter[Any]]:
    found: dict[str, Counter[Any]] = {column: Counter() for column in columns}
    if not columns:
        return found
    named = ["handed_on" if column == "handed" else column for column in columns]
    counted = rows.annotate(handed_on=HANDED) if "handed" in columns else rows
    for *values, count in counted.order_by().values_list(*named).annotate(n=Count("pk")):
        for column, value in zip(columns, values, strict=True):
            found[column][value] += count
    return found


def _told(column: str, values: Counter[Any], course: Course) -> dict[str, int]:
    if column in _SEVERAL:
        values = _parted(column, values, set(course.advice_off) if column == "advice" else set())
    return {_name(value): count for value, count in values.most_common(MOST_VALUES)}


def _parted(column: str, values: Counter[Any], off: set[str]) -> Counter[Any]:
    told: Counter[Any] = Counter()
    for text, count in values.items():
        named = [part for part in parts_of(column, text) if part not in off]
        told.update(dict.fromkeys(named or [""], count))
        if named and column in _OPEN:
            told["any"] += count
    return told


def _name(value: Any) -> str:
    if value is None or value == "":
        return NONE
    if isinstance(value, bool):
        return "true" if value else "false"
    return f"{value:g}" if isinstance(value, float) else str(value)


def _by_quiz(course: Course, rows: Rows) -> dict[str, int]:
    """How many of the items each quiz has or draws from, and how many none has."""
    told, unused = Uses(course).counted(rows)
    return {str(quiz): count for quiz, count in told.items() if count} | {NONE: unused}

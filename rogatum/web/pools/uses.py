"""Which items the quizzes of a course have as fixed ones, and which their draws can give."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass, field
from functools import reduce
from operator import or_
from typing import Any, NamedTuple

from django.apps import apps
from django.db.models import Count, Q, QuerySet

from rogatum.core.items.by_type import ALL_TYPES
from rogatum.core.quizzes.catalogue import is_drawn
from rogatum.core.quizzes.criteria import Condition, Facet
from rogatum.web.courses.models import Course
from rogatum.web.pools.bodies import parts_of
from rogatum.web.pools.models import Item
from rogatum.web.pools.tree import PoolTree

FACETS: tuple[Facet, ...] = ("type", "outcome", "difficulty")

# How many draws one query asks for at most: a database bounds how deep its conditions go.
MOST_TERMS = 100


class Cell(NamedTuple):
    """What a draw looks at of an item, as its row holds it."""

    pool: int
    type: str
    outcome: str = ""
    difficulty: str = ""


CELL = ("pool_id", *FACETS)
# The types that no draw gives.
NOT_DRAWN = sorted(kind for kind in ALL_TYPES if not is_drawn(kind, (), {}))


@dataclass(frozen=True)
class _Draw:
    """A draw of a quiz: from these pools, of what meets the conditions, never of some items."""

    pools: frozenset[int]
    where: tuple[Condition, ...]
    without: frozenset[int]

    def covers(self, cell: Cell) -> bool:
        if cell.pool not in self.pools:
            return False
        facets = {name: parts_of(name, getattr(cell, name)) for name in FACETS} if self.where else {}
        return is_drawn(cell.type, self.where, facets)  # type: ignore[arg-type]

    def gives(self, item: int, cell: Cell) -> bool:
        return item not in self.without and self.covers(cell)

    def query(self, texts: dict[Facet, list[str]]) -> Q:
        """The items that it can give; `texts` are those that the columns of the course hold."""
        asked = Q(pool_id__in=self.pools) & ~Q(pk__in=self.without) & ~Q(type__in=NOT_DRAWN)
        for condition in self.where:
            column = condition.facet
            met = [text for text in texts[column] if condition.meets({column: parts_of(column, text)})]  # type: ignore[misc]
            asked &= Q(**{f"{column}__in": met})
        return asked


@dataclass
class Use:
    """What one quiz draws from, and which items it has."""

    draws: list[_Draw] = field(default_factory=list)
    fixed: set[int] = field(default_factory=set)

    def covers(self, cell: Cell) -> bool:
        return any(draw.covers(cell) for draw in self.draws)

    def gives(self, item: int, cell: Cell) -> bool:
        """Whether a student may be drawn it, or all have it."""
        return item in self.fixed or any(draw.gives(item, cell) for draw in self.draws)

    def named(self) -> set[int]:
        """The items that it is not told of by their cell alone whether it gives them."""
        return self.fixed.union(*(draw.without for draw in self.draws))


class Uses:
    """The uses of a course's items by its quizzes."""

    def __init__(self, course: Course | int) -> None:
        self.course = course
        self.by_quiz: dict[int, Use] = {key: Use() for key in _rows("Quiz", course=course).values_list("pk", flat=True)}
        draws = _rows("Part", quiz__course=course, kind="draw").values_list("quiz", "pool", "alone", "where", "without")
        tree = PoolTree(course) if draws else None
        for quiz, pool, alone, where, without in draws:
            pools = tree.numbers if pool is None else [pool] if alone else tree.below(pool)  # type: ignore[union-attr]
            conditions = tuple(Condition(**said) for said in where)
            self.by_quiz[quiz].draws.append(_Draw(frozenset(pools), conditions, frozenset(map(int, without))))
        for quiz, item in _rows("PartItem", part__quiz__course=course).values_list("part__quiz", "item"):
            self.by_quiz[quiz].fixed.add(item)

    def given_by(self, quizzes: Iterable[int]) -> Q:
        """The items that any of some quizzes has or can give."""
        uses = [self.by_quiz[quiz] for quiz in quizzes if quiz in self.by_quiz]
        facets = {condition.facet for use in uses for draw in use.draws for condition in draw.where}
        rows = Item.objects.filter(course=self.course).order_by()
        texts = {facet: list(rows.values_list(facet, flat=True).distinct()) for facet in facets}
        draws = _together(draw for use in uses for draw in use.draws)
        found = Q(pk__in=set().union(*(use.fixed for use in uses)))
        while len(draws) > MOST_TERMS:
            some, draws = draws[:MOST_TERMS], draws[MOST_TERMS:]
            given = reduce(or_, (draw.query(texts) for draw in some))
            found |= Q(pk__in=list(rows.filter(given).values_list("pk", flat=True)))
        return reduce(or_, (draw.query(texts) for draw in draws), found)

    def counted(self, rows: QuerySet[Item]) -> tuple[dict[int, int], int]:
        """How many of some items each quiz has or can give, and how many none does: asked once for all quizzes."""
        conditional = any(draw.where for use in self.by_quiz.values() for draw in use.draws)
        columns = CELL if conditional else CELL[:2]
        named = set().union(*(use.named() for use in self.by_quiz.values()))
        apart = {key: Cell(*cell) for key, *cell in rows.filter(pk__in=named).order_by().values_list("pk", *columns)}
        counts = rows.order_by().values_list(*columns).annotate(n=Count("pk"))
        cells = {Cell(*cell): count for *cell, count in counts}
        for cell in apart.values():
            cells[cell] -= 1
        told: dict[int, int] = {}
        unused = dict(cells), set(apart)
        for quiz, use in self.by_quiz.items():
            covered = [cell for cell in cells if use.covers(cell)]
            given = {key for key, cell in apart.items() if use.gives(key, cell)}
            told[quiz] = sum(cells[cell] for cell in covered) + len(given)
            for cell in covered:
                unused[0].pop(cell, None)
            unused[1].difference_update(given)
        return told, sum(unused[0].values()) + len(unused[1])

    def of(self, item: Item) -> dict[int, str]:
        """The quizzes that have an item, as “fixed”, or can give it, as “drawn”."""
        cell = Cell(item.pool_id, item.type, item.outcome, item.difficulty)
        return {
            quiz: "fixed" if item.pk in use.fixed else "drawn" for quiz, use in self.by_quiz.items() if use.gives(item.pk, cell)
        }


def _together(draws: Iterable[_Draw]) -> list[_Draw]:
    """Draws of the same items but for their pools, as one."""
    pools: dict[tuple[tuple[Condition, ...], frozenset[int]], frozenset[int]] = {}
    for draw in draws:
        pools[draw.where, draw.without] = pools.get((draw.where, draw.without), frozenset()) | draw.pools
    return [_Draw(held, *same) for same, held in pools.items()]


def _rows(model: str, **where: Any) -> QuerySet[Any]:
    # Quizzes build on pools: what they hold is asked for by name.
    return apps.get_model(f"quizzes.{model}").objects.filter(**where).order_by()

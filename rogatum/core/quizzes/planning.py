"""Picking by plan: what can be met of it, what is short and why, and which items it takes.

Rows may ask for the same items. Which row takes which is the cheapest of the fullest ways: as many items as can be had, and of
those the ones that are used least. It is a flow from rows to cells of items that the same rows ask for and that are used alike.
"""

from __future__ import annotations

import math
from collections import defaultdict
from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass, field
from fractions import Fraction

from rogatum.core.quizzes.catalogue import Catalogue, Lot, ids_of
from rogatum.core.quizzes.criteria import Draw
from rogatum.core.quizzes.draws import shuffled
from rogatum.core.quizzes.model import Part, Quiz
from rogatum.core.quizzes.phrases import count_words, listed, pool_words, where_words
from rogatum.core.quizzes.plan import Plan


@dataclass(frozen=True)
class RowPicks:
    """What became of a row: how many items meet it (`holds`), how many of them are left `apart`, and those that it gets."""

    row: Draw
    holds: int
    apart: int
    items: list[str]
    label: str

    @property
    def short(self) -> int:
        return self.row.pick - len(self.items)

    def problem(self) -> str:
        """“Chapter 3 holds 4 hard items, the plan asks for 5.”; nothing where it is met."""
        if self.short <= 0:
            return ""
        free, asked = self.holds - self.apart, f"the plan asks for {self.row.pick}"
        said = f"{pool_words(self.row.pool)} holds {self.holds} {self._kind()}"
        if self.apart:
            said += f", {self.apart} of them in quizzes that are to be left out"
        if free >= self.row.pick:
            return f"{said}, but other rows of the plan want the same ones: {len(self.items)} are left, {asked}."
        return f"{said}, {asked}."

    def _kind(self) -> str:
        where, noun = where_words(self.row.where), "item" if self.holds == 1 else "items"
        adjectives = all(condition.facet == "difficulty" and not condition.but for condition in self.row.where)
        return f"{where} {noun}" if where and adjectives else f"{noun} ({where})" if where else noun


@dataclass(frozen=True)
class _Cell:
    """Items that the same rows ask for, and that are used as often."""

    rows: tuple[int, ...]
    uses: int
    items: list[str] = field(default_factory=list)


def picks_by(
    plan: Plan, catalogue: Catalogue, apart: frozenset[str], uses: Mapping[str, int], taken: frozenset[str] = frozenset()
) -> list[RowPicks]:
    """What each row of a plan gets.

    `apart` are items of quizzes to be left out, `taken` those that the quiz has by hand; `uses` says in how many quizzes items are.
    """
    meeting = [[lot.without(taken) for lot in catalogue.drawn_from(row)] for row in plan.rows]
    cells = _cells(meeting, apart, uses, plan.seed)
    flow = _fullest([row.pick for row in plan.rows], cells)
    got: list[list[str]] = [[] for _ in plan.rows]
    for place, cell in enumerate(cells):
        waiting = iter(cell.items)
        for row in cell.rows:
            got[row] += [next(waiting) for _ in range(flow.get((row, place), 0))]
    return [
        RowPicks(
            row=row,
            holds=sum(map(len, lots)),
            apart=sum(len(apart.intersection(lot.ids)) for lot in lots),
            items=shuffled(items, f"{plan.seed}/{number}"),
            label=pool_words(row.pool),
        )
        for number, (row, lots, items) in enumerate(zip(plan.rows, meeting, got, strict=True))
    ]


def _cells(meeting: Sequence[Sequence[Lot]], apart: frozenset[str], uses: Mapping[str, int], seed: str) -> list[_Cell]:
    asked: dict[str, list[int]] = defaultdict(list)
    for row, lots in enumerate(meeting):
        for lot in lots:
            for key in lot.ids:
                asked[key].append(row)
    found: dict[tuple[tuple[int, ...], int], _Cell] = {}
    for key, rows in asked.items():
        if key not in apart:
            where = tuple(rows), uses.get(key, 0)
            found.setdefault(where, _Cell(*where)).items.append(key)
    cells = {f"{number}": found[where] for number, where in enumerate(sorted(found))}
    return [
        _Cell(cell.rows, cell.uses, shuffled(cell.items, f"{seed}/{name}"))
        for name, cell in ((name, cells[name]) for name in shuffled(list(cells), seed))
    ]


Flow = dict[tuple[int, int], int]


def _fullest(wanted: Sequence[int], cells: Sequence[_Cell]) -> Flow:
    """How many items each row takes from each cell: as many as can be had, with the fewest uses."""
    flow: Flow = {}
    left = [len(cell.items) for cell in cells]
    for row, count in enumerate(wanted):
        while count:
            path = _cheapest_way(row, cells, left, flow)
            if path is None:
                break
            # Along the way items go to this row, and from other rows to those behind them.
            back = [flow[edge] for edge in path[1::2]]
            moved = min([count, left[path[-1][1]], *back])
            for place, edge in enumerate(path):
                flow[edge] = flow.get(edge, 0) + (-moved if place % 2 else moved)
            left[path[-1][1]] -= moved
            count -= moved
    return flow


def _cheapest_way(row: int, cells: Sequence[_Cell], left: Sequence[int], flow: Flow) -> list[tuple[int, int]] | None:
    """The way from a row to a cell with items left that costs the fewest uses: edges (row, cell), every second one given back."""
    cost: dict[int, float] = {row: 0.0}
    came: dict[int, tuple[list[tuple[int, int]], int]] = {row: ([], row)}
    best: tuple[float, list[tuple[int, int]]] | None = None
    waiting = [row]
    while waiting:
        here = waiting.pop(0)
        way, spent = came[here][0], cost[here]
        for place, cell in enumerate(cells):
            if here not in cell.rows:
                continue
            total = spent + cell.uses
            if left[place] and (best is None or total < best[0]):
                best = total, [*way, (here, place)]
            for other in cell.rows:
                if other != here and flow.get((other, place), 0) and total - cell.uses < cost.get(other, math.inf):
                    cost[other] = total - cell.uses
                    came[other] = [*way, (here, place), (other, place)], other
                    waiting.append(other)
    return best[1] if best else None


def planned_parts(plan: Plan, picks: Sequence[RowPicks], apart: frozenset[str], catalogue: Catalogue) -> list[Part]:
    """The parts that a plan makes: fixed items, or draws that leave out what is to be left out."""
    made = []
    for picked in picks:
        part = Part(picked_from=picked.row)
        said = {"draw": _draw(picked, apart, catalogue)} if plan.as_draws else {"items": picked.items}
        if picked.items:
            made.append(part.model_copy(update=said))
    return made


def _draw(picked: RowPicks, apart: frozenset[str], catalogue: Catalogue) -> Draw:
    row = picked.row
    never = sorted({*row.without, *apart.intersection(ids_of(catalogue.drawn_from(row)))})
    return row.model_copy(update={"pick": len(picked.items), "without": never})


def with_plan(quiz: Quiz, plan: Plan, made: Sequence[Part]) -> Quiz:
    """The quiz with what its plan makes behind what was put in by hand; what the plan made before goes."""
    kept = [part for part in quiz.parts if part.picked_from is None]
    return quiz.model_copy(update={"plan": plan, "parts": [*kept, *made]})


# Sharing out


def shared_out(total: int, weights: Sequence[float], most: Sequence[int] | None = None) -> list[int]:
    """A total shared out by weights, by the largest remainder; where one can take no more than its `most`, others take the rest.

    Raises ValueError for weights below 0.
    """
    if any(weight < 0 for weight in weights):
        raise ValueError("A weight cannot be below 0.")
    exact = [Fraction(weight) for weight in weights]
    caps = [math.inf] * len(weights) if most is None else list(most)
    counts = [0] * len(weights)
    left = total
    while left:
        open_ = [n for n, weight in enumerate(exact) if weight and counts[n] < caps[n]]
        if not open_:
            break
        counts = _added(counts, open_, exact, caps, left)
        left = total - sum(counts)
    return counts


def _added(counts: list[int], open_: list[int], weights: Sequence[Fraction], caps: Sequence[float], left: int) -> list[int]:
    whole = sum((weights[n] for n in open_), Fraction(0))
    quotas = {n: weights[n] * left / whole for n in open_}
    given = {n: math.floor(quota) for n, quota in quotas.items()}
    rest = left - sum(given.values())
    for n in sorted(open_, key=lambda n: (given[n] - quotas[n], n))[:rest]:
        given[n] += 1
    return [int(min(caps[n], count + given.get(n, 0))) for n, count in enumerate(counts)]


def rows_for(total: int, pools: Iterable[Sequence[str]], catalogue: Catalogue, equally: bool = False) -> list[Draw]:
    """So many items over pools, by what they hold or the same of each; a pool that would give none has no row."""
    paths = [list(path) for path in pools]
    held = [sum(len(lot) for lot in catalogue.drawn_from(Draw(pool=path, pick=1))) for path in paths]
    weights = [float(bool(count)) if equally else float(count) for count in held]
    counts = shared_out(total, weights, held)
    return [Draw(pool=path, pick=count) for path, count in zip(paths, counts, strict=True) if count]


def shortage_words(picks: Sequence[RowPicks]) -> str:
    """What can be met of a plan, in one line."""
    wanted, got = sum(row.row.pick for row in picks), sum(len(row.items) for row in picks)
    if wanted == got:
        return f"All {count_words(wanted, 'item')} can be had."
    short = list(dict.fromkeys(row.label for row in picks if row.short > 0))
    return f"{got} of {count_words(wanted, 'item')} can be had; {listed(short)} {'is' if len(short) == 1 else 'are'} short."

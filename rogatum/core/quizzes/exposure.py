"""Exposure: how many items students have in common when each gets an independent draw.

For a draw of n from a pool of N the number in common is hypergeometric: C(n, k) C(N-n, n-k) / C(N, n). Draws whose pools share
items take from each other; what comes of that is counted exactly while the cases are few enough, and simulated beyond.
"""

from __future__ import annotations

import math
from collections import Counter, defaultdict
from collections.abc import Iterable, Iterator, Sequence
from dataclasses import dataclass
from fractions import Fraction
from functools import lru_cache
from itertools import product

import numpy as np
from numpy.typing import NDArray

Chances = tuple[float, ...]
# How many pairs of cases are counted, and how many pairs of students are simulated beyond that.
MOST_CASES = 60_000
SIMULATED = 20_000
# Half of a 95 % interval, in standard errors.
_WIDTH = 1.96
# The simulation is the same for the same quiz.
_SEED = 20_260_901


@dataclass(frozen=True)
class Exposure:
    """`chances[k]` is the probability that two students share exactly k items.

    `margin` is half of the 95 % interval of the average where it was simulated, and 0 where it is exact.
    """

    chances: Chances
    margin: float = 0.0

    @property
    def expected(self) -> float:
        return math.fsum(k * chance for k, chance in enumerate(self.chances))

    @property
    def worst(self) -> int:
        """The most items that two students can share."""
        return max((k for k, chance in enumerate(self.chances) if chance), default=0)

    def at_least(self, k: int) -> float:
        """The chance that two students share k items or more."""
        return math.fsum(self.chances[max(0, k) :])


@lru_cache(maxsize=512)
def exposure_of_draw(pool: int, pick: int) -> Exposure:
    """Exposure of one draw of `pick` from `pool` items; a pool that is too small is shared whole."""
    pick = max(0, min(pick, pool))
    ways = math.comb(pool, pick)
    exact = (Fraction(math.comb(pick, k) * math.comb(pool - pick, pick - k), ways) for k in range(pick + 1))
    return Exposure(tuple(map(float, exact)))


@dataclass(frozen=True)
class DrawSet:
    """A draw as the items that it can give, without the fixed ones, and how many it picks."""

    candidates: frozenset[str]
    pick: int

    @property
    def given(self) -> int:
        return min(self.pick, len(self.candidates))


@dataclass(frozen=True)
class Seen:
    """So many items are seen by each student with this chance, counted over all of a quiz."""

    chance: float
    items: int


@dataclass(frozen=True)
class Tangle:
    """Draws that share items, by the cells of items that the same of them can give.

    `sizes` has the items of each cell, `within` the cells of each draw, `picks` how many each picks, in order.
    """

    sizes: tuple[int, ...]
    within: tuple[tuple[int, ...], ...]
    picks: tuple[int, ...]


def exposure_of_quiz(fixed: int, draws: Sequence[DrawSet]) -> Exposure:
    """Exposure of a whole quiz: fixed items are always shared; of draws with common items, the first takes first."""
    chances, variance = np.zeros(fixed + 1), 0.0
    chances[fixed] = 1
    for tangle in tangles(draws):
        found = _exposure_of(tangle)
        variance += found.margin**2
        chances = np.convolve(chances, np.array(found.chances))
    return Exposure(tuple(chances.tolist()), math.sqrt(variance))


def overlapping(draws: Sequence[DrawSet]) -> list[tuple[int, int, int]]:
    """Which draws have items in common, as (one, other, how many)."""
    pairs = ((a, b) for b in range(len(draws)) for a in range(b))
    shared = ((a, b, len(draws[a].candidates & draws[b].candidates)) for a, b in pairs if _touch(draws[a], draws[b]))
    return [found for found in shared if found[2]]


def _touch(a: DrawSet, b: DrawSet) -> bool:
    return not a.candidates.isdisjoint(b.candidates)


def tangles(draws: Sequence[DrawSet]) -> list[Tangle]:
    """The draws in groups that have no item in common with each other."""
    groups: list[list[DrawSet]] = []
    for draw in draws:
        touched = [group for group in groups if any(_touch(draw, other) for other in group)]
        groups = [group for group in groups if group not in touched]
        groups.append([*(other for group in touched for other in group), draw])
    order = {id(draw): place for place, draw in enumerate(draws)}
    return [_tangle(sorted(group, key=lambda draw: order[id(draw)])) for group in groups]


def _tangle(draws: Sequence[DrawSet]) -> Tangle:
    if len(draws) == 1 or all(draw.candidates == draws[0].candidates for draw in draws):
        # One pool, however often it is drawn from.
        size = len(draws[0].candidates)
        return Tangle((size,), ((0,),), (min(size, sum(draw.pick for draw in draws)),))
    holders: dict[str, int] = defaultdict(int)
    for place, draw in enumerate(draws):
        for item in draw.candidates:
            holders[item] |= 1 << place
    sizes = Counter(holders.values())
    cells = sorted(sizes)
    within = tuple(tuple(n for n, cell in enumerate(cells) if cell >> place & 1) for place in range(len(draws)))
    return Tangle(tuple(sizes[cell] for cell in cells), within, tuple(draw.pick for draw in draws))


def _exposure_of(tangle: Tangle) -> Exposure:
    if len(tangle.sizes) == 1:
        return exposure_of_draw(tangle.sizes[0], tangle.picks[0])
    cases = _cases(tangle)
    if cases is not None and len(cases) ** 2 * len(tangle.sizes) <= MOST_CASES:
        return _counted(tangle, cases)
    return _simulated(tangle)


Case = tuple[int, ...]


def _cases(tangle: Tangle) -> dict[Case, float] | None:
    """How many items a student gets from each cell, with the chance of it; None where there are too many cases to count."""
    cases: dict[Case, float] = {(0,) * len(tangle.sizes): 1.0}
    for cells, pick in zip(tangle.within, tangle.picks, strict=True):
        following: dict[Case, float] = defaultdict(float)
        for taken, chance in cases.items():
            left = [tangle.sizes[cell] - taken[cell] for cell in cells]
            picked = min(pick, sum(left))
            if math.prod(min(size, picked) + 1 for size in left[:-1]) > MOST_CASES:
                return None
            for parts, share in _spread(left, picked):
                changed = list(taken)
                for cell, count in zip(cells, parts, strict=True):
                    changed[cell] += count
                following[tuple(changed)] += chance * share
            if len(following) ** 2 > MOST_CASES:
                return None
        cases = following
    return cases


def _spread(left: Sequence[int], pick: int) -> Iterator[tuple[Case, float]]:
    """In what ways `pick` items can come from cells that have so many left, with the chance of each."""
    ways = math.comb(sum(left), pick)
    for head in product(*(range(min(size, pick) + 1) for size in left[:-1])):
        last = pick - sum(head)
        if 0 <= last <= left[-1]:
            parts = (*head, last)
            yield parts, math.prod(math.comb(size, count) for size, count in zip(left, parts, strict=True)) / ways


def _counted(tangle: Tangle, cases: dict[Case, float]) -> Exposure:
    chances = np.zeros(sum(tangle.picks) + 1)
    for (mine, a), (its, b) in product(cases.items(), repeat=2):
        shared = np.ones(1)
        for size, one, other in zip(tangle.sizes, mine, its, strict=True):
            shared = np.convolve(shared, _common(size, one, other))
        chances[: len(shared)] += a * b * shared
    return Exposure(tuple(chances.tolist()))


@lru_cache(maxsize=4096)
def _common(size: int, one: int, other: int) -> NDArray[np.float64]:
    """The chances that two draws of so many from a cell have k items in common, by k."""
    ways = math.comb(size, other)
    return np.array([math.comb(one, k) * math.comb(size - one, other - k) / ways for k in range(min(one, other) + 1)])


def _simulated(tangle: Tangle) -> Exposure:
    rng = np.random.default_rng(_SEED)
    taken = simulated_counts(tangle, 2 * SIMULATED, rng)
    mine, its = taken[::2], taken[1::2]
    sizes = np.array(tangle.sizes)
    shared = rng.hypergeometric(mine, sizes - mine, its).sum(axis=1)
    counts = np.bincount(shared, minlength=1)
    return Exposure(tuple((counts / SIMULATED).tolist()), _WIDTH * float(shared.std()) / math.sqrt(SIMULATED))


def simulated_counts(tangle: Tangle, students: int, rng: np.random.Generator) -> NDArray[np.int64]:
    """How many items each of so many students gets from each cell, as an array of students × cells."""
    left = np.tile(np.array(tangle.sizes, dtype=np.int64), (students, 1))
    for cells, pick in zip(tangle.within, tangle.picks, strict=True):
        columns = list(cells)
        wanted = np.minimum(pick, left[:, columns].sum(axis=1))
        for place, column in enumerate(columns):
            others = left[:, columns[place + 1 :]].sum(axis=1)
            got = rng.hypergeometric(left[:, column], others, wanted)
            left[:, column] -= got
            wanted = wanted - got
    return np.array(tangle.sizes, dtype=np.int64) - left


def seen_items(fixed: int, draws: Sequence[DrawSet]) -> list[Seen]:
    """How often items are seen, the most seen first; items of a cell all alike."""
    found: Counter[float] = Counter({1.0: fixed} if fixed else {})
    for tangle in tangles(draws):
        for size, taken in zip(tangle.sizes, _taken_on_average(tangle), strict=True):
            if size:
                found[round(taken / size, 9)] += size
    return [Seen(chance, items) for chance, items in sorted(found.items(), reverse=True)]


def _taken_on_average(tangle: Tangle) -> list[float]:
    if len(tangle.sizes) == 1:
        return [float(min(tangle.sizes[0], tangle.picks[0]))]
    cases = _cases(tangle)
    if cases is None:
        rng = np.random.default_rng(_SEED)
        return [float(mean) for mean in simulated_counts(tangle, SIMULATED, rng).mean(axis=0)]
    return [math.fsum(case[cell] * chance for case, chance in cases.items()) for cell in range(len(tangle.sizes))]


def seen_in_attempts(seen: Iterable[Seen], attempts: int) -> float:
    """How many different items a student sees in so many attempts, each drawn anew, on average."""
    return math.fsum(entry.items * (1 - (1 - entry.chance) ** attempts) for entry in seen)


def pool_needed(pick: int, overlap: float) -> int:
    """The smallest pool from which a draw of `pick` shares at most `overlap` items on average (pick² / pool)."""
    if overlap <= 0:
        raise ValueError("Two draws from one pool always share some items on average; give an overlap above 0.")
    return max(pick, math.ceil(Fraction(pick * pick) / Fraction(overlap).limit_denominator(10_000)))

"""Exposure: how many items two students have in common when each gets an independent draw.

For a draw of n from a pool of N the number in common is hypergeometric: C(n, k) C(N-n, n-k) / C(N, n). All chances are
exact fractions until they are shown.
"""

from __future__ import annotations

import math
from collections.abc import Iterable
from dataclasses import dataclass
from fractions import Fraction


@dataclass(frozen=True)
class Exposure:
    """`chances[k]` is the probability that two students share exactly k items."""

    chances: tuple[Fraction, ...]

    @property
    def expected(self) -> Fraction:
        return sum((k * chance for k, chance in enumerate(self.chances)), Fraction(0))

    @property
    def worst(self) -> int:
        """The most items that two students can share."""
        return max((k for k, chance in enumerate(self.chances) if chance), default=0)

    def at_least(self, k: int) -> Fraction:
        """The chance that two students share k items or more."""
        return sum(self.chances[max(0, k) :], Fraction(0))


def exposure_of_draw(pool: int, pick: int) -> Exposure:
    """Exposure of one draw of `pick` from `pool` items; a pool that is too small is shared whole."""
    pick = max(0, min(pick, pool))
    ways = math.comb(pool, pick)
    return Exposure(tuple(Fraction(math.comb(pick, k) * math.comb(pool - pick, pick - k), ways) for k in range(pick + 1)))


def exposure_of_quiz(fixed: int, draws: Iterable[tuple[int, int]]) -> Exposure:
    """Exposure of a whole quiz: fixed items are always shared; draws, as (pool, pick), are from pools without common items."""
    chances = (Fraction(0),) * fixed + (Fraction(1),)
    for pool, pick in draws:
        chances = _convolved(chances, exposure_of_draw(pool, pick).chances)
    return Exposure(chances)


def _convolved(a: tuple[Fraction, ...], b: tuple[Fraction, ...]) -> tuple[Fraction, ...]:
    sums = [Fraction(0)] * (len(a) + len(b) - 1)
    for i, x in enumerate(a):
        if x:
            for j, y in enumerate(b):
                sums[i + j] += x * y
    return tuple(sums)


def pool_needed(pick: int, overlap: float) -> int:
    """The smallest pool from which a draw of `pick` shares at most `overlap` items on average (pick² / pool)."""
    if overlap <= 0:
        raise ValueError("Two draws from one pool always share some items on average; give an overlap above 0.")
    return max(pick, math.ceil(Fraction(pick * pick) / Fraction(overlap).limit_denominator(10_000)))

"""Proof by sample: how many of the items that nothing was said about can still be wrong, after some of them were looked at.

The bound is exact: what is looked at is drawn without putting back, so the number of wrong ones among them is hypergeometric. No
approximation by a normal or a binomial distribution, which are off where a sample is a good part of the whole.
"""

from __future__ import annotations

import random
from collections.abc import Sequence
from math import comb

from pydantic import BaseModel, Field

CONFIDENCE = 0.95


class Sample(BaseModel):
    """Items drawn by a seed from `of` positions, and what was said of those looked at so far: true where one is right."""

    seed: int
    of: int = Field(ge=1)
    drawn: list[int]
    verdicts: dict[int, bool] = Field(default_factory=dict)

    @property
    def looked(self) -> int:
        return len(self.verdicts)

    @property
    def wrong(self) -> int:
        return sum(not right for right in self.verdicts.values())

    @property
    def next(self) -> int | None:
        """The next position to look at; none where all that was drawn was looked at."""
        return next((position for position in self.drawn if position not in self.verdicts), None)


def draw_sample(positions: Sequence[int], count: int, seed: int) -> Sample:
    """A sample of `count` of the positions, the same for the same seed; at least one, at most all. Raises ValueError for none."""
    if not positions:
        raise ValueError("There is nothing to draw from.")
    count = max(1, min(count, len(positions)))
    return Sample(seed=seed, of=len(positions), drawn=random.Random(seed).sample(sorted(positions), count))  # noqa: S311


def chance_of_at_most(wrong: int, looked: int, wrong_of_all: int, of: int) -> float:
    """How likely it is to see at most `wrong` wrong ones among `looked`, if `wrong_of_all` of `of` are wrong (hypergeometric)."""
    ways = sum(comb(wrong_of_all, k) * comb(of - wrong_of_all, looked - k) for k in range(min(wrong, looked) + 1))
    return ways / comb(of, looked)


def most_wrong(wrong: int, looked: int, of: int, confidence: float = CONFIDENCE) -> int:
    """The most that can be wrong of all, at a confidence: the largest number under which so few wrong ones are still that likely.

    It counts those that were seen. With nothing looked at, all can be wrong.
    """
    low, high = wrong, of - (looked - wrong)
    while low < high:
        middle = (low + high + 1) // 2
        if chance_of_at_most(wrong, looked, middle, of) > 1 - confidence:
            low = middle
        else:
            high = middle - 1
    return low


def size_for(bound: int, of: int, confidence: float = CONFIDENCE) -> int:
    """How many to look at so that, if none of them is wrong, at most `bound` of all are."""
    bound = max(0, bound)
    low, high = 0, of
    while low < high:
        middle = (low + high) // 2
        if most_wrong(0, middle, of, confidence) <= bound:
            high = middle
        else:
            low = middle + 1
    return low


def proof_words(looked: int, wrong: int, of: int, confidence: float = CONFIDENCE) -> str:
    """What a sample proves, in a sentence."""
    seen = f"{looked} of {of} looked at, {wrong or 'none'} wrong"
    most = most_wrong(wrong, looked, of, confidence)
    if looked == of:
        return f"{seen}: all were looked at."
    return f"{seen}: with {confidence:.0%} confidence at most {most} of the {of} are.".replace("%", " %")

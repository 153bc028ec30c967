"""Proof by sample: the bound is exact, and says no more than was proved."""

from __future__ import annotations

from math import comb

import pytest
from hypothesis import given
from hypothesis import strategies as st

from rogatum.core.checks.sampling import Sample, draw_sample, most_wrong, proof_words, size_for


def test_what_twenty_of_154_prove():
    assert proof_words(20, 0, 154) == "20 of 154 looked at, none wrong: with 95 % confidence at most 20 of the 154 are."
    assert proof_words(3, 1, 3) == "3 of 3 looked at, 1 wrong: all were looked at."


@st.composite
def looks(draw) -> tuple[int, int, int]:
    of = draw(st.integers(1, 60))
    looked = draw(st.integers(1, of))
    return draw(st.integers(0, looked)), looked, of


@given(looks())
def test_the_bound_is_the_largest_number_that_is_still_likely(seen):
    wrong, looked, of = seen

    def chance(bad: int) -> float:
        return sum(comb(bad, k) * comb(of - bad, looked - k) for k in range(wrong + 1) if k <= bad) / comb(of, looked)

    most = most_wrong(wrong, looked, of)
    possible = [bad for bad in range(wrong, of - (looked - wrong) + 1) if chance(bad) > 0.05 + 1e-12]
    assert most == max(possible, default=wrong)


@given(st.integers(1, 80), st.integers(0, 30))
def test_the_size_is_the_least_that_proves_the_bound(of, bound):
    size = size_for(bound, of)
    assert most_wrong(0, size, of) <= bound
    assert size == 0 or most_wrong(0, size - 1, of) > bound


def test_a_sample_is_drawn_by_its_seed_and_looked_at_in_turn():
    sample = draw_sample(range(1, 155), 20, 7)
    assert sample == draw_sample(range(1, 155), 20, 7) != draw_sample(range(1, 155), 20, 8)
    assert len(set(sample.drawn)) == 20 and set(sample.drawn) <= set(range(1, 155))
    sample.verdicts[sample.drawn[0]] = False
    assert (sample.next, sample.looked, sample.wrong) == (sample.drawn[1], 1, 1)
    assert Sample(**sample.model_dump()) == sample
    with pytest.raises(ValueError, match="nothing"):
        draw_sample([], 5, 1)

"""A number that is accepted, as a value with its tolerance or as a range: turned, the same numbers stay right."""

from __future__ import annotations

import pytest
from hypothesis import given
from hypothesis import strategies as st

from rogatum.core.errors import NoSuchForm
from rogatum.core.items import Matching, NumericAnswer, Pair
from rogatum.core.items.changes import with_shares
from rogatum.core.items.number_forms import turned

DECIMALS = st.decimals(-10_000, 10_000, places=3).map(float)
SPREADS = st.one_of(
    st.decimals(0, 100, places=3).map(lambda spread: {"tolerance": float(spread)}),
    st.integers(0, 50).map(lambda per_cent: {"relative": float(per_cent)}),
    st.integers(1, 6).map(lambda figures: {"figures": figures}),
    st.integers(0, 3).map(lambda places: {"figures": places, "rounding": "decimal"}),
)


@given(value=DECIMALS, spread=SPREADS, near=st.floats(-2, 2))
def test_a_value_becomes_the_range_of_the_same_numbers(value, spread, near):
    before = NumericAnswer(value=value, weight=0.5, feedback="Near.", **spread)
    after = turned(before)
    assert after.value is None and (after.weight, after.feedback) == (0.5, "Near.")
    low, high = before.bounds()
    for number in (low, high, value, value + near * ((high - low) or 1)):
        assert after.holds(number) == before.holds(number)


@given(bounds=st.lists(DECIMALS, min_size=2, max_size=2).map(sorted))
def test_a_range_becomes_a_value_and_the_same_range_again(bounds):
    low, high = bounds
    made = turned(NumericAnswer(min=low, max=high))
    assert made.value is not None
    again = turned(made)
    assert (again.min, again.max, again.include_min, again.include_max) == (low, high, True, True)


@given(value=DECIMALS, spread=st.decimals(0, 100, places=3).map(float))
def test_bounds_are_sums_of_the_digits_that_people_see(value, spread):
    low, high = NumericAnswer(value=value, tolerance=spread).bounds()
    assert (round(value - spread, 6), round(value + spread, 6)) == (low, high)


def test_numbers_are_turned_by_the_digits_that_people_see():
    made = turned(NumericAnswer(value=0.3, tolerance=0.1))
    assert (made.min, made.max) == (0.2, 0.4)


@pytest.mark.parametrize(
    ("held", "why"),
    [
        ({"min": 3}, "open at one end"),
        ({"max": 3}, "open at one end"),
        ({"min": 3, "max": 5, "include_max": False}, "does not count"),
        ({"min": 3, "max": 5, "include_min": False}, "does not count"),
    ],
)
def test_a_range_that_no_value_stands_for_stays_a_range(held, why):
    with pytest.raises(NoSuchForm, match=why):
        turned(NumericAnswer(**held))


def test_pairs_get_shares_of_their_own_and_lose_them():
    item = Matching(id="m", pairs=[Pair(left=side, right=side) for side in "ab"] + [Pair(left="c", right="c", share=0.25)])
    shared = with_shares(item, own=True)
    assert [pair.share for pair in shared.pairs] == [0.333333, 0.333333, 0.25]
    assert [pair.share for pair in with_shares(shared, own=False).pairs] == [None, None, None]
    assert with_shares(Matching(id="m"), own=True).pairs == []

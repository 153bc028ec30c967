"""Numbers as people type them for a key: tolerances, ranges with and without their bounds, units, powers."""

from __future__ import annotations

import pytest

from rogatum.core.items.typed_numbers import beyond, doubtful_number, number_of


@pytest.mark.parametrize(
    ("text", "said", "unit"),
    [
        ("25", {"value": 25, "tolerance": 0}, None),
        ("-0,5", {"value": -0.5, "tolerance": 0}, None),
        ("−3", {"value": -3, "tolerance": 0}, None),
        ("12,500.5", {"value": 12500.5, "tolerance": 0}, None),
        ("6.02 x 10^23", {"value": 6.02e23, "tolerance": 0}, None),
        ("6.02 × 10²³", {"value": 6.02e23, "tolerance": 0}, None),
        ("1.5e-3", {"value": 0.0015, "tolerance": 0}, None),
        ("1.4 g/cm³", {"value": 1.4, "tolerance": 0}, "g/cm³"),
        ("45 %", {"value": 45, "tolerance": 0}, "%"),
        ("25 ± 0.5", {"value": 25, "tolerance": 0.5}, None),
        ("80 (± 1)", {"value": 80, "tolerance": 1}, None),
        ("2.65 +/- 0.05 g/cm³", {"value": 2.65, "tolerance": 0.05}, "g/cm³"),
        ("24.5 to 25.5", {"min": 24.5, "max": 25.5}, None),
        ("25.5–24.5", {"min": 24.5, "max": 25.5}, None),
        ("between 3 and 5 mm", {"min": 3, "max": 5}, "mm"),
        ("more than 3 to 5", {"min": 3, "max": 5, "include_min": False}, None),
        ("3 to less than 5 mm", {"min": 3, "max": 5, "include_max": False}, "mm"),
        ("3 or more", {"min": 3}, None),
        ("5 or less kg", {"max": 5}, "kg"),
        ("2.65 to 3 significant figures", {"value": 2.65, "figures": 3, "rounding": "significant"}, None),
        ("2.7 to 1 decimal place", {"value": 2.7, "figures": 1, "rounding": "decimal"}, None),
    ],
)
def test_a_number_is_read_as_it_is_meant(text, said, unit):
    found = number_of(text)
    assert found is not None
    assert found.unit == unit
    numbers = {name: wanted for name, wanted in said.items() if name != "rounding"}
    assert {name: getattr(found.answer, name) for name in numbers} == pytest.approx(numbers)
    assert found.answer.rounding == said.get("rounding", found.answer.rounding)


@pytest.mark.parametrize("text", ["", "clay", "12 Monkeys and a dog that barks all night", "1/2", "±", "2 of 3"])
def test_what_is_no_number_is_none(text):
    assert number_of(text) is None


def test_a_range_that_leaves_out_its_bound_is_read_where_it_is_asked_for():
    more, less = beyond("more than 3"), beyond("less than 2.5")
    assert more is not None and (more.answer.min, more.answer.include_min) == (3, False)
    assert less is not None and (less.answer.max, less.answer.include_max) == (2.5, False)
    assert beyond("more than a few") is None
    assert number_of("more than 3") is None


@pytest.mark.parametrize(
    ("text", "doubt"), [("1,250", "1,250"), ("1,2500", None), ("1,250.5", None), ("12.5", None), ("0,250", None)]
)
def test_a_comma_before_three_digits_may_be_read_in_two_ways(text, doubt):
    assert doubtful_number(text) == doubt

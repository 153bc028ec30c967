"""Sixty files in dialects of the standards, combined at random, against their truth. The figures reached must stay."""

from __future__ import annotations

import pytest

from tests.sampled import tally_of


@pytest.fixture(scope="module")
def tally(tmp_path_factory):
    return tally_of("dialects.zip", tmp_path_factory.mktemp("dialects"))


def test_all_items_are_read_rightly(tally):
    assert tally.items > 500 and tally.items_right == tally.items


def test_none_is_wrong_without_a_word(tally):
    assert tally.silent == 0


def test_none_that_is_right_is_queried(tally):
    assert tally.alarms == 0

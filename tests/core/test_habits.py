"""Sixty documents in people's habits, combined at random, against their truth. The figures reached must stay."""

from __future__ import annotations

import pytest

from tests import scorer
from tests.sampled import tally_of

# Of all items right, wrong without a word, and right with a warning of the right ones; in hundredths of a per cent.
LEAST_RIGHT, MOST_SILENT, MOST_ALARMS = 9950, 0, 200


@pytest.fixture(scope="module")
def tally(tmp_path_factory):
    return tally_of("habits.zip", tmp_path_factory.mktemp("habits"))


def test_most_items_are_read_rightly(tally):
    assert tally.items == 660 and 10_000 * tally.items_right >= LEAST_RIGHT * tally.items


def test_hardly_any_is_wrong_without_a_word(tally):
    assert 10_000 * tally.silent <= MOST_SILENT * tally.items


def test_few_that_are_right_are_queried(tally):
    assert 10_000 * tally.alarms <= MOST_ALARMS * tally.items_right


def test_the_scorer_finds_what_is_wrong():
    truth = {"items": [{"id": "1", "type": "true_false", "stem": "Clay is fine.", "answer": True}]}
    bank = {"items": [{"id": "a", "type": "true_false", "stem": "Clay is fine.", "answer": False}], "findings": []}
    found = scorer.Tally()
    assert scorer.score_bank(truth, bank, found) and (found.items_right, found.silent) == (0, 1)

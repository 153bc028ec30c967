"""A key set by hand: penalties and credit for what is partly right stay, the points are shared anew."""

from __future__ import annotations

import pytest

from rogatum.core.errors import NoSuchKey
from rogatum.core.items import Choice, Essay, FillIn, MultipleChoice, MultipleResponse, Ordering, TextAnswer, TrueFalse
from rogatum.core.items.key import key_words, set_key


def of(kind, *weights, **fields):
    return kind(
        id="q", stem="?", choices=[Choice(id="abcd"[n], content=f"c{n}", weight=w) for n, w in enumerate(weights)], **fields
    )


@pytest.mark.parametrize(
    ("item", "right", "weights"),
    [
        (of(MultipleChoice, 1, 0.5, -0.25), ["c"], [0, 0.5, 1]),
        (of(MultipleChoice, 1, 0.5, -0.25), ["b"], [0, 1, -0.25]),
        (of(MultipleChoice, 1, 0), [], [0, 0]),
        (of(MultipleResponse, 0.5, 0.5, 0, 0), ["a", "b", "c"], [0.333333, 0.333333, 0.333333, 0]),
        (of(MultipleResponse, 0.5, 0.5, -0.5), ["a"], [1, 0, -0.5]),
        (of(MultipleResponse, 0.75, 0.25, -0.5), ["a", "b"], [0.75, 0.25, -0.5]),
        (of(MultipleResponse, 0.6, 0.3, 0.1, 0), ["a", "b", "c", "d"], [0.45, 0.225, 0.075, 0.25]),
        (of(MultipleResponse, 0, 0, -1), ["c"], [0, 0, 1]),
        (of(MultipleResponse, 1, 0), [], [0, 0]),
    ],
)
def test_weights_after_a_key_is_set(item, right, weights):
    changed = set_key(item, right)
    assert [choice.weight for choice in changed.choices] == weights and changed is not item
    assert [choice.weight for choice in item.choices] != weights or set(right) == {c.id for c in item.choices if c.weight > 0}


def test_truth_and_order_are_set_by_what_they_show():
    assert set_key(TrueFalse(id="q", answer=True), ["false"]).answer is False
    assert set_key(TrueFalse(id="q", answer=True), []).answer is None
    assert key_words(set_key(Ordering(id="q", sequence=["x", "y", "z"]), ["2", "0", "1"])) == "z; x; y"


@pytest.mark.parametrize(
    ("item", "right"),
    [
        (of(MultipleChoice, 1, 0), ["x"]),
        (of(MultipleChoice, 1, 0), ["a", "b"]),
        (of(MultipleResponse, 1, 0), ["a", "x"]),
        (TrueFalse(id="q"), ["maybe"]),
        (TrueFalse(id="q"), ["true", "false"]),
        (Ordering(id="q", sequence=["x", "y"]), ["0"]),
        (FillIn(id="q", answers=[TextAnswer(text="clay")]), ["clay"]),
        (Essay(id="q"), []),
    ],
)
def test_a_key_that_the_item_does_not_offer_is_refused(item, right):
    with pytest.raises(NoSuchKey):
        set_key(item, right)

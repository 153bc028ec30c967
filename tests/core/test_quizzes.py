"""Draws, exposure and marking: the arithmetic of a quiz, against brute force where that can be had."""

from __future__ import annotations

from fractions import Fraction

import pytest
from hypothesis import given
from hypothesis import strategies as st

from rogatum.core.items import (
    Choice,
    ChoiceBlank,
    Cloze,
    Essay,
    FillIn,
    Matching,
    MultipleChoice,
    MultipleResponse,
    Numeric,
    NumericAnswer,
    Ordering,
    Pair,
    TextAnswer,
    TextBlank,
    TrueFalse,
)
from rogatum.core.quizzes.draws import PartPlan, assemble, draw
from rogatum.core.quizzes.exposure import exposure_of_draw, pool_needed
from rogatum.core.quizzes.marking import feedback_for, mark, parse_number
from rogatum.core.quizzes.student import student_item


@given(pick=st.integers(1, 60), tenths=st.integers(1, 300))
def test_the_pool_needed_is_the_smallest_that_keeps_the_overlap(pick, tenths):
    size = pool_needed(pick, tenths / 10)
    assert exposure_of_draw(size, pick).expected <= tenths / 10 + 1e-9 or size == pick and tenths / 10 >= pick
    if size > pick:
        assert Fraction(pick * pick, size - 1) > Fraction(tenths, 10)


@given(st.sets(st.text(max_size=5), max_size=30), st.integers(0, 12), st.text(max_size=6))
def test_a_draw_depends_on_seed_and_set_alone(candidates, pick, seed):
    drawn = draw(sorted(candidates), pick, seed)
    assert drawn == draw(sorted(candidates, reverse=True), pick, seed)
    assert len(set(drawn)) == len(drawn) == min(pick, len(candidates))


def test_draws_give_every_item_its_chance():
    pool = [str(n) for n in range(10)]
    counts = dict.fromkeys(pool, 0)
    for seed in range(2000):
        for item in draw(pool, 3, str(seed)):
            counts[item] += 1
    assert all(500 < count < 700 for count in counts.values()), counts


def test_no_item_comes_twice_in_an_attempt():
    parts = [PartPlan(("a", "b"), None), PartPlan(("a", "b", "c", "d"), 2), PartPlan(("c", "d", "e"), 2)]
    fixed, first, second = assemble(parts, "seed")
    assert fixed == ["a", "b"] and sorted(first) == ["c", "d"] and second == ["e"]


MC = MultipleChoice(id="1", choices=[Choice(id="a", content="x", weight=1), Choice(id="b", content="y", weight=-0.5)])
ALL = MultipleResponse(id="2", choices=[Choice(id=c, content=c, weight=w) for c, w in zip("abc", (0.5, 0.5, 0), strict=True)])
EACH = MultipleResponse(
    id="3", scoring="per_choice", choices=[Choice(id=c, content=c, weight=w) for c, w in zip("abc", (0.5, 0.5, -0.5), strict=True)]
)
TF = TrueFalse(id="4", answer=False)
FILL = FillIn(id="5", answers=[TextAnswer(text="Field  capacity"), TextAnswer(text="cap", weight=0.5, match="contains")])
PATTERN = FillIn(id="6", case_sensitive=True, answers=[TextAnswer(text="Ca(OH)?", match="regex")])
NUM = Numeric(id="7", answers=[NumericAnswer(value=1.4, tolerance=0.02), NumericAnswer(min=1, max=None, weight=0.5)])
MATCH = Matching(id="8", pairs=[Pair(left="l1", right="r1"), Pair(left="l2", right="r2")], distractors=["r3"])
ORDER = Ordering(id="9", sequence=["x", "y", "z"])
CLOZE = Cloze(
    id="10",
    blanks=[
        TextBlank(id="b1", answers=[TextAnswer(text="A")], share=0.75),
        ChoiceBlank(id="b2", choices=[Choice(id="p", content="p", weight=1)], share=0.25),
    ],
)


@pytest.mark.parametrize(
    ("item", "response", "share"),
    [
        (MC, "a", 1),
        (MC, "b", -0.5),
        (MC, None, 0),
        (ALL, ["b", "a"], 1),
        (ALL, ["a"], 0),
        (ALL, ["a", "b", "c"], 0),
        (EACH, ["a"], 0.5),
        (EACH, ["a", "b", "c"], 0.5),
        (EACH, ["c"], 0),
        (TF, "false", 1),
        (TF, "true", 0),
        (FILL, " field capacity ", 1),
        (FILL, "capillary", 0.5),
        (FILL, "", 0),
        (PATTERN, "CaOH", 1),
        (PATTERN, "caoh", 0),
        (NUM, "1,42", 1),
        (NUM, "1.43 g/cm³", 0.5),
        (NUM, "0.9", 0),
        (NUM, "much", 0),
        (MATCH, {"0": "0", "1": "1"}, 1),
        (MATCH, {"0": "0", "1": "2"}, 0.5),
        (MATCH, {"0": "x"}, 0),
        (ORDER, ["0", "1", "2"], 1),
        (ORDER, ["1", "0", "2"], 0),
        (CLOZE, {"b1": "a", "b2": "p"}, 1),
        (CLOZE, {"b2": "p"}, 0.25),
        (Essay(id="11"), "words", None),
    ],
)
def test_marks(item, response, share):
    assert mark(item, response) == share


@pytest.mark.parametrize(
    ("text", "value"), [("1 000", 1000), ("−3", -3), ("2e-3", 0.002), (".5", 0.5), ("12 g", 12), ("g 12", None)]
)
def test_numbers_as_people_type_them(text, value):
    assert parse_number(text) == value


def test_feedback_follows_the_response():
    item = MC.model_copy(update={"feedback": {"correct": "yes", "incorrect": "no", "general": "see 41"}})
    item.choices[1].feedback = "that is y"
    assert feedback_for(item, "a") == ["yes", "see 41"]
    assert feedback_for(item, "b") == ["that is y", "no", "see 41"]


def test_a_student_sees_no_key():
    for item in (MC, ALL, TF, FILL, NUM, MATCH, ORDER, CLOZE):
        shown = student_item(item, 1, "seed", shuffle=True).model_dump_json()
        assert "weight" not in shown and "capacity" not in shown and "1.4" not in shown
    orders = {tuple(o.id for o in student_item(ORDER, 1, str(seed), shuffle=True).options) for seed in range(40)}
    assert len(orders) == 6

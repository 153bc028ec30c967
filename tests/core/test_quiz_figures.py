"""What a quiz adds up to, and the key in words."""

from __future__ import annotations

import pytest

from rogatum.core.items import (
    Choice,
    ChoiceBlank,
    Cloze,
    Essay,
    FillIn,
    Matching,
    MultipleResponse,
    Numeric,
    NumericAnswer,
    NumericBlank,
    Ordering,
    Pair,
    TextAnswer,
    TextBlank,
    TrueFalse,
)
from rogatum.core.items.key import key_words
from rogatum.core.quizzes.catalogue import Catalogue
from rogatum.core.quizzes.criteria import Condition, Draw
from rogatum.core.quizzes.figures import draw_figures, figures_of_quiz
from rogatum.core.quizzes.phrases import where_words
from rogatum.core.quizzes.plan import Plan
from rogatum.core.quizzes.sums import Passage, sums_of
from rogatum.core.quizzes.timing import Load, seconds_of
from tests.core.quiz_making import catalogue, drawn, fixed, lot, quiz

POOLS = {
    "Nine": [lot(*range(1, 10), points=3)],
    "Differ": [lot(1, 2, 3, 4, points=1), lot(5, 6, 7, 8, 9, points=2)],
    "Three": [lot(1, 2, 3, points=2)],
    "Unsaid": [lot(1, 2, 3, points=None)],
    "Text": [lot(1, 2, points=1), lot(3, points=None, type_="information")],
}
TOTALS = {
    "nothing": ("Nine", [], 0, 0),
    "fixed items": ("Three", [fixed(1, 2, 3)], 3, 6),
    "items without points count one": ("Unsaid", [fixed(1, 2, 3)], 3, 3),
    "an information is worth nothing": ("Text", [fixed(1, 2, 3)], 3, 2),
    "points each of fixed items": ("Text", [fixed(1, 2, 3, each=5)], 3, 10),
    "a draw": ("Nine", [drawn("Nine", 2, None)], 2, 6),
    "a draw with points of its own": ("Nine", [drawn("Nine", 2, 4)], 2, 8),
    "a draw of items that differ": ("Differ", [drawn("Differ", 2, None)], 2, None),
    "a draw of items that differ, with points": ("Differ", [drawn("Differ", 2, 2)], 2, 4),
    "a draw from too few": ("Three", [drawn("Three", 5, None)], 3, 6),
    "fixed items are not drawn again": ("Three", [fixed(1, 2), drawn("Three", 5, None)], 3, 6),
    "a draw that leaves some out": ("Nine", [drawn("Nine", 9, 1, without=["1", "2"])], 7, 7),
    "a draw of a kind": ("Text", [drawn("Text", 9, 1, where=[Condition(facet="type", values=("multiple_choice",))])], 2, 2),
}


@pytest.mark.parametrize(("pool", "parts", "count", "points"), TOTALS.values(), ids=TOTALS)
def test_totals(pool, parts, count, points):
    found = figures_of_quiz(quiz(*parts), catalogue({pool: POOLS[pool]}))
    assert (found.items, found.points) == (count, points)


def test_a_draw_alone():
    found = draw_figures(12, 6)
    assert (found.pool_size, found.overlap, found.worst, found.half) == (12, pytest.approx(3), 6, 3)
    assert found.needed == [36, 18, 12, 9, 8, 6] and draw_figures(0, 0).needed == []


def test_problems_name_the_part_and_the_way_out():
    held = catalogue(POOLS)
    few = figures_of_quiz(quiz(drawn("Three", 5)), held).problems
    unequal = figures_of_quiz(quiz(drawn("Differ", 1, None)), held).problems
    assert few == ["Three has 3 items to draw from, fewer than the 5 it should give."]
    assert len(unequal) == 1 and "differ in points" in unequal[0]
    assert not figures_of_quiz(quiz(drawn("Differ", 1, 1)), held).problems


CONDITIONS = {
    "outcome 2.1": ([Condition(facet="outcome", values=("2.1",))], {"1", "2"}),
    "not hard": ([Condition(facet="difficulty", values=("hard",), but=True)], {"1", "4"}),
    "outcome 2.1, not hard": (
        [Condition(facet="outcome", values=("2.1",)), Condition(facet="difficulty", values=("HARD",), but=True)],
        {"1"},
    ),
    "numeric or essay": ([Condition(facet="type", values=("numeric", "essay"))], {"3", "4"}),
}


@pytest.mark.parametrize("words", CONDITIONS)
def test_draws_from_what_meets_conditions(words):
    where, ids = CONDITIONS[words]
    pool = [
        lot(1, outcome="2.1", hard="easy"),
        lot(2, outcome="2.1", hard="hard"),
        lot(3, outcome="2.2", hard="Hard", type_="numeric"),
        lot(4, type_="essay"),
    ]
    held = catalogue({"Pool": pool})
    assert {key for each in held.drawn_from(Draw(pool=["Pool"], pick=1, where=where)) for key in each.ids} == ids
    assert where_words(where).casefold() == words


def test_a_pool_with_and_without_what_lies_below_it_and_the_whole_course():
    held = Catalogue({}, {("A",): [lot(1)], ("A", "B"): [lot(2)], ("C",): [lot(3)]})
    given = {alone: {k for x in held.drawn_from(Draw(pool=["A"], pick=1, alone=alone)) for k in x.ids} for alone in (True, False)}
    assert given == {True: {"1"}, False: {"1", "2"}}
    assert len(held.drawn_from(Draw(pool=[], pick=1))) == len(held.drawn_from(Draw(pool=[], pick=1, alone=True))) == 3


# Time


def test_time_follows_type_words_and_figures():
    short, long = (TrueFalse(id="q", stem=" ".join(["word"] * count), answer=True) for count in (10, 160))
    assert seconds_of(long) - seconds_of(short) == 60
    assert seconds_of(Essay(id="q")) == 480 > seconds_of(Numeric(id="q")) > seconds_of(TrueFalse(id="q"))
    table = TrueFalse(id="q", stem="<table><tr><td>word</td></tr></table>", answer=True)
    assert seconds_of(table) - seconds_of(TrueFalse(id="q", stem="word", answer=True)) == 20
    pairs = [Pair(left="l", right="r") for _ in range(4)]
    assert seconds_of(Matching(id="q", pairs=pairs)) - seconds_of(Matching(id="q", pairs=pairs[:2])) > 40


def test_what_a_quiz_adds_up_to_is_on_average():
    pool = [lot(1, 2, outcome="2.1"), lot(3, 4, 5, 6, type_="essay")]
    held = catalogue({"Pool": pool})
    planned = quiz(drawn("Pool", 3), attempts=2).model_copy(
        update={"plan": Plan(rows=[Draw(pool=["Pool"], pick=2, where=[Condition(facet="outcome", values=("2.1",))])])}
    )
    found = sums_of(planned, held, [Passage(Load(words=150), frozenset({"1"}))], students=10)
    assert (found.outcomes, found.types) == ({"2.1": 1}, {"essay": 2, "multiple_choice": 1})
    assert found.minutes == pytest.approx(3 + 0.5) and found.words == 90 + 75
    assert [(row.label, row.wanted, row.given) for row in found.plan] == [("Pool: outcome 2.1", 2, 1)]
    assert found.attempts.attempts == 2 and found.attempts.different == pytest.approx(6 * (1 - 0.5**2))


def choices(**weights: float) -> list[Choice]:
    return [Choice(id=name, content=f"<em>{name}</em>", weight=weight) for name, weight in weights.items()]


WORDS = {
    "choices": (MultipleResponse(id="q", choices=choices(clay=0.5, sand=0, silt=0.5)), "clay; silt"),
    "a truth": (TrueFalse(id="q", answer=False), "False"),
    "an unknown truth": (TrueFalse(id="q"), ""),
    "texts": (FillIn(id="q", answers=[TextAnswer(text="clay"), TextAnswer(text="sand", weight=0)]), "clay"),
    "a number": (Numeric(id="q", answers=[NumericAnswer(value=25, tolerance=0)]), "25"),
    "a range": (Numeric(id="q", answers=[NumericAnswer(value=25, tolerance=0.5)]), "24.5 to 25.5"),
    "no upper bound": (Numeric(id="q", answers=[NumericAnswer(min=3)]), "3 or more"),
    "no lower bound": (Numeric(id="q", answers=[NumericAnswer(max=3)]), "3 or less"),
    "pairs": (Matching(id="q", pairs=[Pair(left="clay", right="fine")]), "clay – fine"),
    "an order": (Ordering(id="q", sequence=["rock", "soil"]), "rock; soil"),
    "blanks": (
        Cloze(
            id="q",
            blanks=[
                TextBlank(id="b1", answers=[TextAnswer(text="clay"), TextAnswer(text="fine clay")]),
                NumericBlank(id="b2", answers=[NumericAnswer(value=3)]),
                ChoiceBlank(id="b3", choices=choices(wet=1, dry=0)),
            ],
        ),
        "clay or fine clay; 3; wet",
    ),
    "an essay": (Essay(id="q", sample_answer="It depends."), ""),
}


@pytest.mark.parametrize("name", WORDS)
def test_keys_in_words(name):
    item, words = WORDS[name]
    assert key_words(item) == words

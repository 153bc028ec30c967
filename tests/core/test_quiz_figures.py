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
from rogatum.core.quizzes.figures import Candidate, PartFacts, draw_figures, figures_of


def items(first: int, last: int, points: float | None = 1, type_: str = "multiple_choice", *outcomes: str) -> tuple[Candidate, ...]:
    return tuple(Candidate(n, type_, points, outcomes) for n in range(first, last + 1))


def fixed(*candidates: Candidate, each: float | None = None) -> PartFacts:
    return PartFacts("Fixed", candidates, None, each)


def draw(pick: int, candidates: tuple[Candidate, ...], each: float | None = None, pool: int = 1) -> PartFacts:
    return PartFacts(f"Pool {pool}", candidates, pick, each, pool)


TOTALS = {
    "nothing": ([], 0, 0),
    "fixed items": ([fixed(*items(1, 3, 2))], 3, 6),
    "items without points count one": ([fixed(*items(1, 3, None))], 3, 3),
    "an information is worth nothing": ([fixed(*items(1, 2), *items(3, 3, None, "information"))], 3, 2),
    "points each of fixed items": ([fixed(*items(1, 2), *items(3, 3, None, "information"), each=5)], 3, 10),
    "a draw": ([draw(2, items(1, 9, 3))], 2, 6),
    "a draw with points of its own": ([draw(2, items(1, 9, 3), each=4)], 2, 8),
    "a draw of items that differ": ([draw(2, (*items(1, 4, 1), *items(5, 9, 2)))], 2, None),
    "a draw of items that differ, with points": ([draw(2, (*items(1, 4, 1), *items(5, 9, 2)), each=2)], 2, 4),
    "a draw from too few": ([draw(5, items(1, 3, 2))], 3, 6),
    "fixed items are not drawn again": ([fixed(*items(1, 2)), draw(5, items(1, 4))], 4, 4),
}


@pytest.mark.parametrize("name", TOTALS)
def test_totals(name):
    parts, count, points = TOTALS[name]
    found = figures_of(parts)
    assert (found.items, found.points) == (count, points)
    assert 0 <= found.overlap <= found.worst <= count and 0 <= found.at_least_half <= 1


EXPOSURE = {
    "fixed items are shared by all": ([fixed(*items(1, 4))], 4, 4, 1),
    "a draw of half": ([draw(2, items(1, 4))], 1, 2, 5 / 6),
    "a draw of all": ([draw(4, items(1, 4))], 4, 4, 1),
    "two draws of two pools": ([draw(1, items(1, 4)), draw(1, items(5, 8), pool=2)], 0.5, 2, 1 - (3 / 4) ** 2),
    "two draws of one pool are one": ([draw(1, items(1, 4)), draw(1, items(1, 4))], 1, 2, 5 / 6),
}


@pytest.mark.parametrize("name", EXPOSURE)
def test_what_two_students_have_in_common(name):
    parts, overlap, worst, half = EXPOSURE[name]
    found = figures_of(parts)
    assert (found.overlap, found.worst, found.at_least_half) == (pytest.approx(overlap), worst, pytest.approx(half))


def test_a_draw_alone():
    found = draw_figures(12, 6)
    assert (found.pool_size, found.overlap, found.worst, found.half) == (12, 3, 6, 3)
    assert found.needed_for_quarter == 24
    assert draw_figures(0, 0).needed_for_quarter == 0


def test_minutes_follow_the_types():
    choices, essays = figures_of([fixed(*items(1, 8))]), figures_of([fixed(*items(1, 8, 1, "essay"))])
    assert choices.minutes < essays.minutes == 64
    mixed = (*items(1, 5), *items(6, 10, 1, "essay"))
    assert choices.minutes / 8 * 4 < figures_of([draw(4, mixed)]).minutes < essays.minutes / 8 * 4


def test_outcomes_are_those_of_all_candidates_once():
    parts = [draw(1, items(1, 2, 1, "essay", "2.1")), fixed(*items(3, 3, 1, "essay", "1.4", "2.1"))]
    assert figures_of(parts).outcomes == ["1.4", "2.1"]


def test_problems_name_the_part_and_the_way_out():
    differ = (*items(1, 1, 1), *items(2, 2, 2))
    few, unequal = figures_of([draw(3, items(1, 2))]).problems, figures_of([draw(1, differ)]).problems
    assert few == ["Pool 1 has 2 items to draw from, fewer than the 3 it should give."]
    assert len(unequal) == 1 and "differ in points" in unequal[0]
    assert not figures_of([draw(1, differ, each=1)]).problems


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

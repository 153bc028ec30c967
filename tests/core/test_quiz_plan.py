"""Picking by plan: against brute force on small pools; sharing out by the largest remainder; items like others."""

from __future__ import annotations

import itertools

import pytest
from hypothesis import given
from hypothesis import strategies as st

from rogatum.core.errors import QuizRefused
from rogatum.core.quizzes.criteria import Condition, Draw
from rogatum.core.quizzes.figures import figures_of_quiz
from rogatum.core.quizzes.model import Part
from rogatum.core.quizzes.plan import Plan
from rogatum.core.quizzes.planning import picks_by, planned_parts, rows_for, shared_out, shortage_words, with_plan
from rogatum.core.quizzes.replacing import like_ones, next_from
from rogatum.core.quizzes.sharing_out import with_total
from tests.core.quiz_making import catalogue, drawn, fixed, lot, quiz

HARD = Condition(facet="difficulty", values=("hard",))


def row(pool: str, pick: int, *where: Condition) -> Draw:
    return Draw(pool=[pool], pick=pick, where=list(where))


def best_by_trying(wanted: list[tuple[frozenset[str], int]], uses: dict[str, int]) -> tuple[int, int]:
    """The most items that rows can get together, and the fewest uses that they then have: by trying every way of giving."""
    items = sorted(frozenset().union(*(asked for asked, _ in wanted)))
    best = (0, 0)
    for given_to in itertools.product(range(-1, len(wanted)), repeat=len(items)):
        counts = [given_to.count(number) for number in range(len(wanted))]
        fits = all(n < 0 or item in wanted[n][0] for item, n in zip(items, given_to, strict=True))
        if fits and all(count <= most for count, (_, most) in zip(counts, wanted, strict=True)):
            spent = sum(uses.get(item, 0) for item, n in zip(items, given_to, strict=True) if n >= 0)
            best = max(best, (sum(counts), -spent))
    return best[0], -best[1]


FACETS = st.tuples(st.sampled_from(["easy", "hard"]), st.sampled_from(["2.1", "2.2"]), st.sampled_from("AB"))
CONDITIONS = st.lists(
    st.sampled_from([HARD, Condition(facet="outcome", values=("2.1",)), Condition(facet="difficulty", values=("hard",), but=True)]),
    max_size=1,
)


@given(
    st.lists(FACETS, min_size=1, max_size=6),
    st.lists(st.tuples(st.sampled_from("AB"), st.integers(1, 3), CONDITIONS), min_size=1, max_size=3),
    st.dictionaries(st.sampled_from("123456"), st.integers(1, 2), max_size=4),
    st.text(max_size=3),
)
def test_a_plan_gets_as_much_as_can_be_had_with_the_fewest_uses(items, rows, uses, seed):
    pools = {"A": [], "B": []}
    for number, (hard, outcome, pool) in enumerate(items, 1):
        pools[pool].append(lot(number, hard=hard, outcome=outcome))
    plan = Plan(rows=[row(pool, pick, *where) for pool, pick, where in rows], seed=seed)
    held = catalogue(pools)
    picks = picks_by(plan, held, frozenset(), uses)
    got = [item for entry in picks for item in entry.items]
    asked = [frozenset(k for each in held.drawn_from(entry) for k in each.ids) for entry in plan.rows]
    assert len(set(got)) == len(got)
    assert all(
        set(entry.items) <= allowed and len(entry.items) <= entry.row.pick for entry, allowed in zip(picks, asked, strict=True)
    )
    most, fewest = best_by_trying([(allowed, entry.pick) for allowed, entry in zip(asked, plan.rows, strict=True)], uses)
    assert len(got) == most and (most < sum(row.pick for row in plan.rows) or sum(uses.get(item, 0) for item in got) == fewest)
    assert picks_by(plan, held, frozenset(), uses) == picks
    assert all(bool(entry.problem()) is (len(entry.items) < entry.row.pick) for entry in picks)


def test_what_is_short_is_told_with_how_many_there_are():
    held = catalogue({"Chapter 3": [lot(1, 2, 3, 4, hard="hard"), lot(5, 6, hard="easy")]})
    plan = Plan(rows=[row("Chapter 3", 5, HARD)], seed="s")
    (short,) = picks_by(plan, held, frozenset(), {})
    assert short.problem() == "Chapter 3 holds 4 hard items, the plan asks for 5."
    (apart,) = picks_by(plan, held, frozenset({"1", "2", "5"}), {})
    assert apart.problem() == "Chapter 3 holds 4 hard items, 2 of them in quizzes that are to be left out, the plan asks for 5."
    both = picks_by(Plan(rows=[row("Chapter 3", 4, HARD), row("Chapter 3", 5)]), held, frozenset(), {})
    assert [len(entry.items) for entry in both] == [4, 2] and "other rows of the plan want the same ones" in both[1].problem()
    assert shortage_words(both) == "6 of 9 items can be had; Chapter 3 is short."
    assert shortage_words(picks_by(Plan(rows=[row("Chapter 3", 6)]), held, frozenset(), {})) == "All 6 items can be had."


def test_a_plan_makes_fixed_items_or_draws_and_takes_the_place_of_the_one_before():
    held = catalogue({"A": [lot(*range(1, 10))], "B": [lot(*range(11, 15))]})
    plan, apart = Plan(rows=[row("A", 3), row("B", 2)], seed="s"), frozenset({"1", "2"})
    picks = picks_by(plan, held, apart, {})
    by_hand = quiz(fixed(9))
    made = with_plan(by_hand, plan, planned_parts(plan, picks, apart, held))
    assert [len(part.items) for part in made.parts] == [1, 3, 2] and not apart & set(made.item_ids())
    draws = plan.model_copy(update={"as_draws": True})
    again = with_plan(made, draws, planned_parts(draws, picks, apart, held))
    assert [part.draw and (part.draw.pick, part.draw.without) for part in again.parts] == [None, (3, ["1", "2"]), (2, [])]
    assert again.plan == draws and figures_of_quiz(again, held).items == 6


def test_items_put_back_are_drawn_anew_from_where_they_came_the_least_used_first():
    held = catalogue({"A": [lot(1, 2, 3, 4, hard="hard"), lot(5, 6)]})
    source = row("A", 2, HARD)
    assert (
        next_from(source, held, ["1", "2"], {"3": 2}, "s") == "4" and next_from(source, held, ["1", "2", "4"], {"3": 2}, "s") == "3"
    )
    assert next_from(source, held, ["1", "2", "3", "4"], {}, "s") is None


def test_an_item_is_replaced_by_the_most_like():
    pool = [
        lot(1, outcome="2.1", hard="hard"),
        lot(2, outcome="2.2", hard="hard"),
        lot(3, outcome="2.1", hard="hard"),
        lot(4, outcome="2.1", hard="easy"),
        lot(5, type_="essay"),
    ]
    held = catalogue({"A": pool})
    assert like_ones("1", Part(items=["1"]), held, ["1"], {}) == ["3", "4", "2", "5"]
    assert like_ones("1", Part(items=["1"], picked_from=row("A", 1, HARD)), held, ["1", "3"], {}) == ["2"]


# Sharing out


@given(st.integers(0, 60), st.lists(st.integers(0, 9), min_size=1, max_size=6), st.booleans())
def test_a_total_is_shared_out_by_the_largest_remainder(total, weights, capped):
    most = [weight + 3 for weight in weights] if capped else None
    counts = shared_out(total, weights, most)
    could = sum(most[n] for n, weight in enumerate(weights) if weight) if most else (total if sum(weights) else 0)
    assert sum(counts) == min(total, could)
    assert all(count == 0 for count, weight in zip(counts, weights, strict=True) if not weight)
    if sum(weights) and not capped:
        exact = [total * weight / sum(weights) for weight in weights]
        assert all(int(due) <= count <= int(due) + 1 for due, count in zip(exact, counts, strict=True))
        up = [due - int(due) for due, count in zip(exact, counts, strict=True) if count > int(due) + 1e-9]
        down = [due - int(due) for due, count in zip(exact, counts, strict=True) if count <= int(due) + 1e-9]
        assert not up or not down or min(up) >= max(down) - 1e-6
    with pytest.raises(ValueError, match="below 0"):
        shared_out(1, [-1])


def test_sixty_items_over_chapters_by_what_they_hold():
    held = catalogue({f"Chapter {n}": [lot(*range(100 * n, 100 * n + size))] for n, size in enumerate((50, 30, 20, 0), 1)})
    paths = [[f"Chapter {n}"] for n in range(1, 5)]
    assert [(entry.pool[0], entry.pick) for entry in rows_for(61, paths, held)] == [
        ("Chapter 1", 31),
        ("Chapter 2", 18),
        ("Chapter 3", 12),
    ]
    assert [entry.pick for entry in rows_for(60, paths, held, equally=True)] == [20, 20, 20]
    assert [entry.pick for entry in rows_for(200, paths, held)] == [50, 30, 20]


@given(
    st.lists(st.tuples(st.integers(1, 8), st.booleans(), st.sampled_from([1, 2, 5])), min_size=1, max_size=5),
    st.integers(1, 200),
    st.sampled_from([1.0, 0.5, 0.25]),
)
def test_a_wanted_total_comes_out_to_the_last_step(parts, total, step):
    pools, made, number = {}, [], 1
    for count, is_draw, points in parts:
        name = f"P{number}"
        pools[name] = [lot(*range(number, number + count), points=points)]
        made.append(drawn(name, max(1, count // 2), None) if is_draw else fixed(*range(number, number + count)))
        number += count
    held = catalogue(pools)
    try:
        wanted = with_total(quiz(*made), held, float(total), step)
    except QuizRefused as refused:
        assert all(is_draw for _, is_draw, _ in parts) and "smaller steps" in refused.way_out
        return
    assert figures_of_quiz(wanted, held).points == pytest.approx(total)
    assert all(
        value / step == round(value / step) for part in wanted.parts for value in [part.points_each or 0, *part.points.values()]
    )


def test_points_are_shared_out_in_the_proportions_that_items_have():
    held = catalogue({"A": [lot(1, 2, points=1), lot(3, points=2)]})
    worth = with_total(quiz(fixed(1, 2, 3)), held, 20, 1)
    assert worth.parts[0].points == {"1": 5, "2": 5, "3": 10}
    with pytest.raises(QuizRefused, match="steps of 0.5"):
        with_total(quiz(fixed(1, 2)), held, 10.3, 0.5)

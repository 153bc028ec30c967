"""What students have in common: against brute force, against simulation, and with pools that overlap."""

from __future__ import annotations

import itertools
import random
from collections import Counter

import pytest
from hypothesis import given
from hypothesis import strategies as st

from rogatum.core.quizzes import exposure
from rogatum.core.quizzes.classes import most_shared
from rogatum.core.quizzes.exposure import DrawSet, exposure_of_draw, exposure_of_quiz, overlapping, seen_in_attempts, seen_items


def of(items: str, pick: int) -> DrawSet:
    return DrawSet(frozenset(items), pick)


def attempts_by_counting(draws: list[DrawSet]) -> Counter[frozenset[str]]:
    """Every set of items that a student can get, as often as it comes: all draws in order, each without those before."""
    found: Counter[frozenset[str]] = Counter({frozenset(): 1})
    scale = 1
    for draw in draws:
        following: Counter[frozenset[str]] = Counter()
        sizes = {len(draw.candidates - taken) for taken in found}
        ways = {size: len(list(itertools.combinations(range(size), min(draw.pick, size)))) for size in sizes}
        whole = 1
        for count in ways.values():
            whole *= count
        for taken, weight in found.items():
            left = sorted(draw.candidates - taken)
            for got in itertools.combinations(left, min(draw.pick, len(left))):
                following[taken | set(got)] += weight * (whole // ways[len(left)])
        found, scale = following, scale * whole
    assert sum(found.values()) == scale
    return found


@pytest.mark.parametrize(("pool", "pick"), [(5, 2), (6, 3), (4, 4), (3, 0), (2, 5)])
def test_one_draw_is_what_counting_all_pairs_of_draws_gives(pool, pick):
    draws = list(itertools.combinations(range(pool), min(pick, pool)))
    shared = [len(set(a) & set(b)) for a in draws for b in draws]
    found = exposure_of_draw(pool, pick)
    assert found.expected == pytest.approx(sum(shared) / len(shared)) and found.worst == max(shared)
    for k in range(pick + 1):
        assert found.at_least(k) == pytest.approx(sum(s >= k for s in shared) / len(shared))


QUIZZES = {
    "two pools": (1, [of("abcd", 2), of("efg", 1)]),
    "one pool twice": (0, [of("abcd", 1), of("abcd", 2)]),
    "a pool within another": (0, [of("ab", 1), of("abcde", 2)]),
    "the outer one first": (0, [of("abcde", 2), of("ab", 1)]),
    "two that overlap": (2, [of("abc", 2), of("bcd", 2)]),
    "a chain": (0, [of("abc", 1), of("cde", 1), of("ef", 1)]),
    "more than there are": (0, [of("abc", 2), of("ab", 5)]),
}


@pytest.mark.parametrize("name", QUIZZES)
def test_pools_that_overlap_are_counted_right(name):
    fixed, draws = QUIZZES[name]
    ways = attempts_by_counting(draws)
    whole = sum(ways.values())
    shared: Counter[int] = Counter()
    for (a, x), (b, y) in itertools.product(ways.items(), repeat=2):
        shared[fixed + len(a & b)] += x * y
    found = exposure_of_quiz(fixed, draws)
    assert found.margin == 0 and found.worst == max(shared)
    for k, chance in enumerate(found.chances):
        assert chance == pytest.approx(shared[k] / whole**2)
    seen: Counter[float] = Counter({1.0: fixed} if fixed else {})
    for item in frozenset().union(*(draw.candidates for draw in draws)):
        seen[round(sum(weight for way, weight in ways.items() if item in way) / whole, 6)] += 1
    assert {round(entry.chance, 6): entry.items for entry in seen_items(fixed, draws)} == dict(seen)


def test_what_is_too_much_to_count_is_simulated_and_says_its_margin(monkeypatch):
    draws = [of("abcdefgh", 3), of("efghijkl", 3), of("ijklmnab", 2)]
    exact = exposure_of_quiz(1, draws)
    monkeypatch.setattr(exposure, "MOST_CASES", 1)
    told = exposure_of_quiz(1, draws)
    assert exact.margin == 0 < told.margin < 0.05
    assert abs(told.expected - exact.expected) < 3 * told.margin
    assert max(abs(a - b) for a, b in zip(told.chances, exact.chances, strict=False)) < 0.02
    assert exposure_of_quiz(1, draws) == told


def test_exposure_is_what_simulated_students_show():
    rng, pools = random.Random(3), [[f"{pool}{n}" for n in range(25)] for pool in "abc"]
    draws = [DrawSet(frozenset(pool), 4) for pool in pools]
    students = [{item for pool in pools for item in rng.sample(pool, 4)} for _ in range(400)]
    shared = [len(a & b) for a, b in itertools.combinations(students, 2)]
    found = exposure_of_quiz(0, draws)
    assert found.expected == pytest.approx(sum(shared) / len(shared), abs=0.1)
    assert found.at_least(4) == pytest.approx(sum(s >= 4 for s in shared) / len(shared), abs=0.02)


def test_the_most_of_a_class_is_what_simulated_classes_show():
    rng, pool = random.Random(5), [str(n) for n in range(40)]
    most = []
    for _ in range(60):
        students = [set(rng.sample(pool, 8)) for _ in range(20)]
        most.append(max(len(a & b) for a, b in itertools.combinations(students, 2)))
    found = most_shared(2, [DrawSet(frozenset(pool), 8)], 20)
    assert abs(found.middle - 2 - sorted(most)[30]) <= 1 and found.low <= found.middle <= found.high <= 10
    assert most_shared(2, [], 20).middle == 2 and most_shared(2, [], 1) is None


@given(st.lists(st.tuples(st.sets(st.sampled_from("abcdefgh"), min_size=1), st.integers(0, 4)), max_size=3))
def test_chances_are_chances_and_what_is_seen_is_what_is_given(drawn):
    draws = [DrawSet(frozenset(items), pick) for items, pick in drawn]
    found, seen = exposure_of_quiz(1, draws), seen_items(1, draws)
    assert sum(found.chances) == pytest.approx(1) and min(found.chances) >= 0
    given_on_average = sum(entry.chance * entry.items for entry in seen)
    assert 1 <= given_on_average <= 1 + sum(draw.given for draw in draws) + 1e-6
    # What two students share on average is, by item, the chance that both see it.
    assert found.expected == pytest.approx(sum(entry.chance**2 * entry.items for entry in seen))
    assert seen_in_attempts(seen, 1) == pytest.approx(given_on_average)
    assert overlapping(draws) == [
        (a, b, len(draws[a].candidates & draws[b].candidates))
        for b in range(len(draws))
        for a in range(b)
        if draws[a].candidates & draws[b].candidates
    ]

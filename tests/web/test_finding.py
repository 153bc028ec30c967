"""Finding items: each condition of a filter, their counts, orders, kept filters; every operation on all that match."""

from __future__ import annotations

from datetime import UTC, datetime, timedelta

import pytest
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st

from rogatum.core.quizzes.catalogue import ids_of
from rogatum.core.quizzes.figures import given_parts
from rogatum.web.courses.models import Course
from rogatum.web.pools.filters import CONDITIONS, counts_of, filtered
from rogatum.web.pools.models import Item
from rogatum.web.pools.schemas import NONE, ItemFilter
from rogatum.web.pools.search import fts_query
from rogatum.web.quizzes.models import Part, PartItem, Quiz
from rogatum.web.quizzes.services import shown_one
from tests.web.conftest import Api


@pytest.fixture
def filled(course, pools):
    """The paste in pools, with outcomes, a difficulty, feedback, advice, a quiz that draws, one item handed on and changed since."""
    rows = list(Item.objects.order_by("pk"))
    now = datetime.now(UTC)
    said = [
        {"outcome": "2.1", "difficulty": "easy", "feedback": True},
        {"outcome": "2.1; 2.2", "findings": "two-keys", "advice": "key-longest stem-negative"},
        {"outcome": "2.2", "difficulty": "hard", "handed": now + timedelta(hours=1)},
        {"picture": True, "handed": now - timedelta(days=9), "updated": now},
        {"formula": True, "updated": now - timedelta(days=40)},
    ]
    for row, fields in zip(rows, said, strict=True):
        Item.objects.filter(pk=row.pk).update(**fields)
    return [row.pk for row in rows]


def matches(api, course, **wanted):
    query = "&".join(f"{name}={value}" for name, value in wanted.items())
    return [row["id"] for row in api.ok("get", f"/courses/{course}/items?{query}")["rows"]]


CASES = {
    "type": ({"type": "multiple_choice"}, [0, 1]),
    "outcome among several": ({"outcome": "2.2"}, [1, 2]),
    "outcome none": ({"outcome": NONE}, [3, 4]),
    "difficulty": ({"difficulty": "hard"}, [2]),
    "points": ({"points": "2"}, [3]),
    "points none": ({"points": NONE}, [0, 1, 2, 4]),
    "points that are none": ({"points": "many"}, []),
    "source": ({"source": "Paste"}, [0, 1, 2, 3, 4]),
    "any finding": ({"findings": "any"}, [1]),
    "a finding": ({"findings": "two-keys"}, [1]),
    "no finding": ({"findings": NONE}, [0, 2, 3, 4]),
    "any advice": ({"advice": "any"}, [1]),
    "no advice": ({"advice": NONE}, [0, 2, 3, 4]),
    "picture": ({"picture": "true"}, [3]),
    "no formula": ({"formula": "false"}, [0, 1, 2, 3]),
    "feedback": ({"feedback": "true"}, [0]),
    "handed on": ({"handed": "yes"}, [2]),
    "not handed on": ({"handed": "no"}, [0, 1, 4]),
    "changed since": ({"handed": "changed"}, [3]),
    "since a day": ({"since": (datetime.now(UTC) - timedelta(days=20)).date()}, [0, 1, 2, 3]),
    "a phrase": ({"query": '"the smallest"'}, [0]),
    "a phrase that is none": ({"query": '"smallest the"'}, []),
    "a beginning in the middle": ({"query": "parti* smallest"}, [0]),
    "two conditions": ({"outcome": "2.2", "type": "true_false"}, [2]),
}


@pytest.mark.parametrize("name", CASES)
def test_a_condition_leaves_what_it_says(api, course, filled, name):
    wanted, places = CASES[name]
    assert matches(api, course, **wanted) == [filled[place] for place in places]


def test_items_by_the_quiz_that_uses_them(api, course, pools, filled):
    quiz = api.ok("post", f"/courses/{course}/quizzes", {"title": "Week 1"})["id"]
    api.ok("post", f"/quizzes/{quiz}/draws", {"pool": pools[0]["id"], "pick": 1})
    api.ok("post", f"/quizzes/{quiz}/items", {"items": [filled[4]]})
    assert matches(api, course, quiz=quiz) == [filled[place] for place in (0, 1, 2, 4)]
    assert matches(api, course, quiz=NONE) == [filled[3]] and matches(api, course, quiz="x") == []
    told = api.ok("get", f"/courses/{course}/items/counts")["counts"]["quiz"]
    assert told == {str(quiz): 4, NONE: 1}


# Draws of two quizzes, each as pool (0: Texture, 1: Water, None: all of the course), conditions, and places that it never gives.
HARD, NOT_2_2 = [{"facet": "difficulty", "values": ["HARD"]}], [{"facet": "outcome", "values": ["2.2"], "but": True}]
DRAWN = {
    "all of a pool": ([(0, [], [])], [0, 1, 2]),
    "of what meets a condition": ([(None, HARD, [])], [2]),
    "of what meets two": ([(None, [*NOT_2_2, {"facet": "type", "values": ["multiple_choice"]}], [])], [0]),
    "but for some": ([(None, NOT_2_2, [0])], [3, 4]),
    "but for some, which another draw gives": ([(None, [], [0, 3]), (0, HARD, []), (0, NOT_2_2, [])], [0, 1, 2, 4]),
    "of nothing": ([(1, HARD, [])], []),
}


@pytest.mark.parametrize("name", DRAWN)
def test_a_quiz_may_give_what_its_draws_are_from_in_the_filter_its_count_and_on_the_items_page(api, course, pools, filled, name):
    draws, wanted = DRAWN[name]
    quiz = api.ok("post", f"/courses/{course}/quizzes", {"title": "Week 1"})["id"]
    for pool, where, never in draws:
        body = {"pool": None if pool is None else pools[pool]["id"], "pick": 1, "where": where}
        part = api.ok("post", f"/quizzes/{quiz}/draws", body)["parts"][-1]["id"]
        Part.objects.filter(pk=part).update(without=[filled[place] for place in never])
    # What asks nothing is drawn by none.
    note = Item.objects.create(
        course_id=course, pool_id=pools[0]["id"], type="information", text="Read this.", body={}, position=99
    )
    wanted = [filled[place] for place in wanted]
    assert matches(api, course, quiz=quiz) == wanted
    assert matches(api, course, quiz=NONE) == [key for key in [*filled, note.pk] if key not in wanted]
    told = api.ok("get", f"/courses/{course}/items/counts")["counts"]["quiz"]
    assert told == ({str(quiz): len(wanted)} if wanted else {}) | {NONE: len(filled) + 1 - len(wanted)}
    used = [key for key in filled if api.ok("get", f"/items/{key}/page")["used"]]
    assert used == wanted


CONDITION = st.builds(
    lambda said, but: {"facet": said[0], "values": [said[1]], "but": but},
    st.sampled_from([("outcome", "2.1"), ("outcome", "2.2"), ("difficulty", "Easy"), ("type", "numeric"), ("type", "information")]),
    st.booleans(),
)
PLACES = st.sets(st.integers(0, 4), max_size=3)


@given(st.lists(st.tuples(st.sampled_from([0, 1, None]), st.lists(CONDITION, max_size=2), PLACES), max_size=3), PLACES)
@settings(suppress_health_check=[HealthCheck.function_scoped_fixture], max_examples=60)
def test_the_filter_and_its_count_know_what_the_core_finds_that_a_quiz_can_give(course, pools, filled, draws, fixed):
    mine = Course.objects.get(pk=course)
    Item.objects.filter(pk=filled[1]).update(type="information")
    quiz = Quiz.objects.create(course=mine, title="Q")
    part = Part.objects.create(quiz=quiz, kind="fixed", position=1)
    PartItem.objects.bulk_create(PartItem(part=part, item_id=filled[place], position=place) for place in fixed)
    for number, (pool, where, never) in enumerate(draws, 2):
        without = [filled[place] for place in never]
        key = None if pool is None else pools[pool]["id"]
        Part.objects.create(quiz=quiz, kind="draw", position=number, pick=1, pool_id=key, where=where, without=without)
    now = shown_one(quiz)
    found = {int(key) for given in given_parts(now.core, now.catalogue) for key in ids_of(given.lots)}
    asked = ItemFilter(quiz=str(quiz.pk))
    assert set(filtered(mine, asked).values_list("pk", flat=True)) == found
    told = counts_of(mine, asked)["quiz"]
    assert told.get(str(quiz.pk), 0) == len(found) and told[NONE] == len(filled) - len(found)
    quiz.delete()


def test_any_number_of_draws_with_conditions_of_their_own_can_be_asked_for(api, course, pools, filled):
    mine = Course.objects.get(pk=course)
    for n in range(12):
        quiz = Quiz.objects.create(course=mine, title=f"Q{n}")
        where = [[{"facet": "outcome", "values": [f"9.{n}.{part}", "2.2"]}] for part in range(100)]
        Part.objects.bulk_create(Part(quiz=quiz, kind="draw", position=k, pick=1, where=said) for k, said in enumerate(where))
    assert matches(api, course, quiz=NONE) == [filled[place] for place in (0, 3, 4)]
    assert counts_of(mine, ItemFilter())["quiz"][NONE] == 3


def test_advice_that_a_course_put_off_is_not_open(api, course, filled):
    api.ok("put", f"/courses/{course}/advice", {"off": ["key-longest"]})
    assert matches(api, course, advice="key-longest") == [] and matches(api, course, advice="any") == [filled[1]]
    told = api.ok("get", f"/courses/{course}/items/counts")["counts"]["advice"]
    assert told == {"any": 1, "stem-negative": 1, NONE: 4}


VALUES = {
    "type": ["", "multiple_choice", "numeric"],
    "outcome": ["", "2.1", "2.2", NONE],
    "difficulty": ["", "easy", NONE],
    "findings": ["", "any", NONE],
    "picture": [None, True, False],
    "handed": ["", "yes", "no", "changed"],
}


@given(st.fixed_dictionaries({name: st.sampled_from(values) for name, values in VALUES.items()}))
@settings(suppress_health_check=[HealthCheck.function_scoped_fixture], max_examples=40)
def test_a_count_is_what_the_list_would_hold_with_that_value(course, filled, wanted):
    mine = Course.objects.get(pk=course)
    told = counts_of(mine, ItemFilter(**wanted))
    for name in VALUES:
        for value, count in told[name].items():
            asked = {"true": True, "false": False}.get(value, value) if name == "picture" else value
            assert filtered(mine, ItemFilter(**wanted | {name: asked})).count() == count, (name, value)
    assert sum(told["pool"].values()) == filtered(mine, ItemFilter(**wanted)).count()


def test_every_condition_is_counted_but_for_those_that_are_no_choice(course, filled):
    told = counts_of(Course.objects.get(pk=course), ItemFilter())
    assert set(told) == (set(CONDITIONS) - {"since"}) | {"pool"}


@pytest.mark.parametrize("sort", ["text", "type", "points", "difficulty", "updated", "position"])
def test_a_list_is_in_order_page_by_page(api, course, filled, sort):
    rows = api.ok("get", f"/courses/{course}/items?sort={sort}")["rows"]
    keys = [(row[sort] is not None, row[sort]) for row in rows] if sort != "position" else [row["id"] for row in rows]
    assert keys == sorted(keys)
    pages = [api.ok("get", f"/courses/{course}/items?sort={sort}&offset={n}&limit=2")["rows"] for n in (0, 2, 4)]
    assert [row["id"] for page in pages for row in page] == [row["id"] for row in rows]
    back = api.ok("get", f"/courses/{course}/items?sort={sort}&descending=true")["rows"]
    assert sort == "position" or [row[sort] for row in back] == [row[sort] for row in rows][::-1]


@pytest.mark.parametrize(
    ("typed", "asked"),
    [
        ("wet sam", '"wet" "sam"*'),
        ("sam* wet ", '"sam"* "wet"*'),
        ('"two words" more', '"two words" "more"*'),
        ("“two words”", '"two words"'),
        ('a"b', '"a" "b"*'),
        ('"" (', '""'),
    ],
)
def test_words_phrases_and_beginnings(typed, asked):
    assert fts_query(typed) == asked


def test_a_filter_is_kept_under_a_name_by_each_for_oneself(api, course, pools, tobin):
    kept = api.ok("post", f"/courses/{course}/filters", {"name": "Hard ones", "filter": {"difficulty": "hard"}})
    api.ok("post", f"/courses/{course}/filters", {"name": "Hard ones", "filter": {"difficulty": "hard", "type": "essay"}})
    assert [row["filter"]["type"] for row in api.ok("get", f"/courses/{course}/filters")] == ["essay"]
    api.ok("post", f"/courses/{course}/people", {"name": "tobin", "role": "reader"})
    assert Api(tobin).ok("get", f"/courses/{course}/filters") == []
    assert Api(tobin).call("delete", f"/courses/{course}/filters/{kept['id']}")[0] == 404
    api.ok("delete", f"/courses/{course}/filters/{kept['id']}")
    assert api.ok("get", f"/courses/{course}/filters") == []

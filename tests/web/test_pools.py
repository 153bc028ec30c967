"""Pools through the API: their tree, what may be done to it and what is refused, and selections that say what they hold."""

from __future__ import annotations

import pytest

from rogatum.web.courses.history import Recorder
from rogatum.web.courses.models import Course
from rogatum.web.pools.models import Pool
from rogatum.web.pools.services import pool_at, pools_at
from rogatum.web.pools.tree import PoolTree
from tests.web.conftest import undone

ALL = {"all_matching": True}
POINTS = {"kind": "points", "points": 7}


def tree(api, course):
    return {pool["name"]: pool for pool in api.ok("get", f"/courses/{course}/pools")}


def make(api, course, name, parent=None):
    return api.ok("post", f"/courses/{course}/pools", {"name": name, "parent": parent})["id"]


def test_pools_are_made_renamed_and_moved(api, course, pools):
    chapter = make(api, course, "Chapter 2")
    texture = tree(api, course)["Texture"]["id"]
    api.ok("patch", f"/pools/{texture}", {"parent": chapter, "move": True})
    api.ok("patch", f"/pools/{chapter}", {"name": "Chapter Two"})
    found = tree(api, course)
    assert found["Texture"]["parent"] == chapter and "Chapter 2" not in found
    rows = api.ok("get", f"/courses/{course}/items?pool={chapter}")
    assert rows["total"] == 3, "a pool shows what its sub-pools hold"


REFUSALS = {
    "no name": (lambda ids: ("post", "/courses/{course}/pools", {"name": "  "}), 422, "needs a name"),
    "a name twice": (lambda ids: ("post", "/courses/{course}/pools", {"name": "Texture"}), 409, "already"),
    "a name that a neighbour has": (lambda ids: ("patch", f"/pools/{ids['Water']}", {"name": "Texture"}), 409, "already"),
    "below itself": (
        lambda ids: ("patch", f"/pools/{ids['Texture']}", {"parent": ids["Texture"], "move": True}),
        409,
        "below itself",
    ),
    "too many points": (
        lambda ids: ("post", "/courses/{course}/items/change", {"selection": ALL, "change": POINTS | {"points": 99999}}),
        422,
        "at most 10000",
    ),
    "fewer points than none": (
        lambda ids: ("post", "/courses/{course}/items/change", {"selection": ALL, "change": POINTS | {"points": -1}}),
        422,
        "at least 0",
    ),
}


@pytest.mark.parametrize("name", REFUSALS)
def test_what_is_refused_says_why_and_changes_nothing(api, course, pools, name):
    before = tree(api, course)
    request, wanted, why = REFUSALS[name]
    method, path, body = request({pool: entry["id"] for pool, entry in before.items()})
    status, problem = api.call(method, path.format(course=course), body)
    assert (status, why in problem["fact"]) == (wanted, True), problem
    assert tree(api, course) == before


def test_items_that_a_quiz_has_stay(api, course, pools):
    quiz = api.ok("post", f"/courses/{course}/quizzes", {"title": "Week 1"})["id"]
    rows = api.ok("get", f"/courses/{course}/items")["rows"]
    api.ok("post", f"/quizzes/{quiz}/items", {"items": [rows[0]["id"]]})
    status, problem = api.call("post", f"/courses/{course}/items/delete", {"all_matching": True})
    assert status == 409 and "Week 1" in problem["fact"]
    assert api.ok("get", f"/courses/{course}/items")["total"] == 5
    assert api.ok("post", f"/courses/{course}/items/delete", {"ids": [rows[1]["id"]]})["count"] == 1


SELECTIONS = {
    "all": ({"all_matching": True}, 5),
    "a type": ({"all_matching": True, "type": "multiple_choice"}, 2),
    "words": ({"all_matching": True, "query": "wet sample"}, 1),
    "words and a type that none has": ({"all_matching": True, "query": "wet", "type": "essay"}, 0),
    "none": ({"ids": []}, 0),
}


@pytest.mark.parametrize("name", SELECTIONS)
def test_a_selection_is_what_it_says(api, course, pools, name):
    selection, count = SELECTIONS[name]
    assert api.ok("post", f"/courses/{course}/items/change", {"selection": selection, "change": POINTS})["count"] == count
    worth = [row["points"] for row in api.ok("get", f"/courses/{course}/items")["rows"]]
    assert worth.count(7) == count


def test_a_deleted_pool_goes_with_all_below_it_and_comes_back_whole(api, course, pools):
    chapter = make(api, course, "Chapter 2")
    for name in ("Texture", "Water"):
        api.ok("patch", f"/pools/{tree(api, course)[name]['id']}", {"parent": chapter, "move": True})
    before = tree(api, course), api.ok("get", f"/courses/{course}/items")
    api.ok("delete", f"/pools/{chapter}")
    assert tree(api, course) == {} and api.ok("get", f"/courses/{course}/items")["total"] == 0
    last = next(op for op in api.ok("get", f"/courses/{course}/operations") if not op["undone"])
    api.ok("post", f"/operations/{last['id']}/undo")
    assert (tree(api, course), api.ok("get", f"/courses/{course}/items")) == before


def test_an_item_tells_its_history_and_where_it_came_from(api, course, pools):
    row = api.ok("get", f"/courses/{course}/items")["rows"][0]
    item = api.ok("get", f"/items/{row['id']}")
    api.ok("put", f"/items/{row['id']}", {"item": item["item"] | {"points": 4}})
    again = api.ok("get", f"/items/{row['id']}")
    assert again["item"]["points"] == 4 and again["path"] == ["Texture"] and "Paste" in again["origin"]
    labels = [entry["label"] for entry in api.ok("get", f"/items/{row['id']}/page")["versions"]]
    assert labels[0].startswith("Edited") and labels[-1].startswith("Took")


def test_the_pools_of_many_paths_are_found_and_made_in_some_queries_for_each_level(mara, course, django_assert_max_num_queries):
    """As one after the other, but not with a query for each: whoever else writes waits meanwhile."""
    row = Course.objects.get(pk=course)
    paths = [(f"Part {n % 7}", f"Week {n}") for n in range(150)] + [
        ("Part 1",),
        ("Part 1", "Week 1", "x" * 400),
        ("Part 1", "Week 1", "x" * 300),
    ]

    def shown():
        return list(
            Pool.objects.filter(course=row).order_by("parent__name", "name").values_list("parent__name", "name", "position")
        )

    with undone(), Recorder(row, mara, "One by one") as record:
        Pool.objects.create(course=row, name="Part 0", position=3)
        for path in paths:
            pool_at(row, path, record)
        expected = shown()
    with Recorder(row, mara, "All at once") as record:
        Pool.objects.create(course=row, name="Part 0", position=3)
        with django_assert_max_num_queries(15):
            found = pools_at(row, paths, record)
    assert shown() == expected and len(expected) == 7 + 150 + 1
    assert found["Part 1", "Week 1", "x" * 400] == found["Part 1", "Week 1", "x" * 300]
    assert [PoolTree(row).path(found[path].pk) for path in paths[:150]] == paths[:150]

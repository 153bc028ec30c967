"""Quizzes through the API: parts and their order, figures, what is refused, undo, and trying one as a student."""

from __future__ import annotations

import pytest

from rogatum.web.quizzes.models import Part, Quiz


@pytest.fixture
def quiz(api, course, pools):
    """A quiz with a draw of two from each pool, and one fixed item."""
    made = api.ok("post", f"/courses/{course}/quizzes", {"title": "Week 1"})
    for pool in pools:
        api.ok("post", f"/quizzes/{made['id']}/draws", {"pool": pool["id"], "pick": 2, "points_each": 1})
    return made["id"]


def items_of(api, course, **query):
    asked = "&".join(f"{key}={value}" for key, value in query.items())
    return [row["id"] for row in api.ok("get", f"/courses/{course}/items?{asked}")["rows"]]


def titles(api, quiz):
    """What parts are called among instructors: by their titles, which students read, or by the pools that they are from."""
    return [part["title"] or part["pool_path"][-1] for part in api.ok("get", f"/quizzes/{quiz}")["parts"]]


def undo(api, course):
    last = next(o for o in api.ok("get", f"/courses/{course}/operations") if not o["undone"])
    api.ok("post", f"/operations/{last['id']}/undo")


def test_parts_keep_their_order_and_move(api, course, quiz):
    assert titles(api, quiz) == ["Texture", "Water"]
    second = api.ok("get", f"/quizzes/{quiz}")["parts"][1]["id"]
    api.ok("post", f"/quizzes/{quiz}/edits", {"do": "move parts", "parts": [second], "to": 0})
    assert titles(api, quiz) == ["Water", "Texture"]
    undo(api, course)
    assert titles(api, quiz) == ["Texture", "Water"]


def test_fixed_items_come_once_and_go_into_one_part(api, course, quiz):
    first, second, *_ = items_of(api, course)
    api.ok("post", f"/quizzes/{quiz}/items", {"items": [first, second]})
    shown = api.ok("post", f"/quizzes/{quiz}/items", {"items": [second, *items_of(api, course)[2:3]]})
    fixed = [part for part in shown["parts"] if part["kind"] == "fixed"]
    assert len(fixed) == 1 and len(fixed[0]["items"]) == 3
    undo(api, course)
    assert [len(part["items"]) for part in api.ok("get", f"/quizzes/{quiz}")["parts"] if part["kind"] == "fixed"] == [2]


def test_every_change_of_a_quiz_can_be_undone(api, course, quiz):
    def state():
        shown = api.ok("get", f"/quizzes/{quiz}")
        return (
            shown["title"],
            shown["settings"],
            [(p["title"], p["pick"], p["points_each"], len(p["items"])) for p in shown["parts"]],
        )

    part = api.ok("get", f"/quizzes/{quiz}")["parts"][0]["id"]
    settings = api.ok("get", f"/quizzes/{quiz}")["settings"] | {"time_limit": 30, "attempts": None}
    steps = [
        ("patch", f"/parts/{part}", {"pick": 1, "points_each": 5}),
        ("patch", f"/quizzes/{quiz}", {"title": "Week one", "settings": settings}),
        ("post", f"/quizzes/{quiz}/items", {"items": items_of(api, course)[:2]}),
        ("delete", f"/parts/{part}", None),
    ]
    states = [state()]
    for method, path, body in steps:
        api.ok(method, path, body)
        states.append(state())
    assert len({str(s) for s in states}) == len(states)
    for before in reversed(states[:-1]):
        undo(api, course)
        assert state() == before


def test_a_deleted_quiz_comes_back_whole(api, course, quiz):
    before = api.ok("get", f"/quizzes/{quiz}")
    api.ok("delete", f"/quizzes/{quiz}")
    assert Quiz.objects.count() == Part.objects.count() == 0
    assert api.call("get", f"/quizzes/{quiz}")[0] == 404
    undo(api, course)
    assert api.ok("get", f"/quizzes/{quiz}") == before


REFUSED = {
    "a draw of none": ("post", "/quizzes/{quiz}/draws", {"pool": "{pool}", "pick": 0}, "at least 1"),
    "negative points": ("post", "/quizzes/{quiz}/draws", {"pool": "{pool}", "pick": 1, "points_each": -1}, ""),
    "a quiz without a title": ("post", "/courses/{course}/quizzes", {"title": "  "}, "needs a title"),
    "closing before it opens": (
        "patch",
        "/quizzes/{quiz}",
        {"settings": {"opens": "2026-12-02T08:00:00Z", "closes": "2026-12-01T08:00:00Z"}},
        "close before it opens",
    ),
    "attempts below none": ("patch", "/quizzes/{quiz}", {"settings": {"attempts": -1}}, ""),
    "a pool that is not there": ("post", "/quizzes/{quiz}/draws", {"pool": 99999, "pick": 1}, ""),
    "an item that is not there": ("post", "/quizzes/{quiz}/items", {"items": [99999]}, ""),
}


@pytest.mark.parametrize("name", REFUSED)
def test_what_is_refused_says_why_and_changes_nothing(api, course, quiz, pools, name):
    method, path, body, fact = REFUSED[name]
    body = {key: pools[0]["id"] if value == "{pool}" else value for key, value in body.items()}
    before = api.ok("get", f"/quizzes/{quiz}")
    status, data = api.call(method, path.format(quiz=quiz, course=course), body)
    assert 400 <= status < 500 and fact in str(data)
    assert api.ok("get", f"/quizzes/{quiz}") == before


def test_a_pool_that_a_quiz_draws_from_stays(api, pools, quiz):
    status, data = api.call("delete", f"/pools/{pools[0]['id']}")
    assert 400 <= status < 500 and "The quiz Week 1 uses Texture" in data["fact"]


def test_a_list_of_quizzes_tells_their_size(api, course, quiz):
    row = api.ok("get", f"/courses/{course}/quizzes")[0]
    assert (row["title"], row["parts"], row["items"], row["points"]) == ("Week 1", 2, 4, 4)

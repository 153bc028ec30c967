"""Numbers that appear twice are the same: a walk from a paste to a hand-off, each number held against its other places."""

from __future__ import annotations

from typing import Any

import pytest

from rogatum.core.finding import NEED_LOOK
from tests.web.test_receivers import NAMES, hand_on, lines_of


class Walk:
    """One source of a course, asked in all the places that tell of it."""

    def __init__(self, api: Any, course: int, reading: int) -> None:
        self.api, self.course, self.reading = api, course, reading

    def source(self) -> dict[str, Any]:
        (row,) = [row for row in self.api.ok("get", f"/courses/{self.course}/sources") if row["reading"] == self.reading]
        return row

    def count(self, which: str) -> int:
        return self.api.ok("post", f"/readings/{self.reading}/names", {"which": which})["items"]

    def agree(self) -> dict[str, int]:
        """Holds the list of sources against Check, what needs a look and what would be taken."""
        cells = self.api.ok("get", f"/readings/{self.reading}")["cells"]
        row = self.source()
        waiting = [cell for cell in cells if not cell["taken"] and not cell["dropped"]]
        flagged = [cell["position"] for cell in cells if cell["needs_look"]]
        look = {entry["reading"]: entry["positions"] for entry in self.api.ok("get", f"/courses/{self.course}/look")}
        assert row["items"] == len(cells)
        assert row["waiting"] == len(waiting) == self.count("all")
        assert row["sound"] == self.count("sound") == len(waiting) - len(flagged)
        assert flagged == look.get(self.reading, [])
        assert sum(row["worst"].get(level, 0) for level in NEED_LOOK) == len(flagged)
        foreseen = self.api.ok("post", f"/courses/{self.course}/take/preview", {"sources": [row["id"]], "which": "all"})
        assert foreseen["items"] == len(waiting)
        return {"waiting": len(waiting), "flagged": len(flagged)}

    def pooled(self) -> int:
        """How many items the course has, by its pools and by its list."""
        pools = self.api.ok("get", f"/courses/{self.course}/pools")
        listed = self.api.ok("get", f"/courses/{self.course}/items")
        assert sum(pool["items"] for pool in pools) == listed["total"] == len(listed["rows"])
        return listed["total"]

    def undo(self) -> None:
        last = self.api.ok("get", "/operations/last")
        self.api.ok("post", f"/operations/{last['operation']['id']}/undo")


@pytest.fixture
def walk(api, course, reading) -> Walk:
    return Walk(api, course, reading)


def test_what_waits_is_one_number_wherever_it_stands(walk):
    api, reading = walk.api, walk.reading
    assert walk.agree() == {"waiting": 5, "flagged": 1}
    api.ok("post", f"/readings/{reading}/drop", {"positions": [2], "dropped": True})
    assert walk.agree() == {"waiting": 4, "flagged": 0}
    walk.undo()
    assert walk.agree() == {"waiting": 5, "flagged": 1}
    api.ok("post", f"/readings/{reading}/take", {"which": "sound"})
    assert walk.agree() == {"waiting": 1, "flagged": 1} and walk.pooled() == 4
    api.ok("post", f"/readings/{reading}/take", {"which": "all"})
    assert walk.agree() == {"waiting": 0, "flagged": 0} and walk.pooled() == 5


def test_what_is_deleted_from_pools_and_brought_back_is_not_offered_to_be_taken_again(walk):
    api, course = walk.api, walk.course
    api.ok("post", f"/readings/{walk.reading}/take", {"which": "all"})
    ids = [row["id"] for row in api.ok("get", f"/courses/{course}/items")["rows"]][:2]
    api.ok("post", f"/courses/{course}/items/delete", {"ids": ids})
    deleted = walk.agree()
    assert walk.pooled() + deleted["waiting"] == 5
    walk.undo()
    assert walk.agree()["waiting"] == 0 and walk.pooled() == 5


@pytest.mark.parametrize("receiver", NAMES)
def test_forecast_history_and_stand_in_count_alike(walk, receiver):
    api, course = walk.api, walk.course
    api.ok("post", f"/readings/{walk.reading}/take", {"which": "all"})
    told = lines_of(api, course, receivers=[receiver])[1][receiver]
    (handoff,) = hand_on(api, course, receiver)
    (row,) = api.ok("get", f"/courses/{course}/handoffs")
    for sums in ("totals", "for_students", "for_you"):
        assert row["forecast"][sums] == handoff["forecast"][sums] == told[sums]
        assert sum(told[sums].values()) == len(handoff["ledger"]["items"]) == walk.pooled()
    assert row["items"] == walk.pooled() - told["totals"]["refused"]
    if not row["can_be_sent"]:
        return
    found = api.ok("post", f"/handoffs/{handoff['id']}/send", {})["arrived"]["ledger"]
    for sums in ("for_students", "for_you"):
        # What is not taken is not there.
        expected = told[sums] | {"lost": told[sums]["lost"] + told[sums]["refused"]}
        assert found[sums] == {name: count for name, count in expected.items() if name != "refused"}


NESTED = "".join(
    f"$CATEGORY: Nav top/Export/{name}\n\n" + "".join(f"::{name}{n}:: {name} {n}? {{=yes ~no}}\n\n" for n in range(count))
    for name, count in (("Tides", 3), ("Waves 2", 2))
)


def test_the_preview_of_a_take_lists_the_pools_that_are_made(api, course):
    job = api.ok("post", f"/courses/{course}/sources/paste", {"text": NESTED, "name": "Nested", "expected": None})
    reading = api.ok("get", f"/jobs/{job['id']}")["result"]["reading"]
    asked = {"which": "all", "pattern": "{course} {number} {chapter}"}
    (source,) = api.ok("get", f"/courses/{course}/sources")
    told = api.ok("post", f"/readings/{reading}/names", asked)
    assert told == api.ok("post", f"/courses/{course}/take/preview", asked | {"sources": [source["id"]]})
    assert any("{number}" in note and "Tides" in note for note in told["notes"])
    api.ok("post", f"/readings/{reading}/take", asked)
    made = {pool["id"]: pool for pool in api.ok("get", f"/courses/{course}/pools")}

    def path(pool):
        return [*(path(made[pool["parent"]]) if pool["parent"] else []), pool["name"]]

    assert sorted((path(pool), pool["items"]) for pool in made.values()) == sorted(
        (pool["path"], pool["items"]) for pool in told["pools"] if pool["new"]
    )
    assert [pool["path"][-1] for pool in told["pools"]] == [
        "Nav top",
        "Export",
        "Soil Science 110 Tides",
        "Soil Science 110 Waves 2",
    ]


def test_paper_as_a_receiver_holds_the_fixed_draw_that_was_forecast(walk):
    api, course = walk.api, walk.course
    api.ok("post", f"/readings/{walk.reading}/take", {"which": "all"})
    quiz = api.ok("post", f"/courses/{course}/quizzes", {"title": "Week 1"})["id"]
    api.ok("post", f"/quizzes/{quiz}/draws", {"pool": None, "pick": 2})
    (handoff,) = hand_on(api, course, "paper", what=[{"quiz": quiz}])
    assert handoff["items"] == len(handoff["ledger"]["items"]) == sum(handoff["forecast"]["totals"].values()) == 2
    assert any("with seed paper" in note["message"] for note in handoff["ledger"]["quizzes"][0]["notes"])

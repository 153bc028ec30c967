"""What an item that is being edited asks of the core: it is answered, and nothing is stored."""

from __future__ import annotations

import pytest

from rogatum.web.pools.models import Item
from tests.web.test_quizzes_of_sources import question

CLAY = {"id": "b1", "share": 0.25, "kind": "text", "answers": [{"text": "25 ± 0.5", "weight": 1, "match": "exact"}]}
ORPHAN = {"id": "b1", "kind": "numeric", "answers": []}


def test_a_key_is_set_by_the_core_and_stored_nowhere(api, course, pools):
    item = question("q").model_dump(mode="json")
    before = list(Item.objects.values())
    assert [c["weight"] for c in api.ok("post", "/item-key", {"item": item, "right": ["b"]})["item"]["choices"]] == [0, 1]
    status, problem = api.call("post", "/item-key", {"item": item, "right": ["z"]})
    assert status == 422 and problem["way_out"]
    assert list(Item.objects.values()) == before


def test_a_number_is_turned_or_it_is_said_why_not(api):
    turned = api.ok("post", "/item-number", {"answer": {"value": 0.3, "tolerance": 0.1}})["answer"]
    assert (turned["value"], turned["min"], turned["max"]) == (None, 0.2, 0.4)
    status, problem = api.call("post", "/item-number", {"answer": {"min": 3}})
    assert (status, problem["fact"]) == (422, "A range that is open at one end has no middle.")
    assert "two bounds" in problem["way_out"]


def test_shares_come_and_go(api):
    pairs = [{"left": side, "right": side} for side in "ab"]
    shared = api.ok("post", "/item-shares", {"item": {"id": "m", "type": "matching", "pairs": pairs}, "own": True})["item"]
    assert [pair["share"] for pair in shared["pairs"]] == [0.5, 0.5]
    assert api.ok("post", "/item-shares", {"item": shared, "own": False})["item"]["pairs"] == pairs
    assert api.call("post", "/item-shares", {"item": {"id": "e", "type": "essay"}, "own": True})[0] == 422


@pytest.mark.parametrize(
    ("blank", "kind", "held"),
    [
        (CLAY, "numeric", {"answers": [(25.0, 0.5)]}),
        (CLAY, "choice", {"choices": [("25 ± 0.5", 1)]}),
        (ORPHAN, "text", {"answers": []}),
    ],
)
def test_a_blank_becomes_another_kind_with_what_it_holds(api, blank, kind, held):
    made = api.ok("post", "/item-blank", {"blank": blank, "kind": kind})["blank"]
    assert (made["id"], made["kind"], made["share"]) == ("b1", kind, blank.get("share", made["share"]))
    if kind == "choice":
        assert [(choice["content"], choice["weight"]) for choice in made["choices"]] == held["choices"]
    else:
        assert [(answer["value"], answer["tolerance"]) for answer in made["answers"]] == held["answers"]

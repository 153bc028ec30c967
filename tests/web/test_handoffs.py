"""Hand-offs: every format that is written, through the API, with its ledger and its file."""

from __future__ import annotations

import pytest

from rogatum.core.formats import writable_formats
from rogatum.core.receiving import read_source


def hand_on(api, course, **body):
    job = api.ok("post", f"/courses/{course}/handoffs", body)
    result = api.ok("get", f"/jobs/{job['id']}")["result"]
    return api.ok("get", f"/handoffs/{result['handoff']}")


def file_of(api, handoff):
    _, response = api.call("get", f"/handoffs/{handoff['id']}/file")
    return response, b"".join(response.streaming_content)


@pytest.mark.parametrize("entry", writable_formats(), ids=lambda entry: entry.name)
def test_each_format_is_written_with_its_ledger(api, course, pools, entry):
    handoff = hand_on(api, course, format=entry.name)
    ledger = handoff["ledger"]
    kept = 5 - len(ledger["only_in_a"])
    assert handoff["items"] == 5 and len([pair for pair in ledger["items"] if pair["b"]]) == kept
    assert kept == (4 if entry.name == "common-cartridge" else 5)
    response, data = file_of(api, handoff)
    assert handoff["file_name"] in response.headers["Content-Disposition"] and len(data) == handoff["size"]
    assert handoff["file_name"].startswith("Soil-Science-110") and entry.name in handoff["file_name"]
    if entry.read is not None:
        assert len(read_source((handoff["file_name"], data)).bank.items) == kept


def test_what_is_handed_on_is_what_was_chosen(api, course, pools):
    water = next(pool["id"] for pool in pools if pool["name"] == "Water")
    whole = hand_on(api, course, format="gift", selection={"all_matching": True})
    pool = hand_on(api, course, format="gift", selection={"all_matching": True, "pool": water})
    found = hand_on(api, course, format="gift", selection={"all_matching": True, "query": "loam"})
    one = api.ok("get", f"/courses/{course}/items")["rows"][0]["id"]
    chosen = hand_on(api, course, format="gift", selection={"ids": [one]})
    assert [h["items"] for h in (whole, pool, found, chosen)] == [5, 2, 1, 1]
    assert pool["title"] == "Water" and whole["title"] == "Soil Science 110"
    assert {h["id"] for h in (whole, pool, found, chosen)} == {h["id"] for h in api.ok("get", f"/courses/{course}/handoffs")}


def test_a_quiz_is_handed_on_with_its_draws(api, course, pools):
    quiz = api.ok("post", f"/courses/{course}/quizzes", {"title": "Week 1"})["id"]
    api.ok("post", f"/quizzes/{quiz}/draws", {"pool": pools[0]["id"], "pick": 2, "points_each": 3})
    handoff = hand_on(api, course, format="qti-1.2", quiz=quiz)
    _, data = file_of(api, handoff)
    draws = read_source(("quiz.zip", data)).bank.draws
    assert handoff["title"] == "Week 1" and [(draw.pick, draw.pool[-1]) for draw in draws] == [(2, "Texture")]


def test_a_paper_of_a_quiz_with_draws_counts_what_is_printed_and_says_its_seed(api, course, pools):
    quiz = api.ok("post", f"/courses/{course}/quizzes", {"title": "Week 1"})["id"]
    api.ok("post", f"/quizzes/{quiz}/draws", {"pool": pools[0]["id"], "pick": 2, "points_each": 3})
    first = hand_on(api, course, format="pdf", quiz=quiz, draws="drawn")
    seed = first["made_as"].removeprefix("seed ")
    assert first["items"] == len(first["ledger"]["items"]) == 2 and seed in first["file_name"] and seed.isdecimal()
    again = hand_on(api, course, format="pdf", quiz=quiz, draws="drawn", seed=seed)
    assert file_of(api, again)[1] == file_of(api, first)[1]
    whole = hand_on(api, course, format="pdf", quiz=quiz, draws="stock")
    assert whole["items"] > 2 and whole["made_as"] == ""


REFUSED = {
    "a format that is not known": ({"format": "nonsense"}, "nonsense"),
    "a pool without items": ({"format": "gift", "selection": {"ids": []}}, "nothing to hand on"),
    "a quiz that is not there": ({"format": "gift", "quiz": 99999}, ""),
}


@pytest.mark.parametrize("name", REFUSED)
def test_what_is_refused_says_why(api, course, pools, name):
    body, fact = REFUSED[name]
    status, data = api.call("post", f"/courses/{course}/handoffs", body)
    assert 400 <= status < 500 and fact in str(data)
    assert api.ok("get", f"/courses/{course}/handoffs") == []


def test_the_ledger_is_a_file_too(api, course, pools):
    handoff = hand_on(api, course, format="items-json")
    status, ledger = api.call("get", f"/handoffs/{handoff['id']}/ledger")
    assert status == 200 and ledger == handoff["ledger"]
    assert handoff["totals"]["changed"] == handoff["totals"]["lost"] == 0


def test_passages_and_pictures_go_along(api, course):
    text = "Read the passage and answer questions 1-2.\n\nA pit was dug in 1990.\n\n1. When?\n*a. 1990\nb. 1991\n\n2. What?\n*a. a pit\nb. a lake\n"
    job = api.ok("post", f"/courses/{course}/sources/paste", {"text": text, "name": "Pit"})
    reading = api.ok("get", f"/jobs/{job['id']}")["result"]["reading"]
    api.ok("post", f"/readings/{reading}/take", {"which": "all"})
    _, data = file_of(api, hand_on(api, course, format="qti-3.0"))
    bank = read_source(("pit.zip", data)).bank
    assert len(bank.stimuli) == 1 and {item.stimulus for item in bank.items} == {bank.stimuli[0].id}


def test_formats_say_what_they_carry(api):
    listed = {entry["name"]: entry for entry in api.ok("get", "/formats")}
    assert listed["pdf"]["read"] is False and listed["gift"]["lacks"] and "points" in listed["gift"]["lacks"]
    assert listed["qti-3.0"]["lacks"] == listed["items-json"]["lacks"] == [] and listed["qti-1.2"]["lacks"]
    assert "feedback" in listed["pdf"]["lacks"] and not set(listed["gift"]["carries"]) & set(listed["gift"]["lacks"])

"""Quizzes whole: edits, plans, patterns, sections, quizzes carried on, and trying one under its rules, through the API."""

from __future__ import annotations

import json
from datetime import UTC, datetime, timedelta

import pytest
from django.utils import timezone

from rogatum.web.pools.models import Item
from tests.web.conftest import Api
from tests.web.test_quizzes import items_of, undo


@pytest.fixture
def quiz(api, course, pools):
    """A quiz with three fixed items in two parts, and a draw of one from Water."""
    made = api.ok("post", f"/courses/{course}/quizzes", {"title": "Week 1"})["id"]
    first, second, third, *_ = items_of(api, course)
    api.ok("post", f"/quizzes/{made}/items", {"items": [first, second], "title": "Both"})
    api.ok("post", f"/quizzes/{made}/items", {"items": [third], "title": "One"})
    api.ok("post", f"/quizzes/{made}/draws", {"pool": pools[1]["id"], "pick": 1, "points_each": 2})
    return made


def shape(api, quiz):
    return [(part["title"], [item["id"] for item in part["items"]]) for part in api.ok("get", f"/quizzes/{quiz}")["parts"]]


def test_parts_and_items_are_moved_split_and_taken_out_each_undone_at_once(api, course, quiz):
    before = shape(api, quiz)
    (_, [a, b]), (_, [c]), _ = before
    both, one, _ = [part["id"] for part in api.ok("get", f"/quizzes/{quiz}")["parts"]]
    edits = [
        ({"do": "move parts", "parts": [one], "to": 0}, [("One", [c]), ("Both", [a, b]), ("", [])]),
        ({"do": "move items", "items": [b], "part": one, "to": 0}, [("Both", [a]), ("One", [b, c]), ("", [])]),
        ({"do": "split", "part": both, "item": b}, [("Both", [a]), ("", [b]), ("One", [c]), ("", [])]),
        ({"do": "take out", "parts": [one], "items": [a]}, [("Both", [b]), ("", [])]),
        ({"do": "worth", "parts": [one], "items": [a], "points": 7}, before),
    ]
    for body, wanted in edits:
        api.ok("post", f"/quizzes/{quiz}/edits", body)
        assert shape(api, quiz) == wanted
        undo(api, course)
        assert shape(api, quiz) == before
    for body in (
        {"do": "split", "part": both, "item": a},
        {"do": "replace", "item": a, "by": b},
        {"do": "replace", "item": a, "by": 99999},
    ):
        status, problem = api.call("post", f"/quizzes/{quiz}/edits", body)
        assert status in (404, 409, 422) and problem["fact"] and shape(api, quiz) == before


def test_a_part_says_its_instructions_and_what_it_draws(api, course, quiz):
    part = api.ok("get", f"/quizzes/{quiz}")["parts"][2]
    said = {"instructions": "Read <b onclick='x()'>twice</b><script>y()</script>", "page_break": True}
    where = [{"facet": "type", "values": ["numeric"], "but": True}]
    now = api.ok("patch", f"/parts/{part['id']}", said | {"where": where, "alone": True})["parts"][2]
    assert (now["instructions"], now["page_break"]) == ("Read <strong>twice</strong>", True)
    assert (now["draw"]["where_words"], now["draw"]["alone"], now["pick"], now["points_each"]) == ("not numeric", True, 1, 2)
    status, clash = api.call("patch", f"/parts/{part['id']}", {"pick": 1, "version": part["version"]})
    assert status == 412 and clash["current"]["instructions"]


def test_a_draw_from_the_whole_course_and_a_total_shared_out(api, course, quiz):
    where = [{"facet": "type", "values": ["true_false"]}]
    drawn = api.ok("post", f"/quizzes/{quiz}/draws", {"pick": 1, "where": where})["parts"][-1]
    true_or_false = Item.objects.filter(type="true_false").count()
    assert (drawn["title"], drawn["pool"], drawn["draw"]["pool_size"]) == ("", None, true_or_false)
    shared = api.ok("post", f"/quizzes/{quiz}/points", {"total": 20})
    assert shared["figures"]["points"] == 20
    api.ok("patch", f"/quizzes/{quiz}", {"settings": shared["settings"] | {"out_of": 21}})
    doubts = api.ok("get", f"/quizzes/{quiz}")["doubts"]
    assert "The quiz is out of 21, the items add up to 20." in [doubt["fact"] for doubt in doubts]


def test_a_plan_says_what_is_short_picks_and_stays_with_the_quiz(api, course, pools):
    first = api.ok("post", f"/courses/{course}/quizzes", {"title": "Midterm"})["id"]
    used = items_of(api, course, pool=pools[0]["id"])[:1]
    api.ok("post", f"/quizzes/{first}/items", {"items": used})
    final = api.ok("post", f"/courses/{course}/quizzes", {"title": "Final"})["id"]
    plan = {"rows": [{"pool": pool["id"], "pick": 2} for pool in pools], "apart_from": [first], "seed": "s"}
    asked = api.ok("post", f"/quizzes/{final}/plan/look", {**plan, "rows": [{"pool": pools[0]["id"], "pick": 9}]})
    assert asked["rows"][0]["problem"].startswith(f"Texture holds {pools[0]['items']} items, 1 of them in quizzes")
    made = api.ok("post", f"/quizzes/{final}/plan", plan)
    picked = {item["id"] for part in made["parts"] for item in part["items"]}
    assert [len(part["items"]) for part in made["parts"]] == [2, 2] and not picked & set(used)
    assert made["plan"]["apart_from"] == [first] and [row["pick"] for row in made["plan"]["rows"]] == [2, 2]
    again = api.ok("post", f"/quizzes/{final}/plan", plan | {"as_draws": True})
    assert [part["kind"] for part in again["parts"]] == ["draw", "draw"] and again["parts"][0]["draw"]["without"] == 1
    undo(api, course)
    assert shape(api, final) == [(part["title"], [item["id"] for item in part["items"]]) for part in made["parts"]]
    rows = api.ok("post", f"/quizzes/{final}/plan/share", {"total": 3, "pools": [pool["id"] for pool in pools]})["rows"]
    assert sum(row["pick"] for row in rows) == 3


def test_an_item_that_was_picked_is_put_back_and_drawn_anew(api, course, pools):
    quiz = api.ok("post", f"/courses/{course}/quizzes", {"title": "Final"})["id"]
    (part,) = api.ok("post", f"/quizzes/{quiz}/plan", {"rows": [{"pick": 2}], "seed": "s"})["parts"]
    first, second = [item["id"] for item in part["items"]]
    like = api.ok("get", f"/quizzes/{quiz}/items/{first}/alike")
    assert like and not {first, second} & {item["id"] for item in like}
    (now,) = api.ok("post", f"/parts/{part['id']}/again", {"item": first})["parts"]
    assert first not in (kept := [item["id"] for item in now["items"]]) and second in kept and len(kept) == 2
    (short,) = api.ok("post", f"/quizzes/{quiz}/edits", {"do": "take out", "items": kept})["parts"]
    assert short["items"] == [] and short["picked_from"]["wanted"] == 2
    (one,) = api.ok("post", f"/parts/{part['id']}/again", {})["parts"]
    assert len(one["items"]) == 1


def test_a_quiz_is_handed_on_without_its_plan_and_comes_with_its_conditions(api, course, pools):
    quiz = api.ok("post", f"/courses/{course}/quizzes", {"title": "Final"})["id"]
    other = api.ok("post", f"/courses/{course}/quizzes", {"title": "Midterm"})["id"]
    used = items_of(api, course, pool=pools[0]["id"])[:1]
    api.ok("post", f"/quizzes/{other}/items", {"items": used})
    where = [{"facet": "type", "values": ["essay"], "but": True}]
    rows = [{"pool": pools[0]["id"], "pick": 2, "where": where}]
    part = api.ok("post", f"/quizzes/{quiz}/plan", {"rows": rows, "as_draws": True, "apart_from": [other]})["parts"][0]
    api.ok("patch", f"/parts/{part['id']}", {"instructions": "Show your work."})
    job = api.ok("post", f"/courses/{course}/handoffs", {"format": "items-json", "quiz": quiz})
    made = api.ok("get", f"/jobs/{job['id']}")["result"]["handoff"]
    assert api.ok("get", f"/handoffs/{made}")["sound"]
    _, response = api.call("get", f"/handoffs/{made}/file")
    (said,) = json.loads(b"".join(response.streaming_content))["quizzes"]
    assert "plan" not in said and "picked_from" not in said["parts"][0] and "without" not in said["parts"][0]["draw"]
    assert said["parts"][0]["draw"]["where"] == [{"facet": "type", "values": ["essay"], "but": True}]
    assert said["parts"][0]["instructions"] == "Show your work."


def test_what_a_quiz_adds_up_to(api, course, quiz):
    found = api.ok("get", f"/quizzes/{quiz}/sums?students=12&format=gift")
    assert found["students"] == 12 and found["most"]["middle"] >= 3 and sum(found["chances"]) == pytest.approx(1)
    assert found["minutes"] > 0 and found["words"] > 0 and found["can_give"] >= 4
    assert sum(found["types"].values()) == pytest.approx(4) and found["without_feedback"] <= found["can_give"]
    api.ok("put", f"/courses/{course}/time", {"time_zone": "UTC", "sections": [{"name": "Monday", "students": 17}]})
    assert api.ok("get", f"/quizzes/{quiz}/sums")["students"] == 17


def test_settings_kept_as_a_pattern_go_on_another_quiz(api, course, quiz):
    settings = {"time_limit": 10, "opens": "2026-09-01T08:00:00Z", "attempts": 2}
    api.ok("patch", f"/quizzes/{quiz}", {"settings": settings})
    pattern = api.ok("post", f"/quizzes/{quiz}/patterns", {"name": "Weekly"})
    other = api.ok("post", f"/courses/{course}/quizzes", {"title": "Week 2"})["id"]
    api.ok("patch", f"/quizzes/{other}", {"settings": {"opens": "2026-09-08T08:00:00Z", "attempts": 5}})
    now = api.ok("post", f"/quizzes/{other}/patterns/{pattern['id']}")["settings"]
    assert (now["time_limit"], now["attempts"], now["opens"][:10]) == (10, 2, "2026-09-08")
    undo(api, course)
    assert api.ok("get", f"/quizzes/{other}")["settings"]["attempts"] == 5
    api.ok("delete", f"/courses/{course}/patterns/{pattern['id']}")
    assert api.ok("get", f"/courses/{course}/patterns") == []


def test_sections_keep_their_dates_under_another_name(api, course, quiz):
    made = api.ok("put", f"/courses/{course}/time", {"time_zone": "America/Chicago", "sections": [{"name": "Monday"}]})
    api.ok("patch", f"/quizzes/{quiz}", {"settings": {"opens": "2026-09-07T13:00:00Z"}})
    api.ok("post", f"/courses/{course}/quizzes/section", {"quizzes": [quiz], "section": "Monday", "days": 3})
    renamed = [{"id": made["sections"][0]["id"], "name": "Thursday", "students": 9}, {"name": "Friday"}]
    api.ok("put", f"/courses/{course}/time", {"time_zone": "America/Chicago", "sections": renamed})
    (dates,) = api.ok("get", f"/quizzes/{quiz}")["settings"]["sections"]
    assert (dates["section"], dates["opens"]) == ("Thursday", "2026-09-10T13:00:00Z")
    for zone, sections in (("Soil/Science", []), ("UTC", [{"name": "A"}, {"name": "A"}])):
        status, problem = api.call("put", f"/courses/{course}/time", {"time_zone": zone, "sections": sections})
        assert status == 422 and problem["way_out"]
    assert [row["name"] for row in api.ok("get", f"/courses/{course}")["sections"]] == ["Friday", "Thursday"]


# Carried on


def carry(api, course, quizzes, **said):
    return api.ok("post", f"/courses/{course}/quizzes/carry", {"quizzes": quizzes, "course": course} | said)


def test_a_quiz_is_carried_into_the_next_term_with_its_weekday_and_hour(api, course, quiz):
    api.ok("put", f"/courses/{course}/time", {"time_zone": "America/Chicago", "sections": []})
    settings = {
        "opens": "2026-09-07T13:00:00Z",
        "closes": "2026-09-08T04:59:00Z",
        "exceptions": [{"student": "R. Vane", "time_factor": 2}],
    }
    api.ok("patch", f"/quizzes/{quiz}", {"settings": settings})
    (copy,) = carry(api, course, [quiz], weeks=19)["quizzes"]
    now = api.ok("get", f"/quizzes/{copy}")
    # Standard time by then: an hour later by UTC.
    assert (now["settings"]["opens"], now["settings"]["closes"]) == ("2027-01-18T14:00:00Z", "2027-01-19T05:59:00Z")
    assert shape(api, copy) == shape(api, quiz) and now["settings"]["exceptions"] is None
    undo(api, course)
    assert [row["id"] for row in api.ok("get", f"/courses/{course}/quizzes")] == [quiz]


def test_quizzes_are_carried_into_another_course_with_their_pools_once(api, course, pools, quiz):
    plan = {"rows": [{"pool": pools[0]["id"], "pick": 2}], "apart_from": [quiz], "seed": "s"}
    final = api.ok("post", f"/courses/{course}/quizzes", {"title": "Final"})["id"]
    api.ok("post", f"/quizzes/{final}/plan", plan | {"apart_from": []})
    other = api.ok("post", "/courses", {"name": "Soil Science 111"})["id"]
    first = api.ok("post", f"/courses/{course}/quizzes/carry", {"quizzes": [quiz, final], "course": other, "pools": "linked"})[
        "quizzes"
    ]
    items = api.ok("get", f"/courses/{other}/items")["total"]
    week, last = (api.ok("get", f"/quizzes/{key}") for key in first)
    assert [part["pool_path"] for part in week["parts"]] == [[], [], ["Water"]] and week["figures"]["items"] == 4
    assert last["plan"]["rows"][0]["pool_path"] == ["Texture"] and len(last["parts"][0]["items"]) == 2
    again = api.ok("post", f"/courses/{course}/quizzes/carry", {"quizzes": [quiz], "course": other, "pools": "linked"})["quizzes"]
    assert api.ok("get", f"/courses/{other}/items")["total"] == items
    assert shape(api, again[0]) == shape(api, first[0])
    api.ok("post", f"/courses/{course}/quizzes/carry", {"quizzes": [quiz], "course": other, "pools": "copied"})
    assert api.ok("get", f"/courses/{other}/items")["total"] > items


def test_pools_are_copied_within_a_course_too(api, course, pools, quiz):
    before = api.ok("get", f"/courses/{course}/items")["total"]
    (copy,) = carry(api, course, [quiz], pools="copied")["quizzes"]
    now = api.ok("get", f"/quizzes/{copy}")
    assert now["parts"][2]["pool_path"] == ["Week 1", "Water"] and now["parts"][2]["draw"]["pool_size"] == pools[1]["items"]
    assert api.ok("get", f"/courses/{course}/items")["total"] > before
    undo(api, course)
    assert api.ok("get", f"/courses/{course}/items")["total"] == before


# Trying


def at(days: float) -> str:
    return (datetime.now(UTC) + timedelta(days=days)).isoformat()


def test_a_trial_goes_by_the_rules_of_its_student(api, course, quiz):
    settings = {
        "opens": at(-1),
        "closes": at(1),
        "time_limit": 10,
        "attempts": 1,
        "access_code": "loam",
        "shown": "one at a time",
        "show_key": "after closing",
        "exceptions": [{"student": "R. Vane", "time_factor": 1.5}],
    }
    api.ok("patch", f"/quizzes/{quiz}", {"settings": settings})
    trial = api.ok("put", f"/quizzes/{quiz}/trial", {"student": "R. Vane"})
    assert trial["terms"]["time_limit"] == 15 and trial["code_wanted"] and trial["students"] == ["R. Vane"]
    assert "You have 15 minutes." in trial["rules"] and trial["sitting"] is None
    status, problem = api.call("post", f"/quizzes/{quiz}/trial/begin", {"code": "clay"})
    assert status == 409 and "access code" in problem["fact"]
    sitting = api.ok("post", f"/quizzes/{quiz}/trial/begin", {"code": "loam", "seed": "s"})["sitting"]
    assert (sitting["page"]["of"], len(sitting["page"]["items"]), sitting["unanswered"]) == (4, 1, [1, 2, 3, 4])
    lasts = datetime.fromisoformat(sitting["ends"]) - datetime.fromisoformat(sitting["started"])
    assert lasts == timedelta(minutes=15)
    item = sitting["page"]["items"][0]
    given = item["options"][0]["id"] if item["options"] else "true"
    api.ok("put", f"/quizzes/{quiz}/trial/responses", {"responses": {item["id"]: given}})
    # A reload keeps what was answered, and the draw.
    reloaded = api.ok("get", f"/quizzes/{quiz}/trial?again=true")["sitting"]
    assert reloaded["responses"] == {item["id"]: given} and reloaded["unanswered"] == [2, 3, 4]
    assert api.ok("put", f"/quizzes/{quiz}/trial/page", {"page": 2})["sitting"]["page"]["number"] == 2
    done = api.ok("post", f"/quizzes/{quiz}/trial/submit")
    assert done["sitting"] is None and done["refusal"] == "All attempts are used." and len(done["scores"]) == 1
    before = api.ok("get", f"/quizzes/{quiz}/trial/attempts/1")
    assert "show_key" not in before["released"] and not any(entry["key"] for entry in before["marked"])
    closed = api.ok("put", f"/quizzes/{quiz}/trial", {"student": "R. Vane", "clock": "after closing"})
    assert closed["refusal"].startswith("This quiz is closed. It closed ") and closed["clock_set"]
    after = api.ok("get", f"/quizzes/{quiz}/trial/attempts/1")
    assert "show_key" in after["released"] and any(entry["key"] for entry in after["marked"])


def test_a_trial_whose_time_is_up_is_handed_in_as_it_was(api, course, quiz, monkeypatch):
    api.ok("patch", f"/quizzes/{quiz}", {"settings": {"time_limit": 10}})
    item = api.ok("post", f"/quizzes/{quiz}/trial/begin", {"seed": "s"})["sitting"]["page"]["items"][0]
    later = timezone.now() + timedelta(minutes=11)
    monkeypatch.setattr("rogatum.web.quizzes.trying.timezone.now", lambda: later)
    status, problem = api.call("put", f"/quizzes/{quiz}/trial/responses", {"responses": {item["id"]: "x"}})
    assert status == 409 and "has ended" in problem["fact"]
    (score,) = api.ok("get", f"/quizzes/{quiz}/trial")["scores"]
    assert score["ended"] == "time"


def test_what_a_person_marks_is_counted_apart(api, course, pools):
    row = items_of(api, course, query="loam")[0]
    api.ok("put", f"/items/{row}", {"item": {"type": "essay", "id": "x", "stem": "Discuss the loam.", "points": 4}})
    quiz = api.ok("post", f"/courses/{course}/quizzes", {"title": "Essay"})["id"]
    api.ok("post", f"/quizzes/{quiz}/items", {"items": [row]})
    api.ok("post", f"/quizzes/{quiz}/trial/begin", {})
    (score,) = api.ok("post", f"/quizzes/{quiz}/trial/submit")["scores"]
    assert (score["earned"], score["points"], score["by_hand"]) == (0, 4, 4)


def test_an_empty_quiz_cannot_be_tried_and_a_clock_wants_a_date(api, course):
    quiz = api.ok("post", f"/courses/{course}/quizzes", {"title": "Empty"})["id"]
    status, data = api.call("post", f"/quizzes/{quiz}/trial/begin", {})
    assert status == 409 and "no items" in data["fact"]
    status, data = api.call("put", f"/quizzes/{quiz}/trial", {"clock": "after closing"})
    assert status == 409 and "does not say" in data["fact"]


def test_a_trial_is_looked_at_as_after_the_last_attempt(api, course, quiz):
    api.ok("patch", f"/quizzes/{quiz}", {"settings": {"attempts": 3, "show_key": "after the last attempt"}})
    api.ok("post", f"/quizzes/{quiz}/trial/begin", {})
    told = api.ok("post", f"/quizzes/{quiz}/trial/submit")
    assert told["refusal"] == "" and "show_key" not in told["scores"][0]["released"]
    told = api.ok("put", f"/quizzes/{quiz}/trial", {"clock": "after the last attempt"})
    assert told["refusal"] == "All attempts are used." and "show_key" in told["scores"][0]["released"]


def test_several_attempts_and_the_one_that_counts(api, course, quiz):
    api.ok("patch", f"/quizzes/{quiz}", {"settings": {"attempts": 2, "counts": "last"}})
    for _ in range(2):
        api.ok("post", f"/quizzes/{quiz}/trial/begin", {})
        told = api.ok("post", f"/quizzes/{quiz}/trial/submit")
    assert [score["counts"] for score in told["scores"]] == [False, True] and told["counts_words"] == "the last one counts"
    anew = api.ok("put", f"/quizzes/{quiz}/trial", {"anew": True})
    assert anew["scores"] == [] and anew["refusal"] == ""


def test_the_draws_of_a_class_and_what_two_share(api, course, quiz):
    found = api.ok("post", f"/quizzes/{quiz}/draws-of-many", {"students": 5, "seed": "s"})
    assert len(found["items"]) == 5 and len(found["shared"]) == 10 and set(found["texts"]) >= set(found["items"][0])
    for pair in found["shared"]:
        one, other = (set(found["items"][pair[name] - 1]) for name in ("one", "other"))
        assert pair["items"] == len(one & other) >= 3


# Whose it is, and what there is too much of


def test_a_trial_is_each_accounts_own_and_a_reader_tries_without_changing(api, course, quiz, tobin):
    api.ok("post", f"/courses/{course}/people", {"name": "tobin", "role": "reader"})
    reader = Api(tobin)
    mine = api.ok("post", f"/quizzes/{quiz}/trial/begin", {"seed": "s"})["sitting"]
    its = reader.ok("get", f"/quizzes/{quiz}/trial")
    assert its["sitting"] is None and its["scores"] == []
    item = mine["page"]["items"][0]["id"]
    status, problem = reader.call("put", f"/quizzes/{quiz}/trial/responses", {"responses": {item: "x"}})
    assert status == 409 and "has ended" in problem["fact"]
    reader.ok("post", f"/quizzes/{quiz}/trial/begin", {"seed": "t"})
    assert api.ok("get", f"/quizzes/{quiz}/trial")["sitting"]["seed"] == "s"
    for method, path, body in (
        ("post", f"/quizzes/{quiz}/edits", {"do": "take out", "items": [1]}),
        ("post", f"/quizzes/{quiz}/plan", {"rows": [{"pick": 1}]}),
        ("post", f"/quizzes/{quiz}/patterns", {"name": "Mine"}),
        ("put", f"/courses/{course}/time", {"time_zone": "UTC", "sections": []}),
    ):
        status, problem = reader.call(method, path, body)
        assert status == 403 and problem["way_out"].startswith("Ask ")


def test_a_reader_carries_a_quiz_into_a_course_of_their_own_alone(api, course, quiz, tobin):
    api.ok("post", f"/courses/{course}/people", {"name": "tobin", "role": "reader"})
    reader = Api(tobin)
    body = {"quizzes": [quiz], "course": course}
    assert reader.call("post", f"/courses/{course}/quizzes/carry", body)[0] == 403
    own = reader.ok("post", "/courses", {"name": "Field Methods 210", "time_zone": "Mars/Olympus"})["id"]
    assert reader.ok("get", f"/courses/{own}")["time_zone"] == "UTC"
    (copy,) = reader.ok("post", f"/courses/{course}/quizzes/carry", body | {"course": own})["quizzes"]
    assert reader.ok("get", f"/quizzes/{copy}")["figures"]["items"] == 4
    other = reader.ok("post", f"/courses/{own}/quizzes", {"title": "Mine"})["id"]
    assert api.call("post", f"/courses/{course}/quizzes/carry", {"quizzes": [other], "course": course})[0] == 404
    assert reader.call("post", f"/courses/{own}/quizzes/carry", {"quizzes": [quiz], "course": own})[0] == 404


def test_nothing_of_another_course_gets_into_a_quiz(api, course, quiz, pools):
    other = api.ok("post", "/courses", {"name": "Other"})["id"]
    theirs = api.ok("post", f"/courses/{other}/quizzes", {"title": "Theirs"})["id"]
    pool, item = pools[0]["id"], items_of(api, course)[0]
    refused = [
        ("post", f"/quizzes/{theirs}/draws", {"pool": pool, "pick": 1}),
        ("post", f"/quizzes/{theirs}/plan", {"rows": [{"pool": pool, "pick": 1}]}),
        ("post", f"/quizzes/{theirs}/plan/share", {"total": 2, "pools": [pool]}),
        ("post", f"/quizzes/{theirs}/edits", {"do": "replace", "item": item, "by": item}),
        ("get", f"/quizzes/{theirs}/items/{item}/alike", None),
        ("post", f"/quizzes/{theirs}/patterns/99999", None),
    ]
    for method, path, body in refused:
        status, problem = api.call(method, path, body)
        assert 400 <= status < 500 and problem["fact"], path
    # The items of a quiz of another course are not known here, so none of them is left out.
    plan = {"rows": [{"pool": pool, "pick": 1}], "apart_from": [theirs]}
    assert api.ok("post", f"/quizzes/{quiz}/plan/look", plan)["rows"][0]["apart"] == 0


TOO_MUCH = {
    "a class": ("get", "/quizzes/{quiz}/sums?students=501", None),
    "draws of a class": ("post", "/quizzes/{quiz}/draws-of-many", {"students": 201}),
    "rows of a plan": ("post", "/quizzes/{quiz}/plan/look", {"rows": [{"pick": 1}] * 101}),
    "conditions": ("post", "/quizzes/{quiz}/draws", {"pick": 1, "where": [{"facet": "type", "values": ["essay"]}] * 21}),
    "a condition of nothing": ("post", "/quizzes/{quiz}/draws", {"pick": 1, "where": [{"facet": "type", "values": []}]}),
    "a facet that is none": ("post", "/quizzes/{quiz}/draws", {"pick": 1, "where": [{"facet": "source", "values": ["x"]}]}),
    "weeks": ("post", "/courses/{course}/quizzes/carry", {"quizzes": [1], "course": 1, "weeks": 100_000}),
    "a total": ("post", "/quizzes/{quiz}/points", {"total": 0}),
    "steps that do not come out": ("post", "/quizzes/{quiz}/points", {"total": 10.3, "step": 0.5}),
    "a format that is none": ("get", "/quizzes/{quiz}/sums?format=nonsense", None),
}


@pytest.mark.parametrize("name", TOO_MUCH)
def test_what_is_too_much_is_refused_in_words(api, course, quiz, name):
    method, path, body = TOO_MUCH[name]
    before = api.ok("get", f"/quizzes/{quiz}")
    status, problem = api.call(method, path.format(quiz=quiz, course=course), body)
    assert 400 <= status < 500 and problem["fact"]
    assert api.ok("get", f"/quizzes/{quiz}") == before


def test_an_answer_that_is_too_long_or_elsewhere_is_not_kept(api, course, quiz):
    sitting = api.ok("post", f"/quizzes/{quiz}/trial/begin", {"seed": "s"})["sitting"]
    item = sitting["page"]["items"][0]["id"]
    for responses, fact in (({item: "x" * 300_000}, "too long"), ({"99999": "x"}, "cannot be answered")):
        status, problem = api.call("put", f"/quizzes/{quiz}/trial/responses", {"responses": responses})
        assert status == 409 and fact in problem["fact"]
    assert api.ok("get", f"/quizzes/{quiz}/trial")["sitting"]["responses"] == {}


def test_a_list_of_quizzes_says_what_each_gives_and_what_is_worth_a_second_look(api, course, quiz):
    api.ok("patch", f"/quizzes/{quiz}", {"settings": {"time_limit": 20, "show_key": "on submitting", "closes": at(1)}})
    (row,) = api.ok("get", f"/courses/{course}/quizzes")
    assert row["heading"] == "Each student gets 4 of 5 items, 20 minutes, once." and row["doubts"] == 1 and row["closes"]


def test_a_quiz_goes_on_when_an_item_of_a_trial_was_deleted(api, course, quiz):
    api.ok("post", f"/quizzes/{quiz}/trial/begin", {"seed": "s"})
    gone = items_of(api, course)[0]
    api.ok("post", f"/quizzes/{quiz}/edits", {"do": "take out", "items": [gone]})
    api.ok("post", f"/courses/{course}/items/delete", {"ids": [gone]})
    sitting = api.ok("get", f"/quizzes/{quiz}/trial")["sitting"]
    assert str(gone) not in [item["id"] for item in sitting["page"]["items"]]
    (score,) = api.ok("post", f"/quizzes/{quiz}/trial/submit")["scores"]
    assert score["points"] == 4 and api.ok("get", f"/quizzes/{quiz}/trial/attempts/1")["marked"]

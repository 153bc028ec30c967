"""Receivers through the API: sheets of one's own, forecasts, repairs, handing on, the stand-ins, and what comes after."""

from __future__ import annotations

import io
import json
import zipfile

import pytest
from django.core.files.uploadedfile import SimpleUploadedFile
from django.db import connection
from django.test.utils import CaptureQueriesContext
from PIL import Image

from rogatum.core.items.content import formula_from_tex
from rogatum.core.receivers.shipped import NAMES
from rogatum.web.handoffs import repairing
from rogatum.web.handoffs.models import Wording
from rogatum.web.pools.models import Item
from tests.web.conftest import Api

ALL = {"selection": {"all_matching": True}}
STEPS = ["Open it.", "Give it the file.", "Look."]


def lines_of(api, course, what=ALL, receivers=("whole-shelf", "written-numbers", "live-board")):
    _, response = api.call("post", f"/courses/{course}/forecast", {"what": what, "receivers": list(receivers)})
    head, *lines = [json.loads(line) for line in b"".join(response.streaming_content).splitlines()]
    return head, {line["key"]: line for line in lines}


def matrix(api, course, receiver, what=ALL):
    return api.ok("post", f"/courses/{course}/forecast/matrix", {"what": what, "receiver": receiver})


def hand_on(api, course, *receivers, what=(ALL,), sections=()):
    body = {"what": list(what), "receivers": [{"receiver": key} for key in receivers], "sections": list(sections)}
    job = api.ok("post", f"/courses/{course}/hand-on", body)
    result = api.ok("get", f"/jobs/{job['id']}")["result"]
    return [api.ok("get", f"/handoffs/{key}") for key in result["handoffs"]]


def folder_of(api, handoff):
    _, response = api.call("get", f"/handoffs/{handoff['id']}/file")
    with zipfile.ZipFile(io.BytesIO(b"".join(response.streaming_content))) as archive:
        return {name: archive.read(name) for name in archive.namelist()}


def repair(api, course, receiver, name, **more):
    return api.ok("post", f"/courses/{course}/forecast/repair", {"what": ALL, "receiver": receiver, "repair": name} | more)


def number_of(api, course) -> int:
    """The item whose number has a tolerance: no text that is typed stands for all that it takes."""
    return next(row["id"] for row in api.ok("get", f"/courses/{course}/items")["rows"] if row["type"] == "numeric")


def offers(api, course, receiver):
    return {offer["name"]: offer for offer in matrix(api, course, receiver)["offers"]}


def test_receivers_are_told_one_after_the_other_with_the_best_format_of_each(api, course, pools):
    head, lines = lines_of(api, course)
    assert head == {"title": "Soil Science 110", "items": 5, "receivers": 3}
    assert lines["whole-shelf"]["totals"] == {"same": 1, "added": 4, "recast": 0, "changed": 0, "lost": 0, "refused": 0}
    assert lines["written-numbers"]["format"] == "qti-2.1" and lines["written-numbers"]["totals"]["changed"] == 1
    assert "Common Cartridge refuses 1" in lines["written-numbers"]["because"]
    assert lines["live-board"]["totals"]["refused"] == 2


def test_the_matrix_says_of_each_item_what_each_facet_becomes_and_why_it_is_refused(api, course, pools):
    told = matrix(api, course, "live-board")
    numeric = next(row for row in told["rows"] if row["type"] == "numeric")
    assert numeric["standing"] == "refused" and "does not take numeric items" in numeric["why"] and not numeric["signs"]
    kept = next(row for row in told["rows"] if row["type"] == "true_false")
    assert dict(zip(told["facets"], kept["signs"], strict=True))["grouping"] == "l"


def test_a_number_becomes_its_forms_for_one_receiver_and_the_pool_keeps_the_number(api, course, pools):
    assert "turn:fill_in" not in offers(api, course, "written-numbers")
    item = number_of(api, course)
    seen = api.ok("post", f"/courses/{course}/forecast/item", {"what": ALL, "receiver": "written-numbers", "item": item})
    assert seen["told"]["facets"]["type"] == "changed" and seen["wording"] is None
    [offer] = [offer for offer in seen["offers"] if offer["name"] == "turn:fill_in"]
    assert not offer["repair"] and {"response": "just over 24.5", "now": 1.0, "then": 0.0} in offer["responses"]
    status, _ = api.call(
        "post", f"/courses/{course}/forecast/repair", {"what": ALL, "receiver": "written-numbers", "repair": "turn:fill_in"}
    )
    assert status == 422
    assert repair(api, course, "written-numbers", "turn:fill_in", items=[item])["count"] == 1
    seen = api.ok("post", f"/courses/{course}/forecast/item", {"what": ALL, "receiver": "written-numbers", "item": item})
    texts = {answer["text"] for answer in seen["wording"]["answers"]}
    assert (
        {"25", "24.5", "25.5", "24,5"} <= texts and seen["item"]["type"] == "numeric" and seen["done"] == ["Turn it into a fill-in"]
    )
    assert {"key", "marking", "type"} <= {note["facet"] for note in seen["told"]["notes"] if note["by"] == "version"}
    assert lines_of(api, course)[1]["written-numbers"]["totals"]["changed"] == 1
    assert lines_of(api, course)[1]["whole-shelf"]["totals"]["added"] == 4
    last = api.ok("get", f"/courses/{course}/operations")[0]
    api.ok("post", f"/operations/{last['id']}/undo")
    assert lines_of(api, course)[1]["written-numbers"]["totals"]["changed"] == 1


def test_a_repair_in_the_pool_changes_the_item_for_all(api, course, pools):
    repair(api, course, "written-numbers", "turn:fill_in", place="pool", items=[number_of(api, course)])
    types = [row["type"] for row in api.ok("get", f"/courses/{course}/items")["rows"]]
    assert "numeric" not in types and types.count("fill_in") == 2


def test_a_wording_of_an_item_that_changed_since_is_left_aside(api, course, pools):
    repair(api, course, "written-numbers", "turn:fill_in", items=[number_of(api, course)])
    row = next(row for row in api.ok("get", f"/courses/{course}/items")["rows"] if row["type"] == "numeric")
    item = api.ok("get", f"/items/{row['id']}")["item"]
    api.ok("put", f"/items/{row['id']}", {"item": item | {"stem": "Another one?"}})
    assert lines_of(api, course)[1]["written-numbers"]["worded"] == 0
    asked = {"what": ALL, "receiver": "written-numbers", "item": row["id"]}
    old = api.ok("post", f"/courses/{course}/forecast/item", asked)["left_aside"]
    assert old["type"] == "fill_in"
    api.ok("put", f"/courses/{course}/wordings/written-numbers/{row['id']}", {"item": old})
    assert lines_of(api, course)[1]["written-numbers"]["worded"] == 1
    assert api.ok("post", f"/courses/{course}/forecast/item", asked)["left_aside"] is None


def test_each_receiver_gets_one_folder_with_its_steps_and_its_name_says_all(api, course, pools):
    shelf, numbers = hand_on(api, course, "whole-shelf", "written-numbers")
    assert shelf["group"] == numbers["group"] and shelf["receiver_title"] == "A platform that takes QTI 3.0 whole"
    assert numbers["file_name"] == "Soil Science 110 - for A platform without numbers.zip"
    names = list(folder_of(api, numbers))
    folder = numbers["file_name"].removesuffix(".zip")
    assert names == [f"{folder}/{folder}.zip", f"{folder}/Read this first.html", f"{folder}/contents.json"]
    page = folder_of(api, numbers)[names[1]].decode()
    assert "Import the package into the item bank." in page and "What will be otherwise there" in page


@pytest.mark.parametrize("receiver", [name for name in NAMES if name != "paper"])
def test_what_a_stand_in_holds_is_what_was_forecast(api, course, pools, receiver):
    (handoff,) = hand_on(api, course, receiver)
    sent = api.ok("post", f"/handoffs/{handoff['id']}/send", {})
    assert sent["arrived"]["otherwise"] == [] and sent["as_forecast"] is True and sent["arrived"]["report"]


def test_a_live_quiz_comes_in_two_files_and_says_what_is_too_long(api, course, pools):
    row = next(row for row in api.ok("get", f"/courses/{course}/items")["rows"] if row["type"] == "true_false")
    item = api.ok("get", f"/items/{row['id']}")["item"]
    api.ok("put", f"/items/{row['id']}", {"item": item | {"stem": "Loam " * 30}})
    (handoff,) = hand_on(api, course, "live-board")
    files = [name.rpartition("/")[2] for name in folder_of(api, handoff)]
    assert [name.rpartition(" - ")[2] for name in files] == [
        "fits.xlsx",
        "to shorten.xlsx",
        "Read this first.html",
        "contents.json",
    ]
    page = folder_of(api, handoff)[next(name for name in folder_of(api, handoff) if name.endswith(".html"))].decode()
    assert "Stem 149 of 80 characters, 69 too many" in page and handoff["forecast"]["totals"]["refused"] == 3


def test_after_a_hand_off_what_changed_is_handed_on_alone(api, course, pools):
    (handoff,) = hand_on(api, course, "whole-shelf")
    assert handoff["since"]["words"] == ""
    row = api.ok("get", f"/courses/{course}/items")["rows"][0]
    item = api.ok("get", f"/items/{row['id']}")["item"]
    api.ok("put", f"/items/{row['id']}", {"item": item | {"stem": "Which of these is the smallest?"}})
    since = api.ok("get", f"/handoffs/{handoff['id']}")["since"]
    assert since["words"] == "1 item changed" and since["changed"] == [row["id"]]
    (again,) = hand_on(api, course, "whole-shelf", what=[{"selection": {"ids": since["changed"]}}])
    assert again["items"] == 1
    between = api.ok("get", f"/handoffs/{again['id']}/against/{handoff['id']}")
    assert len(between["only_in_a"]) == 4 and between["items"][0]["facets"]["stem"] == "changed"


def test_a_quiz_goes_to_each_section_with_its_dates_and_its_draws_have_the_nearest(api, course, pools):
    quiz = api.ok("post", f"/courses/{course}/quizzes", {"title": "Week 1"})["id"]
    api.ok("post", f"/quizzes/{quiz}/draws", {"pool": pools[0]["id"], "pick": 2})
    api.ok("put", f"/courses/{course}/time", {"time_zone": "Europe/Oslo", "sections": [{"name": "Monday"}, {"name": "Thursday"}]})
    handed = hand_on(api, course, "written-numbers", what=[{"quiz": quiz}], sections=["Monday", "Thursday"])
    assert [handoff["section"] for handoff in handed] == ["Monday", "Thursday"]
    line = lines_of(api, course, {"quiz": quiz}, ["written-numbers"])[1]["written-numbers"]
    told = [note["message"] for note in line["quizzes"][0]["notes"]]
    assert any("Draws 2 of 3 for each student → a fixed 2" in message for message in told)


def test_a_sheet_of_ones_own_is_copied_changed_and_forgotten(api, course, pools, tobin):
    shipped = next(entry for entry in api.ok("get", "/receivers") if entry["key"] == "whole-shelf")
    own = api.ok("post", "/receivers", {"sheet": shipped["sheet"] | {"title": "Ours"}})
    assert own["key"] == f"own-{own['id']}" and own["sheet"]["name"] == "whole-shelf-2"
    changed = api.ok("put", f"/receivers/{own['id']}", {"sheet": own["sheet"] | {"types": {"numeric": "refuses"}}})
    assert changed["version"] == 2
    assert api.call("put", f"/receivers/{own['id']}", {"sheet": own["sheet"]})[0] == 412
    assert lines_of(api, course, ALL, [own["key"]])[1][own["key"]]["totals"]["refused"] == 1
    _, response = api.call("get", f"/receivers/{own['key']}/toml")
    again = api.ok("post", "/receivers/of-toml", {"toml": response.content.decode()})
    assert again["sheet"]["types"] == {"numeric": "refuses"}
    other = Api(tobin)
    assert other.call("get", f"/receivers/{own['key']}/toml")[0] == 404
    assert own["key"] not in [entry["key"] for entry in other.ok("get", "/receivers")]
    api.ok("delete", f"/receivers/{own['id']}")
    assert api.call("post", f"/courses/{course}/forecast", {"what": ALL, "receivers": [own["key"]]})[0] == 404


WRONG = {
    "a type that is none": ({"types": {"numeric": "melts"}}, "types.numeric", "takes"),
    "a limit below 1": ({"limits": {"stem": {"most": 0}}}, "limits.stem.most", "at least 1"),
    "a format that is not written": ({"formats": [{"name": "nonsense"}]}, "formats.0.name", "no such format"),
    "a word that is none": ({"content": {"colour": "takes"}}, "content.colour", "no such field"),
    "two steps": ({"steps": ["One.", "Two."]}, "steps", "at least 3"),
    "a type that becomes what is refused": (
        {"types": {"numeric": "turns into essay", "essay": "refuses"}},
        "types.numeric",
        "not taken",
    ),
}


@pytest.mark.parametrize("name", WRONG)
def test_what_is_wrong_in_a_sheet_is_told_at_its_field(api, name):
    change, field, why = WRONG[name]
    sheet = {"name": "ours", "title": "Ours", "formats": [{"name": "gift"}], "steps": STEPS} | change
    told = api.ok("post", "/receivers/check", {"sheet": sheet})["problems"]
    assert (told[0]["field"], why in told[0]["why"]) == (field, True), told
    status, problem = api.call("post", "/receivers", {"sheet": sheet})
    assert status == 422 and field in problem["place"] + problem["fact"] + json.dumps(problem)


def test_a_sheet_of_toml_has_no_signs_that_are_none(api):
    toml = 'name = "x"\ntitle = "X\\u0000"\nsteps = ["a", "b", "c"]\n[[formats]]\nname = "gift"'
    status, problem = api.call("post", "/receivers/of-toml", {"toml": toml})
    assert status == 422 and "characters that are none" in json.dumps(problem)


def test_what_cannot_be_is_refused_with_words(api, course, pools):
    body = {"what": [ALL], "receivers": [{"receiver": "whole-shelf", "format": "gift"}]}
    assert api.call("post", f"/courses/{course}/hand-on", body)[0] == 422
    body = {"what": [{"selection": {"ids": []}}], "receivers": [{"receiver": "whole-shelf"}]}
    assert "nothing to hand on" in api.call("post", f"/courses/{course}/hand-on", body)[1]["fact"]
    assert (
        api.call("post", f"/courses/{course}/forecast/repair", {"what": ALL, "receiver": "live-board", "repair": "shorten"})[0]
        == 422
    )
    (paper,) = hand_on(api, course, "paper")
    assert paper["can_be_sent"] is False and api.call("post", f"/handoffs/{paper['id']}/send", {})[0] == 422


# Pictures


def own_sheet(api, **more) -> str:
    sheet = {"name": "ours", "title": "Ours", "formats": [{"name": "qti-2.1"}], "steps": STEPS} | more
    return api.ok("post", "/receivers", {"sheet": sheet})["key"]


def with_stem(api, course, kind, stem) -> int:
    """The first item of a type with another stem; its number."""
    row = next(row for row in api.ok("get", f"/courses/{course}/items")["rows"] if row["type"] == kind)
    item = api.ok("get", f"/items/{row['id']}")["item"]
    api.ok("put", f"/items/{row['id']}", {"item": item | {"stem": stem}})
    return row["id"]


def noise(side: int) -> bytes:
    buffer = io.BytesIO()
    Image.effect_noise((side, side), 90).save(buffer, "PNG")
    return buffer.getvalue()


def test_formulas_become_pictures_that_carry_their_tex(api, course, pools):
    formula = formula_from_tex(r"\frac{m}{V}")
    item = with_stem(api, course, "true_false", f"Is {formula} the density?")
    key = own_sheet(api, content={"formulas": "text"})
    assert lines_of(api, course, ALL, [key])[1][key]["facets"]["math"] == {"lost": 1, "same": 4}
    assert repair(api, course, key, "formulas-to-pictures")["count"] == 1
    worded = api.ok("post", f"/courses/{course}/forecast/item", {"what": ALL, "receiver": key, "item": item})["wording"]
    assert 'alt="\\(\\frac{m}{V}\\)"' in worded["stem"] and "<math" not in worded["stem"]
    assert "math" not in {facet for facet, sums in lines_of(api, course, ALL, [key])[1][key]["facets"].items() if "lost" in sums}
    (handoff,) = hand_on(api, course, key)
    assert api.ok("post", f"/handoffs/{handoff['id']}/send")["arrived"]["otherwise"] == []
    inner = next(data for name, data in folder_of(api, handoff).items() if name.endswith(".zip"))
    with zipfile.ZipFile(io.BytesIO(inner)) as archive:
        assert any("formula" in name for name in archive.namelist())


def test_a_picture_that_is_too_large_is_made_smaller_for_one_receiver(api, course, pools):
    data = noise(200)
    file = SimpleUploadedFile("pit.png", data, "image/png")
    media = api.client.post(f"/api/courses/{course}/media", {"files": file}).json()[0]
    item = with_stem(api, course, "true_false", f'Is it wet? <img src="{media["ref"]}" alt="pit"/>')
    key = own_sheet(api, limits={"pictures": {"bytes": 20_000, "beyond": "refuses"}})
    told = matrix(api, course, key)
    assert "a picture of" in next(row["why"] for row in told["rows"] if row["standing"] == "refused").lower()
    repair(api, course, key, "smaller-pictures")
    assert lines_of(api, course, ALL, [key])[1][key]["totals"]["refused"] == 0
    worded = api.ok("post", f"/courses/{course}/forecast/item", {"what": ALL, "receiver": key, "item": item})["wording"]
    assert media["ref"] not in worded["stem"] and 'alt="pit"' in worded["stem"]
    tiny = own_sheet(api, limits={"pictures": {"bytes": 10, "beyond": "refuses"}})
    body = {"what": ALL, "receiver": tiny, "repair": "smaller-pictures"}
    status, problem = api.call("post", f"/courses/{course}/forecast/repair", body)
    assert status == 422 and "cannot be made small enough" in problem["fact"]


# Several at once, and limits of files


def test_several_things_go_to_several_receivers_in_one_job(api, course, pools):
    things = [{"selection": {"all_matching": True, "pool": pool["id"]}} for pool in pools]
    handed = hand_on(api, course, "whole-shelf", "paper", what=things)
    assert [(h["title"], h["receiver"]) for h in handed] == [
        (pool["name"], key) for pool in pools for key in ("whole-shelf", "paper")
    ]
    assert len({h["group"] for h in handed}) == 1 and len({h["file_name"] for h in handed}) == len(handed)
    many = {"what": things * 20, "receivers": [{"receiver": name} for name in NAMES]}
    assert "Choose at most" in api.call("post", f"/courses/{course}/hand-on", many)[1]["way_out"]


def test_what_is_more_than_a_file_takes_comes_in_parts(api, course, pools):
    key = own_sheet(api, limits={"items_per_file": 2})
    assert lines_of(api, course, ALL, [key])[1][key]["files"] == 3
    (handoff,) = hand_on(api, course, key)
    names = [name.rpartition("/")[2] for name in folder_of(api, handoff)]
    assert [name.rpartition(" - ")[2] for name in names[:3]] == [f"part {n} of 3.zip" for n in (1, 2, 3)]
    assert len(handoff["ledger"]["items"]) == 5 and handoff["totals"]["same"] + handoff["totals"]["added"] == 5
    assert api.ok("post", f"/handoffs/{handoff['id']}/send")["arrived"]["otherwise"] == []


def test_a_file_that_is_too_large_is_refused_and_nothing_is_kept(api, course, pools):
    key = own_sheet(api, limits={"file_bytes": 100})
    job = api.ok("post", f"/courses/{course}/hand-on", {"what": [ALL], "receivers": [{"receiver": key}]})
    job = api.ok("get", f"/jobs/{job['id']}")
    assert job["state"] == "failed" and "takes 100" in job["problem"]["fact"]
    assert api.ok("get", f"/courses/{course}/handoffs") == []


def test_the_file_says_what_was_repaired_for_it_and_the_ledger_is_a_page(api, course, pools):
    """What is told is told of the pool's items: the number is another one over there, and the ledger does not call that sound."""
    item = number_of(api, course)
    repair(api, course, "written-numbers", "turn:fill_in", items=[item])
    (handoff,) = hand_on(api, course, "written-numbers")
    assert handoff["repairs"] == {str(item): ["Turn it into a fill-in"]} and not handoff["sound"]
    [entry] = [entry for entry in handoff["ledger"]["items"] if entry["a"] == f"i{item}"]
    assert {"type", "key", "marking"} <= {note["facet"] for note in entry["notes"]}
    assert api.ok("post", f"/handoffs/{handoff['id']}/send")["arrived"]["otherwise"] == []
    _, page = api.call("get", f"/handoffs/{handoff['id']}/page")
    text = page.content.decode()
    assert text.startswith("<!doctype html>") and "Turn it into" not in text and "+ points" in text and "<script" not in text


def test_a_repair_of_many_asks_as_often_as_of_few_but_for_what_it_writes(api, course, pools):
    """What is the same for all is asked once; each item costs its own row, its wording and the history."""
    counts = []
    for place in (["one"], ["one", "two", "three", "four"]):
        for name in place:
            with_stem(api, course, "true_false", f"Is it {name}?")
        key = own_sheet(
            api,
            name=f"ours{len(place)}",
            types={"true_false": "refuses", "multiple_choice": "refuses", "multiple_response": "takes"},
        )
        body = {"what": ALL, "receiver": key, "repair": "turn:multiple_response"}
        with CaptureQueriesContext(connection) as queries:
            done = api.ok("post", f"/courses/{course}/forecast/repair", body)["count"]
        counts.append(len(queries) - 6 * done)
    assert counts[0] == counts[1]


def test_the_lengths_of_an_item_are_counted_as_limits_count_them(api):
    item = {"id": "x", "type": "multiple_choice", "stem": "a <em>b</em> &amp; c", "choices": [{"id": "a", "content": "sand"}]}
    assert api.ok("post", "/item-lengths", {"item": item}) == {"stem": 7, "options": [4]}
    truth = {"id": "x", "type": "true_false", "stem": "So?", "answer": True}
    assert api.ok("post", "/item-lengths", {"item": truth}) == {"stem": 3, "options": []}


@pytest.mark.parametrize("place", ["pool", "receiver"])
def test_what_somebody_changed_while_a_repair_was_worked_out_is_repaired_as_it_is_now(api, course, pools, monkeypatch, place):
    kind = repairing._PLACES[place]

    def then_changed(repair, keys, find=kind.found_out):
        found = find(repair, keys)
        with_stem(api, course, "numeric", "Asked otherwise")
        return found

    monkeypatch.setattr(kind, "found_out", then_changed)
    items = [number_of(api, course)]
    assert repair(api, course, "written-numbers", "turn:fill_in", place=place, items=items)["count"] == 1
    rows = Item.objects.filter(course=course) if place == "pool" else Wording.objects.all()
    assert len([row for row in rows if row.body["type"] == "fill_in" and row.body["stem"] == "Asked otherwise"]) == 1

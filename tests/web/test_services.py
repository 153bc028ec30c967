"""Undo, bulk changes, search, jobs, bad input, and what the pages are served with."""

from __future__ import annotations

import json
from pathlib import Path

import pytest
from django.core.files.uploadedfile import SimpleUploadedFile

from rogatum.web.jobs.models import Job
from rogatum.web.jobs.services import bury_dead_jobs, run_here
from rogatum.web.management.commands.openapi import schema_text
from rogatum.web.pools.models import Item, Pool
from rogatum.web.sources.models import Reading, ReadingItem
from tests.web.conftest import TEXT

ROOT = Path(__file__).parents[2]

FOUR_POINTS = {"selection": {"all_matching": True}, "change": {"kind": "points", "points": 4}}


def snapshot():
    return {row.pk: (row.pool_id, row.points, row.body, row.text) for row in Item.objects.all()}, sorted(
        Pool.objects.values_list("id", "name", "parent_id")
    )


def undo_last(api, course):
    return api.ok(
        "post", f"/operations/{next(o['id'] for o in api.ok('get', f'/courses/{course}/operations') if not o['undone'])}/undo"
    )


def test_every_change_to_pools_and_items_can_be_undone(api, course, pools):
    texture, water = pools[0]["id"], pools[1]["id"]
    item = Item.objects.filter(type="true_false").get()
    body = {"item": item.body | {"stem": "Changed", "points": 9}}
    steps = [
        ("put", f"/items/{item.pk}", body),
        ("post", f"/courses/{course}/items/move", {"selection": {"all_matching": True, "pool": texture}, "pool": water}),
        ("post", f"/courses/{course}/items/change", FOUR_POINTS),
        ("post", f"/courses/{course}/items/delete", {"all_matching": True, "query": "gas"}),
        ("patch", f"/pools/{water}", {"name": "Wet", "parent": texture, "move": True}),
        ("delete", f"/pools/{texture}", None),
    ]
    states = [snapshot()]
    for method, path, sent in steps:
        api.ok(method, path, sent)
        states.append(snapshot())
    assert Item.objects.count() == 0 and len({json.dumps(s, default=str) for s in states}) == len(steps) + 1
    for before in reversed(states[:-1]):
        undo_last(api, course)
        assert snapshot() == before
    assert api.ok("get", f"/courses/{course}/items?query=gas")["total"] == 1


def test_undo_of_taking_gives_the_items_back_to_the_reading(api, course, reading, pools):
    undo_last(api, course)
    assert Item.objects.count() == Pool.objects.count() == 0
    assert not any(cell["taken"] for cell in api.ok("get", f"/readings/{reading}")["cells"])


def test_an_operation_is_not_undone_over_later_work(api, course, pools):
    first = api.ok("get", f"/courses/{course}/operations")[0]["id"]
    api.ok("post", f"/courses/{course}/items/change", FOUR_POINTS)
    status, problem = api.call("post", f"/operations/{first}/undo")
    assert status == 409 and "Undo “Set points" in problem["way_out"]


def test_a_repair_reaches_all_that_have_the_finding_and_is_undone_with_them(api, course, reading):
    rows = ReadingItem.objects.filter(reading=reading)
    before = list(rows.values_list("body", "findings", "worst"))
    assert api.ok("post", f"/readings/{reading}/repair", {"code": "two-keys", "repair": "to-multiple-response"})["count"] == 1
    assert rows.get(position=2).type == "multiple_response" and rows.get(position=2).worst != "error"
    undo_last(api, course)
    assert list(rows.values_list("body", "findings", "worst")) == before


def test_roles_given_by_hand_stay_with_their_lines(api, course):
    text = "1. Which?\nan aside\n*a. x\nb. y\n"
    url = f"/courses/{course}/sources/preview"
    name = api.ok("post", url, {"text": text})["lines"][1]["name"]
    said = api.ok("post", url, {"text": "Soils\n\n" + text, "roles": {name: "aside"}})
    assert [line["role"] for line in said["lines"] if line["name"] == name] == ["aside"]
    assert api.call("post", url, {"text": text, "roles": {name: "nonsense"}})[0] == 422


def test_correcting_the_text_reads_again_and_keeps_what_was_done(api, course, reading):
    api.ok("post", f"/readings/{reading}/take", {"which": "chosen", "positions": [1]})
    text = api.ok("get", f"/readings/{reading}/text")["text"]
    corrected = api.ok("put", f"/readings/{reading}/text", {"text": text.replace("*b. helium", "b. helium")})
    read = api.ok("get", f"/readings/{corrected['reading']}")
    assert [cell["taken"] for cell in read["cells"]] == [True, False, False, False, False]
    assert not [cell for cell in read["cells"] if cell["worst"] == "error"]
    assert Reading.objects.filter(current=True).count() == 1


def test_taking_twice_makes_no_duplicates(api, course, pools, reading):
    job = api.ok(
        "post", f"/courses/{course}/sources/paste", {"text": "1. Which particle is the smallest?\n*a. clay\nb. sand\nc. silt"}
    )
    again = api.ok("get", f"/jobs/{job['id']}")["result"]["reading"]
    taken = api.ok("get", f"/jobs/{api.ok('post', f'/readings/{again}/take', {'which': 'all'})['id']}")
    assert taken["result"]["taken"] == 0 and taken["result"]["duplicates"] == [1]


@pytest.mark.parametrize(("query", "count"), [("gas roots", 1), ("partic", 1), ("clay", 2), ('"; DROP', 0), ("(((", 5), ("", 5)])
def test_search(api, course, pools, query, count):
    assert api.ok("get", f"/courses/{course}/items?query={query}")["total"] == count


def test_lists_ask_the_database_as_often_for_many_as_for_few(api, course, pools, django_assert_max_num_queries):
    for path in (f"/courses/{course}/items", f"/courses/{course}/pools", f"/courses/{course}"):
        with django_assert_max_num_queries(12):
            api.ok("get", path)


def test_content_from_outside_is_sanitised(api, course, pools):
    item = Item.objects.filter(type="true_false").get()
    api.ok("put", f"/items/{item.pk}", {"item": item.body | {"stem": 'x<script>alert(1)</script><b onclick="y()">z</b>'}})
    item.refresh_from_db()
    assert item.body["stem"] == "x<strong>z</strong>"


BAD = [
    ("empty.xml", b"", "empty"),
    ("broken.xml", b"<questestinterop><item", "breaks off"),
    ("photo.xml", b"\x89PNG\r\n\x1a\n000", "picture"),
    ("large.txt", b"1. " + b"x" * (51 * 1024 * 1024), "51 MB"),
    ("words.txt", b"just some words, and no question", None),
]


@pytest.mark.parametrize(("name", "data", "fact"), BAD, ids=[name for name, _, _ in BAD])
def test_bad_input_gets_its_message_and_leaves_no_half(api, course, name, data, fact):
    response = api.client.post(f"/api/courses/{course}/sources", {"files": SimpleUploadedFile(name, data)})
    assert response.status_code == 200, response.content
    job = api.ok("get", f"/jobs/{response.json()[0]['id']}")
    source = api.ok("get", f"/courses/{course}/sources")[0]
    if fact is None:
        read = api.ok("get", f"/readings/{source['reading']}")
        assert [f["code"] for f in read["findings"] if f["level"] == "error"] == ["no-items"] and read["unclaimed"]
    else:
        assert job["state"] == "failed" and fact in job["problem"]["fact"] and job["problem"]["way_out"]
        assert source["problem"]["fact"] == job["problem"]["fact"] and source["reading"] is None
        assert Reading.objects.count() == 0
        assert api.ok("post", f"/jobs/{job['id']}/retry")["state"] == "failed"


def test_a_job_that_dies_leaves_nothing_and_says_so(api, course, reading, monkeypatch):
    def dies(*_arguments):
        raise RuntimeError("power cut")

    monkeypatch.setattr("rogatum.web.sources.taking.DuplicateIndex", dies)
    job = api.ok("post", f"/readings/{reading}/take", {"which": "all"})
    failed = api.ok("get", f"/jobs/{job['id']}")
    assert failed["state"] == "failed" and "nothing was changed" in failed["problem"]["fact"]
    assert Item.objects.count() == Pool.objects.count() == 0
    monkeypatch.undo()
    Job.objects.filter(pk=job["id"]).update(state="running", worker="gone")
    assert bury_dead_jobs() == 1
    Job.objects.filter(pk=job["id"]).update(state="waiting")
    run_here(job["id"])
    assert api.ok("get", f"/jobs/{job['id']}")["result"]["taken"] == 5


def test_a_folder_is_read_as_one_source(api, course):
    item = '<questestinterop><item ident="a"><presentation><material><mattext texttype="text/html">&lt;img src="p/x.png"&gt;</mattext></material></presentation></item></questestinterop>'
    files = [SimpleUploadedFile("items.xml", item.encode()), SimpleUploadedFile("x.png", b"\x89PNG")]
    sent = {"files": files, "paths": ["bank/items.xml", "bank/p/x.png"]}
    response = api.client.post(f"/api/courses/{course}/sources", sent)
    reading = api.ok("get", f"/jobs/{response.json()[0]['id']}")["result"]["reading"]
    stem = api.ok("get", f"/readings/{reading}/items/1")["item"]["stem"]
    picture = api.client.get(f"/api/courses/{course}/{stem.split(chr(34))[1]}")
    assert picture.status_code == 200 and b"".join(picture.streaming_content) == b"\x89PNG"
    assert "sandbox" in picture["Content-Security-Policy"]


def test_what_columns_mean_is_said_once_and_holds_for_the_course(api, course):
    sheet = b"Frage,A,B,C,Answer,Quelle\nWhich?,sand,silt,clay,C,p. 4\n"
    sent = {"files": SimpleUploadedFile("eins.csv", sheet)}
    job = api.client.post(f"/api/courses/{course}/sources", sent).json()[0]
    first = api.ok("get", f"/jobs/{job['id']}")["result"]["reading"]
    source = api.ok("get", f"/readings/{first}")["source"]
    said = {"expected": None, "options": {"columns": {"frage": "stem", "quelle": "page"}}}
    again = api.ok("get", f"/jobs/{api.ok('post', f'/sources/{source}/read', said)['id']}")["result"]["reading"]
    item = api.ok("get", f"/readings/{again}/items/1")["item"]
    assert item["stem"] == "Which?" and item["metadata"] == {"page": ["p. 4"]}
    meanings = {column["heading"]: column["meaning"] for column in api.ok("get", f"/readings/{again}")["columns"]}
    assert meanings["frage"] == "stem" and meanings["a"] == "choice" and meanings["quelle"] == "page"
    sent = {"files": SimpleUploadedFile("zwei.csv", sheet.replace(b"sand", b"gravel"))}
    job = api.client.post(f"/api/courses/{course}/sources", sent).json()[0]
    other = api.ok("get", f"/jobs/{job['id']}")["result"]["reading"]
    assert api.ok("get", f"/readings/{other}/items/1")["item"]["metadata"] == {"page": ["p. 4"]}


def test_the_emphasis_that_shows_the_key_can_be_said(api, course):
    page = b"<p>1. Which?</p><p>a. <b>x</b></p><p>b. <i>y</i></p>"
    job = api.client.post(f"/api/courses/{course}/sources", {"files": SimpleUploadedFile("t.html", page)}).json()[0]
    reading = api.ok("get", f"/jobs/{job['id']}")["result"]["reading"]
    source = api.ok("get", f"/readings/{reading}")["source"]

    def key(habit):
        said = {"expected": None, "options": {"key_habit": habit}}
        job = api.ok("post", f"/sources/{source}/read", said)
        again = api.ok("get", f"/jobs/{job['id']}")["result"]["reading"]
        return [c["content"] for c in api.ok("get", f"/readings/{again}/items/1")["item"]["choices"] if c["weight"]]

    assert [key("italic"), key("bold"), key("none")] == [["y"], ["x"], []]


def test_a_preview_says_what_each_line_is_and_keeps_nothing(api, course):
    shown = api.ok("post", f"/courses/{course}/sources/preview", {"text": TEXT})
    assert shown["items"] == 5 and shown["flagged"] == 1
    roles = {line["number"]: line["role"] for line in shown["lines"]}
    assert (roles[1], roles[3], roles[5], roles[6]) == ("title", "heading", "stem", "choice")
    assert [line["number"] for line in shown["lines"] if line["level"] == "error"] == [10]
    assert not Reading.objects.exists() and api.ok("get", f"/courses/{course}/sources") == []


def test_pages_allow_no_foreign_and_no_inline_script(api):
    page = api.client.get("/")
    policy = page["Content-Security-Policy"]
    assert "script-src 'self';" in policy + ";" and "unsafe-inline" not in policy.split("style-src")[0]
    assert page.cookies["csrftoken"]["samesite"] == "Lax" and page["X-Frame-Options"] == "DENY"


def test_the_schema_of_the_api_is_the_one_that_the_front_end_was_made_from():
    assert (ROOT / "frontend/openapi.json").read_text() == schema_text()

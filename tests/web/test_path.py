"""The whole job through the API: paste, see the finding, repair, take, quiz, try, hand on."""

from __future__ import annotations

from rogatum.core.receiving import read_source


def test_the_whole_path(api, course, reading):
    read = api.ok("get", f"/readings/{reading}")
    assert [cell["worst"] == "error" for cell in read["cells"]] == [False, True, False, False, False]
    flagged = api.ok("get", f"/readings/{reading}/items/2")
    finding = next(f for f in flagged["findings"] if f["code"] == "two-keys")
    assert "2 choices" in finding["message"] and finding["repair"] == "to-multiple-response"
    flagged["item"]["choices"][1]["weight"] = 0
    mended = api.ok("put", f"/readings/{reading}/items/2", {"item": flagged["item"]})
    assert not [f for f in mended["findings"] if f["level"] == "error"]

    names = api.ok("post", f"/readings/{reading}/names", {"which": "all", "pattern": "{course} {chapter}"})
    assert names["items"] == 5 and [(pool["path"], pool["items"], pool["new"]) for pool in names["pools"]] == [
        (["Soil Science 110 Texture"], 3, True),
        (["Soil Science 110 Water"], 2, True),
    ]
    job = api.ok("post", f"/readings/{reading}/take", {"which": "all", "pattern": "{course} {chapter}"})
    assert api.ok("get", f"/jobs/{job['id']}")["result"]["taken"] == 5
    pools = {pool["name"]: pool for pool in api.ok("get", f"/courses/{course}/pools")}
    assert pools["Soil Science 110 Texture"]["items"] == 3

    quiz = api.ok("post", f"/courses/{course}/quizzes", {"title": "Week 1"})
    draw = {"pool": pools["Soil Science 110 Texture"]["id"], "pick": 2, "points_each": 1}
    quiz = api.ok("post", f"/quizzes/{quiz['id']}/draws", draw)
    assert quiz["figures"]["items"] == 2 and quiz["figures"]["points"] == 2
    assert abs(api.ok("get", f"/quizzes/{quiz['id']}/sums")["overlap"] - 4 / 3) < 1e-9

    items = api.ok("post", f"/quizzes/{quiz['id']}/trial/begin", {"seed": "s1"})["sitting"]["page"]["items"]
    assert "weight" not in str(items) and "answer" not in str(items)
    answers = {item["id"]: "true" if item["form"] == "truth" else _right(api, item) for item in items}
    api.ok("put", f"/quizzes/{quiz['id']}/trial/responses", {"responses": answers})
    (score,) = api.ok("post", f"/quizzes/{quiz['id']}/trial/submit")["scores"]
    assert score["earned"] == score["points"] == 2

    job = api.ok("post", f"/courses/{course}/handoffs", {"format": "qti-1.2", "selection": {"all_matching": True}})
    handoff = api.ok("get", f"/handoffs/{api.ok('get', '/jobs/' + job['id'])['result']['handoff']}")
    assert handoff["totals"]["changed"] == handoff["totals"]["lost"] == 0
    _, response = api.call("get", f"/handoffs/{handoff['id']}/file")
    bank = read_source(("export.zip", b"".join(response.streaming_content))).bank
    assert [item.type for item in bank.items] == [
        "multiple_choice",
        "multiple_choice",
        "true_false",
        "numeric",
        "fill_in",
    ]


def _right(api, item):
    key = api.ok("get", f"/items/{item['id']}")["item"]["choices"]
    return next(choice["id"] for choice in key if choice["weight"] == 1)


def test_a_field_that_a_pattern_does_not_know_is_refused_at_the_field(api, reading):
    """Taken as it stands, it would be the name of every pool."""
    told = {"which": "all", "positions": [], "pattern": "{course} {nonsense}", "purpose": ""}
    for path in ("names", "take"):
        status, problem = api.call("post", f"/readings/{reading}/{path}", told)
        assert status == 422 and problem["place"] == "pattern" and problem["fact"].startswith("“{nonsense}” is not a field.")

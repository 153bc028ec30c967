"""Courses shared, copies sent, sorting, near-duplicates and an item's page through the API."""

from __future__ import annotations

import pytest

from rogatum.web.courses.models import Course, CourseMedia
from rogatum.web.courses.services import create_course
from rogatum.web.pools.models import Item, LikePair, Pool
from rogatum.web.sharing.models import Offer
from tests.web.conftest import Api, read_paste, taken
from tests.web.test_keeping import with_a_picture
from tests.web.test_many import undo

ALL = {"all_matching": True}


def test_a_course_says_whose_it_is_and_only_its_owner_shares_it(api, course, tobin):
    theirs = Api(tobin)
    assert theirs.ok("get", "/courses") == []
    member = api.ok("post", f"/courses/{course}/people", {"name": " tobin ", "role": "reader"})
    assert [(c["owner"], c["role"], c["shared"]) for c in theirs.ok("get", "/courses")] == [("mara", "reader", 1)]
    assert theirs.call("post", f"/courses/{course}/people", {"name": "mara", "role": "editor"})[0] == 403
    status, problem = theirs.call("post", f"/courses/{course}/pools", {"name": "Mine"})
    assert status == 403 and "mara" in problem["way_out"]
    api.ok("post", f"/courses/{course}/people", {"name": "tobin", "role": "editor"})
    assert theirs.ok("post", f"/courses/{course}/pools", {"name": "Mine"})["id"]
    assert [row["role"] for row in theirs.ok("get", f"/courses/{course}/people")] == ["editor"]
    for name in ("nobody", "mara"):
        assert api.call("post", f"/courses/{course}/people", {"name": name, "role": "reader"})[0] == 422
    theirs.ok("delete", f"/courses/{course}/people/{member['id']}")
    assert theirs.call("get", f"/courses/{course}")[0] == 404


@pytest.fixture
def sent(api, course, pools, tobin):
    """A pool with a pool below it, a picture, feedback and a passage, offered to tobin."""
    row = with_a_picture(api, course)
    Item.objects.filter(pk=row).update(stimulus={"id": "s1", "content": "<p>Field notes.</p>"})
    chapter = api.ok("post", f"/courses/{course}/pools", {"name": "Chapter 2"})["id"]
    for pool in pools:
        api.ok("patch", f"/pools/{pool['id']}", {"parent": chapter, "move": True})
    answer = api.ok(
        "post", f"/courses/{course}/pools/send", {"pools": [chapter, pools[0]["id"]], "people": ["tobin"], "note": "Yours."}
    )
    assert answer == {"items": 5, "courses": 0, "offers": 1, "jobs": []}
    return Offer.objects.get()


def test_an_offer_is_looked_at_and_taken_and_nothing_is_touched_before(api, course, sent, tobin):
    theirs, mine = Api(tobin), create_course(tobin, "Field Methods 210").pk
    offer = theirs.ok("get", "/offers")[0]
    assert (offer["sender"], offer["note"], offer["pools"], offer["items"], offer["state"]) == ("mara", "Yours.", 3, 5, "waiting")
    ledger = theirs.ok("get", f"/offers/{sent.pk}/ledger")["ledger"]
    assert ledger["totals"]["same"] == 5 and ledger["totals"]["lost"] == ledger["totals"]["changed"] == 0
    assert not Course.objects.get(pk=mine).pools.exists()
    assert theirs.call("post", f"/offers/{sent.pk}/look", {"course": course})[0] == 404, "not into a course of others"
    job = theirs.ok("post", f"/offers/{sent.pk}/look", {"course": mine})
    reading = theirs.ok("get", f"/jobs/{job['id']}")["result"]["reading"]
    assert not Course.objects.get(pk=mine).pools.exists() and api.ok("get", "/offers")[0]["state"] == "looked at"
    assert theirs.call("post", f"/offers/{sent.pk}/look", {"course": mine})[0] == 409
    assert theirs.call("post", f"/offers/{sent.pk}/decline")[0] == 409
    taken(theirs, mine, reading)
    names = {pool.name: pool.parent and pool.parent.name for pool in Pool.objects.filter(course=mine)}
    assert names == {"Chapter 2": None, "Texture": "Chapter 2", "Water": "Chapter 2"}
    row = Item.objects.get(course=mine, picture=True)
    assert row.stimulus["content"] == "<p>Field notes.</p>" and row.body["feedback"]["general"] == "Look."
    assert CourseMedia.objects.filter(course=mine).count() == 1
    told = api.ok("get", "/offers")[0]
    assert (told["state"], told["taken"], told["source"]) == ("taken", 5, None), "the sender sees that, and nothing else of theirs"
    assert Item.objects.filter(course=course).count() == 5


def test_an_offer_is_declined_or_taken_back(api, course, sent, tobin, pools):
    assert Api(tobin).ok("post", f"/offers/{sent.pk}/decline")["state"] == "declined"
    mine = create_course(tobin, "Mine").pk
    assert Api(tobin).call("post", f"/offers/{sent.pk}/look", {"course": mine})[0] == 409
    api.ok("post", f"/courses/{course}/pools/send", {"pools": [pools[0]["id"]], "people": ["tobin"]})
    assert api.ok("post", f"/offers/{Offer.objects.first().pk}/decline")["state"] == "withdrawn"


def test_a_copy_goes_into_several_courses_at_once(api, course, pools, mara, tobin):
    with_a_picture(api, course)
    courses = [create_course(mara, name).pk for name in ("A", "B")]
    body = {"pools": [pool["id"] for pool in pools], "courses": courses}
    assert api.ok("post", f"/courses/{course}/pools/send", body) == {"items": 5, "courses": 2, "offers": 0, "jobs": []}
    for key in courses:
        rows = Item.objects.filter(course=key)
        assert sorted(rows.values_list("digest", flat=True)) == sorted(
            Item.objects.filter(course=course).values_list("digest", flat=True)
        )
        assert CourseMedia.objects.filter(course=key).count() == 1
        undo(api, key)
        assert not Pool.objects.filter(course=key).exists()
    theirs = create_course(tobin, "C").pk
    assert api.call("post", f"/courses/{course}/pools/send", body | {"courses": [theirs]})[0] == 404
    for people in (["mara"], ["nobody"], []):
        assert api.call("post", f"/courses/{course}/pools/send", {"pools": body["pools"], "people": people})[0] == 422


def test_what_the_pools_have_already_is_told_before_it_is_taken(api, course, pools):
    text = "1. Which particle is the smallest?\na. sand\nb. silt\n*c. clay\n\n2. The water that a soil holds two days after rain is called the ____.\nAnswer: field capacity\n\n3. Name a worm.\nAnswer: tubifex"  # fmt: skip
    job = api.ok("post", f"/courses/{course}/sources/paste", {"text": text})
    reading = api.ok("get", f"/jobs/{job['id']}")["result"]["reading"]
    told = api.ok("get", f"/readings/{reading}/known")
    assert [(entry["position"], entry["percent"] == 100, entry["path"]) for entry in told] == [
        (1, True, ["Texture"]),
        (2, False, ["Water"]),
    ]


# Sorting


def test_sorting_sends_one_by_one_and_gives_the_next(api, course, pools):
    texture, water = (pool["id"] for pool in pools)
    mixed = api.ok("post", f"/courses/{course}/pools", {"name": "Mixed"})["id"]
    rows = list(Item.objects.filter(pool=texture).order_by("position"))
    api.ok("post", f"/courses/{course}/items/move", {"selection": {"ids": [row.pk for row in rows]}, "pool": mixed})
    asked = {"pool": mixed, "pools": [texture, water], "skipped": []}
    step = api.ok("post", "/sorting/next", asked)
    assert (step["left"], step["item"]["id"]) == (3, rows[0].pk)
    step = api.ok("post", "/sorting/next", asked | {"skipped": [rows[0].pk]})
    assert step["item"]["id"] == rows[1].pk
    step = api.ok("post", "/sorting/send", asked | {"item": rows[1].pk, "to": water, "skipped": [rows[0].pk]})
    assert (step["left"], step["item"]["id"]) == (2, rows[2].pk) and Item.objects.get(pk=rows[1].pk).pool_id == water
    assert api.call("post", "/sorting/send", asked | {"item": rows[1].pk, "to": texture})[0] == 409, "it lies elsewhere by now"
    step = api.ok("post", "/sorting/send", asked | {"item": rows[2].pk, "to": texture, "skipped": [rows[0].pk]})
    assert step["item"]["id"] == rows[0].pk, "what was skipped comes last"
    undo(api, course)
    assert api.ok("post", "/sorting/next", asked)["left"] == 2
    for key in (rows[0].pk, rows[2].pk):
        step = api.ok("post", "/sorting/send", asked | {"item": key, "to": texture})
    assert (step["item"], step["left"], step["suggestions"]) == (None, 0, [])
    api.ok("post", f"/operations/{step['sent']}/undo")
    assert api.ok("post", "/sorting/next", asked)["item"]["id"] == rows[2].pk, "what was sent last lies here again"


def test_groups_are_proposed_and_made_pools(api, course, pools):
    told = api.ok("post", f"/courses/{course}/split/preview", {"selection": ALL, "by": "type"})
    assert {group["name"] for group in told} == {"Fill-in", "Multiple choice", "Numeric", "True/false"}
    assert sorted(key for group in told for key in group["items"]) == sorted(Item.objects.values_list("pk", flat=True))
    assert all(example["text"] for group in told for example in group["examples"])
    body = {"pools": [{"name": group["name"], "items": group["items"]} for group in told[:2]], "below": pools[1]["id"]}
    assert api.ok("post", f"/courses/{course}/split", body)["count"] == 3
    assert api.call("post", f"/courses/{course}/split", body)[0] == 409, "there is such a pool by now"
    for by in ("content", "outcome", "difficulty", "source", "topic"):
        assert api.ok("post", f"/courses/{course}/split/preview", {"selection": ALL, "by": by})
    assert api.call("post", f"/courses/{course}/split/preview", {"selection": {"ids": []}})[0] == 422


# Near-duplicates


@pytest.fixture
def pair(api, course, pools):
    """An item and its like in another pool, found; a quiz has the second, worth 3 there."""
    text = "## More\n\n1. The water that a soil still holds two days after rain is called ____.\nAnswer: field capacity\nPage: 71"
    job = api.ok("post", f"/courses/{course}/sources/paste", {"text": text})
    taken(api, course, api.ok("get", f"/jobs/{job['id']}")["result"]["reading"])
    other = Item.objects.order_by("-pk").first()
    quiz = api.ok("post", f"/courses/{course}/quizzes", {"title": "Week 1"})["id"]
    api.ok("post", f"/quizzes/{quiz}/items", {"items": [other.pk]})
    api.ok("post", f"/courses/{course}/alike")
    return LikePair.objects.get(b=other)


def test_pairs_are_found_and_shown_side_by_side(api, course, pair):
    page = api.ok("get", "/alike")
    assert page["open"] == page["total"] == 1 and page["looked"] and not page["running"]
    told = api.ok("get", f"/alike/{pair.pk}")
    assert told["a"]["path"] == ["Water"] and told["b"]["path"] == ["More"] and told["b"]["quizzes"] == ["Week 1"]
    assert [
        piece["text"].strip() for line in told["lines"] if line["label"] == "Stem" for piece in line["b"] if piece["differs"]
    ] == ["still"]
    assert "page" in told["into_a"] and told["a"]["owner"] == "mara"


@pytest.mark.parametrize("decision", ["a", "merge-a"])
def test_what_used_the_one_dropped_uses_the_one_kept(api, course, pair, decision):
    kept, dropped = pair.a_id, pair.b_id
    told = api.ok("post", f"/alike/{pair.pk}", {"decision": decision})
    assert "Week 1 has it instead" in told["words"] and told["next"] is None
    assert not Item.objects.filter(pk=dropped).exists()
    quiz = api.ok("get", f"/courses/{course}/quizzes")[0]["id"]
    assert [item["id"] for part in api.ok("get", f"/quizzes/{quiz}")["parts"] for item in part["items"]] == [kept]
    assert Item.objects.get(pk=kept).body["metadata"].get("page", []) == (["71"] if decision == "merge-a" else [])
    undo(api, course)
    assert Item.objects.filter(pk=dropped).exists()
    assert [item["id"] for part in api.ok("get", f"/quizzes/{quiz}")["parts"] for item in part["items"]] == [dropped]


def test_both_kept_are_not_asked_about_again_until_one_changes(api, course, pair):
    api.ok("post", f"/alike/{pair.pk}", {"decision": "both"})
    api.ok("post", f"/courses/{course}/alike")
    page = api.ok("get", "/alike?all=true")
    assert (page["open"], page["total"]) == (0, 1) and api.ok("get", "/alike")["total"] == 0
    item = api.ok("get", f"/items/{pair.b_id}")["item"]
    api.ok("put", f"/items/{pair.b_id}", {"item": item | {"stem": item["stem"].replace("still", "yet")}})
    api.ok("post", f"/courses/{course}/alike")
    assert api.ok("get", "/alike")["open"] == 1


def test_pairs_over_courses_show_what_one_may_see_and_change_what_one_may_change(api, course, pools, tobin):
    theirs = Api(tobin)
    other = create_course(tobin, "Field Methods 210").pk
    taken(theirs, other, read_paste(theirs, other))
    api.ok("post", f"/courses/{course}/people", {"name": "tobin", "role": "reader"})
    theirs.ok("post", f"/courses/{other}/alike")
    page = theirs.ok("get", "/alike")
    assert page["open"] == 5 and {tuple(row["courses"]) for row in page["rows"]} == {("Soil Science 110", "Field Methods 210")}
    assert api.ok("get", "/alike")["total"] == 0, "what tobin found is tobin's"
    first = page["rows"][0]["id"]
    told = theirs.ok("get", f"/alike/{first}")
    assert (told["a"]["editable"], told["b"]["editable"]) == (False, True)
    assert theirs.call("post", f"/alike/{first}", {"decision": "b"})[0] == 403, "mara's is not tobin's to drop"
    quiz = theirs.ok("post", f"/courses/{other}/quizzes", {"title": "Q"})["id"]
    theirs.ok("post", f"/quizzes/{quiz}/items", {"items": [told["b"]["id"]]})
    status, problem = theirs.call("post", f"/alike/{first}", {"decision": "a"})
    assert status == 409 and "Q in Field Methods 210" in problem["fact"]
    second = page["rows"][1]["id"]
    dropped = LikePair.objects.get(pk=second).b_id
    theirs.ok("post", f"/alike/{second}", {"decision": "a"})
    assert not Item.objects.filter(pk=dropped).exists() and Item.objects.filter(course=course).count() == 5
    api.ok("delete", f"/courses/{course}/people/{api.ok('get', f'/courses/{course}/people')[0]['id']}")
    assert theirs.ok("get", "/alike")["total"] == 0, "what one may no longer see is not shown"


# An item's own page


def test_an_items_page_tells_all_that_is_known_of_it(api, course, pair):
    page = api.ok("get", f"/items/{pair.b_id}/page")
    assert (page["course_name"], page["owner"], page["editable"]) == ("Soil Science 110", "mara", True)
    assert page["came_from"]["reading"] and page["came_from"]["position"] == 1
    assert page["used"] == [{"quiz": page["used"][0]["quiz"], "title": "Week 1", "how": "fixed"}]
    assert [row["id"] for row in page["alike"]] == [pair.pk]


def test_a_version_is_brought_back_as_a_change_of_its_own(api, course, pools):
    row = Item.objects.order_by("pk").first()
    item = api.ok("get", f"/items/{row.pk}")["item"]
    api.ok("put", f"/items/{row.pk}", {"item": item | {"stem": "Which is the largest?"}})
    api.ok("post", f"/courses/{course}/items/move", {"selection": {"ids": [row.pk]}, "pool": pools[1]["id"]})
    moved, edited, took = api.ok("get", f"/items/{row.pk}/page")["versions"]
    assert moved["moved"] == "Texture → Water" and not moved["lines"] and not moved["restorable"]
    assert [line["label"] for line in edited["lines"]] == ["Stem"] and edited["restorable"] and edited["by"] == "mara"
    assert not took["restorable"]
    again = api.ok("post", f"/items/{row.pk}/versions/{edited['operation']}")
    assert again["item"]["stem"] == item["stem"] and Item.objects.get(pk=row.pk).pool_id == pools[1]["id"]
    assert len(api.ok("get", f"/items/{row.pk}/page")["versions"]) == 4
    undo(api, course)
    assert Item.objects.get(pk=row.pk).text == "Which is the largest?"
    for operation in (moved["operation"], took["operation"]):
        assert api.call("post", f"/items/{row.pk}/versions/{operation}")[0] == 409

"""A list of keys in a source of its own: joined to its test, and parted from it again."""

from __future__ import annotations

from tests.web.conftest import upload

TEST = b"1. Which particle is smallest?\na. sand\nb. clay\n\n2. Which is largest?\na. sand\nb. clay\n"
KEYS = b"Answer key\n1. B\n2. A\n"


def sources(api, course):
    return {source["name"]: source for source in api.ok("get", f"/courses/{course}/sources")}


def test_keys_are_joined_and_parted(api, course):
    upload(api, course, "week-2.txt", TEST)
    upload(api, course, "week-2-key.txt", KEYS)
    found = sources(api, course)
    keys, test = found["week-2-key.txt"], found["week-2.txt"]
    assert keys["problem"]["keys"] == 2 and "test" in keys["problem"]["way_out"]
    assert test["worst"] == {"error": 2} and test["document"] and keys["likely_test"] == test["id"]

    api.ok("post", f"/sources/{keys['id']}/keys", {"test": test["id"]})
    [joined] = sources(api, course).values()
    assert joined["keys_from"] == ["week-2-key.txt"] and joined["worst"].get("error") is None
    first = api.ok("get", f"/readings/{joined['reading']}/items/1")["item"]
    assert [choice["weight"] for choice in first["choices"]] == [0, 1]

    api.ok("delete", f"/sources/{joined['id']}/keys")
    found = sources(api, course)
    assert found["week-2-key.txt"]["problem"]["keys"] == 2
    assert found["week-2.txt"]["keys_from"] == [] and found["week-2.txt"]["worst"] == {"error": 2}


def test_what_holds_questions_is_no_key(api, course):
    upload(api, course, "a.txt", TEST)
    upload(api, course, "b.txt", TEST.replace(b"particle", b"grain"))
    found = sources(api, course)
    status, problem = api.call("post", f"/sources/{found['a.txt']['id']}/keys", {"test": found["b.txt"]["id"]})
    assert status == 422 and "questions of its own" in problem["fact"]
    assert len(sources(api, course)) == 2


def test_a_list_that_could_be_for_several_tests_is_offered_none(api, course):
    for name, text in (("a.txt", TEST), ("b.txt", TEST.replace(b"particle", b"grain")), ("answers.txt", KEYS)):
        upload(api, course, name, text)
    assert sources(api, course)["answers.txt"]["likely_test"] is None
    upload(api, course, "b key.txt", KEYS + b"\n")
    found = sources(api, course)
    assert found["b key.txt"]["likely_test"] == found["b.txt"]["id"]

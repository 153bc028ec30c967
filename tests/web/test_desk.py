"""The proof-reader's desk: decisions of one key, several sources as one, samples, comparisons, repairs in words, advice."""

from __future__ import annotations

import base64

import pytest
from django.core.files.uploadedfile import SimpleUploadedFile

from rogatum.core.exporting import export_bank
from rogatum.core.items import Bank, Choice, MultipleChoice
from rogatum.core.sources import MediaBox
from rogatum.web.pools.models import Item
from rogatum.web.sources import many
from rogatum.web.sources.batches import usual_name
from rogatum.web.sources.models import Reading, ReadingItem
from tests.web.conftest import Api, read_paste

PNG = base64.b64decode("iVBORw0KGgoAAAANSUhEUgAAAAEAAAABCAQAAAC1HAwCAAAAC0lEQVR42mNk+A8AAQUBAScY42YAAAAASUVORK5CYII=")
CHAPTER = """# Chapter {n}

1. Which of these is number {n}?
*a. this
b. that

2. Which of those is number {n}?
{mark}a. these
b. those
"""


def package() -> bytes:
    choices = [Choice(id="a", content="sand"), Choice(id="b", content="clay", weight=1, feedback="Right.")]
    return export_bank(
        Bank(items=[MultipleChoice(id="i", stem="Which is the finest?", choices=choices)]), MediaBox(), "qti-1.2"
    ).written.data


def drop(api: Api, course: int, files: dict[str, str], token: str = "one") -> list[dict]:
    uploads = [SimpleUploadedFile(name, text.encode()) for name, text in files.items()]
    response = api.client.post(f"/api/courses/{course}/sources", {"files": uploads, "drop": token})
    assert response.status_code == 200, response.content
    return api.ok("get", f"/courses/{course}/sources")


@pytest.fixture
def chapters(api, course):
    """Three chapters that were dropped together; the second has an item without a key."""
    files = {f"soil-ch{n}.txt": CHAPTER.format(n=n, mark="" if n == 2 else "*") for n in (1, 2, 3)}
    return sorted(drop(api, course, files), key=lambda source: source["id"])


def undo_last(api: Api, course: int) -> None:
    last = next(done for done in api.ok("get", f"/courses/{course}/operations") if not done["undone"])
    api.ok("post", f"/operations/{last['id']}/undo")


def decide(api, reading, position, **decision):
    return api.ok("post", f"/readings/{reading}/items/{position}/decide", {"decision": decision})


def weights(answer):
    return [choice["weight"] for choice in answer["item"]["choices"]]


# Several sources, one job


def test_what_is_dropped_together_is_a_batch_and_can_be_named(api, course, chapters):
    assert {source["batch"]["name"] for source in chapters} == {"soil-ch"}
    batch = chapters[0]["batch"]["id"]
    api.ok("patch", f"/batches/{batch}", {"name": "Ground Beneath"})
    alone = drop(api, course, {"other.txt": CHAPTER.format(n=9, mark="*")}, token="two")
    assert {source["name"]: (source["batch"] or {}).get("name") for source in alone} == {
        "other.txt": None,
        **{f"soil-ch{n}.txt": "Ground Beneath" for n in (1, 2, 3)},
    }


def test_a_batch_is_foreseen_taken_and_undone_as_one(api, course, chapters):
    wanted = {"sources": [source["id"] for source in chapters], "which": "sound", "pattern": "Soils {number}"}
    foreseen = api.ok("post", f"/courses/{course}/take/preview", wanted)
    assert [(pool["path"], pool["items"]) for pool in foreseen["pools"]] == [(["Soils 1"], 2), (["Soils 2"], 1), (["Soils 3"], 2)]
    assert (foreseen["items"], foreseen["sources"], foreseen["stays"]) == (5, 3, 1)
    job = api.ok("post", f"/courses/{course}/take", wanted)
    assert job["label"] == "Take 5 items of 3 sources"
    pools = api.ok("get", f"/courses/{course}/pools")
    assert {pool["name"]: pool["items"] for pool in pools} == {"Soils 1": 2, "Soils 2": 1, "Soils 3": 2}
    assert [(entry["source"], entry["positions"]) for entry in api.ok("get", f"/courses/{course}/look")] == [("soil-ch2.txt", [2])]
    undo_last(api, course)
    assert not Item.objects.exists() and not ReadingItem.objects.filter(taken__isnull=False).exists()


def test_sources_of_one_name_are_counted_each(api, course):
    drop(api, course, {"week.txt": CHAPTER.format(n=1, mark="*")}, token="one")
    sources = drop(api, course, {"week.txt": CHAPTER.format(n=2, mark="*")}, token="two")
    foreseen = api.ok("post", f"/courses/{course}/take/preview", {"sources": [source["id"] for source in sources], "which": "all"})
    assert (len(sources), foreseen["sources"], foreseen["items"]) == (2, 2, 4)


@pytest.mark.parametrize(
    ("names", "called"),
    [
        (["soil-ch1.txt", "soil-ch2.txt"], "soil-ch"),
        (["Week 1.docx", "Week 12.docx"], "Week"),
        (["ab1.txt", "ab2.txt", "ab3.txt"], "ab1.txt and 2 more"),
        (["sand.txt", "clay.txt"], "sand.txt and 1 more"),
    ],
)
def test_a_batch_that_nobody_named_is_called_by_what_its_sources_share(names, called):
    assert usual_name(names) == called


def test_the_pool_of_an_item_is_the_same_wherever_it_is_told(api, course):
    [source] = drop(api, course, {"two.txt": CHAPTER.format(n=1, mark="*")})
    reading = source["reading"]
    ReadingItem.objects.filter(reading=reading, position=2).update(path=["Colour", "Hue"])
    whole = api.ok("get", f"/readings/{reading}")
    listed = [entry["cell"]["pool"] for entry in api.ok("get", f"/readings/{reading}/items")]
    alone = [api.ok("get", f"/readings/{reading}/items/{position}")["cell"]["pool"] for position in (1, 2)]
    assert [cell["pool"] for cell in whole["cells"]] == listed == alone
    assert whole["pools"][alone[1]] == ["Colour", "Hue"]


def test_what_is_set_aside_waits_no_more_and_comes_back(api, course, chapters):
    second = chapters[1]["id"]
    api.ok("put", f"/sources/{second}/aside", {"aside": True})
    assert api.ok("get", f"/courses/{course}/look") == []
    assert api.ok("get", f"/courses/{course}")["waiting"]["check"] == 4
    undo_last(api, course)
    assert len(api.ok("get", f"/courses/{course}/look")) == 1


def test_two_readings_of_one_test_are_compared_and_one_goes_on(api, course):
    whole, poor = CHAPTER.format(n=1, mark="*"), CHAPTER.format(n=1, mark="").replace("*a. this", "a. this")
    sources = {source["name"]: source["id"] for source in drop(api, course, {"a.txt": whole, "b.txt": poor})}
    job = api.ok("post", f"/courses/{course}/compare", {"a": sources["a.txt"], "b": sources["b.txt"]})
    key = api.ok("get", f"/jobs/{job['id']}")["result"]["comparison"]
    made = api.ok("get", f"/comparisons/{key}")
    assert made["ledger"]["whole"]["more"] == "a" and made["a"]["items"] == made["b"]["items"] == 2
    assert made["ledger"]["totals"]["lost"] + made["ledger"]["totals"]["changed"] == 2
    api.ok("post", f"/comparisons/{key}/go-on", {"side": "a"})
    shown = {source["name"]: source["aside"] for source in api.ok("get", f"/courses/{course}/sources")}
    assert shown == {"a.txt": False, "b.txt": True}
    assert api.call("post", f"/courses/{course}/compare", {"a": sources["a.txt"], "b": sources["a.txt"]})[0] == 422


def test_what_is_said_of_all_items_is_repaired_in_all_sources_at_once_and_undone_as_one(api, course):
    text = CHAPTER.format(n=1, mark="*").replace("*a. this", "Points: 100\n*a. this").replace("*a. these", "Points: 100\n*a. these")
    sources = drop(api, course, {f"{n}.txt": text.replace("number 1", f"number {n}") for n in (1, 2)})
    assert [[way["label"] for way in finding["ways"]] for source in sources for finding in source["findings"]] == [
        ["Set points to 1"]
    ] * 2
    wanted = {"sources": [source["id"] for source in sources], "code": "points-odd", "repair": "points-to-1"}
    assert api.ok("post", f"/courses/{course}/repair", wanted)["count"] == 4
    assert set(ReadingItem.objects.values_list("points", flat=True)) == {1}
    assert all(source["findings"] == [] for source in api.ok("get", f"/courses/{course}/sources"))
    undo_last(api, course)
    assert set(ReadingItem.objects.values_list("points", flat=True)) == {100}


MANY = {
    "repair": {"code": "points-odd", "repair": "points-to-1"},
    "dismiss": {"code": "negative-stem"},
    "drop": {"positions": [1, 2, 3, 4, 5]},
    "pool": {"positions": [1, 3, 4], "name": "Own"},
    "mend": {"wish": {"kind": "points-ratio", "was": 100, "becomes": 2}},
}


@pytest.mark.parametrize("what", MANY)
def test_many_are_changed_in_short_steps_as_few_at_once(api, course, monkeypatch, what):
    text = "\n".join(f"{n}. Which of these is not number {n}?\nPoints: 100\n*a. this {n}\nb. that\n" for n in range(1, 6))
    [source] = drop(api, course, {"five.txt": text})

    def held():
        columns = ("position", "body", "findings", "worst", "advice", "dropped", "path", "points", "edited")
        return list(ReadingItem.objects.values_list(*columns)), list(Reading.objects.values_list("findings", flat=True))

    before = held()
    few = api.ok("post", f"/readings/{source['reading']}/{what}", MANY[what])
    at_once = held()
    undo_last(api, course)
    assert held() == before != at_once and few["job"] is None
    monkeypatch.setattr(many, "AT_ONCE", 0)
    monkeypatch.setattr(many, "STEP", 2)
    answer = api.ok("post", f"/readings/{source['reading']}/{what}", MANY[what])
    assert held() == at_once and api.ok("get", f"/jobs/{answer['job']}")["result"] == {"count": few["count"]}
    undo_last(api, course)
    assert held() == before


# One key, one decision


def test_a_digit_sets_the_key_shows_it_at_once_and_is_undone(api, course, reading):
    assert weights(api.ok("get", f"/readings/{reading}/items/2")) == [1, 1, 0]
    marked = decide(api, reading, 2, kind="key", choice=1)
    assert weights(marked) == [1, 0, 0] and marked["cell"]["needs_look"] is False and marked["edited"]
    assert weights(decide(api, reading, 2, kind="key", choice=1)) == [0, 0, 0]
    for _ in range(2):
        undo_last(api, course)

    assert weights(api.ok("get", f"/readings/{reading}/items/2")) == [1, 1, 0]


def test_points_type_outcome_and_paper_are_one_decision_each(api, reading):
    assert decide(api, reading, 1, kind="points", points=3)["item"]["points"] == 3
    assert decide(api, reading, 1, kind="outcome", code="2.1")["item"]["metadata"]["outcome"] == ["2.1"]
    assert decide(api, reading, 1, kind="type", type="multiple_response")["item"]["type"] == "multiple_response"
    assert decide(api, reading, 1, kind="paper")["item"]["metadata"]["answered on"] == ["paper"]


@pytest.mark.parametrize(
    "decision",
    [
        {"kind": "key", "choice": 9},
        {"kind": "type", "type": "preserved"},
        {"kind": "points", "points": -1},
        {"kind": "outcome", "code": ""},
        {"kind": "nothing"},
    ],
)
def test_a_decision_that_an_item_cannot_take_is_refused_with_its_way_out(api, reading, decision):
    status, problem = api.call("post", f"/readings/{reading}/items/1/decide", {"decision": decision})
    assert status == 422 and problem["fact"] and problem["way_out"]
    assert not ReadingItem.objects.filter(edited=True).exists()


def test_a_finding_offers_each_of_its_ways(api, reading):
    [finding] = [f for f in api.ok("get", f"/readings/{reading}/items/2")["findings"] if f["code"] == "two-keys"]
    assert [way["label"] for way in finding["ways"]] == ["Only A", "Only B", "Both: multiple response"]
    assert api.ok("post", f"/readings/{reading}/repair", {"code": "two-keys", "repair": "only-2", "positions": [2]})["count"] == 1
    assert weights(api.ok("get", f"/readings/{reading}/items/2")) == [0, 1, 0]


# Repairs in words


def test_a_wish_is_looked_at_before_it_is_made_and_undone_as_one(api, course, reading):
    wish = {"wish": {"kind": "outcomes-by-number", "text": "1–2: 2.1; 9: 2.2"}}
    foreseen = api.ok("post", f"/readings/{reading}/mend/preview", wish)
    assert [(c["position"], c["before"], c["after"]) for c in foreseen["changes"]] == [
        (1, "no outcome", "2.1"),
        (2, "no outcome", "2.1"),
    ]
    assert foreseen["unmet"] == ["There is no question 9."]
    assert not ReadingItem.objects.filter(edited=True).exists()
    assert api.ok("post", f"/readings/{reading}/mend", wish)["count"] == 2
    assert api.ok("get", f"/readings/{reading}/items/2")["item"]["metadata"] == {"outcome": ["2.1"]}
    undo_last(api, course)
    assert api.ok("get", f"/readings/{reading}/items/2")["item"]["metadata"] == {}


def test_missing_pictures_are_matched_by_name(api, course):
    text = '1. What does <img src="images/profile.png"> show?\n*a. a soil\nb. a bridge'
    job = api.ok("post", f"/courses/{course}/sources/paste", {"text": text, "html": f"<p>{text}</p>".replace("\n", "</p><p>")})
    reading = api.ok("get", f"/jobs/{job['id']}")["result"]["reading"]
    assert "media-missing" in {f["code"] for f in api.ok("get", f"/readings/{reading}/items/1")["findings"]}
    response = api.client.post(f"/api/courses/{course}/media", {"files": SimpleUploadedFile("Profile.PNG", PNG)})
    [added] = response.json()
    wish = {"wish": {"kind": "pictures", "files": {added["name"]: added["ref"]}}}
    assert api.ok("post", f"/readings/{reading}/mend", wish)["count"] == 1
    item = api.ok("get", f"/readings/{reading}/items/1")
    assert added["ref"] in item["item"]["stem"] and "media-missing" not in {f["code"] for f in item["findings"]}


def test_a_ref_of_another_course_shows_nothing(api, course, reading, tobin):
    """What is not the course's own is no picture of it, whoever names it."""
    wish = {"kind": "pictures", "files": {"a.png": f"media/{'0' * 64}.png"}}
    row = ReadingItem.objects.get(reading=reading, position=1)
    row.body["stem"] = '<img title="Missing: a.png" alt=""/>'
    row.save()
    api.ok("post", f"/readings/{reading}/mend", {"wish": wish})
    assert "0000" not in api.ok("get", f"/readings/{reading}/items/1")["item"]["stem"].split("src=")[-1].split("title")[0]


@pytest.mark.parametrize("name", ["words.txt", "page.html", "program.exe", "words.png", "words.svg"])
def test_only_what_can_be_shown_is_kept_as_media(api, course, name):
    response = api.client.post(f"/api/courses/{course}/media", {"files": SimpleUploadedFile(name, b"x")})
    assert response.status_code == 422 and "no picture" in response.json()["fact"]


def test_rows_of_a_sheet_come_as_they_stand(api, course):
    response = api.client.post(
        f"/api/courses/{course}/rows", {"file": SimpleUploadedFile("a.csv", b"1;See page 3\n2;Look again\n")}
    )
    assert response.json() == {"rows": [["1", "See page 3"], ["2", "Look again"]]}


def test_items_that_stand_twice_and_languages_are_told_and_put_apart(api, course):
    english = "".join(f"{n}. Which of these is the number {n} of the list?\n*a. this one\nb. that one\n\n" for n in (1, 2, 3))
    french = "".join(f"{n}. Quel est le numéro {n} de la liste ?\n*a. celui-ci\nb. celui-là\n\n" for n in (4, 5, 6))
    again = "7. Which of these is the number 1 of the list?\n*a. this one\nb. that one\n"
    job = api.ok("post", f"/courses/{course}/sources/paste", {"text": english + french + again})
    reading = api.ok("get", f"/jobs/{job['id']}")["result"]["reading"]
    twins = api.ok("get", f"/readings/{reading}/twins")
    spoken = {entry["language"]: entry["positions"] for entry in twins["languages"]}
    assert spoken["French"] == [4, 5, 6] and twins["doubled"][0]["positions"][0] == 1
    assert api.ok("post", f"/readings/{reading}/pool", {"positions": spoken["French"], "name": "French"})["count"] == 3
    assert api.ok("get", f"/readings/{reading}/items/4")["path"][-1] == "French"


# Proof by sample


def test_a_sample_waits_until_nothing_flagged_is_left_then_says_what_it_proves(api, course, reading):
    status, problem = api.call("post", f"/readings/{reading}/sample", {"count": 2, "seed": 1})
    assert status == 409 and "1 items still need a look" in problem["fact"]
    decide(api, reading, 2, kind="key", choice=1)
    sample = api.ok("post", f"/readings/{reading}/sample", {"count": 2, "seed": 1})
    assert (sample["of"], len(sample["drawn"]), sample["next"]) == (5, 2, sample["drawn"][0])
    for position in sample["drawn"]:
        sample = api.ok("put", f"/readings/{reading}/sample/{position}", {"right": True})
    assert sample["words"] == "2 of 5 looked at, none wrong: with 95 % confidence at most 3 of the 5 are."
    assert api.ok("get", f"/readings/{reading}")["sample"] == sample
    other = next(position for position in range(1, 6) if position not in sample["drawn"])
    assert api.call("put", f"/readings/{reading}/sample/{other}", {"right": True})[0] == 409


def test_what_a_sample_finds_wrong_needs_a_look_until_it_is_corrected(api, course, reading):
    decide(api, reading, 2, kind="key", choice=1)
    api.ok("post", f"/readings/{reading}/sample", {"count": 5, "seed": 1})
    api.ok("put", f"/readings/{reading}/sample/1", {"right": False})
    assert "sample-wrong" in api.ok("get", f"/readings/{reading}/items/1")["cell"]["codes"]
    assert api.ok("get", f"/courses/{course}/look")[0]["positions"] == [1]
    assert decide(api, reading, 1, kind="key", choice=2)["cell"]["needs_look"] is False
    api.ok("put", f"/readings/{reading}/sample/3", {"right": False})
    api.ok("put", f"/readings/{reading}/sample/3", {"right": True})
    assert api.ok("get", f"/courses/{course}/look") == []


def test_how_many_to_look_at_for_a_bound(api, reading):
    assert api.ok("get", f"/readings/{reading}/sample/size?bound=0") == {"count": 4, "of": 4}


def test_what_was_proved_stands_in_the_ledger_of_a_later_hand_off(api, course, reading):
    decide(api, reading, 2, kind="key", choice=1)
    sample = api.ok("post", f"/readings/{reading}/sample", {"count": 5, "seed": 1})
    for position in sample["drawn"]:
        api.ok("put", f"/readings/{reading}/sample/{position}", {"right": position != 3})
    api.ok("post", f"/readings/{reading}/take", {"which": "all"})
    job = api.ok("post", f"/courses/{course}/handoffs", {"format": "qti-3.0"})
    handoff = api.ok("get", f"/jobs/{job['id']}")["result"]["handoff"]
    [proof] = api.ok("get", f"/handoffs/{handoff}")["ledger"]["proofs"]
    assert (proof["source"], proof["items"], proof["looked"], proof["wrong"]) == ("Paste", 5, 5, 1)
    assert proof["words"] == "5 of 5 looked at, 1 wrong: all were looked at."


def test_what_is_read_again_the_same_keeps_its_proof(api, course, reading):
    decide(api, reading, 2, kind="key", choice=1)
    api.ok("post", f"/readings/{reading}/sample", {"count": 2, "seed": 1})
    source = api.ok("get", f"/courses/{course}/sources")[0]["id"]
    again = api.ok("post", f"/sources/{source}/read", {"expected": 5})
    key = api.ok("get", f"/jobs/{again['id']}")["result"]["reading"]
    assert key != reading and api.ok("get", f"/readings/{key}")["sample"]["seed"] == 1


# The source, and the proof


def test_a_packages_item_is_shown_as_its_parts(api, course):
    response = api.client.post(f"/api/courses/{course}/sources", {"files": SimpleUploadedFile("p.zip", package())})
    reading = api.ok("get", f"/jobs/{response.json()[0]['id']}")["result"]["reading"]
    assert api.ok("get", f"/readings/{reading}")["has_parts"]
    shown = api.ok("get", f"/readings/{reading}/items/1/parts")
    kinds = [part["kind"] for part in shown["parts"]]
    assert kinds == sorted(kinds, key=["title", "stem", "choice", "marking", "feedback", "metadata", "rest"].index)
    assert {"stem", "choice", "marking"} <= set(kinds) and shown["marks"][0]["share"] == 1
    lines = shown["markup"].split("\n")
    assert all(1 <= first <= last <= len(lines) for part in shown["parts"] for first, last in part["spans"])


def test_words_are_found_in_the_source_whatever_their_case(api, reading):
    hits = api.ok("get", f"/readings/{reading}/search?words=ROOTS  need")
    assert [(hit["item"], "roots need" in hit["text"]) for hit in hits] == [(2, True)]
    assert api.ok("get", f"/readings/{reading}/search?words=") == []


@pytest.mark.parametrize("key", ["true", "false"])
def test_the_proof_prints(api, reading, key):
    response = api.client.get(f"/api/readings/{reading}/proof?key={key}")
    assert response.status_code == 200 and response.content.startswith(b"%PDF")


# Advice


def test_advice_stands_apart_is_put_off_and_looked_at(api, course):
    text = "1. Which of these is not a soil?\na. loam\n*b. glass\nc. clay\n\n2. Which is not an acid of the soil?\na. humic\n*b. lime\n"
    job = api.ok("post", f"/courses/{course}/sources/paste", {"text": text})
    reading = api.ok("get", f"/jobs/{job['id']}")["result"]["reading"]
    first = api.ok("get", f"/readings/{reading}/items/1")
    assert [a["code"] for a in first["advice"]] == ["negative-stem"] and first["cell"]["advice"] == ["negative-stem"]
    assert not first["cell"]["needs_look"] and first["advice"][0]["level"] == "advice"
    assert api.ok("post", f"/readings/{reading}/dismiss", {"code": "negative-stem", "positions": [1]})["count"] == 1
    assert api.ok("get", f"/readings/{reading}/items/1")["cell"]["advice"] == []
    api.ok("put", f"/courses/{course}/advice", {"off": ["negative-stem"]})
    assert api.ok("get", f"/readings/{reading}/items/2")["advice"] == []
    assert api.call("put", f"/courses/{course}/advice", {"off": ["two-keys"]})[0] == 422


def test_an_item_being_edited_is_checked_and_retyped_without_being_stored(api, reading):
    item = api.ok("get", f"/readings/{reading}/items/2")["item"]
    checked = api.ok("post", "/item-check", {"item": item})
    assert [f["code"] for f in checked["findings"]] == ["two-keys"] and checked["findings"][0]["ways"]
    made = api.ok("post", "/item-type", {"item": item, "type": "essay"})
    assert made["item"]["type"] == "essay" and "the choices" in made["goes"]
    assert not ReadingItem.objects.filter(edited=True).exists()


def test_the_courses_outcomes_are_a_list_that_is_pasted(api, course):
    pasted = "2.1\tName the separates\n2.2 Read the triangle\nAlone"
    answer = api.ok("put", f"/courses/{course}/outcomes", {"text": pasted})
    assert [(o["code"], o["text"]) for o in answer["outcomes"]] == [
        ("2.1", "Name the separates"),
        ("2.2", "Read the triangle"),
        ("Alone", ""),
    ]
    assert api.ok("get", f"/courses/{course}")["outcomes"] == answer["outcomes"]
    assert api.call("put", f"/courses/{course}/outcomes", {"text": "1 a\n1 b"})[0] == 422


def test_each_of_two_people_has_their_own(api, course, reading, tobin):
    stranger = Api(tobin)
    for method, path in (("get", f"/readings/{reading}/twins"), ("get", f"/readings/{reading}/proof")):
        assert stranger.call(method, path)[0] == 404
    assert read_paste(stranger, stranger.ok("post", "/courses", {"name": "Mine"})["id"])

"""The tests of a source as quizzes of the course, and readings that are read again."""

from __future__ import annotations

import json
import sqlite3
import subprocess
from contextlib import closing

import pytest

from rogatum.core.exporting import export_bank
from rogatum.core.items import Bank, PoolEntry
from rogatum.core.quizzes.criteria import Condition, Draw
from rogatum.core.quizzes.model import Part
from rogatum.core.sources import MediaBox
from rogatum.web.quizzes.models import Quiz
from rogatum.web.sources.models import Reading, ReadingItem
from tests.core.test_quiz_values import question, soils
from tests.web.conftest import upload
from tests.web.test_upgrading import manage


def read(api, course, bank, name="qti-2.2"):
    assert upload(api, course, "week-3.zip", export_bank(bank, MediaBox(), name).written.data) == 200
    return api.ok("get", f"/courses/{course}/sources")[0]["reading"]


def take(api, reading, **said):
    job = api.ok("post", f"/readings/{reading}/take", {"which": "all", "pattern": "{chapter}", **said})
    return api.ok("get", f"/jobs/{job['id']}")["result"]


@pytest.mark.parametrize("name", ["qti-1.2", "qti-2.2", "items-json"])
def test_a_quiz_goes_in_and_comes_out_as_it_was(api, course, name):
    reading = read(api, course, soils(time_limit=25, show_key="never"), name)
    (test,) = api.ok("get", f"/readings/{reading}")["quizzes"]
    assert (test["title"], test["items"], test["draws"]) == ("Week 3", 2, 1)
    (made,) = take(api, reading, quizzes=[test["id"]])["quizzes"]
    assert made["title"] == "Week 3" and made["left_out"] == 0
    quiz = api.ok("get", f"/quizzes/{made['id']}")
    assert [(part["kind"], part["pick"], part["points_each"], part["pool_path"]) for part in quiz["parts"]] == [
        ("fixed", 0, None, []),
        ("draw", 2, 4, ["Soils", "Clay"]),
    ]
    assert [item["points"] for item in quiz["parts"][0]["items"]] == [2, 3]
    assert quiz["settings"]["time_limit"] == 25 and quiz["settings"]["show_key"] == "never" and quiz["figures"]["points"] == 13
    job = api.ok("post", f"/courses/{course}/handoffs", {"format": name, "quiz": made["id"]})
    made_of = api.ok("get", f"/jobs/{job['id']}")["result"]["handoff"]
    handed = api.ok("get", f"/handoffs/{made_of}")
    assert handed["sound"] and [entry["title"] for entry in handed["ledger"]["quizzes"]] == ["Week 3"]


def test_making_a_quiz_is_undone_with_the_items_it_came_with(api, course):
    reading = read(api, course, soils())
    take(api, reading, quizzes=["w3"])
    last = api.ok("get", f"/courses/{course}/operations")[0]
    assert last["label"] == "Took 5 items from week-3.zip"
    api.ok("post", f"/operations/{last['id']}/undo")
    assert api.ok("get", f"/courses/{course}/quizzes") == [] and api.ok("get", f"/courses/{course}/items")["total"] == 0


def test_a_quiz_of_items_that_are_there_already_holds_those(api, course):
    take(api, read(api, course, soils()))
    before = {row["id"] for row in api.ok("get", f"/courses/{course}/items")["rows"]}
    result = take(api, read(api, course, soils()), quizzes=["w3"])
    assert result["taken"] == 0 and len(result["duplicates"]) == 5 and result["quizzes"][0]["left_out"] == 0
    fixed = api.ok("get", f"/quizzes/{result['quizzes'][0]['id']}")["parts"][0]
    assert {item["id"] for item in fixed["items"]} <= before and len(fixed["items"]) == 2


def test_a_quiz_draws_from_where_its_items_lie_and_makes_no_empty_pools(api, course):
    take(api, read(api, course, soils()))
    before = api.ok("get", f"/courses/{course}/pools")
    (made,) = take(api, read(api, course, soils()), pattern="Again {chapter}", quizzes=["w3"])["quizzes"]
    draw = api.ok("get", f"/quizzes/{made['id']}")["parts"][1]
    assert (draw["pool_path"], draw["pick"]) == (["Soils", "Clay"], 2) and api.ok("get", f"/courses/{course}/pools") == before
    assert (made["left_out"], made["elsewhere"], made["besides"]) == (0, 0, 0)


def test_what_is_not_taken_is_left_out_and_counted(api, course):
    reading = read(api, course, soils())
    first = ReadingItem.objects.get(reading=reading, text__contains="q1").position
    result = take(api, reading, which="chosen", positions=[first], quizzes=["w3"])
    # The other fixed item, and the three that it draws from.
    assert result["quizzes"][0]["left_out"] == 4
    assert [row["title"] for row in api.ok("get", f"/courses/{course}/quizzes")] == ["Week 3"]


def test_no_quiz_is_made_that_nobody_asked_for(api, course):
    take(api, read(api, course, soils()))
    assert not Quiz.objects.exists()


def test_two_questions_that_differ_in_picture_and_key_are_both_taken(api, course):
    text = "1. Which horizon is this? {}\n*a. A\nb. B\n\n2. Which horizon is this? {}\na. A\n*b. B\n"
    for pictures in (("", ""), ("(left)", "(right)")):
        job = api.ok("post", f"/courses/{course}/sources/paste", {"text": text.format(*pictures)})
        reading = api.ok("get", f"/jobs/{job['id']}")["result"]["reading"]
        assert take(api, reading)["taken"] == 2


def test_items_that_are_the_same_keep_each_its_own_state_when_the_text_is_corrected(api, course):
    """After an edit of item 2 and a correction of the text, item 1 once had the body of item 2."""
    text = "".join(f"{n}. Which is it?\n*a. clay\nb. sand\n\n" for n in (1, 2, 3)) + "4. Whch is last?\n*a. clay\nb. sand\n"
    job = api.ok("post", f"/courses/{course}/sources/paste", {"text": text})
    reading = api.ok("get", f"/jobs/{job['id']}")["result"]["reading"]
    second = api.ok("get", f"/readings/{reading}/items/2")["item"]
    api.ok("put", f"/readings/{reading}/items/2", {"item": second | {"stem": "Edited by hand."}})
    api.ok("post", f"/readings/{reading}/drop", {"positions": [3]})
    corrected = api.ok("put", f"/readings/{reading}/text", {"text": text.replace("Whch", "Which")})["reading"]
    rows = ReadingItem.objects.filter(reading=corrected)
    assert [row.text for row in rows] == ["Which is it?", "Edited by hand.", "Which is it?", "Which is last?"]
    assert [row.dropped for row in rows] == [False, False, True, False]


def test_a_change_by_hand_whose_item_reads_differently_now_is_told(api, course):
    text = "1. Which layer holds most humus?\n*a. clay\nb. sand\n\n2. Whch drains fastest of all?\n*a. clay\nb. sand\n"
    job = api.ok("post", f"/courses/{course}/sources/paste", {"text": text})
    reading = api.ok("get", f"/jobs/{job['id']}")["result"]["reading"]
    for position, right in ((1, "b"), (2, "b")):
        item = api.ok("get", f"/readings/{reading}/items/{position}")["item"]
        changed = api.ok("post", "/item-key", {"item": item, "right": [right]})["item"]
        api.ok("put", f"/readings/{reading}/items/{position}", {"item": changed})
    mended = api.ok("put", f"/readings/{reading}/text", {"text": text.replace("Whch", "Which")})["reading"]
    first, second = ReadingItem.objects.filter(reading=mended)
    assert [choice["weight"] for choice in first.body["choices"]] == [0, 1] and not first.findings
    assert [choice["weight"] for choice in second.body["choices"]] == [1, 0]
    assert [finding["code"] for finding in second.findings] == ["change-set-aside"] and second.worst == "warning"
    gone = api.ok("put", f"/readings/{mended}/text", {"text": "1. What is loam?\n*a. soil\nb. rock\n"})["reading"]
    assert [finding["code"] for finding in Reading.objects.get(pk=gone).findings] == ["change-set-aside"]


OLDER = """
import json
from django.core.management import call_command
call_command("migrate", verbosity=0)
from django.contrib.auth.models import User
from rogatum.web.courses.services import create_course
from rogatum.web.quizzes.models import Quiz
from rogatum.web.sources.models import Reading, ReadingItem, Source
course = create_course(User.objects.create_user("mara"), "Soils")
Quiz.objects.create(course=course, title="Week 1", settings={"attempts": None, "opens": None, "counts": "best"})
source = Source.objects.create(course=course, name="x", kind="paste", sha256="0" * 64, size=1)
Reading.objects.create(source=source, format="qti-2.2", title="Exam")
for app in ("quizzes", "sources"):
    call_command("migrate", app, "0001" if app == "quizzes" else "0002", verbosity=0)
"""


def test_an_older_database_keeps_its_quizzes_and_the_draws_of_its_readings(tmp_path):
    manage(tmp_path, "shell", "-v", "0", "-c", OLDER)
    with closing(sqlite3.connect(tmp_path / "rogatum.sqlite3")) as database, database:
        draws = [{"title": "Clay", "pool": ["Exam", "Clay"], "pick": 2, "points_each": 4}]
        database.execute("UPDATE sources_reading SET draws = ?", [json.dumps(draws)])
        database.execute("UPDATE quizzes_quiz SET settings = ?", ['{"attempts": null, "opens": null, "counts": "best"}'])
    done: subprocess.CompletedProcess[str] = manage(tmp_path, "migrate", "-v", "0")
    assert not done.stderr
    with closing(sqlite3.connect(tmp_path / "rogatum.sqlite3")) as database:
        (settings,) = database.execute("SELECT settings FROM quizzes_quiz").fetchone()
        (quizzes,) = database.execute("SELECT quizzes FROM sources_reading").fetchone()
    assert json.loads(settings) == {"attempts": 0}
    (part,) = json.loads(quizzes)[0]["parts"]
    assert (part["draw"]["pool"], part["draw"]["pick"]) == (["Exam", "Clay"], 2) and part["points_each"] == 4


def test_a_quiz_of_what_is_there_already_keeps_its_points_and_says_what_its_draws_give(api, course):
    """The same items lie in the course with other points, some of them in other pools: neither goes into the quiz unsaid."""
    before = soils()
    for item in before.items:
        item.points = 7
    before.pools = [PoolEntry(path=["Field work"], items=["q1", "q2", "q3"]), PoolEntry(path=["Soils", "Clay"], items=["q4", "q5"])]
    before.quizzes = []
    take(api, read(api, course, before, "items-json"))
    besides = Bank(items=[question("q9")], pools=[PoolEntry(path=["Soils", "Clay"], items=["q9"])])
    take(api, read(api, course, besides, "items-json"))
    (made,) = take(api, read(api, course, soils(), "items-json"), quizzes=["w3"])["quizzes"]
    quiz = api.ok("get", f"/quizzes/{made['id']}")
    assert [item["points"] for item in quiz["parts"][0]["items"]] == [2, 3]
    assert (made["left_out"], made["elsewhere"], made["besides"]) == (0, 1, 1)


def test_a_draw_from_all_of_a_source_is_from_what_its_pools_lie_in(api, course):
    bank = soils()
    bank.pools = [
        PoolEntry(path=["Soils", "Sand"], items=["q1", "q2"]),
        PoolEntry(path=["Soils", "Clay"], items=["q3", "q4", "q5"]),
    ]
    where = [Condition(facet="type", values=("essay",), but=True)]
    bank.quizzes[0].parts = [Part(title="All", draw=Draw(pool=[], pick=2, where=where, without=["q1"]))]
    (made,) = take(api, read(api, course, bank, "items-json"), quizzes=["w3"])["quizzes"]
    (part,) = api.ok("get", f"/quizzes/{made['id']}")["parts"]
    assert (part["pool_path"], part["pick"], part["draw"]["where_words"], part["draw"]["without"]) == (["Soils"], 2, "not essay", 1)
    assert part["draw"]["pool_size"] == 4

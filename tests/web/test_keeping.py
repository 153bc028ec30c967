"""A course as one file and back, equal in all of it; and backup, restore, check and accounts for who runs the server."""

from __future__ import annotations

import io
import json
import uuid
import zipfile

import pytest
from django.contrib.auth import authenticate
from django.contrib.auth.models import User
from django.core.files.uploadedfile import SimpleUploadedFile
from django.core.management import CommandError, call_command

from rogatum.program import main
from rogatum.web.courses.models import Change, Course, CourseMedia
from rogatum.web.courses.services import create_course
from rogatum.web.files import MEDIA
from rogatum.web.jobs.services import run_here, settle_all
from rogatum.web.keeping import backup
from rogatum.web.keeping.saving import save_course
from rogatum.web.pools.models import Item
from rogatum.web.quizzes.models import Part, Quiz
from tests.core.strategies import PICTURES
from tests.web.conftest import Api
from tests.web.everything import everything

PICTURE = next(iter(PICTURES.values())) if isinstance(PICTURES, dict) else PICTURES[0][1]


def with_a_picture(api, course) -> int:
    """The number of an item that shows a picture."""
    files = {"files": SimpleUploadedFile("pit.png", PICTURE)}
    ref = api.client.post(f"/api/courses/{course}/media", files).json()[0]["ref"]
    row = Item.objects.filter(course=course).order_by("pk").first()
    item = api.ok("get", f"/items/{row.pk}")["item"]
    stem = f'{item["stem"]}<p><img src="{ref}" alt="A pit"/></p>'
    api.ok("put", f"/items/{row.pk}", {"item": item | {"stem": stem, "feedback": {"general": "Look."}}})
    return row.pk


@pytest.fixture
def whole(api, course, pools, mara):
    """A course with all that is saved of one: a tree, a passage, a picture, history, outcomes, quizzes with parts, points and a plan, sections."""
    row = with_a_picture(api, course)
    api.ok("put", f"/courses/{course}/outcomes", {"text": "2.1 Name the separates"})
    api.ok("put", f"/courses/{course}/advice", {"off": ["key-longest"]})
    deep = api.ok("post", f"/courses/{course}/pools", {"name": "Deep", "parent": pools[0]["id"]})["id"]
    api.ok("put", f"/pools/{pools[1]['id']}/place", {"before": pools[0]["id"]})
    api.ok("post", f"/courses/{course}/items/move", {"selection": {"ids": [row]}, "pool": deep})
    Item.objects.filter(pk=row).update(stimulus={"id": "s1", "content": "<p>Field notes.</p>"})
    quiz = api.ok("post", f"/courses/{course}/quizzes", {"title": "Week 1"})["id"]
    api.ok("post", f"/quizzes/{quiz}/draws", {"pool": pools[0]["id"], "pick": 2, "points_each": 1.5})
    api.ok("post", f"/quizzes/{quiz}/items", {"items": [row]})
    api.ok("patch", f"/quizzes/{quiz}", {"settings": {"time_limit": 25, "attempts": 2}})
    api.ok("put", f"/courses/{course}/time", {"time_zone": "America/Chicago", "sections": [{"name": "Monday", "students": 9}]})
    api.ok("post", f"/quizzes/{quiz}/patterns", {"name": "Weekly"})
    final = api.ok("post", f"/courses/{course}/quizzes", {"title": "Final"})["id"]
    rows = [{"pool": pools[1]["id"], "pick": 1, "where": [{"facet": "type", "values": ["essay"], "but": True}]}, {"pick": 1}]
    drawn = api.ok("post", f"/quizzes/{final}/plan", {"rows": rows, "as_draws": True, "seed": "s", "apart_from": [quiz]})["parts"]
    api.ok("patch", f"/parts/{drawn[0]['id']}", {"instructions": "Show <em>how</em>.", "page_break": True, "alone": True})
    api.ok("post", f"/courses/{course}/handoffs", {"format": "gift"})
    return course


def saved(course, user) -> bytes:
    target = io.BytesIO()
    save_course(Course.objects.get(pk=course), user, target)
    return target.getvalue()


def opened(user, data: bytes) -> dict:
    """A saved course, opened: its job when it ended, or the problem where the file is refused at once."""
    api = Api(user)
    answer = api.client.post("/api/saved-courses", {"file": SimpleUploadedFile("soil.zip", data)})
    return api.ok("get", f"/jobs/{answer.json()['id']}") if answer.status_code == 200 else {"problem": answer.json()}


def opened_course(user, data: bytes) -> Course:
    job = opened(user, data)
    assert job["state"] == "done", job["problem"]
    return Course.objects.get(pk=job["result"]["course"])


def as_values(data: bytes) -> dict:
    """What a saved course says, with numbers of rows replaced by their places: two that say the same are equal."""
    with zipfile.ZipFile(io.BytesIO(data)) as archive:
        tables = {
            n: [json.loads(line) for line in archive.read(n).splitlines()] for n in archive.namelist() if n.endswith(".jsonl")
        }
        head = json.loads(archive.read("course.json"))
        media = {name: archive.read(name) for name in archive.namelist() if name.startswith("media/")}
    places = {
        kind: {row["id"]: place for place, row in enumerate(tables[f"{name}.jsonl"])}
        for kind, name in (("pool", "pools"), ("item", "items"), ("quiz", "quizzes"), ("part", "parts"), ("partitem", "entries"))
    }

    def placed(value, kind):
        return f"{kind} {places[kind][value]}" if value in places[kind] else None

    kinds = {"pool": "pool", "parent": "pool", "pool_id": "pool", "parent_id": "pool", "item": "item", "item_id": "item", "quiz": "quiz", "quiz_id": "quiz", "part": "part", "part_id": "part"}  # fmt: skip

    def told(value):
        if isinstance(value, dict) and "apart_from" in value:
            value = value | {"apart_from": [placed(int(key), "quiz") if key.isdecimal() else key for key in value["apart_from"]]}
        if isinstance(value, dict) and "without" in value:
            value = value | {"without": [placed(key, "item") if isinstance(key, int) else key for key in value["without"]]}
        if isinstance(value, list):
            return [told(part) for part in value]
        if not isinstance(value, dict):
            return value
        return {
            name: placed(part, kinds[name]) if name in kinds and isinstance(part, int) else told(part)
            for name, part in value.items()
            if name not in ("id", "course_id")
        }

    for row in tables["parts.jsonl"]:
        row["points"] = {placed(int(key), "item"): value for key, value in row["points"].items()}
    history = [
        row
        | {"changes": [{**told(c), "row": placed(c["row"], c["table"])} for c in row["changes"] if c["row"] in places[c["table"]]]}
        for row in tables.pop("history.jsonl")
    ]
    return {"head": head, "media": media, "history": told(history)} | {name: told(rows) for name, rows in tables.items()}


def test_a_saved_course_that_is_opened_is_equal_in_all_of_it(whole, mara, tobin):
    data = saved(whole, mara)
    api = Api(tobin)
    job = opened(tobin, data)
    assert job["state"] == "done" and job["result"]["items"] == 5
    again = saved(job["result"]["course"], tobin)
    mine, its = as_values(data), as_values(again)
    assert mine["history"] and mine["items.jsonl"][0]["handed"] and mine["media"]
    assert its == mine
    copy = Course.objects.get(pk=job["result"]["course"])
    assert (
        copy.owner == tobin
        and copy.pools.count() == 3
        and not set(copy.items.values_list("pk")) & set(Course.objects.get(pk=whole).items.values_list("pk"))
    )
    page = api.ok("get", f"/items/{copy.items.get(picture=True).pk}/page")
    assert {version["by"] for version in page["versions"]} == {"mara"} and len(page["versions"]) == 3
    assert api.ok("get", f"/courses/{copy.pk}/operations") == [], "what was done elsewhere cannot be undone here"
    assert api.ok("get", f"/courses/{copy.pk}/items?query=particle")["total"] == 1


def test_the_file_is_offered_to_a_reader_under_a_name_that_says_what_it_is(whole, mara, tobin, api):
    api.ok("post", f"/courses/{whole}/people", {"name": "tobin", "role": "reader"})
    response = Api(tobin).client.get(f"/api/courses/{whole}/saved")
    assert "Soil-Science-110-" in response["Content-Disposition"] and zipfile.is_zipfile(io.BytesIO(b"".join(response)))


def altered(data: bytes, name: str, change) -> bytes:
    target = io.BytesIO()
    with zipfile.ZipFile(io.BytesIO(data)) as archive, zipfile.ZipFile(target, "w") as made:
        for entry in archive.namelist():
            said = archive.read(entry)
            made.writestr(entry, change(said) if entry == name else said)
    return target.getvalue()


def in_line(name: str, place: int, **said):
    """Changes one row of a table."""

    def change(data: bytes) -> bytes:
        lines = data.splitlines()
        lines[place] = json.dumps(json.loads(lines[place]) | said).encode()
        return b"\n".join(lines)

    return lambda data: altered(data, f"{name}.jsonl", change)


def nested(data: bytes) -> bytes:
    rows = [{"id": n, "parent": n - 1 or None, "name": f"P{n}", "position": 0} for n in range(1, 200)]
    return altered(data, "pools.jsonl", lambda said: "\n".join(map(json.dumps, rows)).encode())


def named_often(data: bytes) -> bytes:
    return altered(data, "media.jsonl", lambda said: said * 60)


def locked(data: bytes) -> bytes:
    """A zip whose entries say that they have a password."""
    made = bytearray(data)
    for mark, offset in ((b"PK\x03\x04", 6), (b"PK\x01\x02", 8)):
        at = -1
        while (at := made.find(mark, at + 1)) >= 0:
            made[at + offset] |= 1
    return bytes(made)


DAMAGED = {
    "no zip": lambda data: b"PK, but not much more",
    "no course": lambda data: altered(data, "course.json", lambda said: b'{"format": "other"}'),
    "a broken line": lambda data: altered(data, "items.jsonl", lambda said: said[:-40]),
    "an item of no type": lambda data: altered(data, "items.jsonl", lambda said: said.replace(b'"numeric"', b'"riddle"')),
    "a pool that is not there": lambda data: altered(data, "pools.jsonl", lambda said: said.split(b"\n", 1)[1]),
    "a hash that is none": lambda data: altered(data, "media.jsonl", lambda said: said.replace(b'"sha256":"', b'"sha256":"../')),
    "an item twice": lambda data: altered(data, "items.jsonl", lambda said: said + said.splitlines()[0] + b"\n"),
    "pools too deep": nested,
    "a file named often": named_often,
    "with a password": locked,
    "an item in no pool": in_line("items", 0, pool=10**9),
    "a part of no quiz": in_line("parts", 0, quiz=10**9),
    "a draw from no number": in_line("parts", 0, picked_from={"pool": [], "pick": 1}),
    "a pick that is none": in_line("parts", 0, picked_from={"pool": None, "pick": -(10**30)}),
    "settings that are none": in_line("quizzes", 0, settings={"time_limit": "long"}),
    "a zone that is none": lambda data: altered(data, "course.json", lambda said: said.replace(b"America/Chicago", b"Nowhere")),
    "bytes that are none": lambda data: altered(data, "parts.jsonl", lambda said: b"\xff\xfe\x00"),
}


@pytest.mark.parametrize("name", DAMAGED)
def test_a_file_that_is_none_is_refused_whole(whole, mara, name):
    data, before = DAMAGED[name](saved(whole, mara)), everything()
    told = opened(mara, data)["problem"]
    assert "soil.zip" in told["fact"] and told["way_out"]
    assert everything() == before, "no empty course is left"


def test_what_comes_in_a_saved_course_is_admitted_and_its_pictures_are_what_they_say(whole, mara):
    data = saved(whole, mara)
    data = altered(data, "items.jsonl", lambda said: said.replace(b"Field notes.", b"Field <script>alert(1)</script>notes."))
    sha256 = CourseMedia.objects.get(course=whole).sha256
    data = altered(data, f"media/{sha256}", lambda said: b"another picture")
    target = opened_course(mara, data)
    assert "script" not in json.dumps([row.stimulus for row in target.items.all()])
    assert not CourseMedia.objects.filter(course=target).exists() and MEDIA.path(sha256).read_bytes() != b"another picture"


def test_pools_that_lie_in_each_other_come_to_the_top(whole, mara):
    rows = [{"id": 1, "parent": 2, "name": "A", "position": 0}, {"id": 2, "parent": 1, "name": "B", "position": 0}]
    data = saved(create_course(mara, "Empty").pk, mara)
    data = altered(data, "pools.jsonl", lambda said: "\n".join(map(json.dumps, rows)).encode())
    target = opened_course(mara, data)
    assert set(target.pools.values_list("parent", flat=True)) == {None}


# The server's own commands


def test_a_check_finds_what_is_missing_altered_and_left_over(whole, tmp_path, capsys):
    call_command("verify")
    path = MEDIA.path(CourseMedia.objects.first().sha256)
    was = path.read_bytes()
    orphan = path.with_name("f" * 64)
    orphan.write_bytes(b"left over")
    path.write_bytes(b"altered")
    report = backup.check()
    assert [words for words in report.wrong if "pit.png" in words and "another than it was" in words] and orphan in report.orphans
    path.unlink()
    assert any("missing" in words for words in backup.check(remove_orphans=True).wrong) and not orphan.exists()
    with pytest.raises(CommandError):
        call_command("verify")
    path.write_bytes(was)
    call_command("verify")
    assert "0 wrong" in capsys.readouterr().out


def test_accounts_are_added_and_get_new_passwords(db, monkeypatch, capsys):
    typed = iter(["auger-and-rope-7\n", "auger-and-rope-7\n", "short\n", "loam-and-clay-9\n", "x\n"])
    monkeypatch.setattr(
        "sys.stdin", type("In", (), {"isatty": staticmethod(lambda: False), "readline": staticmethod(lambda: next(typed))})
    )
    assert main(["account", "add", "ines"]) == 0 and authenticate(username="ines", password="auger-and-rope-7")
    for words in (["account", "add", "ines"], ["account", "password", "nobody"], ["account", "password", "ines"]):
        next(typed) if words == ["account", "add", "ines"] else None
        with pytest.raises(SystemExit):
            main(words)
    assert main(["account", "password", "ines"]) == 0
    assert authenticate(username="ines", password="loam-and-clay-9") and not User.objects.get(username="ines").is_staff
    with pytest.raises(SystemExit):
        main(["account", "add", "a name with spaces"])


def test_the_core_s_own_commands_are_still_there(capsys):
    assert main(["formats"]) == 0 and "| gift |" in capsys.readouterr().out


def test_history_of_rows_that_are_gone_does_not_come_along(whole, mara):
    target = opened_course(mara, saved(whole, mara))
    rows = Change.objects.filter(operation__course=target)
    assert set(rows.values_list("table", flat=True)) <= {"pool", "item", "quiz", "part", "partitem"}
    keys = {"item": set(target.items.values_list("pk", flat=True)), "pool": set(target.pools.values_list("pk", flat=True))}
    assert all(change.row in keys[change.table] for change in rows if change.table in keys)


def test_one_file_is_opened_twice_and_a_plan_of_a_pool_that_is_gone_with_it(whole, mara, pools, monkeypatch, settings):
    """Both jobs wait at once: the first does not take the file away from the second."""
    quiz = Quiz.objects.get(title="Final")
    Part.objects.filter(quiz=quiz).delete()
    Quiz.objects.filter(pk=quiz.pk).update(plan=quiz.plan | {"rows": [{"pool": 10**6, "pick": 1}]})
    data, api = saved(whole, mara), Api(mara)
    settings.JOBS_IMMEDIATE = False
    jobs = [api.client.post("/api/saved-courses", {"file": SimpleUploadedFile("soil.zip", data)}).json()["id"] for _ in range(2)]
    for job in jobs:
        run_here(job)
    made = [api.ok("get", f"/jobs/{job}")["result"]["course"] for job in jobs]
    for course in made:
        final = Quiz.objects.get(course=course, title="Final")
        assert final.plan["rows"][0]["pool"] == 0
        api.ok("patch", f"/quizzes/{final.pk}", {"title": "Renamed"})
        final.refresh_from_db()
        assert final.plan["rows"][0]["pool"] == 0, "a row of a pool that is gone does not become the whole course"


def test_a_course_that_is_not_whole_is_there_for_nobody(course, mara, api):
    Course.objects.filter(pk=course).update(job=uuid.uuid4())
    assert api.call("get", f"/courses/{course}")[0] == 404 and api.ok("get", "/courses") == []
    assert api.call("patch", f"/courses/{course}", {"name": "x"})[0] == 404
    settle_all()
    assert not Course.objects.filter(pk=course).exists()

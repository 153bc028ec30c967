"""Two tabs over one thing, and a disk that is full: nothing is lost without a word, nothing stays half."""

from __future__ import annotations

import errno
import io
from datetime import timedelta

import pytest
from django.db import OperationalError, connection
from django.utils import timezone

from rogatum import apart
from rogatum.web.courses.services import KEPT_FOR
from rogatum.web.files import SOURCES, Store
from rogatum.web.jobs.models import Job
from rogatum.web.sources.models import Reading, Source
from rogatum.web.sources.services import purge_sources
from tests.web.conftest import TEXT, Api, upload


@pytest.fixture
def things(api: Api, course, reading, pools):
    """What can be saved: how it is asked for, how it is saved, and a change of it."""
    quiz = api.ok("post", f"/courses/{course}/quizzes", {"title": "Week 1"})
    part = api.ok("post", f"/quizzes/{quiz['id']}/draws", {"pool": pools[0]["id"], "pick": 1})["parts"][0]
    item = api.ok("get", f"/courses/{course}/items")["rows"][0]["id"]

    def get_pool():
        return next(p for p in api.ok("get", f"/courses/{course}/pools") if p["id"] == pools[0]["id"])

    def get_part():
        return next(p for p in api.ok("get", f"/quizzes/{quiz['id']}")["parts"] if p["id"] == part["id"])

    return {
        "item": (
            lambda: api.ok("get", f"/items/{item}"),
            "put",
            f"/items/{item}",
            lambda it, n: {"item": it["item"] | {"stem": n}},
        ),
        "reading item": (
            lambda: api.ok("get", f"/readings/{reading}/items/1"),
            "put",
            f"/readings/{reading}/items/1",
            lambda it, n: {"item": it["item"] | {"stem": n}},
        ),
        "quiz": (lambda: api.ok("get", f"/quizzes/{quiz['id']}"), "patch", f"/quizzes/{quiz['id']}", lambda it, n: {"title": n}),
        "settings": (
            lambda: api.ok("get", f"/quizzes/{quiz['id']}"),
            "patch",
            f"/quizzes/{quiz['id']}",
            lambda it, n: {"settings": it["settings"] | {"time_limit": len(n)}},
        ),
        "part": (get_part, "patch", f"/parts/{part['id']}", lambda it, n: {"pick": len(n)}),
        "pool": (get_pool, "patch", f"/pools/{pools[0]['id']}", lambda it, n: {"name": n}),
    }


@pytest.mark.parametrize("name", ["item", "reading item", "quiz", "settings", "part", "pool"])
def test_the_second_of_two_tabs_is_told_what_the_first_did(name, api, things):
    get, method, path, change = things[name]
    first_tab = second_tab = get()
    api.ok(method, path, change(first_tab, "Mine") | {"version": first_tab["version"]})
    there = get()
    status, told = api.call(method, path, change(second_tab, "Theirs") | {"version": second_tab["version"]})
    assert status == 412 and told["fact"] and told["way_out"] and told["current"] and told["version"] == there["version"]
    assert get() == there, "the first save stands"
    api.ok(method, path, change(second_tab, "Theirs") | {"version": told["version"]})
    assert get()["version"] not in (there["version"], first_tab["version"])


@pytest.mark.parametrize("name", ["item", "reading item", "settings", "pool"])
def test_an_undo_is_a_change_like_any_other(name, api, course, things):
    get, method, path, change = things[name]
    before = get()
    api.ok(method, path, change(before, "Once") | {"version": before["version"]})
    opened = get()
    operation = api.ok("get", f"/courses/{course}/operations")[0]["id"]
    api.ok("post", f"/operations/{operation}/undo", {})
    assert api.call(method, path, change(opened, "Twice") | {"version": opened["version"]})[0] == 412
    assert get()["version"] == before["version"], "the same content is the same version"


def test_a_text_that_was_corrected_meanwhile_is_not_replaced(api, course, reading):
    first = api.ok("put", f"/readings/{reading}/text", {"text": TEXT + "\n6. New?\nAnswer: True\n"})
    status, told = api.call("put", f"/readings/{reading}/text", {"text": TEXT})
    assert status == 412 and told["current"]["reading"] == first["reading"]


def ask_anew(api, source):
    api.ok("post", f"/sources/{source.pk}/read", {"expected": 9})


def correct(_api, source):
    Source.objects.filter(pk=source.pk).update(sha256=SOURCES.put(io.BytesIO(b"1. Corrected?\n*a. x\nb. y\n")).sha256)


def delete(api, source):
    api.ok("delete", f"/sources/{source.pk}")


@pytest.mark.parametrize("meanwhile", [ask_anew, correct])
@pytest.mark.parametrize("text", [TEXT, "Answer key\n1. B\n2. A\n", "<questestinterop><item"], ids=["test", "keys", "broken"])
def test_a_reading_that_comes_late_replaces_nothing(api, course, monkeypatch, meanwhile, text):
    there, read = [], apart.read

    def late(*words):
        if not there:
            there.append("begun")
            meanwhile(api, Source.objects.get())
            there.append([list(kind.objects.values_list()) for kind in (Source, Reading)])
        return read(*words)

    monkeypatch.setattr(apart, "read", late)
    told = api.ok("get", f"/jobs/{api.ok('post', f'/courses/{course}/sources/paste', {'text': text})['id']}")
    assert told["state"] == "failed" and told["seen"] and "no longer wanted" in told["problem"]["fact"]
    assert [list(kind.objects.values_list()) for kind in (Source, Reading)] == there[1]


def test_what_is_being_read_when_its_source_is_put_away_is_there_when_it_comes_back(api, course, monkeypatch):
    begun, read = [], apart.read

    def late(*words):
        if not begun:
            begun.append(True)
            delete(api, Source.objects.get())
        return read(*words)

    monkeypatch.setattr(apart, "read", late)
    told = api.ok("get", f"/jobs/{api.ok('post', f'/courses/{course}/sources/paste', {'text': TEXT})['id']}")
    assert told["state"] == "done" and api.ok("get", f"/courses/{course}/sources") == []
    api.ok("post", f"/operations/{api.ok('get', '/operations/last')['operation']['id']}/undo")
    [source] = api.ok("get", f"/courses/{course}/sources")
    assert source["reading"]


# A full disk


class Full(io.BytesIO):
    """A stream that can be read, on a disk that cannot take it."""

    def read(self, size: int | None = -1) -> bytes:
        if self.tell():
            raise OSError(errno.ENOSPC, "No space left on device")
        return super().read(10)


def test_what_cannot_be_written_whole_is_not_there():
    with pytest.raises(OSError, match="No space"):
        SOURCES.put(Full(b"x" * 100))
    assert not [path for path in SOURCES.folder.iterdir() if path.name.startswith("writing-")]


def stored() -> set[str]:
    return {path.name for path in SOURCES.folder.iterdir()} if SOURCES.folder.exists() else set()


def no_room(*_arguments: object, **_more: object) -> None:
    raise OSError(errno.ENOSPC, "No space left on device")


def database_full(*_arguments: object, **_more: object) -> None:
    raise OperationalError("database or disk is full")


@pytest.mark.parametrize(
    ("where", "how"), [("rogatum.web.files.Store.writing", no_room), ("rogatum.web.sources.services.start_job", database_full)]
)
def test_an_upload_on_a_full_disk_is_told_and_leaves_nothing(api, course, monkeypatch, where, how):
    kept = stored()
    with monkeypatch.context() as full:
        full.setattr(where, how)
        assert upload(api, course, "a.txt", b"1. Alone?\n*a. x\nb. y\n") == 507
        status, told = api.call("post", f"/courses/{course}/sources/paste", {"text": "1. Alone too?\n*a. x\nb. y"})
        assert status == 507 and "room" in told["fact"] and told["way_out"]
    assert Source.objects.count() == Job.objects.count() == 0 and stored() <= kept
    assert upload(api, course, "a.txt", b"1. Alone?\n*a. x\nb. y\n") == 200


def test_a_change_that_cannot_be_recorded_is_none_and_gives_the_lock_back(api, things, monkeypatch):
    get, method, path, change = things["item"]
    before, depth = get(), len(connection.savepoint_ids)
    with monkeypatch.context() as full:
        full.setattr("rogatum.web.courses.history.add_rows", database_full)
        assert api.call(method, path, change(before, "Lost"))[0] == 507
    assert get() == before and len(connection.savepoint_ids) == depth


@pytest.mark.parametrize(
    ("work", "where"),
    [
        ("read", "rogatum.web.sources.succession.Succession.succeed"),
        ("take", "rogatum.web.sources.taking.Item.objects.bulk_create"),
        ("hand-off", "rogatum.web.handoffs.services.HANDOFFS.put"),
    ],
)
@pytest.mark.parametrize("how", [no_room, database_full])
def test_work_on_a_full_disk_fails_whole_and_is_done_again(api, course, reading, monkeypatch, work, where, how):
    path, body = {
        "read": (f"/courses/{course}/sources/paste", {"text": TEXT}),
        "take": (f"/readings/{reading}/take", {"which": "all"}),
        "hand-off": (f"/courses/{course}/handoffs", {"format": "gift"}),
    }[work]
    if work == "hand-off":
        api.ok("post", f"/readings/{reading}/take", {"which": "all"})
    with monkeypatch.context() as full:
        full.setattr(where, how)
        job = api.ok("post", path, body)["id"]
        failed = api.ok("get", f"/jobs/{job}")
        assert failed["state"] == "failed" and "room" in failed["problem"]["fact"] and failed["problem"]["way_out"]
    assert api.ok("post", f"/jobs/{job}/retry", {})["state"] == "done"


def test_a_store_takes_no_path_for_a_hash():
    for odd in ("..", "../x", "/etc/passwd", "a" * 63, "A" * 64, "a" * 64 + "\n", ""):
        with pytest.raises(ValueError, match="hash"):
            Store("SOURCE_STORE").path(odd)


def test_bytes_go_with_their_last_source(api, course):
    text = "1. Twice the same?\n*a. x\nb. y"
    for _ in range(2):
        api.ok("post", f"/courses/{course}/sources/paste", {"text": text})
    first, second = Source.objects.all()
    assert first.sha256 == second.sha256
    api.ok("delete", f"/sources/{first.pk}")
    assert SOURCES.path(second.sha256).exists()
    api.ok("delete", f"/sources/{second.pk}")
    assert SOURCES.path(second.sha256).exists()  # undo brings it back
    Source.objects.update(put_away=timezone.now() - KEPT_FOR - timedelta(days=1))
    assert purge_sources() == 2 and not Source.objects.exists()
    assert not SOURCES.path(second.sha256).exists()


def test_a_source_that_was_put_away_is_among_what_was_deleted_and_comes_back_with_all_that_was_done(api, course):
    api.ok("post", f"/courses/{course}/sources/paste", {"text": TEXT})
    [source] = api.ok("get", f"/courses/{course}/sources")
    item = api.ok("get", f"/readings/{source['reading']}/items/1")["item"] | {"stem": "Corrected by hand?"}
    api.ok("put", f"/readings/{source['reading']}/items/1", {"item": item})
    api.ok("delete", f"/sources/{source['id']}")
    assert api.call("get", f"/readings/{source['reading']}")[0] == 404
    [deleted] = api.ok("get", f"/courses/{course}/deleted")
    assert deleted["sources"] == 1 and source["name"] in deleted["label"]
    api.ok("post", f"/courses/{course}/deleted/{deleted['id']}")
    assert api.ok("get", f"/readings/{source['reading']}/items/1")["item"]["stem"] == "Corrected by hand?"
    assert api.ok("get", f"/courses/{course}/deleted") == []


@pytest.mark.parametrize("address", ["/etc/passwd", "http://127.0.0.1:9/x.png", "media/" + "0" * 64 + ".png"])
def test_a_picture_that_is_not_the_courses_own_is_a_missing_one_after_an_edit(api, things, address):
    for name in ("item", "reading item"):
        get, method, path, change = things[name]
        api.ok(method, path, change(get(), f'Which? <img src="{address}" alt="pit"/>'))
        after = get()
        assert "src=" not in after["item"]["stem"] and "<img" in after["item"]["stem"]
        assert [f["code"] for f in after["findings"] if address in f["message"]] == ["media-missing"]

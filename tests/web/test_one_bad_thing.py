"""One bad thing does not spoil the rest: a picture, an item, a number, a heading."""

from __future__ import annotations

import io
import threading

import openpyxl
import pytest
from django.db import OperationalError

from rogatum.core.errors import NoSuchType
from rogatum.core.exporting import export_bank
from rogatum.core.formats import writable_formats
from rogatum.core.items import Bank, item_from
from rogatum.core.items.retyping import as_type
from rogatum.core.quizzes.marking import mark
from rogatum.core.sources import MediaBox
from rogatum.web.courses.models import CourseMedia
from rogatum.web.files import MEDIA
from rogatum.web.jobs import worker
from rogatum.web.jobs.models import Job
from rogatum.web.pools.models import Item
from rogatum.web.sharing.models import Offer
from tests.web.conftest import Api
from tests.web.test_keeping import saved, with_a_picture

WRITABLE = [entry.name for entry in writable_formats()]
GOOD = {"id": "good", "type": "true_false", "stem": "Loam holds sand.", "answer": True}
BAD = {
    "a span that is none": '<table><tr><td colspan="abc">x</td><td colspan="999999999">y</td></tr></table>',
    "lists in lists": "<ul><li>" * 30 + "x" + "</li></ul>" * 30,
    "tables in tables": "<table><tr><td>" * 14 + "x" + "</td></tr></table>" * 14,
    "a damaged picture": '<p>x <img src="media/p.png" alt="p"/></p>',
}


@pytest.mark.parametrize("name", BAD)
@pytest.mark.parametrize("format_name", WRITABLE)
def test_one_item_does_not_stop_the_export_of_all(format_name, name):
    media = MediaBox()
    media.add_bytes("p.png", b"\x89PNG\r\n\x1a\n" + b"\0" * 40)
    bank = Bank(
        items=[item_from(GOOD), item_from(GOOD | {"id": "bad", "stem": f"<p>Which?</p>{BAD[name]}"})], media=media.entries()
    )
    made = export_bank(bank, media, format_name)
    assert made.written.data
    assert "good" in {entry.a for entry in made.ledger.items if entry.b or entry.worst in ("same", "recast")}
    assert {"good", "bad"} <= {entry.a for entry in made.ledger.items}, "each is named in the ledger"


def test_a_writer_that_fails_on_an_item_writes_the_others(monkeypatch):
    entry = next(entry for entry in writable_formats() if entry.name == "gift")

    def write(bank, media, options, good=entry.write):
        if any("trap" in item.stem for item in bank.items):
            raise ZeroDivisionError
        return good(bank, media, options)

    monkeypatch.setattr(type(entry), "write", property(lambda self: write if self.name == "gift" else None), raising=False)
    bank = Bank(items=[item_from(GOOD | {"id": f"i{n}", "stem": "trap" if n == 3 else f"Item {n}?"}) for n in range(7)])
    made = export_bank(bank, MediaBox(), "gift")
    lost = [entry for entry in made.ledger.items if not entry.b]
    assert [entry.a for entry in lost] == ["i3"] and "cannot be written" in lost[0].notes[0].message


@pytest.mark.parametrize("format_name", ["qti-1.2", "docx", "pdf"])
def test_a_missing_file_is_named_and_the_rest_goes_on(api, course, pools, mara, format_name):
    row = with_a_picture(api, course)
    MEDIA.path(CourseMedia.objects.get(course=course).sha256).unlink()
    job = api.ok("get", f"/jobs/{api.ok('post', f'/courses/{course}/handoffs', {'format': format_name})['id']}")
    assert job["state"] == "done", job["problem"]
    ledger = api.ok("get", f"/handoffs/{job['result']['handoff']}")["ledger"]
    assert any("named" in note["message"] for entry in ledger["items"] for note in entry["notes"] if entry["a"] == f"i{row}")
    assert saved(course, mara)


def test_a_damaged_picture_is_refused_where_it_comes_in(api, course):
    from django.core.files.uploadedfile import SimpleUploadedFile  # noqa: PLC0415

    files = {"files": SimpleUploadedFile("pit.png", b"\x89PNG\r\n\x1a\n" + b"\0" * 40)}
    told = api.client.post(f"/api/courses/{course}/media", files)
    assert told.status_code == 422 and "damaged" in told.json()["fact"]


def test_no_cell_of_a_sheet_is_a_formula():
    bank = Bank(items=[item_from(GOOD | {"stem": "=1+1", "metadata": {"=cmd": ["=2"]}})])
    book = openpyxl.load_workbook(io.BytesIO(export_bank(bank, MediaBox(), "sheet").written.data))
    assert {cell.data_type for sheet in book for row in sheet.iter_rows() for cell in row if cell.value} <= {"s", "n"}


@pytest.mark.parametrize("given", ["1e400", "9" * 400, "-1e999", "1e-400000"])
def test_a_number_beyond_all_numbers_earns_nothing(given):
    item = item_from({"id": "n", "type": "numeric", "stem": "?", "answers": [{"value": 5, "tolerance": 0.1, "weight": 1}]})
    assert mark(item, given) == 0


def test_pairs_without_number_are_no_blanks():
    pairs = [{"left": f"l{n}", "right": f"r{n}"} for n in range(2000)]
    with pytest.raises(NoSuchType, match="too many"):
        as_type(item_from({"id": "m", "type": "matching", "stem": "?", "pairs": pairs}), "cloze")


def test_an_attempt_whose_pages_are_fewer_now_goes_on(api, course, pools):
    items = list(Item.objects.filter(course=course).values_list("pk", flat=True))[:3]
    quiz = api.ok("post", f"/courses/{course}/quizzes", {"title": "Week 1"})["id"]
    api.ok("post", f"/quizzes/{quiz}/items", {"items": items})
    api.ok("post", f"/quizzes/{quiz}/trial/begin", {})
    from rogatum.web.quizzes.models import Rehearsal  # noqa: PLC0415

    row = Rehearsal.objects.get(quiz=quiz)
    row.state["sittings"][0]["page"] = 7
    row.save()
    assert api.ok("get", f"/quizzes/{quiz}/trial")["sitting"]["page"]["number"] == 0


def test_an_offer_is_made_with_all_copies_or_not_at_all(api, course, pools, mara, tobin):
    theirs = Api(tobin).ok("post", "/courses", {"name": "Field Methods"})["id"]
    Api(tobin).ok("post", f"/courses/{theirs}/people", {"name": "mara", "role": "reader"})
    sent = {"pools": [pools[0]["id"]], "people": ["tobin"], "courses": [theirs]}
    assert api.call("post", f"/courses/{course}/pools/send", sent)[0] == 403
    assert not Offer.objects.exists()


def test_who_edits_no_more_starts_no_work_again(api, course, reading, tobin):
    api.ok("post", f"/courses/{course}/people", {"name": "tobin", "role": "editor"})
    other = Api(tobin)
    job = other.ok("post", f"/courses/{course}/sources/paste", {"text": "1. A?\n*a. x\nb. y"})["id"]
    Job.objects.filter(pk=job).update(state="failed")
    api.ok("post", f"/courses/{course}/people", {"name": "tobin", "role": "reader"})
    assert other.call("post", f"/jobs/{job}/retry")[0] == 403


def test_accounts_take_turns_and_the_same_look_waits_once(api, course, tobin, settings):
    from rogatum.web.jobs.services import READING, claim  # noqa: PLC0415

    settings.JOBS_IMMEDIATE = False
    other = Api(tobin)
    theirs = other.ok("post", "/courses", {"name": "Field Methods"})["id"]
    assert len({api.ok("post", f"/courses/{course}/alike")["id"] for _ in range(4)}) == 1
    for _ in range(20):
        api.ok("post", f"/courses/{course}/sources/paste", {"text": "1. A?\n*a. x\nb. y"})
    other.ok("post", f"/courses/{theirs}/sources/paste", {"text": "1. A?\n*a. x\nb. y"})
    claimed = [claim(READING).user.username for _ in range(3)]
    assert "tobin" in claimed[:2] and claimed.count("mara") == 2
    assert claim(READING) is None, "no account has all lanes"


def test_a_lane_outlives_a_flaw(monkeypatch):
    stopping, tries = threading.Event(), iter([ZeroDivisionError, OperationalError])

    def claim(_lane: str) -> None:
        if (flaw := next(tries, None)) is not None:
            raise flaw
        stopping.set()

    monkeypatch.setattr(worker, "claim", claim)
    monkeypatch.setattr(worker, "AFTER_TROUBLE", 0)
    worker.work_lane("changing", stopping)
    assert stopping.is_set()

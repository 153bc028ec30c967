"""Every bound that docs/security.md lists is tried at it and beyond it; in the web process none takes over 300 MB or 5 s of work."""

from __future__ import annotations

import importlib
import re
import resource
import time
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from pathlib import Path
from typing import Any

import pytest

from rogatum.web.courses.models import Change, Operation
from rogatum.web.handoffs import standing_in
from rogatum.web.pools.models import Item
from tests.web.conftest import Api, upload

MEGABYTE = 1024 * 1024
PAGE = (Path(__file__).parents[2] / "docs/security.md").read_text()


@contextmanager
def within_bounds() -> Iterator[None]:
    """By what this process uses of the processor and of memory, whatever else the machine does."""
    memory, work = resource.getrusage(resource.RUSAGE_SELF).ru_maxrss, time.process_time()
    yield
    assert time.process_time() - work < 5
    assert (resource.getrusage(resource.RUSAGE_SELF).ru_maxrss - memory) * 1024 < 300 * MEGABYTE


def item_with(pairs: int) -> dict[str, Any]:
    return {"id": "m", "type": "matching", "stem": "?", "pairs": [{"left": f"l{n}", "right": f"r{n}"} for n in range(pairs)]}


# What is there before is made first; what is asked then is what is measured.
Ask = Callable[[], int]
Case = Callable[[Api, int], Ask]


def asking(method: str, path: str, body: Any) -> Case:
    return lambda api, course: lambda: api.call(method, path.format(course=course), body)[0]


def a_type(pairs: int) -> Case:
    return asking("post", "/item-type", {"item": item_with(pairs), "type": "cloze"})


def a_sheet(toml: str) -> Case:
    return asking("post", "/receivers/of-toml", {"toml": toml})


def a_preview(characters: int) -> Case:
    return asking("post", "/courses/{course}/sources/preview", {"text": "x" * characters})


def content(stem: str) -> Case:
    def call(api: Api, course: int) -> Ask:
        row = Item.objects.filter(course=course, type="true_false").get()
        return lambda: api.call("put", f"/items/{row.pk}", {"item": row.body | {"stem": stem}})[0]

    return call


def choices(count: int) -> Case:
    def call(api: Api, course: int) -> Ask:
        row = Item.objects.filter(course=course, type="multiple_choice").first()
        some = [{"id": f"c{n}", "content": f"choice {n}", "weight": float(n == 0)} for n in range(count)]
        return lambda: api.call("put", f"/items/{row.pk}", {"item": row.body | {"choices": some}})[0]

    return call


def points(number: float) -> Case:
    change = {"selection": {"all_matching": True}, "change": {"kind": "points", "points": number}}
    return asking("post", "/courses/{course}/items/change", change)


def draws(items: int, students: int) -> Case:
    def call(api: Api, course: int) -> Ask:
        row = Item.objects.filter(course=course, type="true_false").get()
        rows = []
        for _ in range(items):
            row.pk = None
            row.type = "essay"
            rows.append(Item(**{f.attname: getattr(row, f.attname) for f in Item._meta.concrete_fields}))
        Item.objects.bulk_create(rows)
        quiz = api.ok("post", f"/courses/{course}/quizzes", {"title": "Q"})["id"]
        api.ok("post", f"/quizzes/{quiz}/draws", {"pool": row.pool_id, "pick": 10})
        return lambda: api.call("post", f"/quizzes/{quiz}/draws-of-many", {"students": students})[0]

    return call


def versions(count: int) -> Case:
    """An item of very many choices that was changed often: its page has the newest."""

    def call(api: Api, course: int) -> Ask:
        row = Item.objects.filter(course=course, type="multiple_choice").first()
        choices = [{"id": f"c{n}", "content": f"choice {n}", "weight": float(n == 0)} for n in range(1500)]
        body = row.body | {"choices": choices}
        operation = Operation.objects.create(course_id=course, user=row.course.owner, label="x")
        Change.objects.bulk_create(
            Change(operation=operation, table="item", row=row.pk, before={"body": body}, after={"body": body | {"title": str(n)}})
            for n in range(count)
        )

        def ask() -> int:
            status, page = api.call("get", f"/items/{row.pk}/page")
            assert len(page["versions"]) <= 50
            return status

        return ask

    return call


def sending(files: int) -> Case:
    def call(api: Api, course: int) -> Ask:
        job = api.ok("post", f"/courses/{course}/hand-on", {"what": [{}], "receivers": [{"receiver": "whole-shelf"}]})["id"]
        handoff = api.ok("get", f"/jobs/{job}")["result"]["handoffs"][0]

        def ask() -> int:
            with pytest.MonkeyPatch.context() as patch:
                patch.setattr(standing_in, "files_of", lambda data: [(f"{n}.zip", data) for n in range(files)])
                patch.setattr(standing_in, "_answer", lambda *_: {"held": {}, "report": [], "refused": {}})
                return api.call("post", f"/handoffs/{handoff}/send")[0]

        return ask

    return call


def a_file(size: int) -> Case:
    return lambda api, course: lambda: upload(api, course, "a.bin", b"\0" * size)


# By the rows of the page: what is asked at the bound and beyond it, each with the answer.
CASES: dict[str, list[tuple[Case, int]]] = {
    "upload, request": [(a_file(MEGABYTE), 200), (content("x" * 61 * MEGABYTE), 413)],
    "numbers, texts, lists": [
        (points(10_000), 200),
        (points(10_001), 422),
        (content("<p>loam</p>" * 90_000), 200),
        (content("<p>loam</p>" * 91_000), 422),
        (choices(19_900), 200),
        (choices(20_000), 422),
    ],
    "content of items": [
        (content("<table><tr><td>" * 3 + "x" + "</td></tr></table>" * 3), 200),
        (content("<ul><li>" * 5000 + '<td colspan="999999999">'), 200),
    ],
    "preview of what is typed": [(a_preview(100_000), 200), (a_preview(400_001), 422)],
    "receiver sheet": [
        (a_sheet(".".join("a" * 60) + " = 1"), 422),
        (a_sheet(".".join("a" * 30_000) + " = 1"), 422),
        (a_sheet("x = " + "9" * 5000), 422),
        (a_sheet("#" * 65_537), 422),
    ],
    "conversion of a type": [(a_type(100), 200), (a_type(2000), 422)],
    "versions of an item on its page": [(versions(50), 200), (versions(60), 200)],
    "draws of a class": [(draws(900, 200), 200), (draws(1100, 200), 422)],
    "sending to a simulator": [(sending(12), 200), (sending(13), 422)],
}
# Those that are not met in the web process, or by what answers no request: the test that tries them.
ELSEWHERE = {
    "requests of one account": "web.test_pacing:test_an_account_is_told_where_it_asks_for_too_much_and_others_are_answered",
    "archive": "core.test_sizes:test_archives_are_counted_at_all_depths",
    "document": "core.test_sizes:test_400_000_paragraphs_are_told_at_once",
    "tables in tables, quotes in quotes, open brackets and code in Markdown": "core.test_slow_inputs:test_what_asks_for_much_is_read_in_bounds",
    "sheet": "core.test_slow_inputs:test_what_is_too_much_is_refused_with_how_much_is_taken",
    "XML": "core.test_slow_inputs:test_what_is_too_much_is_refused_with_how_much_is_taken",
    "pictures": "web.test_one_bad_thing:test_a_damaged_picture_is_refused_where_it_comes_in",
    "reading, export, opening a saved course": "running.test_apart:test_what_exceeds_a_bound_is_ended_and_told",
    "correcting a text, head of a saved course": "running.test_apart:test_what_exceeds_a_bound_is_ended_and_told",
    "saved course": "web.test_keeping:test_a_file_that_is_none_is_refused_whole",
    "signing in": "web.test_accounts:test_an_account_is_throttled_from_wherever_it_is_tried",
    "session": "web.test_accounts:test_a_new_password_ends_all_other_sessions",
}
ROWS = re.findall(r"^\| ([^|]+?) \|", PAGE.split("## Limits")[1].split("\n## ")[0], re.M)[1:]


def test_each_row_of_the_page_is_tried():
    assert set(ROWS) == set(CASES) | set(ELSEWHERE)
    for where in ELSEWHERE.values():
        module, _, name = where.partition(":")
        assert hasattr(importlib.import_module(f"tests.{module}"), name), where


@pytest.mark.parametrize("name", CASES)
def test_each_bound_at_it_and_beyond(api, course, pools, name):
    for case, status in CASES[name]:
        ask = case(api, course)
        with within_bounds():
            assert ask() == status

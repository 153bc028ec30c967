"""A list asks the database as often for twelve rows as for one."""

from __future__ import annotations

import re

import pytest
from django.contrib.auth.models import User
from django.db import connection
from django.test.utils import CaptureQueriesContext

from rogatum.web.api import api as ninja
from rogatum.web.courses.models import Course
from rogatum.web.jobs.models import Job
from rogatum.web.pools.models import Item, LikePair, Pool
from tests.web.conftest import OWN_SHEET, TEXT, read_paste, taken

MANY = 12
# What makes one more row of each list, by the path of the list.
LISTS = {
    "/courses": lambda api, course, n: api.ok("post", "/courses", {"name": f"Course {n}"}),
    "/courses/{course_id}/sources": lambda api, course, n: read_paste(api, course),
    "/courses/{course_id}/look": lambda api, course, n: read_paste(api, course),
    "/courses/{course_id}/pools": lambda api, course, n: api.ok("post", f"/courses/{course}/pools", {"name": f"Pool {n}"}),
    "/courses/{course_id}/items": lambda api, course, n: _items(api, course, n),
    "/courses/{course_id}/quizzes": lambda api, course, n: _quiz(api, course, n),
    "/courses/{course_id}/handoffs": lambda api, course, n: api.ok("post", f"/courses/{course}/handoffs", {"format": "gift"}),
    "/courses/{course_id}/operations": lambda api, course, n: api.ok("post", f"/courses/{course}/pools", {"name": f"Pool {n}"}),
    "/courses/{course_id}/jobs": lambda api, course, n: read_paste(api, course),
    "/jobs": lambda api, course, n: Job.objects.create(
        user=Course.objects.get(pk=course).owner, work="open-course", label=f"Open {n}"
    ),
    "/courses/{course_id}/people": lambda api, course, n: _person(api, course, n),
    "/courses/{course_id}/filters": lambda api, course, n: api.ok(
        "post", f"/courses/{course}/filters", {"name": f"Kept {n}", "filter": {"query": str(n)}}
    ),
    "/courses/{course_id}/patterns": lambda api, course, n: api.ok(
        "post", f"/quizzes/{_quiz(api, course, n)}/patterns", {"name": f"Kept {n}"}
    ),
    "/courses/{course_id}/deleted": lambda api, course, n: _deleted(api, course, n),
    "/deleted-courses": lambda api, course, n: _deleted_course(api, n),
    "/offers": lambda api, course, n: _offer(api, course, n),
    "/alike": lambda api, course, n: _pair(api, course, n),
    "/receivers": lambda api, course, n: api.ok("post", "/receivers", {"sheet": OWN_SHEET | {"title": f"Ours {n}"}}),
}
# Parts of one thing, with its number in the path: twelve of them in one text.
PARTS = {
    "/readings/{reading_id}/items",
    "/readings/{reading_id}/known",
    "/readings/{reading_id}/lines",
    "/readings/{reading_id}/search",
    "/quizzes/{quiz_id}/items/{item_id}/alike",
}
CONSTANT = {"/formats", "/time-zones"}


def _items(api, course, n):
    text = TEXT.replace("Which particle", f"In soil number {n}, which particle")
    job = api.ok("post", f"/courses/{course}/sources/paste", {"text": text})
    reading = api.ok("get", f"/jobs/{job['id']}")["result"]["reading"]
    api.ok("post", f"/readings/{reading}/take", {"which": "all"})


def _person(api, course, n):
    User.objects.create_user(f"reader{n}")
    api.ok("post", f"/courses/{course}/people", {"name": f"reader{n}", "role": "reader"})


def _deleted(api, course, n):
    pool = api.ok("post", f"/courses/{course}/pools", {"name": f"Gone {n}"})["id"]
    api.ok("delete", f"/pools/{pool}")


def _deleted_course(api, n):
    api.ok("delete", f"/courses/{api.ok('post', '/courses', {'name': f'Gone {n}'})['id']}")


def _offer(api, course, n):
    User.objects.create_user(f"colleague{n}")
    pool = api.ok("get", f"/courses/{course}/pools")[0]["id"]
    api.ok("post", f"/courses/{course}/pools/send", {"pools": [pool], "people": [f"colleague{n}"]})


def _pair(api, course, n):
    user = Course.objects.get(pk=course).owner
    a, b = (Item.objects.create(course_id=course, pool=Pool.objects.first(), text=f"{n}", body={}) for _ in range(2))
    LikePair.objects.create(user=user, a=a, b=b, percent=90, digests=f"{n}")


def _quiz(api, course, n):
    """A quiz with a draw from each of two pools and two fixed items."""
    quiz = api.ok("post", f"/courses/{course}/quizzes", {"title": f"Week {n}"})["id"]
    for pool in api.ok("get", f"/courses/{course}/pools")[:2]:
        api.ok("post", f"/quizzes/{quiz}/draws", {"pool": pool["id"], "pick": 1})
    ids = [entry["id"] for entry in api.ok("get", f"/courses/{course}/items")["rows"][:2]]
    api.ok("post", f"/quizzes/{quiz}/items", {"items": ids})
    return quiz


def asked(api, path) -> tuple[int, int]:
    """How many queries a list takes, and how many rows it gives."""
    with CaptureQueriesContext(
        connection,
    ) as queries:
        answer = api.ok("get", path)
    return len(queries), len(answer["rows"] if isinstance(answer, dict) else answer)


@pytest.mark.parametrize("path", LISTS)
def test_a_list_asks_as_often_for_twelve_rows_as_for_one(api, course, pools, path):
    address = path.format(course_id=course)
    LISTS[path](api, course, 0)
    before, few = asked(api, address)
    for number in range(1, MANY):
        LISTS[path](api, course, number)
    after, many = asked(api, address)
    assert many >= min(few + MANY - 1, 12) and after == before


def test_parts_of_a_reading_take_as_many_queries_for_twelve_as_for_one(api, course):
    found = []
    for count in (1, MANY):
        text = "\n\n".join(f"{n}. Which is number {n}?\n*a. this\nb. that" for n in range(1, count + 1))
        job = api.ok("post", f"/courses/{course}/sources/paste", {"text": text})
        reading = api.ok("get", f"/jobs/{job['id']}")["result"]["reading"]
        taken(api, course, reading)
        found.append([asked(api, f"/readings/{reading}/{part}")[0] for part in ("items", "lines", "search?words=which")])
        with CaptureQueriesContext(connection) as queries:
            api.ok("get", f"/readings/{reading}")
        found[-1].append(len(queries))
    assert found[0] == found[1]


def test_the_history_of_an_item_takes_as_many_queries_for_twelve_changes_as_for_one(api, course, pools):
    item = api.ok("get", f"/courses/{course}/items")["rows"][0]["id"]
    counts = []
    for points in range(MANY):
        change = {"kind": "points", "points": points + 5}
        api.ok("post", f"/courses/{course}/items/change", {"selection": {"ids": [item]}, "change": change})
        with CaptureQueriesContext(connection) as queries:
            api.ok("get", f"/items/{item}/page")
        counts.append(len(queries))
    assert len(set(counts)) == 1


def test_counts_take_as_many_queries_for_twelve_quizzes_as_for_one(api, course, pools):
    counts = []
    for number in range(MANY):
        _quiz(api, course, number)
        with CaptureQueriesContext(connection) as queries:
            told = api.ok("get", f"/courses/{course}/items/counts")["counts"]["quiz"]
        counts.append(len(queries))
    assert len(told) == MANY + 1 and len(set(counts)) == 1


def test_every_list_of_the_api_is_looked_at():
    schema = ninja.get_openapi_schema()
    found = set()
    for path, methods in schema["paths"].items():
        shown = str(
            methods.get("get", {}).get("responses", {}).get(200, methods.get("get", {}).get("responses", {}).get("200", ""))
        )
        if "'array'" in shown or "ItemPage'" in shown or "PairPage'" in shown:
            found.add(re.sub(r"^/api", "", path))
    assert found == set(LISTS) | PARTS | CONSTANT

"""Two accounts, each with a course, and a client that speaks JSON."""

from __future__ import annotations

import io
import json
from collections.abc import Iterator
from contextlib import contextmanager
from dataclasses import dataclass
from typing import Any
from unittest import mock

import pytest
from django.contrib.auth.models import User
from django.core.files.uploadedfile import SimpleUploadedFile
from django.db import transaction
from django.test import Client
from django.test.client import ClientHandler
from django.test.utils import override_settings

from rogatum.core.fidelity import Ledger
from rogatum.web.courses.models import Course, Membership
from rogatum.web.courses.services import create_course
from rogatum.web.files import OFFERS
from rogatum.web.pools.models import KeptFilter, LikePair
from rogatum.web.sharing.models import Offer
from rogatum.web.sources.models import Batch, Comparison

OWN_SHEET = {"name": "ours", "title": "Ours", "formats": [{"name": "gift"}], "steps": ["One.", "Two.", "Three."]}
TEXT = """Soils, a short test

## Texture

1. Which particle is the smallest?
a. sand
b. silt
*c. clay

2. Which gas do roots need? Choose one.
*a. oxygen
*b. helium
c. argon

3. Loam holds sand, silt and clay.
Answer: True

## Water

4. A wet sample of 125 g weighs 100 g dry. What is its water content in per cent?
Answer: 25 ± 0.5
Points: 2

5. The water that a soil holds two days after rain is called ____.
Answer: field capacity
"""


# One for all clients: each of its own would look through all static files again.
HANDLER = ClientHandler(enforce_csrf_checks=False)


class Api:
    """A signed-in client; `get`, `post` and so on return (status, JSON)."""

    def __init__(self, user: User | None) -> None:
        self.client = Client(raise_request_exception=False)
        self.client.handler = HANDLER
        if user is not None:
            self.client.force_login(user)

    def call(self, method: str, path: str, body: Any = None) -> tuple[int, Any]:
        extra = {} if body is None else {"data": json.dumps(body), "content_type": "application/json"}
        response = getattr(self.client, method)(f"/api{path}", **extra)
        is_json = response.headers.get("Content-Type", "").startswith("application/json")
        return response.status_code, response.json() if is_json and not response.streaming else response

    def ok(self, method: str, path: str, body: Any = None) -> Any:
        status, data = self.call(method, path, body)
        assert status == 200, (method, path, status, data)
        return data


def upload(api: Api, course: int, name: str, data: bytes) -> int:
    """Uploads one file as a source; returns the response's status."""
    files = {"files": SimpleUploadedFile(name, data)}
    return api.client.post(f"/api/courses/{course}/sources", files).status_code


@contextmanager
def at_once() -> Iterator[None]:
    """Jobs run at once, within the test's transaction."""
    quick = override_settings(JOBS_IMMEDIATE=True, PASSWORD_HASHERS=["django.contrib.auth.hashers.MD5PasswordHasher"])
    with quick, mock.patch("django.db.transaction.on_commit", lambda function, *a, **k: function()):
        yield


@contextmanager
def undone():
    """What is done within is rolled back, so that each role finds the same."""
    point = transaction.savepoint()
    yield
    transaction.savepoint_rollback(point)


@pytest.fixture(autouse=True)
def immediate_jobs(db: None) -> Iterator[None]:
    with at_once():
        yield


@pytest.fixture
def mara(db: None) -> User:
    return User.objects.create_user("mara", password="soil-and-water")


@pytest.fixture
def tobin(db: None) -> User:
    return User.objects.create_user("tobin", password="auger-and-rope")


@pytest.fixture
def api(mara: User) -> Api:
    return Api(mara)


@pytest.fixture
def course(mara: User) -> int:
    return create_course(mara, "Soil Science 110").pk


def read_paste(api: Api, course: int) -> int:
    job = api.ok("post", f"/courses/{course}/sources/paste", {"text": TEXT, "name": "Paste", "expected": 5})
    return api.ok("get", f"/jobs/{job['id']}")["result"]["reading"]


def taken(api: Api, course: int, reading: int) -> list[dict[str, Any]]:
    api.ok("post", f"/readings/{reading}/take", {"which": "all"})
    return api.ok("get", f"/courses/{course}/pools")


@pytest.fixture
def reading(api: Api, course: int) -> int:
    """A pasted test, read: five items, one of them with two keys."""
    return read_paste(api, course)


@pytest.fixture
def pools(api: Api, course: int, reading: int) -> list[dict[str, Any]]:
    """The paste taken into pools, the item with two keys included."""
    return taken(api, course, reading)


@dataclass(frozen=True)
class World:
    """One of everything, all of it the owner's, as the numbers that paths need; those with whom it is shared; and a stranger."""

    owner: User
    editor: User
    reader: User
    stranger: User
    numbers: dict[str, Any]


@pytest.fixture(scope="module")
def world(django_db_setup: None, django_db_blocker: Any) -> Iterator[World]:
    """Made once for the tests of a module; what each of them changes is rolled back to it."""
    with django_db_blocker.unblock(), transaction.atomic():
        with at_once():
            names = ("ines", "edda", "rolf", "ola")
            owner, editor, reader, stranger = (User.objects.create_user(name, password="soil-and-water") for name in names)
            course = create_course(owner, "Soil Science 110")
            for user, role in ((editor, "editor"), (reader, "reader")):
                Membership.objects.create(course=course, user=user, role=role)
            numbers = _one_of_everything(Api(owner), course.pk) | _what_is_shared(course, owner, reader, stranger)
            made = World(owner, editor, reader, stranger, numbers)
        yield made
        transaction.set_rollback(True)


def _what_is_shared(course: Course, owner: User, reader: User, sender: User) -> dict[str, Any]:
    """A reader, a filter of the owner, two items of a pair, an offer that somebody sent to the owner."""
    items = list(course.items.all()[:2])
    bank = {"format": "rogatum-items/1", "title": "Lent", "items": [{"id": "x", "type": "true_false", "stem": "s", "answer": True}]}
    offer = Offer.objects.create(
        sender=sender,
        recipient=owner,
        course_name="Field Methods 210",
        title="Lent",
        pools=1,
        items=1,
        sha256=OFFERS.put(io.BytesIO(json.dumps(bank).encode())).sha256,
        suffix=".json",
        ledger=Ledger().model_dump(mode="json"),
    )
    return {
        "member_id": Membership.objects.get(course=course, user=reader).pk,
        "filter_id": KeptFilter.objects.create(course=course, user=owner, name="Mine", filter={"type": "essay"}).pk,
        "pair_id": LikePair.objects.create(user=owner, a=items[0], b=items[1], percent=90, digests="a-b").pk,
        "offer_id": offer.pk,
        "reader_name": reader.username,
        "stranger_name": sender.username,
    }


def _one_of_everything(api: Api, course: int) -> dict[str, Any]:
    reading = read_paste(api, course)
    pool = taken(api, course, reading)[0]["id"]
    quiz = api.ok("post", f"/courses/{course}/quizzes", {"title": "Week 1"})["id"]
    part = api.ok("post", f"/quizzes/{quiz}/draws", {"pool": pool, "pick": 1})["parts"][0]["id"]
    job = api.ok("post", f"/courses/{course}/handoffs", {"format": "gift"})["id"]
    return {
        "course_id": course,
        "source_id": api.ok("get", f"/courses/{course}/sources")[0]["id"],
        "reading_id": reading,
        "position": 1,
        "pool_id": pool,
        "item_id": api.ok("get", f"/courses/{course}/items")["rows"][-1]["id"],
        "operation_id": api.ok("get", f"/courses/{course}/operations")[0]["id"],
        "quiz_id": quiz,
        "pattern_id": api.ok("post", f"/quizzes/{quiz}/patterns", {"name": "Weekly"})["id"],
        "number": 1,
        "part_id": part,
        "job_id": job,
        "handoff_id": api.ok("get", f"/jobs/{job}")["result"]["handoff"],
        "other_id": api.ok("get", f"/jobs/{job}")["result"]["handoff"],
        "receiver": "live-board",
        "receiver_id": api.ok("post", "/receivers", {"sheet": OWN_SHEET})["id"],
        "name": "0" * 64,
        "key": "s1",
        "batch_id": Batch.objects.create(course_id=course, token="drop").pk,
        "comparison_id": Comparison.objects.create(course_id=course, a_id=reading, b_id=reading, ledger={}).pk,
    }

"""Two accounts, each with a course, and a client that speaks JSON."""

from __future__ import annotations

import json
from typing import Any

import pytest
from django.contrib.auth.models import User
from django.core.files.uploadedfile import SimpleUploadedFile
from django.test import Client

from rogatum.web.courses.services import create_course

TEXT = """Soils, a short test

## Texture

1. Which particle is the smallest?
a. sand
b. silt
*c. clay

2. Which gas do roots need?
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


class Api:
    """A signed-in client; `get`, `post` and so on return (status, JSON)."""

    def __init__(self, user: User | None) -> None:
        self.client = Client(raise_request_exception=False)
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


@pytest.fixture(autouse=True)
def immediate_jobs(settings: Any, db: None, django_capture_on_commit_callbacks: Any, monkeypatch: pytest.MonkeyPatch) -> None:
    """Jobs run at once, within the test's transaction."""
    settings.JOBS_IMMEDIATE = True
    settings.PASSWORD_HASHERS = ["django.contrib.auth.hashers.MD5PasswordHasher"]
    monkeypatch.setattr("django.db.transaction.on_commit", lambda function, *a, **k: function())


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


@pytest.fixture
def reading(api: Api, course: int) -> int:
    """A pasted test, read: five items, one of them with two keys."""
    job = api.ok("post", f"/courses/{course}/sources/paste", {"text": TEXT, "name": "Paste", "expected": 5})
    return api.ok("get", f"/jobs/{job['id']}")["result"]["reading"]


@pytest.fixture
def pools(api: Api, course: int, reading: int) -> list[dict[str, Any]]:
    """The paste taken into pools, the item with two keys included."""
    api.ok("post", f"/readings/{reading}/take", {"which": "all"})
    return api.ok("get", f"/courses/{course}/pools")

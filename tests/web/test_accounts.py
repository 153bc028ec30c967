"""Signing in: throttled by account and by address, from our own page alone, under a new session; passwords that end others' sessions."""

from __future__ import annotations

import threading

import pytest
from django.conf import settings as ours
from django.test import Client

from rogatum.web.accounts import throttling
from tests.web.conftest import Api

GOOD = {"name": "mara", "password": "soil-and-water"}
BAD = {"name": "mara", "password": "wrong"}


def tries(api: Api, body: dict[str, str], count: int, address: str = "10.0.0.1") -> list[int]:
    api.client.defaults["REMOTE_ADDR"] = address
    return [api.call("post", "/session", body)[0] for _ in range(count)]


def test_an_account_is_throttled_from_wherever_it_is_tried(mara, tobin):
    api = Api(None)
    statuses = tries(api, BAD, 6, "10.0.0.1") + tries(api, BAD, 6, "10.0.0.2")
    assert statuses == [403] * throttling.MOST_OF_AN_ACCOUNT + [429] * 2
    assert tries(api, GOOD | {"name": " MARA "}, 1, "10.0.0.3") == [429], "another spelling is the same account"
    status, told = api.call("post", "/session", GOOD)
    assert status == 429 and "Wait" in told["way_out"]
    assert tries(api, {"name": "tobin", "password": "auger-and-rope"}, 1, "10.0.0.3") == [200]


def test_an_address_is_throttled_whatever_names_it_tries(mara, tobin):
    api = Api(None)
    statuses = [tries(api, {"name": f"nobody{n}", "password": "x"}, 1)[0] for n in range(throttling.MOST_OF_AN_ADDRESS)]
    assert set(statuses) == {403}
    assert tries(api, GOOD, 1) == [429] and tries(api, GOOD, 1, "10.0.0.9") == [200]


def test_a_header_does_not_change_an_address(mara):
    api = Api(None)
    for n in range(throttling.MOST_OF_AN_ADDRESS):
        api.client.post(
            "/api/session", {"name": f"n{n}", "password": "x"}, "application/json", headers={"X-Forwarded-For": f"1.2.3.{n}"}
        )
    assert tries(api, GOOD, 1, "127.0.0.1") == [429]


def test_whoever_gets_in_starts_anew_and_failures_pass(mara, monkeypatch):
    api = Api(None)
    assert tries(api, BAD, 9) == [403] * 9 and tries(api, GOOD, 1) == [200] and tries(api, BAD, 9) == [403] * 9
    assert tries(api, BAD, 2) == [403, 429]
    monkeypatch.setattr(throttling, "WINDOW", throttling.timedelta(0))
    assert tries(api, GOOD, 1) == [200]


def test_a_flood_of_tries_does_not_take_all_threads(mara):
    """Hashing takes a processor for a while; beyond two at once people are told to wait."""
    answers: list[int] = []
    with throttling.turn_to_hash(), throttling.turn_to_hash():
        others = [threading.Thread(target=lambda: answers.append(_status())) for _ in range(6)]
        for other in others:
            other.start()
        while len(answers) < 4:  # those beyond the places are told at once, while nobody is done
            others[0].join(0.01)
    for other in others:
        other.join()
    assert sorted(answers) == [200, 200, 503, 503, 503, 503]


def _status() -> int:
    try:
        with throttling.turn_to_hash():
            return 200
    except throttling.NotPossible as refused:
        return refused.status


def test_another_site_cannot_sign_anybody_in(mara):
    client = Client(enforce_csrf_checks=True)
    client.get("/api/session")
    assert client.post("/api/session", GOOD, "application/json").status_code == 403
    token = client.cookies["csrftoken"].value
    assert client.post("/api/session", GOOD, "application/json", headers={"X-CSRFToken": token}).status_code == 200


def test_who_gets_in_and_who_does_not_is_logged_without_what_may_be_a_password(mara, caplog):
    for name, password in (("mara", "soil-and-water"), ("mara", "wrong"), ("my-secret-by-mistake", "x")):
        Api(None).call("post", "/session", {"name": name, "password": password})
    said = [record.getMessage() for record in caplog.records if record.name.startswith("rogatum.web.accounts")]
    assert said == [
        "'mara' signed in from 127.0.0.1",
        "'mara' was refused from 127.0.0.1",
        "an unknown name was refused from 127.0.0.1",
    ]


def test_a_session_that_was_there_before_is_not_the_one_after(mara):
    api = Api(None)
    session = api.client.session
    session["planted"] = True
    session.save()
    before = session.session_key
    api.client.cookies[ours.SESSION_COOKIE_NAME] = before
    assert tries(api, GOOD, 1) == [200]
    assert api.client.cookies[ours.SESSION_COOKIE_NAME].value != before
    stolen = Client()
    stolen.cookies[ours.SESSION_COOKIE_NAME] = before
    assert stolen.get("/api/courses").status_code == 401


def test_a_new_password_ends_all_other_sessions(mara):
    here, there = Api(None), Api(None)
    assert tries(here, GOOD, 1) == tries(there, GOOD, 1) == [200]
    fresh = "horizons and humus"
    assert here.call("put", "/session/password", {"old": "wrong", "new": fresh})[0] == 403
    assert here.ok("put", "/session/password", {"old": GOOD["password"], "new": fresh})["user"] == "mara"
    assert here.call("get", "/courses")[0] == 200 and there.call("get", "/courses")[0] == 401
    assert tries(there, GOOD, 1) == [403] and tries(there, GOOD | {"password": fresh}, 1) == [200]


@pytest.mark.parametrize("weak", ["short", "password1234", "123456789012"])
def test_a_weak_password_is_refused_with_the_reason(mara, weak):
    status, told = Api(mara).call("put", "/session/password", {"old": GOOD["password"], "new": weak})
    assert status == 422 and told["fact"] and told["way_out"]


def test_no_test_host_is_among_the_allowed():
    assert ours.ALLOWED_HOSTS[-1] == "testserver", "the test client's own, added while tests run"
    assert "testserver" not in (ours.ROOT / "rogatum/web/settings.py").read_text()

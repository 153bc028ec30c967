"""Each change, asked for by two at once: what comes of it is what comes of one after the other, in the one order or the other."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from contextlib import contextmanager
from datetime import UTC, datetime
from unittest import mock

import pytest
from django.db import connection, transaction

from tests.web.conftest import Api
from tests.web.everything import differing, everything
from tests.web.test_access import BODIES, ITEM, RATIO, filled

WRITES = ("BEGIN", "SAVEPOINT", "INSERT", "UPDATE", "DELETE")
NOW = datetime(2026, 9, 1, 12, tzinfo=UTC)
# What the second asks for, where it is to be something else than what the first does.
OTHER = {
    ("put", "/readings/{reading_id}/items/{position}"): {"item": ITEM | {"stem": "other"}},
    ("post", "/readings/{reading_id}/repair"): {"code": "two-keys", "repair": "only-1"},
    ("post", "/readings/{reading_id}/drop"): {"positions": [2]},
    ("put", "/readings/{reading_id}/text"): {"text": "1. B?\n*a. x\nb. y"},
    ("post", "/readings/{reading_id}/items/{position}/decide"): {"decision": {"kind": "outcome", "outcome": "2.1"}},
    ("post", "/readings/{reading_id}/mend"): {"wish": RATIO | {"becomes": 3}},
    ("post", "/readings/{reading_id}/pool"): {"positions": [3], "name": "Other"},
    ("put", "/readings/{reading_id}/passages/{key}"): {"content": "Other notes."},
    ("put", "/courses/{course_id}/outcomes"): {"text": "2.2 Name the horizons"},
    ("put", "/courses/{course_id}/advice"): {"off": ["all-of-the-above"]},
    ("post", "/courses/{course_id}/pools"): {"name": "Other"},
    ("patch", "/pools/{pool_id}"): {"name": "Other"},
    ("put", "/items/{item_id}"): {"item": ITEM | {"stem": "other"}},
    ("post", "/courses/{course_id}/items/change"): {
        "selection": {"all_matching": True},
        "change": {"kind": "metadata", "label": "topic", "values": ["x"], "how": "add"},
    },
    ("post", "/courses/{course_id}/split"): {"pools": [{"name": "Other split", "items": ["{item_id}"]}]},
    ("patch", "/courses/{course_id}"): {"name": "Other"},
    ("patch", "/quizzes/{quiz_id}"): {"settings": {"time_limit": 5}},
    ("patch", "/parts/{part_id}"): {"title": "Other"},
    ("post", "/quizzes/{quiz_id}/patterns"): {"name": "Other"},
    ("put", "/courses/{course_id}/time"): {"time_zone": "UTC", "sections": [{"name": "Tuesday"}]},
    ("put", "/courses/{course_id}/wordings/{receiver}/{item_id}"): {"item": ITEM | {"stem": "other"}},
    ("put", "/receivers/{receiver_id}"): BODIES["put", "/receivers/{receiver_id}"],
}
# They make nothing but work, of which two are two.
WORK = {"/courses/{course_id}/sources/paste", "/sources/{source_id}/read", "/courses/{course_id}/handoffs", "/session"}
CASES = sorted(key for key in BODIES if key[1] not in WORK and not key[1].endswith("/preview"))


@contextmanager
def _steady() -> Iterator[None]:
    """What is else another each time: the clock, and chance."""
    with (
        mock.patch("django.utils.timezone.now", return_value=NOW),
        mock.patch("secrets.token_hex", return_value="seed"),
        mock.patch("secrets.randbelow", return_value=7),
    ):
        yield


@contextmanager
def _before_the_first_write(other: Callable[[], object]) -> Iterator[None]:
    """Does something else at the moment when the first wants the lock: whatever was read until then is old."""
    waiting = [other]

    def wrapper(execute, sql, params, many, context):
        if waiting and sql.lstrip().upper().startswith(WRITES):
            waiting.pop()()
        return execute(sql, params, many, context)

    with connection.execute_wrapper(wrapper):
        yield


@pytest.mark.parametrize(("method", "path"), CASES, ids=lambda value: value)
def test_two_at_once_are_one_after_the_other(world, method, path):
    first, second = Api(world.owner), Api(world.editor)
    bodies = BODIES[method, path], OTHER.get((method, path), BODIES[method, path])

    def ask(api: Api, body: object) -> None:
        status, told = api.call(method, filled(path, world.numbers), filled(body, world.numbers))
        assert status < 500, told

    def after(*steps: Callable[[], object]) -> dict:
        point = transaction.savepoint()
        try:
            with _steady():
                for step in steps:
                    step()
                return everything()
        finally:
            transaction.savepoint_rollback(point)

    def one():
        ask(first, bodies[0])

    def other():
        ask(second, bodies[1])

    def at_once():
        with _before_the_first_write(other):
            one()

    found, orders = after(at_once), (after(other, one), after(one, other))
    assert any(differing(found, order) == [] for order in orders), differing(found, orders[0])


def _of_six(shared_state, write):
    """Six who saw the same write one after the other; returns how many were told that it is another by now."""
    return [write(n, shared_state) for n in range(6)].count(412)


def test_of_six_who_add_a_section_none_is_lost_without_a_word(api, course):
    seen = api.ok("get", f"/courses/{course}")

    def add(n, seen):
        sections = [{"name": f"Section {n}"}]
        said = {"time_zone": "UTC", "sections": sections, "version": seen["time_version"]}
        return api.call("put", f"/courses/{course}/time", said)[0]

    assert _of_six(seen, add) == 5
    assert [s["name"] for s in api.ok("get", f"/courses/{course}")["sections"]] == ["Section 0"]


@pytest.mark.parametrize(("path", "sent"), [("outcomes", {"text": "2.1 Name"}), ("advice", {"off": ["key-longest"]})])
def test_lists_of_a_course_are_not_saved_over_what_was_not_seen(api, course, path, sent):
    seen = api.ok("get", f"/courses/{course}")
    api.ok("put", f"/courses/{course}/{path}", sent | {"version": seen[f"{path}_version"]})
    status, told = api.call("put", f"/courses/{course}/{path}", sent | {"version": seen[f"{path}_version"]})
    assert status == 412 and told["current"]


def test_all_verdicts_on_a_sample_are_kept(api, course, reading):
    from rogatum.web.sources import sampling  # noqa: PLC0415
    from rogatum.web.sources.models import Reading, ReadingItem  # noqa: PLC0415

    ReadingItem.objects.filter(reading=reading).update(worst="", findings=[])
    api.ok("post", f"/readings/{reading}/sample", {"count": 4, "seed": 1})
    stale = [Reading.objects.select_related("source__course").get(pk=reading) for _ in range(4)]
    drawn = sampling.sample_of(stale[0]).drawn
    owner = stale[0].source.course.owner
    for row, position in zip(stale, drawn, strict=True):
        sampling.judge_sample(row, owner, position, True)
    assert set(sampling.sample_of(Reading.objects.get(pk=reading)).verdicts) == set(drawn)

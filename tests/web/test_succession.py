"""A source that is read again: what a person did there stays, what is done meanwhile too, and nothing is done where nobody sees it."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

import pytest
from django.db import transaction

from rogatum.web.courses.models import Operation
from rogatum.web.jobs.models import Job
from rogatum.web.sources.models import Reading, ReadingItem
from rogatum.web.sources.succession import Succession
from tests.web.conftest import TEXT, Api
from tests.web.everything import everything
from tests.web.test_access import BODIES, LOOKING, filled

OF_A_READING = sorted(
    (m, p) for m, p in BODIES if m != "get" and "{reading_id}" in p and (m, p) not in LOOKING and "preview" not in p
)
PASSAGE = "\nRead the passage and answer questions 6-7.\n\nA pit was dug in 1990.\n\n6. In which year was the pit dug?\n*a. 1990\nb. 1991\n\n7. What was dug in that year, by the notes?\n*a. a pit\nb. a lake\n"
WHOLE = TEXT + PASSAGE
Said = Callable[[Api, int], object]
# A change of the last item alone: all others read as before.
AGAIN = WHOLE.replace("b. a lake", "b. a large lake")
NUMBERS = {"position": 2, "key": "s1"}


@pytest.fixture
def waiting(api: Api, course: int) -> int:
    """A reading of seven items, none of them taken; the second has two keys."""
    job = api.ok("post", f"/courses/{course}/sources/paste", {"text": WHOLE})
    return api.ok("get", f"/jobs/{job['id']}")["result"]["reading"]


def sample(api: Api, reading: int) -> int:
    """Draws a sample, of what needs no look; returns the first position of it."""
    api.ok("post", f"/readings/{reading}/dismiss", {"code": "two-keys"})
    return api.ok("post", f"/readings/{reading}/sample", {"count": 3, "seed": 1})["drawn"][0]


def read_again(api: Api, reading: int, text: str = AGAIN) -> int:
    return api.ok("put", f"/readings/{reading}/text", {"text": text})["reading"]


def all_of_it() -> Any:
    return everything(), list(Reading.objects.order_by("pk").values())


def done(api: Api, method: str, path: str, reading: int, position: int) -> tuple[bool, bool]:
    """Whether a path changed anything but jobs, and whether it was refused: by its answer, or by the job that it began."""
    before, known = all_of_it(), set(Job.objects.values_list("pk", flat=True))
    numbers = {"reading_id": reading, "position": position, "key": "s1"}
    status, _ = api.call(method, filled(path, numbers), filled(BODIES[method, path], numbers))
    failed = Job.objects.exclude(pk__in=known).filter(state=Job.State.FAILED).exists()
    return all_of_it() != before, status >= 400 or failed


@pytest.mark.parametrize(("method", "path"), OF_A_READING, ids=lambda value: value)
def test_nothing_is_done_to_a_reading_that_was_read_anew(api, waiting, method, path):
    """It would be said to be done, and nobody would see it. That each does something to one that is there is looked at first."""
    position = sample(api, waiting) if "sample" in path else 2
    point = transaction.savepoint()
    assert done(api, method, path, waiting, position) == (True, False)
    transaction.savepoint_rollback(point)
    read_again(api, waiting)
    assert done(api, method, path, waiting, position) == (False, True)


def test_an_old_reading_names_the_one_that_is_there(api, waiting):
    assert api.ok("get", f"/readings/{waiting}")["newer"] is None
    newer = read_again(api, waiting)
    assert api.ok("get", f"/readings/{waiting}")["newer"] == newer
    assert api.ok("get", f"/readings/{newer}")["newer"] is None


def edit(api: Api, reading: int, position: int) -> None:
    item = api.ok("get", f"/readings/{reading}/items/{position}")["item"]
    api.call("put", f"/readings/{reading}/items/{position}", {"item": item | {"stem": f"{item['stem']} Say which."}})


def undo(back: int) -> Said:
    """Undoes what was done last but so many."""
    return lambda api, _: api.call("post", f"/operations/{Operation.objects.order_by('-pk')[back].pk}/undo", {})


def of_reading(method: str, path: str, body: Any) -> Said:
    return lambda api, reading: api.call(method, f"/readings/{reading}/{path}", body)


# What a person does in Check, by what it is called.
SAID: dict[str, Said] = {
    "drop": of_reading("post", "drop", {"positions": [1, 3, 7]}),
    "let in": of_reading("post", "drop", {"positions": [1], "dropped": False}),
    "edit": lambda api, reading: edit(api, reading, 1),
    "edit what reads differently": lambda api, reading: edit(api, reading, 7),
    "decide": of_reading("post", "items/5/decide", {"decision": {"kind": "points", "points": 3}}),
    "looked at": of_reading("post", "dismiss", {"code": "two-keys"}),
    "pool": of_reading("post", "pool", {"positions": [2, 3], "name": "Own"}),
    "pool below it": of_reading("post", "pool", {"positions": [3], "name": "More"}),
    "passage": of_reading("put", "passages/s1", {"content": "<p>A pit was dug in 1991.</p>"}),
    "another passage": of_reading("put", "passages/own", {"content": "<p>Of one's own.</p>"}),
    "take": of_reading("post", "take", {"which": "chosen", "positions": [4]}),
}
MEANWHILE = SAID | {"take all": of_reading("post", "take", {"which": "all"})} | {f"undo {n}": undo(n) for n in range(len(SAID))}
SHOWN = ("position", "text", "body", "points", "path", "put_into", "findings", "advice", "worst", "edited", "dropped", "taken_id")


def shown(reading: int) -> Any:
    """What Check shows of a reading."""
    whole = Reading.objects.get(pk=reading)
    return list(whole.items.values(*SHOWN)), whole.stimuli, whole.findings


def codes(item: dict[str, Any]) -> set[str]:
    return {finding["code"] for finding in item["findings"]}


@pytest.fixture
def said(api: Api, waiting: int) -> int:
    """A reading of which all was said; each changed it."""
    for name, say in SAID.items():
        before = shown(waiting)
        say(api, waiting)
        assert shown(waiting) != before, name
    return waiting


@pytest.mark.parametrize("name", MEANWHILE)
def test_what_is_said_while_a_source_is_read_counts_as_what_was_said_before(api, said, monkeypatch, name):
    """Between the new reading and the moment when it takes its place: by every way in which items are changed, and by undo."""
    point = transaction.savepoint()
    MEANWHILE[name](api, said)
    expected = shown(read_again(api, said))
    transaction.savepoint_rollback(point)

    prepare = Succession.prepare

    def prepared(self: Succession) -> None:
        prepare(self)
        MEANWHILE[name](api, said)

    monkeypatch.setattr(Succession, "prepare", prepared)
    assert shown(read_again(api, said)) == expected


def test_what_was_said_of_items_that_read_as_before_is_there_when_the_source_is_read_again(api, said):
    before, passages, _ = shown(said)
    after, passages_after, findings = shown(read_again(api, said))
    assert after[:6] == before[:6] and passages_after == passages
    # The last reads differently now: it waits, as it was read, and the change by hand is told with it.
    assert not after[6]["dropped"] and "large" in after[6]["body"]["choices"][1]["content"]
    assert "change-set-aside" in codes(after[6]) and not findings


@pytest.mark.parametrize(
    ("name", "told"),
    [("drop", "left-out-before"), ("edit what reads differently", "change-set-aside"), ("take all", "taken-before")],
)
def test_what_was_done_to_an_item_that_reads_differently_now_is_told_with_it(api, waiting, name, told):
    MEANWHILE[name](api, waiting)
    again = read_again(api, waiting)
    items = shown(again)[0]
    assert told in codes(items[6]) and not any(told in codes(item) for item in items[:6])
    # It stays told when the source is read again, until it reads differently once more.
    third = read_again(api, again, AGAIN.replace("Loam", "A loam"))
    assert told in codes(shown(third)[0][6])
    assert not any(told in codes(item) for item in shown(read_again(api, third, WHOLE))[0])


def test_one_that_was_found_wrong_in_a_sample_needs_a_look_until_it_is_settled(api, waiting):
    wrong = sample(api, waiting)
    api.ok("put", f"/readings/{waiting}/sample/{wrong}", {"right": False})
    again = read_again(api, waiting)
    assert "sample-wrong" in codes(shown(again)[0][wrong - 1])
    assert Reading.objects.get(pk=again).sample is None
    same = read_again(api, again)
    api.ok("post", f"/readings/{same}/items/{wrong}/decide", {"decision": {"kind": "key", "choice": 1}})
    assert "sample-wrong" not in codes(shown(same)[0][wrong - 1])


def test_a_reading_that_another_came_before_takes_nobodys_place(api, waiting, monkeypatch):
    source = Reading.objects.get(pk=waiting).source_id
    prepare = Succession.prepare

    def prepared(self: Succession) -> None:
        with monkeypatch.context() as once:
            once.setattr(Succession, "prepare", prepare)
            read_again(api, waiting)
        prepare(self)

    with monkeypatch.context() as then:
        then.setattr(Succession, "prepare", prepared)
        api.call("post", f"/sources/{source}/read", {"expected": 7})
    [there] = Reading.objects.filter(source=source, current=True)
    assert "large" in there.items.get(position=7).body["choices"][1]["content"]
    assert not ReadingItem.objects.filter(reading__source=source).exclude(reading__in=[waiting, there.pk]).exists()

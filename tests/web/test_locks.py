"""What keeps locks on writing short: whoever holds one goes first, and writes as much as the last time allows."""

from __future__ import annotations

import subprocess
import sys
import threading

import pytest
from django.db import connection, transaction

from rogatum.web.database import giving_way
from rogatum.web.database.giving_way import Precedence, precedence
from rogatum.web.database.holders import holder
from rogatum.web.database.steps import AIM, in_steps


def read_beside(order: Precedence) -> threading.Event:
    """A thread that reads; what is returned is set when it has gone on."""
    read = threading.Event()
    threading.Thread(target=lambda: (order.give_way("a reader"), read.set()), daemon=True).start()
    return read


def test_who_reads_goes_on_when_it_is_written(monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(giving_way, "LONGEST", 3600)
    order = Precedence()
    order.begin()
    order.take("a writer")
    order.give_way("a writer")  # does not wait for itself
    read = read_beside(order)
    order.give_up("another that wrote before")
    assert not read.wait(0.1)
    order.give_up("a writer")
    assert read.wait(60)


def test_a_long_transaction_is_not_waited_for() -> None:
    order = Precedence()
    order.begin()
    order.take("a writer that never ends")
    assert read_beside(order).wait(60)


def test_what_stops_all_threads_is_done_while_nobody_writes(monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(giving_way, "PATIENCE", 3600)
    order, done = Precedence(), threading.Event()
    order.begin()
    threading.Thread(target=lambda: order.between(done.set), daemon=True).start()
    assert not done.wait(0.1)
    order.take("a writer")
    assert not done.wait(0.1)
    order.give_up("a writer")
    assert done.wait(60)


@pytest.mark.django_db(transaction=True)
def test_every_way_out_of_a_transaction_lets_others_go_on(monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(giving_way, "LONGEST", 3600)
    with transaction.atomic():
        inside = read_beside(precedence)
        assert not inside.wait(0.1)
    assert inside.wait(60)
    with pytest.raises(ZeroDivisionError), transaction.atomic():
        _ = 1 / 0
    assert read_beside(precedence).wait(60)


@pytest.mark.django_db(transaction=True)
def test_long_locks_are_told_with_whose_they_are(settings, caplog):
    def write() -> str:
        caplog.clear()
        with transaction.atomic():
            pass
        return caplog.text

    token = holder.set("the job “Read soils”")
    assert write() == ""
    settings.LOCK_TOLD = 0
    assert "the job “Read soils”" in write()
    holder.reset(token)


def test_steps_are_as_large_as_the_last_one_allows() -> None:
    held, sizes = iter([0.0, 0.0, 0.0, 4 * AIM, AIM, AIM * 0.9, 0.0, 1000 * AIM, *([0.0] * 100)]), []
    for part in in_steps(range(600), 100):
        sizes.append(len(part))
        connection.held = next(held)
    assert sizes[:11] == [25, 50, 100, 100, 25, 25, 25, 50, 1, 2, 4] and sum(sizes) == 600


MAKING_TUPLES = """
import threading
from rogatum.web.database import turns

def tuples():
    for _ in range(5_000):
        tuple(number for number in range(50))
    ended.append(1)

turns.LOOK_EVERY, turns.ALL, ended = 0.0005, 0, []
turns.keep_locks_short()
kept = [[number] for number in range(15_000)]
threads = [threading.Thread(target=tuples) for _ in range(8)]
for thread in threads:
    thread.start()
for thread in threads:
    thread.join()
print(len(ended))
"""


def test_the_search_for_cycles_leaves_alone_what_threads_are_making() -> None:
    """A tuple that anybody else holds while it grows ends its thread with a SystemError."""
    told = subprocess.run([sys.executable, "-c", MAKING_TUPLES], capture_output=True, text=True, check=True, timeout=120)
    assert (told.stdout.strip(), told.stderr) == ("8", "")

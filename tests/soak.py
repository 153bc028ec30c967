"""Many people at once, with kills in between: `python -m tests.soak --people 30 --minutes 10`.

Each person has a course of their own, pastes tests, takes them, undoes, edits and hands on, as fast as the answers come. Every so
often the worker or the whole program is killed and started again. In the end what was done is counted against what is there.
"""

from __future__ import annotations

import argparse
import os
import random
import re
import subprocess
import sys
import tempfile
import threading
import time
from collections import Counter
from collections.abc import Iterator
from dataclasses import dataclass, field
from datetime import UTC, datetime
from pathlib import Path

from tests.running.program import Person, Program

TEXT = "1. Which is finest, {mark}?\n*a. clay\nb. sand\n\n2. Which gas, {mark}?\na. helium\n*b. oxygen\n\n3. Loam is {mark}.\nAnswer: True\n"


@dataclass
class Tally:
    done: Counter[str] = field(default_factory=Counter)
    faults: list[str] = field(default_factory=list)
    kills: list[datetime] = field(default_factory=list)
    lock: threading.Lock = field(default_factory=threading.Lock)

    def count(self, what: str) -> None:
        with self.lock:
            self.done[what] += 1

    def killed(self, what: str) -> None:
        self.kills.append(datetime.now(UTC).replace(tzinfo=None))
        self.count(f"{what} killed")

    def fault(self, what: str) -> None:
        with self.lock:
            self.faults.append(what)


def again(person: Person, method: str, path: str, body: object = None) -> object:
    """A call that waits while the program is down, and is told when it is busy. Only what changes nothing is asked again blindly."""
    while True:
        try:
            status, answer = person.call(method, path, body)
        except OSError:
            time.sleep(0.3)
            continue
        if status == 503:
            time.sleep(0.3)
            continue
        if status >= 500:
            raise AssertionError(f"{status} for {method} {path}: {answer}")
        return answer


def ended(person: Person, job: str) -> dict:
    """A job when it is done; one that a kill cut off is started again, as a person would."""
    while True:
        found = again(person, "GET", f"/jobs/{job}")
        if found["state"] == "done":
            return found
        if found["state"] == "failed":
            if "cut off" not in found["problem"]["fact"]:
                raise AssertionError(f"{found['label']}: {found['problem']}")
            again(person, "POST", f"/jobs/{job}/retry", {})
        time.sleep(0.05)


def asked(person: Person, path: str, body: object, named: str = "") -> str:
    """Starts a job once, even where the answer was lost in a kill: what then waits is found in the list, by what it is named."""
    before = {job["id"] for job in again(person, "GET", f"/courses/{person.course}/jobs")}
    while True:
        try:
            status, answer = person.call("POST", path, body)
            if status == 200:
                return str(answer["id"])
            if status < 500 or status == 503:
                raise AssertionError(f"{status}: {answer}") if status != 503 else OSError
            raise AssertionError(f"{status}: {answer}")
        except OSError:
            time.sleep(0.3)
            jobs = again(person, "GET", f"/courses/{person.course}/jobs")
            fresh = [job["id"] for job in jobs if job["id"] not in before and named in job["label"]]
            if fresh:
                return str(fresh[0])


def signed_in(program: Program, name: str) -> Person:
    """Those who are told to come again do, as the page does for people."""
    while True:
        try:
            return Person(program, name)
        except OSError:
            pass
        except AssertionError as told:
            if "signing in" not in str(told):
                raise
        time.sleep(0.5)


def live(name: str, program: Program, tally: Tally, stop: float) -> None:
    chance = random.Random(name)
    held = rounds = 0
    try:
        person = signed_in(program, name)
        while time.monotonic() < stop:
            rounds += 1
            mark = f"{name} {rounds}"
            reading = ended(person, asked(person, f"/courses/{person.course}/sources/paste", {"text": TEXT.format(mark=mark)}))[
                "result"
            ]["reading"]
            tally.count("read")
            taken = ended(person, asked(person, f"/readings/{reading}/take", {"which": "all"}))["result"]["taken"]
            held += taken
            tally.count("taken")
            if chance.random() < 0.3:
                item = again(person, "GET", f"/courses/{person.course}/items")["rows"][0]["id"]
                seen = again(person, "GET", f"/items/{item}")
                again(person, "PUT", f"/items/{item}", {"item": seen["item"] | {"title": mark}, "version": seen["version"]})
                tally.count("edited")
            if chance.random() < 0.2:
                ended(
                    person,
                    asked(person, f"/courses/{person.course}/handoffs", {"format": chance.choice(["gift", "qti-1.2", "docx"])}),
                )
                tally.count("handed on")
            again(person, "POST", f"/courses/{person.course}/sources/preview", {"text": TEXT.format(mark=mark)})
            tally.count("previewed")
            time.sleep(chance.random())
        there = again(person, "GET", f"/courses/{person.course}/items")["total"]
        if there != held:
            tally.fault(f"{name}: took {held} items and has {there}")
        sources = again(person, "GET", f"/courses/{person.course}/sources")
        if len(sources) != rounds or not all(source["reading"] for source in sources):
            tally.fault(f"{name}: pasted {rounds} and has {len(sources)}")
    except Exception as error:  # whatever ends a person's day is a fault
        tally.fault(f"{name}: {type(error).__name__}: {error}")


def share(name: str, others: list[str], program: Program, tally: Tally, stop: float) -> None:
    """Two editors of one course: they bring in, move, change, merge, delete and undo whatever they like, each over the other."""
    chance = random.Random(f"{name} of a pair")
    try:
        person = signed_in(program, name)
        for other in others:
            again(person, "POST", f"/courses/{person.course}/people", {"name": other, "role": "editor"})
        while len(courses := again(person, "GET", "/courses")) < 2 - len(others):
            time.sleep(0.3)
        person.course = min(entry["id"] for entry in courses)
        rounds = 0
        while time.monotonic() < stop:
            if rounds % 25 == 0:
                bring_in(person, f"{name} {rounds}", chance.choice([20, 300]))
            again(person, *chance.choice(_steps(person, chance)))  # what is refused is told, and no fault
            tally.count("done in one course by two")
            rounds += 1
            time.sleep(chance.random() / 2)
    except Exception as error:
        tally.fault(f"{name} in a pair: {type(error).__name__}: {error}")


def bring_in(person: Person, mark: str, blocks: int) -> None:
    """Three questions of each block, read and taken."""
    text = "\n".join(f"# Part {block}\n\n{TEXT.format(mark=f'{mark} {block}')}" for block in range(blocks))
    pasted = asked(person, f"/courses/{person.course}/sources/paste", {"text": text, "name": mark}, mark)
    reading = ended(person, pasted)["result"]["reading"]
    ended(person, asked(person, f"/readings/{reading}/take", {"which": "all"}, mark))


Step = tuple[str, str, object]


def _steps(person: Person, chance: random.Random) -> list[Step]:
    """What one of two can do to the course as it is now."""
    home = f"/courses/{person.course}"
    pools = [row["id"] for row in again(person, "GET", f"{home}/pools")]
    items = [row["id"] for row in again(person, "GET", f"{home}/items")["rows"]]
    quizzes = [row["id"] for row in again(person, "GET", f"{home}/quizzes")]
    mine = [entry["id"] for entry in again(person, "GET", f"{home}/operations") if not entry["undone"]]
    of_pool = {"pool": chance.choice(pools)} if pools else {}
    steps: list[Step] = [
        ("POST", f"{home}/pools", {"name": f"Pool {chance.randrange(40)}", "parent": chance.choice([None, *pools])}),
        ("POST", f"{home}/quizzes", {"title": f"Quiz {chance.randrange(40)}"}),
    ]
    steps += [("POST", f"/operations/{key}/undo?in_part={chance.choice(['true', 'false'])}", None) for key in mine[:3]]
    if items:
        some = {"ids": chance.sample(items, min(len(items), 5))}
        steps += [
            ("POST", f"{home}/items/move", {"selection": some, **of_pool}),
            ("POST", f"{home}/items/delete", some),
            ("POST", f"{home}/items/delete", {**of_pool, "all_matching": True}),
            ("POST", f"{home}/items/copy", {"selection": of_pool | {"all_matching": True}, "course": person.course, **of_pool}),
        ]
        steps += [("POST", f"/quizzes/{quiz}/items", {"items": some["ids"]}) for quiz in quizzes[:2]]
    for pool in chance.sample(pools, min(len(pools), 2)):
        steps += [
            ("PUT", f"/pools/{pool}/place", {"parent": chance.choice(pools)}),
            ("DELETE", f"/pools/{pool}", None),
            ("POST", f"{home}/pools/merge", {"pools": [pool], "into": chance.choice(pools)}),
            ("POST", f"{home}/pools/send", {"pools": [pool], "courses": [person.course], "people": [], "note": ""}),
        ]
    steps += [("DELETE", f"/quizzes/{quiz}", None) for quiz in quizzes[:1]]
    steps += [
        ("POST", f"{home}/quizzes/carry", {"course": person.course, "quizzes": [quiz], "pools": "copied"}) for quiz in quizzes[-1:]
    ]
    return steps


_HELD = re.compile(r"^(\S+ \S+?),\d+ held the lock on writing for ([\d.]+) s, ([\d.]+) of them at work: (.*)", re.M)
AIM = 0.2


def told_of_locks(log: Path, kills: list[datetime]) -> Iterator[str]:
    """How many kept others from writing for longer than is aimed at, and the longest: who it was, and how long behind a kill.

    What is started anew takes a processor for itself for some seconds.
    """
    held = [(float(match[2]), match[1], match[3], match[4]) for match in _HELD.finditer(log.read_text(errors="replace"))]
    held = [entry for entry in held if entry[3] != "a command"]
    yield f"over {AIM} s         {sum(1 for entry in held if entry[0] > AIM)}"
    for seconds, when, worked, who in sorted(held, reverse=True)[:5]:
        since = [round((datetime.fromisoformat(when) - kill).total_seconds()) for kill in kills]
        behind = min((gap for gap in since if gap >= 0), default=None)
        yield f"lock held          {seconds:.2f} s, {worked} at work: {who}" + (
            f" ({behind} s behind a kill)" if behind is not None else ""
        )


def kill_now_and_then(program: Program, tally: Tally, stop: float, every: float) -> None:
    chance = random.Random(1)
    while time.monotonic() < stop - every:
        time.sleep(every * (0.5 + chance.random()))
        worker = program.worker()
        if chance.random() < 0.7 and worker is not None:
            worker.kill()
            tally.killed("workers")
        else:
            program.server.kill()
            program.server.wait()
            tally.killed("programs")
            program.start()


def main() -> int:
    parser = argparse.ArgumentParser(description=__doc__)
    parser.add_argument("--people", type=int, default=30)
    parser.add_argument("--minutes", type=float, default=10)
    parser.add_argument("--kill-every", type=float, default=25, help="seconds, on average")
    options = parser.parse_args()
    names = [f"person{n}" for n in range(options.people)]
    pair = ["ada", "ben"]
    with tempfile.TemporaryDirectory() as folder:
        os.environ["ROGATUM_LOCK_TOLD"] = "0.1"
        log = Path(folder) / "told.log"
        log.touch()
        program = Program(Path(folder) / "data", names + pair, log)
        tally, stop = Tally(), time.monotonic() + options.minutes * 60
        threads = [threading.Thread(target=live, args=(name, program, tally, stop)) for name in names]
        threads.append(threading.Thread(target=share, args=(pair[0], pair[1:], program, tally, stop)))
        threads.append(threading.Thread(target=share, args=(pair[1], [], program, tally, stop)))
        threads.append(threading.Thread(target=kill_now_and_then, args=(program, tally, stop, options.kill_every)))
        for thread in threads:
            thread.start()
        for thread in threads:
            thread.join()
        program.stop()
        try:
            program.run("check")
        except subprocess.CalledProcessError:
            tally.fault("`check` found something in the data")
        locks = list(told_of_locks(log, tally.kills))
    for what, count in sorted(tally.done.items()):
        print(f"{what:18} {count}")
    for line in locks:
        print(line)
    print(f"faults             {len(tally.faults)}")
    for fault in tally.faults:
        print(f"    {fault}")
    return 1 if tally.faults else 0


if __name__ == "__main__":
    sys.exit(main())

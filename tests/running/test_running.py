"""What only shows while the program runs: kills, several workers, several tabs, long sources, deletions in between."""

from __future__ import annotations

import json
import os
import signal
import stat
from concurrent.futures import ThreadPoolExecutor

import psutil

from tests.running.program import Person, until

TEXT = "1. Which is finest{n}?\n*a. clay{n}\nb. sand\n\n2. Which gas{n}?\na. helium\n*b. oxygen{n}\n"


def long_source(count: int = 25_000) -> bytes:
    return "".join(f"::q{n}:: Which of these is number {n}? {{ =one{n} ~two{n} ~three }}\n\n" for n in range(count)).encode()


def read(person: Person, n: object, name: str = "") -> int:
    return int(person.ended(person.paste(TEXT.format(n=n), name))["result"]["reading"])


def all_ended(processes: list[psutil.Process]) -> bool:
    """Whether none of them does anything any more; where nobody collects the dead, they stay on the list."""
    return not [p for p in processes if p.is_running() and p.status() != psutil.STATUS_ZOMBIE]


def at_once(count: int, call) -> list:
    with ThreadPoolExecutor(count) as threads:
        return list(threads.map(lambda _n: call(), range(count)))


def test_of_four_undos_at_once_one_is_done_and_three_are_told(mara):
    mara.ok("POST", f"/courses/{mara.course}/pools", {"name": "Undone"})
    operation = mara.ok("GET", f"/courses/{mara.course}/operations")[0]["id"]
    answers = at_once(4, lambda: mara.call("POST", f"/operations/{operation}/undo", {}))
    assert sorted(status for status, _ in answers) == [200, 409, 409, 409]
    assert all("undone already" in answer["fact"] and answer["way_out"] for status, answer in answers if status == 409)


def test_of_eight_saves_over_one_version_one_is_kept(mara):
    reading = read(mara, "saves")
    path = f"/readings/{reading}/items/1"
    seen = mara.ok("GET", path)
    answers = at_once(8, lambda: mara.call("PUT", path, {"item": seen["item"] | {"stem": "Changed"}, "version": seen["version"]}))
    # One that says the same as what was saved changes nothing, and is of the version that is there now or of the one before.
    statuses = sorted(status for status, _ in answers)
    assert statuses.count(200) == 1 and statuses.count(412) == 7
    refused = next(answer for status, answer in answers if status == 412)
    assert refused["current"]["body"]["stem"] == "Changed" and refused["version"] == mara.ok("GET", path)["version"]


def test_with_two_workers_a_take_gives_each_item_once(program, mara):
    second = program.popen("work")
    try:
        reading = read(mara, "two workers")
        before = mara.items()
        jobs = at_once(6, lambda: mara.call("POST", f"/readings/{reading}/take", {"which": "all", "duplicates_too": True}))
        for status, job in jobs:
            if status == 200:
                mara.ended(str(job["id"]))
        assert mara.items() == before + 2
    finally:
        second.kill()
        second.wait()


def test_a_long_source_holds_up_neither_a_short_one_nor_a_preview_nor_a_take(mara):
    long = mara.upload("long.gift", long_source())
    until(lambda: mara.job(long)["state"] == "running")
    reading = read(mara, "short")
    assert mara.ok("POST", f"/courses/{mara.course}/sources/preview", {"text": TEXT.format(n="p")})["items"] == 2
    mara.ended(str(mara.ok("POST", f"/readings/{reading}/take", {"which": "all"})["id"]))
    assert mara.job(long)["state"] == "running", "the long one was to take longer than all of this"
    delete_source_of(mara, "long.gift")
    assert mara.ended(long)["state"] == "done"


def delete_source_of(person: Person, name: str) -> None:
    source = next(s for s in person.ok("GET", f"/courses/{person.course}/sources") if s["name"] == name)
    person.ok("DELETE", f"/sources/{source['id']}")


def test_a_source_that_is_put_away_while_it_is_read_is_there_when_it_comes_back(program, mara):
    job = mara.upload("gone.gift", long_source())
    until(lambda: mara.job(job)["state"] == "running")
    delete_source_of(mara, "gone.gift")
    assert mara.ended(job)["state"] == "done"
    assert not [s for s in mara.ok("GET", f"/courses/{mara.course}/sources") if s["name"] == "gone.gift"]
    until(lambda: not list((program.data / "scratch").iterdir()))
    last = mara.ok("GET", "/operations/last")["operation"]
    assert mara.call("POST", f"/operations/{last['id']}/undo", {})[0] == 200
    [back] = [s for s in mara.ok("GET", f"/courses/{mara.course}/sources") if s["name"] == "gone.gift"]
    assert back["reading"]


def test_a_pool_that_is_deleted_while_a_take_waits_is_told(program, mara):
    reading = read(mara, "pool")
    pool = mara.ok("POST", f"/courses/{mara.course}/pools", {"name": "To be deleted"})["id"]
    before = mara.items()
    program.worker().send_signal(signal.SIGSTOP)
    try:
        job = str(mara.ok("POST", f"/readings/{reading}/take", {"which": "all", "pool": pool})["id"])
        mara.ok("DELETE", f"/pools/{pool}")
    finally:
        program.worker().send_signal(signal.SIGCONT)
    failed = mara.ended(job)
    assert failed["state"] == "failed" and "deleted in the meantime" in failed["problem"]["fact"]
    assert mara.items() == before


def test_a_job_whose_worker_is_killed_is_dead_at_once_and_can_be_done_again(program, mara):
    job = mara.upload("killed.gift", long_source(6_000))
    until(lambda: mara.job(job)["state"] == "running")
    worker = program.worker()
    readers = until(lambda: len(found := worker.children(recursive=True)) >= 2 and found)
    worker.kill()
    failed = until(lambda: (found := mara.job(job))["state"] == "failed" and found)
    assert "cut off" in failed["problem"]["fact"]
    until(lambda: all_ended(readers))
    until(lambda: mara.ok("GET", "/worker")["running"])
    mara.ok("POST", f"/jobs/{job}/retry", {})
    assert mara.ended(job)["result"]["items"] == 6_000
    status, told = mara.call("POST", f"/jobs/{job}/retry", {})
    assert status == 409 and "done" in told["fact"] and told["way_out"]


def test_a_stopped_worker_is_no_dead_one(program, mara):
    """However long it says nothing: it holds its lock."""
    worker = program.worker()
    job = mara.upload("slow.gift", long_source(4_000))
    until(lambda: mara.job(job)["state"] == "running")
    worker.send_signal(signal.SIGSTOP)
    try:
        assert mara.job(job)["state"] == "running" and mara.ok("GET", "/worker")["running"]
    finally:
        worker.send_signal(signal.SIGCONT)
    assert mara.ended(job)["state"] == "done"


def test_after_a_kill_of_the_web_no_worker_and_no_reader_stays(program, mara):
    job = mara.upload("long.gift", long_source())
    until(lambda: mara.job(job)["state"] == "running")
    until(lambda: len(program.processes()) >= 4)  # the web, the worker, what it forks from, and what reads
    everything = program.processes()
    os.kill(program.server.pid, signal.SIGKILL)
    program.server.wait()
    until(lambda: all_ended(everything))
    program.start()
    assert Person(program, "mara").job(job)["state"] == "failed"


def test_what_it_writes_is_its_users_alone(program, mara):
    read(mara, "files")
    loose = [p for p in [program.data, *program.data.rglob("*")] if stat.S_IMODE(p.stat().st_mode) & 0o077]
    assert not loose


def test_knowing_a_hash_shows_nothing(program, mara):
    """A bank that names the picture of another account by its hash gets neither to see nor to replace it."""
    import hashlib  # noqa: PLC0415
    import io  # noqa: PLC0415
    import zipfile  # noqa: PLC0415

    def banked(picture: bytes, sha256: str) -> bytes:
        out = io.BytesIO()
        item = {"id": "q", "type": "essay", "stem": '<img src="media/p.png" alt="p"/>'}
        entry = {"ref": "media/p.png", "sha256": sha256, "size": len(picture), "type": "image/png"}
        with zipfile.ZipFile(out, "w") as archive:
            archive.writestr("items.json", json.dumps({"format": "rogatum-items/1", "items": [item], "media": [entry]}))
            archive.writestr("media/p.png", picture)
        return out.getvalue()

    secret = b"\x89PNG\r\n\x1a\n of Mara alone"
    sha = hashlib.sha256(secret).hexdigest()
    assert mara.ended(mara.upload("mine.zip", banked(secret, sha)))["state"] == "done"
    tobin = Person(program, "tobin")
    for declared in (sha, "../../../evil", "/tmp/evil"):
        assert tobin.ended(tobin.upload("theirs.zip", banked(b"\x89PNG other", declared)))["state"] == "done"
    assert tobin.call("GET", f"/courses/{tobin.course}/media/{sha}.png")[0] == 404
    with mara.opener.open(f"{mara.home}/courses/{mara.course}/media/{sha}.png") as kept:
        assert kept.read() == secret
    stored = [p for p in (program.data / "media").rglob("*") if p.is_file()]
    assert all(hashlib.sha256(p.read_bytes()).hexdigest() == p.name for p in stored)


def test_a_paste_named_after_a_folder_reads_only_itself(mara):
    for name in ("..", ".", "../sources", "/etc/passwd"):
        done = mara.ended(mara.paste(TEXT.format(n="name"), name))
        assert done["state"] == "done" and done["result"]["items"] == 2

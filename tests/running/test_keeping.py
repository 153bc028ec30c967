"""Backup, restore, check and accounts, as whoever runs the server asks for them, while the program runs and is used."""

from __future__ import annotations

import shutil
import sqlite3
import subprocess
import sys
import zipfile
from contextlib import closing

import pytest

from tests.running.program import ROOT, Person, Program

PAIR = "1. Which particle is the smallest?\na. sand\n*b. clay\n\n2. Loam holds sand.\nAnswer: True\n"


@pytest.fixture
def own(tmp_path):
    """A program that no other test uses: what it keeps is damaged and put back."""
    running = Program(tmp_path / "data", ["mara"])
    yield running
    running.stop()


def rogatum(program: Program, *words: str, typed: str = "") -> subprocess.CompletedProcess[str]:
    command = [sys.executable, "-c", "import sys; from rogatum.program import main; sys.exit(main())", *words]
    return subprocess.run(command, cwd=ROOT, env=program.environment, input=typed, capture_output=True, text=True, timeout=120)


def test_everything_is_backed_up_checked_and_put_back_while_it_runs(own, tmp_path):
    mara, target = Person(own, "mara"), tmp_path / "all.zip"
    reading = mara.ended(mara.paste(PAIR))["result"]["reading"]
    mara.ended(mara.ok("POST", f"/readings/{reading}/take", {"which": "all"})["id"])
    assert rogatum(own, "check").returncode == 0
    made = rogatum(own, "backup", str(target))
    assert made.returncode == 0, made.stderr
    assert {name.split("/")[0] for name in zipfile.ZipFile(target).namelist()} == {"rogatum.sqlite3", "sources"}

    pools = mara.ok("GET", f"/courses/{mara.course}/pools")
    for pool in pools:
        mara.ok("DELETE", f"/pools/{pool['id']}")
    stored = [path for path in (own.data / "sources").iterdir() if path.is_file()]
    stored[0].unlink()
    (own.data / "sources" / ("e" * 64)).write_bytes(b"left over")
    found = rogatum(own, "check", "--remove-orphans")
    assert found.returncode == 1 and "is missing" in found.stdout and "1 files that nothing names, removed" in found.stdout

    put_back = rogatum(own, "restore", str(target))
    assert put_back.returncode == 0, put_back.stderr
    assert "rogatum-before-" in put_back.stdout
    assert mara.ok("GET", f"/courses/{mara.course}/pools") == pools, "who is signed in goes on"
    sound = rogatum(own, "check")
    assert sound.returncode == 0 and "0 wrong" in sound.stdout
    assert mara.items() == 2
    assert mara.ended(mara.paste(PAIR.replace("Loam", "Peat")))["state"] == "done", "and the worker works"

    assert rogatum(own, "account", "add", "ines", typed="auger-and-rope-7\n").returncode == 0
    assert rogatum(own, "account", "password", "mara", typed="short\n").returncode == 1
    Person(own, "ines", "auger-and-rope-7")


def test_what_is_no_backup_changes_nothing(own, tmp_path):
    database = own.data / "rogatum.sqlite3"
    wrong = {"a text": b"nothing", "half a backup": b""}
    whole = tmp_path / "whole.zip"
    assert rogatum(own, "backup", str(whole)).returncode == 0
    wrong["half a backup"] = whole.read_bytes()[:-3000]
    with zipfile.ZipFile(tmp_path / "damaged.zip", "w") as archive:
        archive.writestr("rogatum.sqlite3", b"SQLite format 3\0 and no more")
    for name, data in wrong.items():
        (tmp_path / f"{name}.zip").write_bytes(data)
    for name in (*wrong, "damaged"):
        refused = rogatum(own, "restore", str(tmp_path / f"{name}.zip"))
        assert refused.returncode == 1 and "hoose another" in refused.stderr, (name, refused)
        assert "Traceback" not in refused.stderr
    assert database.exists() and not list(own.data.glob("rogatum-before-*"))
    assert Person(own, "mara").course


def damaged(program: Program) -> None:
    """A database with pages that hold nothing that could be."""
    path = program.data / "rogatum.sqlite3"
    with closing(sqlite3.connect(path)) as base:
        base.execute("PRAGMA wal_checkpoint(TRUNCATE)")
        table = "sources_readingitem"
        root = base.execute("SELECT rootpage FROM sqlite_master WHERE name = ?", (table,)).fetchone()[0]
        size = base.execute("PRAGMA page_size").fetchone()[0]
    data = bytearray(path.read_bytes())
    data[(root - 1) * size : root * size] = b"\xff" * size
    path.write_bytes(bytes(data))


def circle(program: Program, mara: Person) -> tuple[int, int]:
    """Two pools that lie in each other, as an older program let them."""
    a = mara.ok("POST", f"/courses/{mara.course}/pools", {"name": "A"})["id"]
    b = mara.ok("POST", f"/courses/{mara.course}/pools", {"name": "B", "parent": a})["id"]
    with closing(sqlite3.connect(program.data / "rogatum.sqlite3")) as base:
        sql = base.execute("SELECT sql FROM sqlite_master WHERE name = 'pools_pool_moved'").fetchone()[0]
        base.execute("DROP TRIGGER pools_pool_moved")
        base.execute("UPDATE pools_pool SET parent_id = ? WHERE id = ?", (b, a))
        base.execute(sql)
        base.commit()
    return a, b


def test_what_is_damaged_is_told_and_mended(own, tmp_path):
    """A circle of pools, a file that is missing, and a database that cannot be read whole."""
    mara, whole = Person(own, "mara"), tmp_path / "all.zip"
    mara.ended(mara.paste(PAIR))
    a, _ = circle(own, mara)
    pools = f"/courses/{mara.course}/pools"
    assert len(mara.ok("GET", pools)) == 2, "it is shown all the same"
    told = rogatum(own, "check")
    assert told.returncode == 1 and "The pool A lies in itself" in told.stdout
    assert rogatum(own, "check", "--mend").returncode == 0
    assert {pool["parent"] for pool in mara.ok("GET", pools)} == {None, a}
    assert rogatum(own, "backup", str(whole)).returncode == 0

    for path in (own.data / "sources").iterdir():
        path.unlink()
    made = rogatum(own, "backup", str(tmp_path / "lacking.zip"))
    assert made.returncode == 1 and "is missing" in made.stdout and (tmp_path / "lacking.zip").exists()

    own.stop()
    damaged(own)
    for words in (["check"], ["backup", str(tmp_path / "b.zip")], ["restore", str(whole)], ["serve", "--port", str(own.port)]):
        told = rogatum(own, *words)
        assert told.returncode == 1 and "damaged" in told.stdout + told.stderr, words
        assert "Traceback" not in told.stderr and "--over" in told.stdout + told.stderr
    shutil.copytree(own.data, tmp_path / "copy")
    over = rogatum(own, "restore", "--over", str(whole))
    assert over.returncode == 0 and "rogatum-damaged-" in over.stdout and rogatum(own, "check").returncode == 0
    own.environment = own.environment | {"ROGATUM_DATA": str(tmp_path / "copy")}
    mended = rogatum(own, "check", "--mend")
    assert "Saved" in mended.stdout and list((tmp_path / "copy").glob("rogatum-damaged-*"))
    own.start()
    assert len(Person(own, "mara").ok("GET", pools)) == 2

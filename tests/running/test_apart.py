"""What runs apart is held: by the clock, in memory, in what it writes, from the network; and it takes its children along."""

from __future__ import annotations

import socket
import subprocess
from pathlib import Path

import psutil
import pytest

from rogatum import apart
from rogatum.apart import Bounds, runner
from rogatum.core.errors import UnreadableSource
from rogatum.core.formats.shared import pandoc
from tests.running import hostile
from tests.running.program import until

MEBIBYTE = 1024 * 1024


@pytest.fixture
def source(tmp_path: Path) -> Path:
    path = tmp_path / "stored"
    path.write_text("".join(f"::q{n}:: Which is {n}? {{ =a{n} ~b }}\n\n" for n in range(20_000)))
    return path


@pytest.mark.parametrize(
    ("bounds", "why"),
    [
        (Bounds(seconds=0.5), "longer than 0.5 s"),
        (Bounds(memory=200 * MEBIBYTE), "memory"),
        (Bounds(output=20_000), "room"),
    ],
)
def test_what_exceeds_a_bound_is_ended_and_told(source, tmp_path, bounds, why):
    scratch = tmp_path / "scratch"
    with pytest.raises(UnreadableSource) as told, apart.read(source, "big.gift", scratch, bounds=bounds):
        pass
    assert why in told.value.what + told.value.why and told.value.way_out
    assert list(scratch.iterdir()) == []


def test_what_is_read_apart_is_what_is_read_here(tmp_path):
    path = tmp_path / ("0" * 64)
    path.write_bytes(
        pandoc.written(
            '<p>1. Which? <img src="p.png"/></p><p>*a. x</p><p>b. y</p>', "docx", "x", {"p.png": ("image/png", b"\x89PNG")}
        )
    )
    with apart.read(path, "..", tmp_path / "scratch") as reading:
        [entry] = reading.media.entries()
        assert reading.media.open(entry.ref).read() == b"\x89PNG"
        assert (
            reading.bank.source.name == ".."
            and len(reading.bank.items) == len({line.item for line in reading.view if line.item}) == 1
        )


def _started(target, port: int = 0):
    ours, theirs = runner._context.Pipe(duplex=False)
    process = runner._context.Process(target=target, args=(port, Bounds(), theirs), daemon=True)
    process.start()
    theirs.close()
    return process, ours.recv_bytes()


def test_what_runs_apart_has_no_network():
    if subprocess.run(["unshare", "-n", "true"], capture_output=True).returncode and subprocess.run(["unshare", "-rn", "true"], capture_output=True).returncode:  # fmt: skip
        pytest.skip("this system lets nobody leave its network")
    with socket.create_server(("127.0.0.1", 0)) as server:
        process, said = _started(hostile.calls_home, server.getsockname()[1])
        process.join()
    assert said == b"alone"


@pytest.mark.parametrize("kill", [lambda process: process.kill(), runner._end], ids=["killed from outside", "ended by us"])
def test_no_child_outlives_what_runs_apart(kill):
    process, said = _started(hostile.leaves_a_child)
    child = psutil.Process(int(said))
    kill(process)
    process.join()
    runner._end(process)
    until(lambda: not child.is_running() or child.status() == psutil.STATUS_ZOMBIE)

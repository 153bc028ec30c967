"""What a task could do that meant harm, for the tests of what holds it."""

from __future__ import annotations

import socket
import subprocess
import time
from multiprocessing.connection import Connection

from rogatum.apart.runner import Bounds, _confine


def calls_home(port: int, bounds: Bounds, say: Connection) -> None:
    _confine(bounds)
    try:
        socket.create_connection(("127.0.0.1", port), timeout=2).close()
        say.send_bytes(b"connected")
    except OSError:
        say.send_bytes(b"alone")


def leaves_a_child(_port: int, bounds: Bounds, say: Connection) -> None:
    _confine(bounds)
    child = subprocess.Popen(["sleep", "600"])
    say.send_bytes(str(child.pid).encode())
    time.sleep(600)

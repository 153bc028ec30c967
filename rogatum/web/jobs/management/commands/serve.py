"""`serve`: the web server and the worker together, until interrupted."""

from __future__ import annotations

import signal
import socket
import subprocess
import sys
import threading
import time
from typing import Any

import waitress
from django.core.management.base import BaseCommand, CommandError, CommandParser

from rogatum.web.jobs.services import bury_dead_jobs
from rogatum.web.wsgi import application


class Command(BaseCommand):
    help = "Serves the application and works off its jobs."

    def add_arguments(self, parser: CommandParser) -> None:
        parser.add_argument("--host", default="127.0.0.1")
        parser.add_argument("--port", type=int, default=8000)

    def handle(self, *args: Any, **options: Any) -> None:
        _check_port(options["host"], options["port"])
        bury_dead_jobs(everything=True)
        stopping = threading.Event()
        threading.Thread(target=_keep_worker, args=(stopping,), daemon=True).start()
        signal.signal(signal.SIGTERM, _interrupt)
        try:
            waitress.serve(
                application,
                host=options["host"],
                port=options["port"],
                threads=8,
                max_request_body_size=2048 * 1024 * 1024,
                ident="rogatum",
                _quiet=True,
            )
        except KeyboardInterrupt:
            pass
        finally:
            stopping.set()
            time.sleep(0.3)


def _check_port(host: str, port: int) -> None:
    """Says at once that a port is taken, before a worker is started for nothing."""
    with socket.socket() as probe:
        probe.setsockopt(socket.SOL_SOCKET, socket.SO_REUSEADDR, 1)
        try:
            probe.bind((host, port))
        except OSError:
            raise CommandError(f"Port {port} is taken by another program. Choose another: PORT={port + 1} make demo") from None


def _interrupt(_signal: int, _frame: Any) -> None:
    raise KeyboardInterrupt


def _keep_worker(stopping: threading.Event) -> None:
    """Runs the worker, and starts another when it dies; its unfinished jobs are marked as failed."""
    while not stopping.is_set():
        command = [
            sys.executable,
            "-m",
            "rogatum.web",
            "db_worker",
            "--interval",
            "0.2",
            "--no-startup-delay",
            "--no-reload",
        ]
        worker = subprocess.Popen(command)
        while worker.poll() is None and not stopping.is_set():
            time.sleep(0.2)
        if worker.poll() is None:
            worker.terminate()
            worker.wait(5)
        else:
            bury_dead_jobs(everything=True)
            time.sleep(1)

"""`serve`: the web server and the worker together, until interrupted. It brings an older database up to date first."""

from __future__ import annotations

import shutil
import signal
import socket
import subprocess
import sys
import threading
from pathlib import Path
from typing import Any

import waitress
from django.conf import settings
from django.core.management.base import BaseCommand, CommandError, CommandParser

from rogatum import apart
from rogatum.web.database.turns import keep_locks_short
from rogatum.web.jobs.liveness import any_lives
from rogatum.web.upgrading import bring_up_to_date
from rogatum.web.wsgi import application

# More than two accounts can have at work at once (`pacing.py`).
THREADS = 16


class Command(BaseCommand):
    help = "Serves the application and works off its jobs."

    def add_arguments(self, parser: CommandParser) -> None:
        parser.add_argument("--host", default="127.0.0.1")
        parser.add_argument("--port", type=int, default=8000)

    def handle(self, *args: Any, **options: Any) -> None:
        _check_port(options["host"], options["port"])
        settings.DATA.chmod(0o700)
        if told := bring_up_to_date():
            self.stdout.write(told)
        if not any_lives():
            # What a worker that was killed left half done; nobody is at it now.
            shutil.rmtree(settings.SCRATCH, ignore_errors=True)
        apart.warm_up()
        keep_locks_short()
        stopping = threading.Event()
        threading.Thread(target=_keep_worker, args=(stopping,), daemon=True).start()
        signal.signal(signal.SIGTERM, _interrupt)
        try:
            waitress.serve(application, host=options["host"], port=options["port"], **_server_options())
        except KeyboardInterrupt:
            pass
        finally:
            stopping.set()


def _server_options() -> dict[str, Any]:
    options: dict[str, Any] = {
        "threads": THREADS,
        "max_request_body_size": settings.LARGEST_UPLOAD,
        "channel_timeout": 60,
        # So that it is known when a client gave up.
        "channel_request_lookahead": 1,
        "ident": "rogatum",
        "_quiet": True,
    }
    if settings.TRUSTED_PROXY:
        headers = {"x-forwarded-for", "x-forwarded-proto", "x-forwarded-host"}
        options |= {
            "trusted_proxy": settings.TRUSTED_PROXY,
            "trusted_proxy_headers": headers,
            "clear_untrusted_proxy_headers": True,
        }
    return options


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
    """Runs the worker, and starts another when it dies. It ends when its input does, which is when this process ends."""
    command = [sys.executable, "-m", "rogatum.web", "work", "--while-input-lasts"]
    root = Path(__file__).resolve().parents[5]
    while not stopping.is_set():
        worker = subprocess.Popen(command, stdin=subprocess.PIPE, cwd=root)
        worker.wait()
        stopping.wait(1)

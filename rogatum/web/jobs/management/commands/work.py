"""`work`: works off jobs. `serve` starts one; several on one database agree."""

from __future__ import annotations

import os
import sys
import threading
from typing import Any

from django.core.management.base import BaseCommand, CommandParser

from rogatum.web.jobs.worker import work_off


class Command(BaseCommand):
    help = "Works off waiting jobs until interrupted."

    def add_arguments(self, parser: CommandParser) -> None:
        parser.add_argument("--while-input-lasts", action="store_true", help="end when standard input ends, as `serve` needs it")

    def handle(self, *args: Any, **options: Any) -> None:
        if options["while_input_lasts"]:
            threading.Thread(target=_end_with_input, daemon=True).start()
        work_off(threading.Event())


def _end_with_input() -> None:
    """Whoever started this holds the other end; the system closes it when that process ends, however it ends.

    It is read without Python's buffer, whose lock would turn any other end of this process into a fatal one.
    """
    while os.read(sys.stdin.fileno(), 4096):
        pass
    os._exit(0)

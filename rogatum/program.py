"""`rogatum`: the command line of the core, and beside it what the person who runs the server asks for."""

from __future__ import annotations

import os
import sys
from collections.abc import Sequence

from rogatum import cli

# What is asked of the server's data, and the command that does it.
SERVER = {"backup": "backup", "restore": "restore", "check": "verify", "account": "account", "serve": "serve"}


def main(arguments: Sequence[str] | None = None) -> int:
    """Runs a command and returns its exit status: 1 where something is wrong, as the core's command line has it."""
    words = list(sys.argv[1:] if arguments is None else arguments)
    if not words or words[0] not in SERVER:
        return cli.main(words)
    os.environ.setdefault("DJANGO_SETTINGS_MODULE", "rogatum.web.settings")
    from django.core.management import execute_from_command_line  # noqa: PLC0415 - reading a file needs no server

    execute_from_command_line(["rogatum", SERVER[words[0]], *words[1:]])
    return cli.DONE

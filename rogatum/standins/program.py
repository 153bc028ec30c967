"""The stand-ins as programs: given a file, they print what they hold now, what they say of it, and what they would not take.

`python -m rogatum.standins.program course-platform FILE --format F --sheet SHEET [--name NAME]`
"""

from __future__ import annotations

import argparse
import json
import sys
from collections.abc import Callable, Sequence
from pathlib import Path

from rogatum.core.receivers.sheet import Sheet, sheet_from_toml
from rogatum.standins.course_platform import import_file
from rogatum.standins.live_board import fill
from rogatum.standins.receiving import FileRefused, Received

PROGRAMS: dict[str, Callable[[bytes, str, str, Sheet], Received]] = {"course-platform": import_file, "live-board": fill}


def main(arguments: Sequence[str] | None = None) -> int:
    parser = argparse.ArgumentParser(prog="stand-in", description=__doc__)
    parser.add_argument("program", choices=sorted(PROGRAMS))
    parser.add_argument("file", type=Path)
    parser.add_argument("--format", required=True, dest="format_name")
    parser.add_argument("--sheet", required=True, type=Path)
    parser.add_argument("--name", help="what the file is called, where it lies under another name")
    said = parser.parse_args(arguments)
    sheet = sheet_from_toml(said.sheet.read_text(encoding="utf-8"))
    try:
        held = PROGRAMS[said.program](said.file.read_bytes(), said.name or said.file.name, said.format_name, sheet)
    except FileRefused as error:
        sys.stdout.write(json.dumps({"refused_file": str(error)}) + "\n")
        return 1
    answer = {"held": held.bank.model_dump(mode="json"), "report": held.report, "refused": held.refused}
    sys.stdout.write(json.dumps(answer) + "\n")
    return 0


if __name__ == "__main__":
    sys.exit(main())

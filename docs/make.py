"""Writes the pages that are made from the code: `python -m docs.make` (formats and findings)."""

from __future__ import annotations

from pathlib import Path

from rogatum.cli import formats_table
from rogatum.core.findings import CATALOGUE, LEVELS

HERE = Path(__file__).parent


def formats_page() -> str:
    return f"# Formats\n\nWhat each format carries, as `rogatum formats` prints it:\n\n{formats_table()}\n"


def findings_page() -> str:
    rows = ["| level | code | what | way out |", "| --- | --- | --- | --- |"]
    for kind in sorted(CATALOGUE.values(), key=lambda kind: (LEVELS.index(kind.level), kind.code)):
        rows.append(f"| {kind.level} | {kind.code} | {kind.why} | {kind.fix} |")
    return "# Findings\n\nCodes are never renamed or reused.\n\n" + "\n".join(rows) + "\n"


PAGES = {"formats.md": formats_page, "findings.md": findings_page}

if __name__ == "__main__":
    for name, page in PAGES.items():
        (HERE / name).write_text(page())

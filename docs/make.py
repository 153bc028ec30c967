"""Writes the pages that are made from the code: `python -m docs.make` (formats, findings, adding a type)."""

from __future__ import annotations

import importlib
import pkgutil
from pathlib import Path

import rogatum.core
from rogatum.cli import formats_table
from rogatum.core.finding import LEVELS
from rogatum.core.findings.catalogue import CATALOGUE
from rogatum.core.items.by_type import ByBlank, ByType

HERE = Path(__file__).parent


def formats_page() -> str:
    return f"# Formats\n\nWhat each format carries, as `rogatum formats` prints it:\n\n{formats_table()}\n"


def findings_page() -> str:
    rows = ["| level | code | what | way out | by | settled by |", "| --- | --- | --- | --- | --- | --- |"]
    for kind in sorted(CATALOGUE.values(), key=lambda kind: (LEVELS.index(kind.level), kind.code)):
        rows.append(f"| {kind.level} | {kind.code} | {kind.why} | {kind.fix} | {kind.by} | {kind.settled_by or ''} |")
    return "# Findings\n\nCodes are never renamed or reused.\n\n" + "\n".join(rows) + "\n"


def _tables() -> dict[str, list[str]]:
    """The questions of all tables by the file that they stand in."""
    found: dict[str, list[str]] = {}
    for entry in pkgutil.walk_packages(rogatum.core.__path__, "rogatum.core."):
        module = importlib.import_module(entry.name)
        tables = {id(value): value for value in vars(module).values() if isinstance(value, ByType | ByBlank)}
        own = [table.question for table in tables.values() if table.module == module.__name__]
        if own:
            found[module.__name__.replace(".", "/") + ".py"] = own
    return found


TYPE_PAGE = """# How to add a type of item

1. **The model**: a class in `rogatum/core/items/model.py` with its `type`, and its name in `ItemType` and in the union `Item`. A field of rich content is
   `Content`, alone, in a list or by a key: pictures, formulas, sanitising and formatting then reach it without another word.
2. **One entry in each table.** `make test` names the tables that lack it. They stand in these files, each entry being the answer to one question:

{tables}

3. **Its place in each format** that has one: its name in `carries.py`, and its reader. A format that does not name it leaves it out and says so, in the
   file and in the ledger.
4. **Its face**: `frontend/src/ui/ItemView.vue` and `ItemEditor.vue`, and `stages/quizzes/StudentItem.vue` where it is answered in a new way; its words come from the core.
5. A maker in `tests/core/strategies.py`: the properties then try it in every format that names it.
"""


def type_page() -> str:
    lines = [f"   - `{path}`: {'; '.join(questions)}" for path, questions in _tables().items()]
    return TYPE_PAGE.replace("{tables}", "\n".join(lines))


PAGES = {"formats.md": formats_page, "findings.md": findings_page, "adding-a-type.md": type_page}

if __name__ == "__main__":
    for name, page in PAGES.items():
        (HERE / name).write_text(page())

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


FORMATS_PAGE = """# Formats

What each format carries, as `rogatum formats` prints it:

{table}

## How an item marks

A key is behaviour: what a response earns. These fields of `rogatum-items/1` say it, beside the weights of choices and answers.

| field | of | meaning |
| --- | --- | --- |
| `scoring` | multiple response | `all_or_nothing`, or `per_choice`: the weights of what is picked add up |
| `scoring` | cloze, matching, ordering | `per_part`: each blank, pair or place earns its share; `all_or_nothing`: all of them together. An order is `all_or_nothing` where nothing is said, the others `per_part` |
| `lowest` | multiple response, cloze | the least share that a sum comes to: 0 where nothing is said, `null` for no bound |
| `share` | pairs of a matching | what the pair earns; absent where all earn the same |
| `case_sensitive` | fill-in, each text blank; a text answer | whether upper and lower case count; an answer may differ from its item or blank |
| `include_min`, `include_max` | numeric answers | `false` where the bound itself does not count |
| `relative` | numeric answers | the tolerance per cent of the value; `tolerance` is what it comes to |
| `figures`, `rounding` | numeric answers | a response is rounded to so many `significant` figures or `decimal` places before it is compared, halves upwards |
| `original`, `original_format` | any item whose source marks in a way that the model cannot hold | the source's own markup; the ledger of an export asks it, too |
| `media` | preserved items | the files that the original names, by their addresses there, each as content that shows it |

Every item that is read from QTI is proved: its probes go through the source's own processing and through the model. What differs is the finding
`marking-approximated`, with the responses that show it.

Where a format has no place:

- A **Common Cartridge** only sets scores from 0 to 100: choices that each earn a part become all or nothing, nothing goes below 0, rubrics are left out.
- **GIFT** marks a wrong pick of an all-or-nothing item with −100 %, and has no bounds that do not count.
- A **sheet** says the scoring of several choices in a column of its own, and numbers in words: "more than 3 to 5", "3.14 to 3 significant figures"; a tolerance per cent
  stands in the column *Tolerance*.
- **QTI 2.x and 3.0** have no switch for case in a pattern: it is written with each letter in both cases, and read back as it was.

What is written is held against schemas of our own, made from the standards' text (`tests/data/schemas`).
"""


def formats_page() -> str:
    return FORMATS_PAGE.replace("{table}", formats_table())


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

"""What goes to a receiver, as one folder: the file, and a page that says what to do there and what will be otherwise."""

from __future__ import annotations

import io
import json
import zipfile
from collections.abc import Sequence
from dataclasses import dataclass
from html import escape
from typing import Any

from rogatum.core.fidelity import SEVERITY, Ledger, Totals
from rogatum.core.formats import format_named
from rogatum.core.receivers.sheet import Sheet

# The list of what is in the folder, for programs.
CONTENTS = "contents.json"
EPOCH = (1980, 1, 1, 0, 0, 0)
_STYLE = """
body { font: 16px/1.5 Georgia, serif; color: #1d1a16; background: #fbf8f2; margin: 2.5rem auto; max-width: 46rem; padding: 0 1rem; }
h1 { font-size: 1.5rem; margin: 0 0 .25rem; } h2 { font-size: 1.1rem; margin: 1.8rem 0 .4rem; }
p, li { margin: .25rem 0; } table { border-collapse: collapse; width: 100%; font-size: .92rem; }
td, th { border-bottom: 1px solid #d9d2c4; padding: .3rem .6rem .3rem 0; text-align: left; vertical-align: top; }
.soft { color: #5d564a; } @media print { body { background: none; margin: 0; max-width: none; } tr { break-inside: avoid; } }
"""
_MARKS = {"same": "=", "recast": "≈", "changed": "≠", "lost": "∅", "added": "+"}


@dataclass(frozen=True)
class PackedFile:
    """A file of the folder, and what is in it, in words; `for_receiver` unless it is for who hands it on alone."""

    name: str
    data: bytes
    says: str
    for_receiver: bool = True


def packed(folder: str, files: Sequence[PackedFile], page: str) -> bytes:
    """The folder as a zip."""
    buffer = io.BytesIO()
    with zipfile.ZipFile(buffer, "w", zipfile.ZIP_DEFLATED) as archive:
        for name, data in [(entry.name, entry.data) for entry in files] + [("Read this first.html", page.encode())]:
            archive.writestr(zipfile.ZipInfo(f"{folder}/{name}", EPOCH), data, zipfile.ZIP_DEFLATED)
        about = {"files": [{"name": e.name, "says": e.says, "for_receiver": e.for_receiver} for e in files]}
        archive.writestr(zipfile.ZipInfo(f"{folder}/{CONTENTS}", EPOCH), json.dumps(about, indent=1), zipfile.ZIP_DEFLATED)
    return buffer.getvalue()


def files_of(data: bytes) -> list[tuple[str, bytes]]:
    """The files of a folder that were meant for the receiver, with their names."""
    with zipfile.ZipFile(io.BytesIO(data)) as archive:
        by_name = {info.filename.partition("/")[2]: info for info in archive.infolist()}
        # Folders that were packed before there was a file of contents tell them in the comment of the archive.
        said = archive.read(by_name[CONTENTS]) if CONTENTS in by_name else archive.comment
        return [(e["name"], archive.read(by_name[e["name"]])) for e in json.loads(said)["files"] if _is_for_receiver(e)]


def _is_for_receiver(entry: dict[str, Any]) -> bool:
    return bool(entry.get("for_receiver", " - to shorten" not in entry["name"]))


def steps_page(
    title: str,
    sheet: Sheet,
    format_name: str,
    files: Sequence[PackedFile],
    left_out: Sequence[tuple[str, str]],
    notes: Sequence[str],
) -> str:
    """The page that goes along: what is here, what to do there, and what did not come along, with why."""
    label = format_named(format_name).label
    here = "".join(f"<li><strong>{escape(entry.name)}</strong>: {escape(entry.says)}</li>" for entry in files)
    steps = "".join(f"<li>{escape(step)}</li>" for step in sheet.steps)
    told = [f"<h2>In this folder</h2><ul>{here}</ul>", f"<h2>What to do there</h2><ol>{steps}</ol>"]
    if notes:
        told.append("<h2>What will be otherwise there</h2><ul>" + "".join(f"<li>{escape(note)}</li>" for note in notes) + "</ul>")
    if left_out:
        rows = "".join(f"<tr><td>{escape(name)}</td><td>{escape(why)}</td></tr>" for name, why in left_out)
        told.append(f"<h2>Left out</h2><table>{rows}</table>")
    about = f'<p class="soft">For {escape(sheet.title)}, as {escape(label)}. {escape(sheet.about)}</p>'
    return _page(title, about + "".join(told))


def ledger_page(title: str, what: str, ledger: Ledger) -> str:
    """A ledger as a page to print: the sums, then each item and quiz that is not the same, with why."""
    items = sorted(ledger.items, key=lambda entry: -SEVERITY.index(entry.for_students))
    rows = [_ledger_row(entry.title, entry.facets, entry.notes) for entry in [*items, *ledger.quizzes]]
    told = "".join(row for row in rows if row)
    table = f"<table><tr><th>What</th><th>Verdicts</th><th>Why</th></tr>{told}</table>" if told else ""
    same = ledger.totals.same
    rest = f"<p>{same} {'item is' if same == 1 else 'items are'} the same in every facet.</p>" if same else ""
    seen = f"<p><strong>What students see and how it is marked: {_sums(ledger.for_students)}</strong></p>"
    return _page(title, f'<p class="soft">{escape(what)}</p>{seen}<p>What only you see: {_sums(ledger.for_you)}</p>{rest}{table}')


def _sums(totals: Totals) -> str:
    told = [f"{_MARKS[name]} {count} {name}" for name, count in totals.model_dump().items() if count]
    return escape(", ".join(told) or "no items")


def _ledger_row(title: str, facets: dict[str, str], notes: Sequence[object]) -> str:  # type: ignore[type-arg]
    differing = [(facet, verdict) for facet, verdict in facets.items() if verdict != "same"]
    if not differing:
        return ""
    gone = len(differing) == len(facets)
    marks = "∅ all of it" if gone else ", ".join(f"{_MARKS[verdict]} {facet.replace('_', ' ')}" for facet, verdict in differing)
    why = "<br>".join(escape(note.message) for note in notes)  # type: ignore[attr-defined]
    return f"<tr><td>{escape(title)}</td><td>{escape(marks)}</td><td>{why}</td></tr>"


def _page(title: str, body: str) -> str:
    head = f'<meta charset="utf-8"><title>{escape(title)}</title><style>{_STYLE}</style>'
    return f'<!doctype html><html lang="en"><head>{head}</head><body><h1>{escape(title)}</h1>{body}</body></html>'

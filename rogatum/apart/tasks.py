"""What runs apart: reading, looking at a text while it is typed, and writing. Files are handed in and out by paths of ours."""

from __future__ import annotations

import json
import shutil
from collections.abc import Callable
from dataclasses import asdict
from pathlib import Path
from typing import Any, BinaryIO

from rogatum.core.errors import UnreadableSource
from rogatum.core.exporting import export_bank
from rogatum.core.formats.print.formula_pictures import formula_pictures
from rogatum.core.formats.print.proof import write_proof
from rogatum.core.formats.shared.base import WriteOptions
from rogatum.core.formats.sheet.plain import rows_of
from rogatum.core.items import Bank, Media
from rogatum.core.preview import preview_text
from rogatum.core.receiving import read_keys, read_source
from rogatum.core.saved.admitting import admit_saved, head_of
from rogatum.core.sources import KeyLine, MediaBox, ReadOptions, SourceFile
from rogatum.core.sources.pictures import is_whole, smaller_picture

Progress = Callable[[int, int], None]
Task = Callable[[dict[str, Any], Progress], dict[str, Any]]


def _source(request: dict[str, Any]) -> SourceFile:
    path = Path(request["path"])
    if not path.exists():
        raise UnreadableSource(f"{request['name']} is no longer stored", "Its bytes are gone.", "Add it again.")
    return SourceFile(request["name"], path.stat().st_size, lambda: path.open("rb"))


def _opener(path: Path) -> Callable[[], BinaryIO]:
    return lambda: path.open("rb")


def read(request: dict[str, Any], progress: Progress) -> dict[str, Any]:
    """Reads a source; its bank and how it is shown lie in the folder, its media as files that are numbered in the bank's order."""
    said = request["options"]
    options = ReadOptions(
        key_habit=said["key_habit"],
        roles=said["roles"],
        columns=said["columns"],
        numbering=said["numbering"],
        lettering=said["lettering"],
        aside=said["aside"],
        key_lines=[KeyLine(**line) for line in said["key_lines"]],
    )
    reading = read_source(_source(request), request["format"], request["expected"], progress, options)
    folder = Path(request["folder"])
    for number, entry in enumerate(reading.bank.media):
        with reading.media.open(entry.ref) as stream, (folder / str(number)).open("wb") as target:
            shutil.copyfileobj(stream, target)
    (folder / "bank.json").write_text(reading.bank.model_dump_json())
    shown = {"view": [asdict(line) for line in reading.view], "columns": [asdict(column) for column in reading.columns]}
    shown["habits"] = [asdict(habit) for habit in reading.habits]
    (folder / "shown.json").write_text(json.dumps(shown))
    return {"items": len(reading.bank.items)}


def keys(request: dict[str, Any], _progress: Progress) -> dict[str, Any]:
    """The lines of a source that holds nothing but keys."""
    return {"lines": [(line.number, line.text) for line in read_keys(_source(request))]}


def preview(request: dict[str, Any], _progress: Progress) -> dict[str, Any]:
    return preview_text(request["text"], request["format"], request["roles"]).model_dump()


def _bank_of(request: dict[str, Any]) -> tuple[Bank, MediaBox]:
    """The bank that lies in the folder, with its media wherever they lie."""
    media = MediaBox()
    for entry in request["media"]:
        media.add_known(Media(**entry["media"]), _opener(Path(entry["path"])))
    return Bank.model_validate_json((Path(request["folder"]) / "bank.json").read_bytes()), media


def export(request: dict[str, Any], _progress: Progress) -> dict[str, Any]:
    """Writes the bank that lies in the folder; what was written lies there as `export`, its ledger as `ledger.json`."""
    folder, (bank, media) = Path(request["folder"]), _bank_of(request)
    before = Bank.model_validate_json((folder / "before.json").read_bytes()).items
    made = export_bank(bank, media, request["format"], WriteOptions(**request["options"]), before)
    (folder / "export").write_bytes(made.written.data)
    (folder / "ledger.json").write_text(made.ledger.model_dump_json())
    return {"suffix": made.written.suffix, "sound": made.ledger.sound}


def proof(request: dict[str, Any], _progress: Progress) -> dict[str, Any]:
    """Sets the bank that lies in the folder as pages to proof-read, as `export`."""
    bank, media = _bank_of(request)
    (Path(request["folder"]) / "export").write_bytes(write_proof(bank, media, request["with_key"]))
    return {}


def rows(request: dict[str, Any], _progress: Progress) -> dict[str, Any]:
    """The rows of a sheet as they stand."""
    with _source(request).opener() as stream:
        return {"rows": rows_of(stream.read(), request["name"])}


def formulas(request: dict[str, Any], _progress: Progress) -> dict[str, Any]:
    """A picture for each formula that can be set, as numbered files in the order of the answer."""
    made = formula_pictures(request["formulas"])
    for number, data in enumerate(made.values()):
        (Path(request["folder"]) / str(number)).write_bytes(data)
    return {"made": list(made)}


def smaller(request: dict[str, Any], _progress: Progress) -> dict[str, Any]:
    """A picture made smaller than so many bytes, as `export`; the answer says its kind, or that it cannot be."""
    made = smaller_picture(Path(request["path"]).read_bytes(), request["most"], request["kinds"])
    if made is None:
        return {"kind": ""}
    (Path(request["folder"]) / "export").write_bytes(made[0])
    return {"kind": made[1]}


def picture(request: dict[str, Any], _progress: Progress) -> dict[str, Any]:
    """Whether a picture can be decoded to its end."""
    return {"whole": is_whole(request["kind"], Path(request["path"]).read_bytes())}


def saved_head(request: dict[str, Any], _progress: Progress) -> dict[str, Any]:
    """What a saved course is called."""
    with Path(request["path"]).open("rb") as stream:
        return {"name": head_of(stream, request["name"]).name}


def saved_course(request: dict[str, Any], progress: Progress) -> dict[str, Any]:
    """Admits a saved course into the folder."""
    with Path(request["path"]).open("rb") as stream:
        return {"items": admit_saved(stream, request["name"], Path(request["folder"]), progress)}


TASKS: dict[str, Task] = {
    "formulas": formulas,
    "smaller": smaller,
    "read": read,
    "keys": keys,
    "preview": preview,
    "export": export,
    "proof": proof,
    "rows": rows,
    "picture": picture,
    "saved_head": saved_head,
    "saved_course": saved_course,
}

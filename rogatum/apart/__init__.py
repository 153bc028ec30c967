"""Work on what comes from outside, in processes of its own and within bounds. It sees the core and knows nothing of the web."""

from __future__ import annotations

import json
import tempfile
from collections.abc import Callable, Iterator, Mapping, Sequence
from contextlib import contextmanager
from dataclasses import asdict, dataclass
from pathlib import Path
from typing import Any, BinaryIO

from rogatum.apart.runner import Bounds, BrokeOff, NoLongerWanted, Progress, run, warm_up
from rogatum.core.fidelity import Ledger
from rogatum.core.formats import Reading
from rogatum.core.formats.shared.base import ColumnView, HabitView, ViewLine, WriteOptions
from rogatum.core.items import Bank, Item, Media
from rogatum.core.preview import Preview
from rogatum.core.sources import KeyLine, MediaBox, ReadOptions

__all__ = [
    "Bounds",
    "BrokeOff",
    "Exported",
    "NoLongerWanted",
    "export",
    "formula_pictures",
    "picture_is_whole",
    "preview",
    "proof",
    "read",
    "read_keys",
    "read_rows",
    "saved_course",
    "saved_head",
    "smaller_picture",
    "warm_up",
]

READING = Bounds(seconds=300)
# Somebody waits for these.
CORRECTING = Bounds(seconds=30)
PREVIEWING = Bounds(seconds=5, memory=1024 * 1024 * 1024)
Wanted = Callable[[], bool]
# The media of a bank by their refs, each with the path where it lies.
MediaFiles = Mapping[str, tuple[Media, Path]]


def _opener(path: Path) -> Callable[[], BinaryIO]:
    return lambda: path.open("rb")


@contextmanager
def read(
    path: Path,
    name: str,
    scratch: Path,
    format_name: str | None = None,
    expected: int | None = None,
    options: ReadOptions | None = None,
    progress: Progress | None = None,
    wanted: Wanted | None = None,
    bounds: Bounds = READING,
) -> Iterator[Reading]:
    """Reads the file at a path of ours under the name that a person knows. The reading's media last as long as the context.

    Raises UnreadableSource, NoLongerWanted and BrokeOff.
    """
    with _folder(scratch) as folder:
        request = {
            "path": str(path),
            "name": name,
            "folder": str(folder),
            "format": format_name,
            "expected": expected,
            "options": asdict(options or ReadOptions()),
        }
        run("read", request, name, bounds, progress, wanted)
        yield _reading(folder)


def _reading(folder: Path) -> Reading:
    bank = Bank.model_validate_json((folder / "bank.json").read_bytes())
    shown = json.loads((folder / "shown.json").read_bytes())
    media = MediaBox()
    for number, entry in enumerate(bank.media):
        media.add_known(entry, _opener(folder / str(number)))
    view = [ViewLine(**line) for line in shown["view"]]
    habits = [HabitView(**habit) for habit in shown["habits"]]
    return Reading(bank, media, view, [ColumnView(**column) for column in shown["columns"]], habits)


def read_keys(path: Path, name: str) -> list[KeyLine]:
    """The lines of a document that holds nothing but keys. Raises UnreadableSource where it is none."""
    answer = run("keys", {"path": str(path), "name": name}, name, CORRECTING)
    return [KeyLine(name, number, text) for number, text in answer["lines"]]


def read_rows(path: Path, name: str) -> list[list[str]]:
    """The rows of a sheet as they stand. Raises UnreadableSource."""
    found: list[list[str]] = run("rows", {"path": str(path), "name": name}, name, CORRECTING)["rows"]
    return found


def preview(text: str, format_name: str, roles: Mapping[str, str]) -> Preview:
    """What each line of a text would be read as. Raises UnreadableSource."""
    return Preview(**run("preview", {"text": text, "format": format_name, "roles": dict(roles)}, "This text", PREVIEWING))


@dataclass(frozen=True)
class Exported:
    """What was written, at a path that lasts as long as its context, with its usual suffix and its ledger."""

    path: Path
    suffix: str
    ledger: Ledger


@contextmanager
def export(
    bank: Bank,
    media: MediaFiles,
    format_name: str,
    options: WriteOptions,
    scratch: Path,
    wanted: Wanted | None = None,
    before: Sequence[Item] = (),
) -> Iterator[Exported]:
    """Writes a bank whose media lie at paths of ours; `before` as in `export_bank`. Raises as `read` does."""
    with _folder(scratch) as folder:
        (folder / "before.json").write_text(Bank(items=list(before)).model_dump_json(), encoding="utf-8")
        request = _handed_in(folder, bank, media) | {"format": format_name, "options": asdict(options)}
        answer = run("export", request, bank.title or "The hand-off", READING, wanted=wanted)
        ledger = Ledger.model_validate_json((folder / "ledger.json").read_bytes())
        yield Exported(folder / "export", answer["suffix"], ledger)


def formula_pictures(formulas: Sequence[str], scratch: Path) -> dict[str, bytes]:
    """A PNG for each TeX that can be set. Raises as `read` does."""
    with _folder(scratch) as folder:
        answer = run("formulas", {"formulas": list(formulas), "folder": str(folder)}, "These formulas", CORRECTING)
        return {tex: (folder / str(number)).read_bytes() for number, tex in enumerate(answer["made"])}


def smaller_picture(path: Path, most: int, kinds: Sequence[str], scratch: Path) -> tuple[bytes, str] | None:
    """The picture at a path as one of at most so many bytes, with its kind; None where it cannot be. Raises as `read` does."""
    with _folder(scratch) as folder:
        request = {"path": str(path), "most": most, "kinds": list(kinds), "folder": str(folder)}
        answer = run("smaller", request, "This picture", CORRECTING)
        return ((folder / "export").read_bytes(), answer["kind"]) if answer["kind"] else None


def proof(bank: Bank, media: MediaFiles, with_key: bool, scratch: Path) -> bytes:
    """A bank as pages to proof-read, in PDF. Raises as `read` does."""
    with _folder(scratch) as folder:
        run("proof", _handed_in(folder, bank, media) | {"with_key": with_key}, bank.title or "The proof", CORRECTING)
        return (folder / "export").read_bytes()


def picture_is_whole(path: Path, kind: str, name: str) -> bool:
    """Whether a picture can be decoded to its end. Raises as `read` does."""
    return bool(run("picture", {"path": str(path), "kind": kind}, name, PREVIEWING)["whole"])


def saved_head(path: Path, name: str) -> str:
    """What a saved course is called. Raises UnreadableSource for what is none."""
    return str(run("saved_head", {"path": str(path), "name": name}, name, CORRECTING)["name"])


@contextmanager
def saved_course(path: Path, name: str, scratch: Path, progress: Progress, wanted: Wanted) -> Iterator[Path]:
    """A folder with what a saved course says, admitted (`core.saved.admitting`). Raises as `read` does."""
    with _folder(scratch) as folder:
        run("saved_course", {"path": str(path), "name": name, "folder": str(folder)}, name, READING, progress, wanted)
        yield folder


def _handed_in(folder: Path, bank: Bank, media: MediaFiles) -> dict[str, Any]:
    """Puts a bank into the folder of a task; its media stay where they lie."""
    (folder / "bank.json").write_text(bank.model_dump_json())
    return {
        "folder": str(folder),
        "media": [{"media": entry.model_dump(), "path": str(path)} for entry, path in media.values()],
    }


@contextmanager
def _folder(scratch: Path) -> Iterator[Path]:
    scratch.mkdir(parents=True, exist_ok=True, mode=0o700)
    with tempfile.TemporaryDirectory(dir=scratch) as folder:
        yield Path(folder)

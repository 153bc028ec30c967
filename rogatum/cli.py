"""The command line. Exit status: 0 done, 1 something changed or was lost, 2 wrong words, 3 the source cannot be read."""

from __future__ import annotations

import argparse
import json
import sys
from collections.abc import Callable, Collection, Sequence
from pathlib import Path
from typing import Any, get_args

from rogatum.core.errors import RogatumError, UnknownFormat, UnknownReceiver, UnreadableSource
from rogatum.core.exporting import export_bank
from rogatum.core.fidelity import compare_readings
from rogatum.core.formats import FORMATS, format_named
from rogatum.core.formats.shared.base import EVERYTHING, Copy, WriteOptions
from rogatum.core.items import ItemType
from rogatum.core.quizzes.model import SETTINGS
from rogatum.core.quizzes.paper import Draws
from rogatum.core.receivers.choosing import best_format
from rogatum.core.receivers.forecast import forecast
from rogatum.core.receivers.sheet import MOST_BYTES, Sheet, sheet_from_toml
from rogatum.core.receivers.shipped import shipped_sheet
from rogatum.core.receivers.survey import Survey
from rogatum.core.receivers.telling import told_as_json
from rogatum.core.receiving import read_keys, read_source
from rogatum.core.sources import ReadOptions

DONE, DIFFERS, MISUSED, UNREADABLE = 0, 1, 2, 3


def main(arguments: Sequence[str] | None = None) -> int:
    """Runs the command line and returns its exit status."""
    options = _parser().parse_args(arguments)
    command: Callable[[argparse.Namespace], int] = options.run
    try:
        return command(options)
    except (UnknownFormat, UnknownReceiver) as error:
        print(f"rogatum: {error}", file=sys.stderr)
        return MISUSED
    except UnreadableSource as error:
        print(f"rogatum: {' '.join(str(error).split())}", file=sys.stderr)
        return UNREADABLE
    except (RogatumError, OSError) as error:
        print(f"rogatum: {error}", file=sys.stderr)
        return UNREADABLE


def _parser() -> argparse.ArgumentParser:
    parser = argparse.ArgumentParser(prog="rogatum", description=__doc__)
    commands = parser.add_subparsers(required=True, metavar="COMMAND")
    read = commands.add_parser("read", help="print the bank of a source as JSON")
    read.add_argument("source", type=Path)
    read.add_argument("--format", dest="format_name")
    read.add_argument("--expect", type=int, metavar="N", help="how many items it should be")
    read.add_argument("--keys", type=Path, metavar="FILE", help="a document that holds the keys of the source")
    read.set_defaults(run=_read)
    convert = commands.add_parser("convert", help="write a source in another format and print the ledger")
    convert.add_argument("source", type=Path)
    convert.add_argument("--to", required=True, dest="format_name")
    convert.add_argument("--out", required=True, type=Path)
    convert.add_argument("--format", dest="source_format")
    convert.add_argument("--receiver", metavar="NAME", help="say in the ledger what this receiver will make of it")
    convert.add_argument("--copy", default="teacher", choices=get_args(Copy), help="for whom a document is written")
    convert.add_argument("--versions", type=int, default=1, metavar="N", help="in how many versions a paper test is written")
    convert.add_argument("--draws", choices=get_args(Draws), help="what stands on paper of a quiz that draws")
    convert.add_argument("--seed", default="", help="what a set is drawn with")
    convert.set_defaults(run=_convert)
    comparison = commands.add_parser("compare", help="print the ledger of two sources, and which arrived more whole")
    comparison.add_argument("a", type=Path)
    comparison.add_argument("b", type=Path)
    comparison.set_defaults(run=_compare)
    told = commands.add_parser("forecast", help="print what receivers would keep, recast, change, lose and refuse")
    told.add_argument("source", type=Path)
    told.add_argument("--receiver", required=True, nargs="+", metavar="NAME", help="names of sheets that ship, or TOML files")
    told.add_argument("--to", dest="format_name", help="the format; without it the best that each receiver takes")
    told.add_argument("--format", dest="source_format")
    told.set_defaults(run=_forecast)
    formats = commands.add_parser("formats", help="print what each format carries")
    formats.set_defaults(run=_formats)
    return parser


def _print(text: str) -> None:
    sys.stdout.write(text + "\n")


def _read(options: argparse.Namespace) -> int:
    keys = read_keys(options.keys) if options.keys else []
    reading = read_source(options.source, options.format_name, options.expect, options=ReadOptions(key_lines=keys))
    _print(reading.bank.model_dump_json(indent=1))
    return DONE


def _convert(options: argparse.Namespace) -> int:
    reading = read_source(options.source, options.source_format)
    # A file that is read again keeps all items, unless a set is asked for.
    draws: Draws = options.draws or ("stock" if format_named(options.format_name).read else "drawn")
    made = WriteOptions(copy=options.copy, versions=options.versions, draws=draws, seed=options.seed)
    export = export_bank(reading.bank, reading.media, options.format_name, made)
    told = []
    if options.receiver:
        told = [told_as_json(forecast(reading.bank, _sheet(options.receiver), options.format_name, file_name=options.out.stem))]
    options.out.write_bytes(export.written.data)
    ledger = export.ledger.model_dump(mode="json")
    _print(json.dumps(ledger | ({"forecasts": told} if told else {}), indent=1, ensure_ascii=False))
    return DONE if export.ledger.sound and not any(map(_loses, told)) else DIFFERS


def _forecast(options: argparse.Namespace) -> int:
    reading = read_source(options.source, options.source_format)
    survey, found = Survey(reading.bank), []
    for sheet in map(_sheet, options.receiver):
        if options.format_name:
            made, why = forecast(reading.bank, sheet, format_named(options.format_name).name, survey), "It was asked for."
        else:
            made, why = best_format(reading.bank, sheet, survey)
        found.append(told_as_json(made) | {"format_because": why})
    _print(json.dumps({"forecasts": found}, indent=1, ensure_ascii=False))
    return DIFFERS if any(map(_loses, found)) else DONE


def _sheet(name: str) -> Sheet:
    """A sheet that ships, by its name, or a file."""
    path = Path(name)
    if not name.endswith(".toml"):
        return shipped_sheet(name)
    if not path.is_file():
        raise UnreadableSource(name, "There is no such file.", "Say where the sheet lies.")
    if path.stat().st_size > MOST_BYTES:
        raise UnreadableSource(name, "It is too large for a sheet.", "Shorten it.")
    return sheet_from_toml(path.read_text(encoding="utf-8", errors="replace"), name)


def _loses(told: dict[str, Any]) -> bool:
    return any(told["totals"][standing] for standing in ("changed", "lost", "refused"))


def _compare(options: argparse.Namespace) -> int:
    ledger = compare_readings(read_source(options.a).bank, read_source(options.b).bank)
    _print(ledger.model_dump_json(indent=1))
    return DONE if ledger.sound else DIFFERS


def _formats(_options: argparse.Namespace) -> int:
    _print(formats_table())
    return DONE


def formats_table() -> str:
    """The table of formats as Markdown, from the registry."""
    head = ["format", "read", "write", *EVERYTHING.traits(), "settings of quizzes", "feedback", "types"]
    rows = [head, ["---"] * len(head)]
    for entry in FORMATS:
        carries = entry.carries
        flags = [entry.read is not None, entry.write is not None, *carries.traits().values()]
        settings = _listed(carries.settings, len(SETTINGS))
        types = _listed(sorted(carries.types), len(get_args(ItemType)))
        feedback = ", ".join(sorted(carries.feedback)) or "–"
        rows.append([entry.name, *("yes" if flag else "–" for flag in flags), settings, feedback, types])
    return "\n".join("| " + " | ".join(row) + " |" for row in rows)


def _listed(names: Collection[str], all_of_them: int) -> str:
    if len(names) == all_of_them:
        return "all"
    return ", ".join(name.replace("_", " ") for name in names) or "–"


if __name__ == "__main__":
    sys.exit(main())

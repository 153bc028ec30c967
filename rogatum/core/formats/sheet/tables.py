"""Tables out of sheets: xlsx, ods, and text with delimiters in any encoding. Cells are texts; a place is a sheet and a row."""

from __future__ import annotations

import csv
import datetime
import io
from collections.abc import Iterable
from dataclasses import dataclass, field

import openpyxl
from odf import opendocument, table, teletype

from rogatum.core.errors import UnreadableSource
from rogatum.core.findings import Finding
from rogatum.core.sources import DAMAGE, decode_text

DELIMITERS = ",;\t|"
MOST_ROWS, MOST_COLUMNS = 50_000, 200


@dataclass
class Table:
    """The rows of one sheet, from its first row on; `emphasised` are cells in bold or colour, as (row, column)."""

    name: str
    rows: list[list[str]]
    emphasised: set[tuple[int, int]] = field(default_factory=set)


def cell_text(value: object) -> str:
    """A cell's value as a person sees it: 3 and not 3.0, TRUE as True."""
    if value is None:
        return ""
    if isinstance(value, float) and value == int(value):
        return str(int(value))
    if isinstance(value, datetime.datetime) and value.time() == datetime.time():
        return value.date().isoformat()
    return str(value).replace("\r\n", "\n").strip()


def xlsx_tables(data: bytes, name: str) -> tuple[list[Table], list[str]]:
    """The sheets of a workbook that are shown, and what is said of the others. Raises UnreadableSource."""
    try:
        book = openpyxl.load_workbook(io.BytesIO(data), data_only=True)
    except (*DAMAGE, KeyError, TypeError, AttributeError, OSError) as error:
        why = f"It is damaged or protected ({str(error)[:60]})."
        raise UnreadableSource(f"{name} is a workbook", why, "Save it again without a password.") from None
    found, left = [], []
    for sheet in book.worksheets:
        if sheet.sheet_state != "visible" or (sheet.max_row or 0) > MOST_ROWS:
            why = "hidden" if sheet.sheet_state != "visible" else f"longer than {MOST_ROWS} rows"
            left.append(f"The sheet {sheet.title} is {why} and was not read.")
            continue
        rows, emphasised = [], set()
        for r, row in enumerate(sheet.iter_rows(max_col=min(sheet.max_column or 1, MOST_COLUMNS))):
            rows.append([cell_text(cell.value) for cell in row])
            for c, cell in enumerate(row):
                if cell.value is not None and (cell.font.b or cell.fill.fill_type == "solid"):
                    emphasised.add((r, c))
        found.append(Table(sheet.title, rows, emphasised))
    return found, left


def ods_tables(data: bytes, name: str) -> list[Table]:
    """The sheets of an OpenDocument spreadsheet. Raises UnreadableSource."""
    try:
        document = opendocument.load(io.BytesIO(data))
    except Exception as error:  # noqa: BLE001 - the library lets whatever its parser meets through
        why = f"It is damaged or protected ({str(error)[:60]})."
        raise UnreadableSource(f"{name} is a spreadsheet", why, "Save it again without a password.") from None
    found = []
    for sheet in document.spreadsheet.getElementsByType(table.Table):
        rows = []
        for row in sheet.getElementsByType(table.TableRow):
            repeated = int(row.getAttribute("numberrowsrepeated") or 1)
            cells: list[str] = []
            for cell in row.getElementsByType(table.TableCell):
                times = int(cell.getAttribute("numbercolumnsrepeated") or 1)
                text = "\n".join(teletype.extractText(part) for part in cell.childNodes).strip()
                cells += [text] * min(times, MOST_COLUMNS - len(cells) if text else 1 if times > 50 else times)
            while cells and not cells[-1]:
                cells.pop()
            rows += [cells] * (min(repeated, 1 if not cells else repeated))
        found.append(Table(str(sheet.getAttribute("name") or "Sheet"), rows))
    return found


def delimiter_of(text: str) -> str:
    """The delimiter by which most lines have the same number of cells; empty where there is none."""
    best, most = "", 0.0
    for delimiter in DELIMITERS:
        counts = [len(row) for row in _parsed(text[:20_000], delimiter) if row]
        if not counts or max(counts) < 2:
            continue
        common = max(set(counts), key=counts.count)
        score = counts.count(common) / len(counts) * min(common, 6) if common > 1 else 0.0
        if score > most:
            best, most = delimiter, score
    return best


def _parsed(text: str, delimiter: str) -> Iterable[list[str]]:
    try:
        return list(csv.reader(io.StringIO(text), delimiter=delimiter, skipinitialspace=True))
    except csv.Error:
        return []


def text_tables(data: bytes, name: str) -> tuple[list[Table], list[Finding]]:
    """One table of text with delimiters. Raises UnreadableSource."""
    text, findings = decode_text(data, name)
    first, _, rest = text.partition("\n")
    if first.lower().startswith("sep=") and len(first) == 5:
        rows = _parsed(rest, first[4])
    else:
        rows = _parsed(text, delimiter_of(text) or ",")
    return [Table("", [[cell.strip() for cell in row] for row in rows])], findings

"""Tables out of sheets: xlsx, ods, and text with delimiters in any encoding. Cells are texts; a place is a sheet and a row."""

from __future__ import annotations

import csv
import datetime
import io
import math
import warnings
import zipfile
from collections.abc import Iterable
from dataclasses import dataclass, field
from typing import Any

import openpyxl
from lxml import etree

from rogatum.core.errors import UnreadableSource
from rogatum.core.finding import Finding
from rogatum.core.formats.shared.colours import is_coloured, is_tinted
from rogatum.core.sources import DAMAGE_OF_BYTES, decode_text
from rogatum.core.sources.bounds import MOST_ROWS
from rogatum.core.sources.xml import parser

DELIMITERS = ",;\t|"
MOST_COLUMNS = 200
warnings.filterwarnings("ignore", module="openpyxl")  # what it says of styles is of no use to anyone here
# Rows without anything part tables; more of them than this part them no better.
MOST_EMPTY = 200


@dataclass
class Table:
    """The rows of one sheet, from its first row on; `emphasised` are cells in bold or colour, as (row, column)."""

    name: str
    rows: list[list[str]]
    emphasised: set[tuple[int, int]] = field(default_factory=set)


def cell_text(value: object, number_format: str = "") -> str:
    """A cell's value as a person sees it: 3 and not 3.0, TRUE as True, 0.05 in a format of per cent as 5%."""
    if value is None:
        return ""
    if "%" in number_format and isinstance(value, int | float) and not isinstance(value, bool):
        return f"{round(value * 100, 10):.12g}%"
    if isinstance(value, float) and math.isfinite(value) and value == int(value):
        return str(int(value))
    if isinstance(value, datetime.datetime) and value.time() == datetime.time():
        return value.date().isoformat()
    return str(value).replace("\r\n", "\n").strip()


def xlsx_tables(data: bytes, name: str) -> tuple[list[Table], list[str]]:
    """The sheets of a workbook that are shown, and what is said of the others. Raises UnreadableSource."""
    try:
        return _sheets_of(data)
    except (MemoryError, UnreadableSource):
        raise
    except Exception as error:  # noqa: BLE001 - the library lets whatever it meets in a damaged file through
        why = f"It is damaged or protected ({str(error)[:60]})."
        raise UnreadableSource(f"{name} is a workbook", why, "Save it again without a password.") from None


def _sheets_of(data: bytes) -> tuple[list[Table], list[str]]:
    book = openpyxl.load_workbook(io.BytesIO(data), data_only=True, read_only=True)
    found, left = [], []
    for sheet in book.worksheets:
        if sheet.sheet_state != "visible":
            left.append(f"The sheet {sheet.title} is hidden and was not read.")
            continue
        found.append(_table_of(sheet))
    return found, left


def _table_of(sheet: Any) -> Table:
    """A sheet without the empty rows and columns around what it holds: one stray cell far out makes none of them."""
    rows: list[list[str]] = []
    emphasised = set()
    empty = 0
    # What a sheet says of its own size is not always so.
    sheet.reset_dimensions()
    for whole in sheet.iter_rows():
        row = whole[:MOST_COLUMNS]
        cells = [cell_text(cell.value, getattr(cell, "number_format", "")) for cell in row]
        while cells and not cells[-1]:
            cells.pop()
        if not cells:
            empty += 1
            continue
        rows += [[] for _ in range(min(empty, MOST_EMPTY))]
        empty = 0
        emphasised |= {(len(rows), c) for c, cell in enumerate(row) if cell.value is not None and _stands_out(cell)}
        rows.append(cells)
    width = max(map(len, rows), default=0)
    return Table(sheet.title, [row + [""] * (width - len(row)) for row in rows], emphasised)


def _stands_out(cell: Any) -> bool:
    return bool(cell.font and cell.font.b) or bool(cell.fill and cell.fill.fill_type == "solid")


_OFFICE = "urn:oasis:names:tc:opendocument:xmlns:office:1.0"
_TABLE = "{urn:oasis:names:tc:opendocument:xmlns:table:1.0}"
_STYLE = "{urn:oasis:names:tc:opendocument:xmlns:style:1.0}"
_FO = "{urn:oasis:names:tc:opendocument:xmlns:xsl-fo-compatible:1.0}"
_TEXT = "{urn:oasis:names:tc:opendocument:xmlns:text:1.0}"


def ods_tables(data: bytes, name: str) -> list[Table]:
    """The sheets of an OpenDocument spreadsheet (ODF 1.3, part 3, 9). Raises UnreadableSource."""
    try:
        with zipfile.ZipFile(io.BytesIO(data)) as archive:
            root = etree.fromstring(archive.read("content.xml"), parser(huge=True))
    except (*DAMAGE_OF_BYTES, KeyError, RuntimeError, etree.XMLSyntaxError) as error:
        why = f"It is damaged or protected ({str(error)[:60]})."
        raise UnreadableSource(f"{name} is a spreadsheet", why, "Save it again without a password.") from None
    shown = _ods_styles_that_stand_out(root)
    return [_ods_table(sheet, shown) for sheet in root.iter(f"{_TABLE}table")]


def _ods_styles_that_stand_out(root: etree._Element) -> frozenset[str]:
    """The styles of cells that are in bold or colour."""
    found = set()
    for style in root.iter(f"{_STYLE}style"):
        said = {str(name): str(value) for part in style for name, value in part.attrib.items()}
        bold = said.get(f"{_FO}font-weight") == "bold"
        if bold or is_coloured(said.get(f"{_FO}color", "")) or is_tinted(said.get(f"{_FO}background-color", "")):
            found.add(style.get(f"{_STYLE}name", ""))
    return frozenset(found)


def _ods_table(sheet: etree._Element, shown: frozenset[str]) -> Table:
    rows: list[list[str]] = []
    emphasised = set()
    for row in sheet.iter(f"{_TABLE}table-row"):
        cells: list[str] = []
        for cell in row.iterchildren(f"{_TABLE}table-cell", f"{_TABLE}covered-table-cell"):
            times = min(_times(cell, "number-columns-repeated"), MOST_COLUMNS - len(cells))
            text = _ods_text(cell)
            if text and cell.get(f"{_TABLE}style-name") in shown:
                emphasised |= {(len(rows), len(cells) + n) for n in range(times)}
            cells += [text] * times
        while cells and not cells[-1]:
            cells.pop()
        rows += [cells] * (min(_times(row, "number-rows-repeated"), MOST_ROWS - len(rows)) if cells else 1)
    return Table(sheet.get(f"{_TABLE}name") or "Sheet", rows, emphasised)


def _ods_text(cell: etree._Element) -> str:
    return "\n".join(_ods_paragraph(paragraph) for paragraph in cell.iterchildren(f"{_TEXT}p", f"{_TEXT}h")).strip()


def _ods_paragraph(paragraph: etree._Element) -> str:
    """A paragraph's text, with the spaces, tabs and line breaks that have elements of their own."""
    found = paragraph.text or ""
    for part in paragraph.iterchildren("*"):
        if part.tag == f"{_TEXT}s":
            found += " " * min(_times(part, "c", _TEXT), 1000)
        elif part.tag == f"{_TEXT}tab":
            found += "\t"
        elif part.tag == f"{_TEXT}line-break":
            found += "\n"
        elif part.tag != f"{{{_OFFICE}}}annotation":
            found += _ods_paragraph(part)
        found += part.tail or ""
    return found


def _times(part: etree._Element, attribute: str, namespace: str = _TABLE) -> int:
    """How often a cell, a row or a space stands there; a damaged number is once."""
    said = part.get(namespace + attribute) or "1"
    return max(1, int(said)) if said.isascii() and said.isdigit() and len(said) < 9 else 1


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

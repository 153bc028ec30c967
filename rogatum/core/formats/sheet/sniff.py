"""Tells sheets: a workbook by what its archive holds, a text by headings of questions."""

from __future__ import annotations

import io
import zipfile

from rogatum.core.errors import UnreadableSource
from rogatum.core.formats.sheet.columns import by_content, by_headings
from rogatum.core.formats.sheet.tables import delimiter_of, text_tables
from rogatum.core.sources import DAMAGE, SourceTree, decode_text, looks_like_text


def kind_of(tree: SourceTree) -> str:
    """xlsx, ods or text, by what the file holds."""
    file = tree.only()
    if file.head(4).startswith(b"PK"):
        try:
            with zipfile.ZipFile(io.BytesIO(file.read())) as archive:
                names = archive.namelist()
                if "xl/workbook.xml" in names:
                    return "xlsx"
                if "mimetype" in names and b"spreadsheet" in archive.read("mimetype"):
                    return "ods"
        except (UnreadableSource, RuntimeError, *DAMAGE):
            return ""
        return ""
    return "text" if looks_like_text(file.head()) else ""


def looks_like_sheet(tree: SourceTree) -> float:
    """A workbook, or text whose first rows are headings of questions."""
    if not tree.lone:
        return 0.0
    kind = kind_of(tree)
    if kind in ("xlsx", "ods"):
        return 0.99
    if kind != "text":
        return 0.0
    try:
        text = decode_text(tree.only().head(20_000), tree.name)[0]
    except UnreadableSource:
        return 0.0
    delimiter = delimiter_of(text)
    if not delimiter:
        return 0.0
    tables, _ = text_tables(text.encode(), tree.name)
    if any(by_headings(row).usable for row in tables[0].rows[:3]):
        return 0.85
    rows = tables[0].rows
    told = by_content(rows)
    if "key" in told.by_meaning and len(told.choices) >= 2 and len(rows) >= 2 and _are_wide(rows) and not _is_indented(rows):
        return 0.5
    named = tree.only().path.lower().endswith((".csv", ".tsv"))
    return 0.4 if named and max(map(len, rows), default=0) > 2 else 0.0


def _are_wide(rows: list[list[str]]) -> bool:
    """Whether most rows have as many cells as a question with its choices and key: else tabs stand behind labels."""
    filled = [sum(map(bool, row)) for row in rows if any(row)]
    return sum(count > 3 for count in filled) >= 0.6 * len(filled)


def _is_indented(rows: list[list[str]]) -> bool:
    """Whether many rows begin with an empty cell: lines of a text that tabs indent, and no rows of questions."""
    filled = [row for row in rows if any(row)]
    return sum(not row[0] for row in filled) > 0.3 * len(filled)

"""The rows of a sheet as they stand, for what is pasted otherwise: outcomes, feedback by number, a list of keys."""

from __future__ import annotations

from rogatum.core.formats.sheet.tables import Table, ods_tables, text_tables, xlsx_tables

_ZIP = b"PK\x03\x04"
_ODS = b"opendocument.spreadsheet"
MOST_ROWS = 5000


def rows_of(data: bytes, name: str) -> list[list[str]]:
    """The rows of the first sheet that has any, without empty ones. Raises UnreadableSource."""
    tables = _tables(data, name)
    rows = next((table.rows for table in tables if any(map(any, table.rows))), [])
    return [[" ".join(cell.split()) for cell in row] for row in rows if any(row)][:MOST_ROWS]


def _tables(data: bytes, name: str) -> list[Table]:
    if not data.startswith(_ZIP):
        return text_tables(data, name)[0]
    return ods_tables(data, name) if _ODS in data[:200] else xlsx_tables(data, name)[0]

"""Sheets: xlsx, ods, csv and tsv; written as xlsx."""

from rogatum.core.formats.shared.base import Format
from rogatum.core.formats.sheet.carries import CARRIES
from rogatum.core.formats.sheet.read import read_sheet
from rogatum.core.formats.sheet.sniff import looks_like_sheet
from rogatum.core.formats.sheet.write import write_sheet

FORMAT = Format(
    name="sheet",
    label="Sheet",
    suffix=".xlsx",
    sniff=looks_like_sheet,
    read=read_sheet,
    write=write_sheet,
    carries=CARRIES,
)

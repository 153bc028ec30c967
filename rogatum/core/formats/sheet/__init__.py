"""Sheets: xlsx, ods, csv and tsv; written as xlsx."""

from rogatum.core.formats.base import Carries, Format
from rogatum.core.formats.sheet.read import looks_like_sheet, read_sheet
from rogatum.core.formats.sheet.write import write_sheet

FORMAT = Format(
    name="sheet",
    label="Sheet",
    suffix=".xlsx",
    sniff=looks_like_sheet,
    read=read_sheet,
    write=write_sheet,
    carries=Carries(
        types=frozenset({"multiple_choice", "multiple_response", "true_false", "fill_in", "numeric", "essay", "information"}),
        points=True,
        feedback=frozenset({"general", "correct", "incorrect", "choice"}),
        formulas=True,
        metadata=True,
        titles=True,
        all_or_nothing=True,
        sample_answer=True,
    ),
)

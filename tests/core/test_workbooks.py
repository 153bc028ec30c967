"""Workbooks and text with delimiters as containers: sheets that are hidden, cells of all kinds, delimiters of all habits."""

from __future__ import annotations

import datetime
import io

import openpyxl
import pytest
from openpyxl.styles import Font

from rogatum.core.errors import UnreadableSource
from rogatum.core.formats.sheet.tables import cell_text, delimiter_of
from rogatum.core.receiving import read_source
from tests.core.plain import key_of

HEAD = ("Question", "A", "B", "Answer")
ROWS = (("Which is fine?", "sand", "clay", "B"), ("Which is coarse?", "sand", "clay", "A"))


def workbook(*sheets: tuple[str, str, tuple[tuple[object, ...], ...]]) -> bytes:
    """Sheets as (title, state, rows)."""
    book, out = openpyxl.Workbook(), io.BytesIO()
    book.remove(book.active)
    for title, state, rows in sheets:
        sheet = book.create_sheet(title)
        sheet.sheet_state = state
        for row in rows:
            sheet.append(row)
    book.save(out)
    return out.getvalue()


def test_a_hidden_sheet_is_not_read_and_that_is_said():
    data = workbook(("Shown", "visible", (HEAD, ROWS[0])), ("Old", "hidden", (HEAD, ROWS[1])))
    bank = read_source(("bank.xlsx", data)).bank
    assert [item.stem for item in bank.items] == ["Which is fine?"]
    assert [entry.text for entry in bank.accounting.unclaimed] == ["The sheet Old is hidden and was not read."]


def test_sheets_are_pools_only_where_there_are_several():
    one = read_source(("bank.xlsx", workbook(("Texture", "visible", (HEAD, *ROWS))))).bank
    two = read_source(("bank.xlsx", workbook(("Texture", "visible", (HEAD, ROWS[0])), ("Water", "visible", (HEAD, ROWS[1]))))).bank
    assert not one.pools and [pool.path for pool in two.pools] == [["Texture"], ["Water"]]


@pytest.mark.parametrize(
    ("value", "text"),
    [
        (None, ""),
        (3.0, "3"),
        (2.5, "2.5"),
        (True, "True"),
        (datetime.datetime(2026, 9, 1), "2026-09-01"),
        (datetime.datetime(2026, 9, 1, 8, 30), "2026-09-01 08:30:00"),
        ("  one\r\ntwo ", "one\ntwo"),
    ],
)
def test_cells_are_as_a_person_sees_them(value, text):
    assert cell_text(value) == text


def test_numbers_and_truth_in_cells_are_keys_and_points():
    rows = (("Question", "Type", "Answer", "Points"), ("Loam holds sand.", "TF", True, 2), ("How much?", "numeric", 25.0, 1.5))
    first, second = read_source(("bank.xlsx", workbook(("S", "visible", rows)))).bank.items
    assert (first.type, key_of(first), first.points) == ("true_false", True, 2)
    assert (second.type, key_of(second), second.points) == ("numeric", [(25, 25)], 1.5)


def test_bold_choices_in_a_sheet_are_the_key():
    book, out = openpyxl.Workbook(), io.BytesIO()
    for row in (("Question", "A", "B"), ("Which is fine?", "sand", "clay"), ("Which is coarse?", "sand", "clay")):
        book.active.append(row)
    for cell in ("C2", "B3"):
        book.active[cell].font = Font(bold=True)
    book.save(out)
    assert [key_of(item) for item in read_source(("bank.xlsx", out.getvalue())).bank.items] == [["clay"], ["sand"]]


def test_a_column_in_bold_is_only_a_column():
    book, out = openpyxl.Workbook(), io.BytesIO()
    book.active.append(("Question", "A", "B"))
    for number in range(5):
        book.active.append((f"Which is number {number}?", "sand", "clay"))
        book.active.cell(number + 2, 2).font = Font(bold=True)
    book.save(out)
    bank = read_source(("bank.xlsx", out.getvalue())).bank
    assert [key_of(item) for item in bank.items] == [[]] * 5
    assert {finding.item for finding in bank.findings if finding.code == "no-key"} == {item.id for item in bank.items}


@pytest.mark.parametrize("delimiter", [",", ";", "\t", "|"])
def test_delimiters(delimiter):
    text = "\n".join(delimiter.join(row) for row in (HEAD, *ROWS))
    assert delimiter_of(text) == delimiter
    assert [key_of(item) for item in read_source(("bank.csv", text.encode())).bank.items] == [["clay"], ["sand"]]


def test_a_delimiter_that_the_first_line_names():
    text = "sep=;\n" + "\n".join(";".join(row) for row in (HEAD, *ROWS))
    assert [key_of(item) for item in read_source(("bank.csv", text.encode()), "sheet").bank.items] == [["clay"], ["sand"]]


def test_quoted_cells_hold_delimiters_quotes_and_line_ends():
    text = 'Question,A,B,Answer\n"Which, of ""these"",\nis fine?",sand,"clay, wet",B\n'
    [item] = read_source(("bank.csv", text.encode())).bank.items
    assert "Which, of" in item.stem and "these" in item.stem and key_of(item) == ["clay, wet"]


@pytest.mark.parametrize("name", ["xlsx", "ods"])
def test_a_workbook_that_is_damaged_is_refused_with_a_way_out(name):
    whole = workbook(("S", "visible", (HEAD, *ROWS)))
    with pytest.raises(UnreadableSource) as refused:
        read_source((f"bank.{name}", whole[:300] + whole[500:]), "sheet")
    assert refused.value.way_out

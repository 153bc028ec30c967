"""Workbooks and text with delimiters as containers: sheets that are hidden, cells of all kinds, delimiters of all habits."""

from __future__ import annotations

import datetime
import io
import zipfile

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


def test_per_cent_is_as_a_person_sees_it():
    book, out = openpyxl.Workbook(), io.BytesIO()
    for row in (("Question", "A", "B", "Key"), ("Which share is pores?", 0.05, 0.5, "B"), ("Which is less?", 0.055, 0.5, "A")):
        book.active.append(row)
    for cell in (c for row in book.active["B2:C3"] for c in row):
        cell.number_format = "0.0%"
    book.save(out)
    items = read_source(("bank.xlsx", out.getvalue())).bank.items
    assert [[choice.content for choice in item.choices] for item in items] == [["5%", "50%"], ["5.5%", "50%"]]


ODS = """<office:document-content xmlns:office="urn:oasis:names:tc:opendocument:xmlns:office:1.0"
 xmlns:style="urn:oasis:names:tc:opendocument:xmlns:style:1.0" xmlns:fo="urn:oasis:names:tc:opendocument:xmlns:xsl-fo-compatible:1.0"
 xmlns:table="urn:oasis:names:tc:opendocument:xmlns:table:1.0" xmlns:text="urn:oasis:names:tc:opendocument:xmlns:text:1.0">
<office:automatic-styles><style:style style:name="key" style:family="table-cell">{style}</style:style></office:automatic-styles>
<office:body><office:spreadsheet><table:table table:name="S">{rows}</table:table></office:spreadsheet></office:body></office:document-content>"""
SHOWN = {
    "bold": '<style:text-properties fo:font-weight="bold"/>',
    "coloured": '<style:text-properties fo:color="#c00000"/>',
    "filled": '<style:table-cell-properties fo:background-color="#ffff00"/>',
}


@pytest.mark.parametrize("style", SHOWN.values(), ids=SHOWN)
def test_cells_that_stand_out_in_an_opendocument_sheet_are_the_key(style):
    def row(texts, key=""):
        styles = [' table:style-name="key"' if text == key else "" for text in texts]
        cells = (f"<table:table-cell{s}><text:p>{text}</text:p></table:table-cell>" for s, text in zip(styles, texts, strict=True))
        return f"<table:table-row>{''.join(cells)}</table:table-row>"

    markup = row(HEAD[:3]) + row(ROWS[0][:3], "clay") + row(ROWS[1][:3], "sand")
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w") as archive:
        archive.writestr("mimetype", "application/vnd.oasis.opendocument.spreadsheet")
        archive.writestr("content.xml", ODS.format(style=style, rows=markup))
    assert [key_of(item) for item in read_source(("bank.ods", out.getvalue())).bank.items] == [["clay"], ["sand"]]

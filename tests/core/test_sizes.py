"""What is too large is said before the work, and what only looks large is read."""

from __future__ import annotations

import io
import zipfile

import openpyxl
import pytest

from rogatum.core.errors import UnreadableSource
from rogatum.core.formats.shared import pandoc
from rogatum.core.receiving import read_source
from tests.core.paces import is_bounded


def refused(name: str, data: bytes) -> UnreadableSource:
    told: list[UnreadableSource] = []

    def read() -> None:
        with pytest.raises(UnreadableSource) as refusal:
            read_source((name, data))
        told.append(refusal.value)

    assert is_bounded(read)
    assert told[0].way_out
    return told[0]


def with_member(data: bytes, member: str, change) -> bytes:
    out = io.BytesIO()
    with zipfile.ZipFile(io.BytesIO(data)) as archive, zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as copy:
        for info in archive.infolist():
            content = archive.read(info)
            copy.writestr(info.filename, change(content) if info.filename == member else content)
    return out.getvalue()


def workbook(*cells: tuple[str, str]) -> bytes:
    book, out = openpyxl.Workbook(), io.BytesIO()
    for place, text in [("A1", "Question"), ("B1", "A"), ("C1", "B"), ("D1", "Answer"), ("A2", "Which is finest?"), ("B2", "sand"), ("C2", "clay"), ("D2", "B"), *cells]:  # fmt: skip
        book.active[place] = text
    book.save(out)
    return out.getvalue()


def test_a_million_empty_rows_are_told_at_once():
    rows = b"".join(b'<row r="%d"/>' % n for n in range(3, 1_000_001))
    data = with_member(workbook(), "xl/worksheets/sheet1.xml", lambda xml: xml.replace(b"</sheetData>", rows + b"</sheetData>"))
    assert "rows" in refused("bank.xlsx", data).what


def test_400_000_paragraphs_are_told_at_once():
    made = pandoc.written("<p>1. Which?</p>", "docx", "x", {})
    more = b"<w:p><w:r><w:t>x</w:t></w:r></w:p>" * 400_000
    data = with_member(made, "word/document.xml", lambda xml: xml.replace(b"<w:body>", b"<w:body>" + more))
    assert "paragraphs" in refused("test.docx", data).what
    assert "lines" in refused("test.txt", b"a line\n" * 400_000).what
    assert "paragraphs" in refused("test.html", b"<html><body>" + b"<p>x</p>" * 400_000).what
    assert "paragraphs" in refused("test.rtf", b"{\\rtf1 " + b"x\\par " * 400_000 + b"}").what


@pytest.mark.parametrize("place", ["XFD1", "XFD2", "A1048576", "XFD1048576", "GR40"])
def test_a_stray_cell_far_out_costs_no_item(place):
    bank = read_source(("bank.xlsx", workbook((place, "x")))).bank
    assert [item.stem for item in bank.items][:1] == ["Which is finest?"]


def test_6_000_archives_in_one_are_told_at_once():
    inner, out = io.BytesIO(), io.BytesIO()
    with zipfile.ZipFile(inner, "w") as archive:
        archive.writestr("a.txt", "1. Which?\n*a. x\nb. y\n")
    with zipfile.ZipFile(out, "w") as archive:
        for number in range(6000):
            archive.writestr(f"{number}.zip", inner.getvalue())
    assert "6000 archives" in refused("all.zip", out.getvalue()).why


def test_archives_are_counted_at_all_depths():
    def archive_of(names: list[str], content: bytes) -> bytes:
        out = io.BytesIO()
        with zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as archive:
            for name in names:
                archive.writestr(name, content)
        return out.getvalue()

    inner = archive_of(["a.txt"], b"1. Which?\n*a. x\nb. y\n")
    middle = archive_of([f"{n}.zip" for n in range(100)], inner)
    assert "archives" in refused("all.zip", archive_of([f"{n}.zip" for n in range(10)], middle)).why


def test_a_document_that_swells_is_told_at_once():
    made = pandoc.written("<p>1. Which?</p>", "docx", "x", {})
    data = with_member(made, "word/document.xml", lambda _xml: b"<w:document>" + b" " * (400 << 20))
    assert "unpacked" in refused("test.docx", data).what


@pytest.mark.parametrize("text", ["1. What " + " " * 9_000, "1. What " + " " * 100_000, "1. What?\na) x" + "\t" * 100_000 + "b) y", "(" * 100_000, "1. " + "_ " * 50_000, "Answer: " + "i," * 50_000, "<" * 100_000])  # fmt: skip
@pytest.mark.parametrize("format_name", ["marked-text", "gift"])
def test_one_long_line_holds_nothing_up(text, format_name):
    def read() -> None:
        try:
            read_source(("x.txt", text.encode()), format_name)
        except UnreadableSource as told:
            assert told.way_out

    assert is_bounded(read)

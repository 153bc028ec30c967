"""Word-processor files as they lie on disks: pictures within them, passwords and damage, old kinds by their names."""

from __future__ import annotations

import io
import re
import zipfile

import pytest

from rogatum.core.errors import UnreadableSource
from rogatum.core.formats.shared import pandoc
from rogatum.core.receiving import read_source
from tests.core.plain import key_of

PNG = bytes.fromhex(
    "89504e470d0a1a0a0000000d49484452000000010000000108060000001f15c4890000000d49444154789c6360606060000000050001"
    "a5f645400000000049454e44ae426082"
)
PAGE = "<p>1. What is shown? <img src=\"pit.png\" alt='a pit'></p><p>a. a pit</p><p>b. a core</p><p>Answer: A</p>"


def made(kind: str, page: str = PAGE) -> bytes:
    return pandoc.written(page, kind, "x", {"pit.png": ("image/png", PNG)})


@pytest.mark.parametrize("kind", ["docx", "odt", "rtf"])
def test_pictures_within_a_document_come_along(kind):
    reading = read_source((f"test.{kind}", made(kind)))
    [item] = reading.bank.items
    [ref] = re.findall(r'src="([^"]+)"', item.stem)
    assert reading.media.entry(ref).type == "image/png"
    with reading.media.open(ref) as stream:
        assert stream.read() == PNG
    assert key_of(item) == ["a pit"]


@pytest.mark.parametrize("kind", ["docx", "odt"])
def test_a_picture_that_is_named_and_not_there_is_queried(kind):
    before, out = zipfile.ZipFile(io.BytesIO(made(kind))), io.BytesIO()
    with zipfile.ZipFile(out, "w") as after:
        for name in before.namelist():
            if not name.endswith(".png"):
                after.writestr(name, before.read(name))
    bank = read_source((f"test.{kind}", out.getvalue())).bank
    missing = [finding for finding in bank.findings if finding.code == "media-missing"]
    assert len(missing) == 1 and ".png" in missing[0].message and len(bank.items) == 1


@pytest.mark.parametrize(("kind", "inner"), [("docx", "word/document.xml"), ("odt", "content.xml")])
def test_a_document_cut_short_or_broken_within_is_refused_with_a_way_out(kind, inner):
    whole, out = made(kind), io.BytesIO()
    with zipfile.ZipFile(io.BytesIO(whole)) as before, zipfile.ZipFile(out, "w") as after:
        for name in before.namelist():
            after.writestr(name, before.read(name)[:200] if name == inner else before.read(name))
    for data in (whole[: len(whole) // 2], out.getvalue()):
        with pytest.raises(UnreadableSource) as refused:
            read_source((f"test.{kind}", data), kind)
        assert refused.value.way_out


OLD = {
    "an old Word file": (b"\xd0\xcf\x11\xe0\xa1\xb1\x1a\xe1" + bytes(600), ".docx"),
    "a PDF": (b"%PDF-1.7\n" + bytes(200), ""),
    "a picture": (PNG, ""),
}


@pytest.mark.parametrize("name", OLD)
def test_kinds_that_hold_no_text_are_named_for_what_they_are(name):
    data, way_out = OLD[name]
    with pytest.raises(UnreadableSource) as refused:
        read_source(("test.doc", data))
    assert refused.value.what.startswith("test.doc is") and way_out in refused.value.way_out


def test_a_table_that_lays_questions_out_and_one_that_belongs_to_a_stem():
    data = "<table><tr><td>Core</td><td>Mass</td></tr><tr><td>P</td><td>150 g</td></tr></table>"
    page = f"<p>1. Two cores were weighed:</p>{data}<p>Which is heavier?</p><p>*a. P</p><p>b. Q</p>"
    [item] = read_source(("test.docx", made("docx", page))).bank.items
    assert "<table>" in item.stem and item.stem.index("weighed") < item.stem.index("<table>") < item.stem.index("heavier")


HTML = {
    "definition list": ("<dl><dt>1. Which?</dt><dd>*a. clay</dd><dd>b. sand</dd></dl>", ["clay"]),
    "line block by breaks": ("<p>1. Which?<br>*a. clay<br>b. sand</p>", ["clay"]),
    "choices in a quote": ("<p>1. Which?</p><blockquote><p>*a. clay</p><p>b. sand</p></blockquote>", ["clay"]),
    "choices in code": ("<p>1. Which?</p><pre>*a. clay\nb. sand</pre>", ["clay"]),
    "divisions": ("<div><div>1. Which?</div><div>*a. clay</div><div>b. sand</div></div>", ["clay"]),
    "a link around a choice": ("<p>1. Which?</p><p>*a. <a href='https://example.org'>clay</a></p><p>b. sand</p>", ["clay"]),
    "quotation marks": ("<p>1. Which is <q>fat</q>?</p><p>*a. <q>clay</q></p><p>b. sand</p>", ["“clay”"]),
    "tick boxes": ("<p>1. Which?</p><ul><li>☒ clay</li><li>☐ sand</li></ul>", ["clay"]),
    "figure": ("<p>1. Which?</p><figure><p>*a. clay</p><figcaption>b. sand</figcaption></figure>", ["clay"]),
}


@pytest.mark.parametrize("name", HTML)
def test_what_pages_are_made_of(name):
    page, key = HTML[name]
    items = read_source(("test.html", f"<html><body>{page}</body></html>".encode())).bank.items
    assert [(len(item.choices), [re.sub("<[^>]+>", "", text) for text in key_of(item)]) for item in items] == [(2, key)]


def test_code_in_a_stem_keeps_its_lines():
    page = "<p>1. What does it print?</p><pre>for n in x:\n    print(n)</pre><p>*a. all</p><p>b. none</p>"
    [item] = read_source(("test.html", page.encode())).bank.items
    assert "<pre>for n in x:\n    print(n)</pre>" in item.stem


def test_how_a_document_looks_is_shown_beside_its_items():
    page = "<p>1. Which is <b>not</b> fine? <img src=\"pit.png\" alt='a pit'></p><p>a. <mark>sand</mark></p><p>b. clay</p>"
    view = read_source(("test.docx", made("docx", page))).view
    assert "<strong>not</strong>" in view[0].html and '<img src="media/' in view[0].html
    assert "<mark>sand</mark>" in view[1].html and view[2].html == ""


LISTS = {
    "with a table of lists": r"\ls1\ilvl0{\listtext\pard\plain 1.\tab}",
    "without a table of lists": r"\pard\ls1\ilvl0 {\listtext 1.\tab}",
    "in the old way": r"\pard {\pntext 1.\tab}{\*\pn\pnlvlbody\pndec{\pntxta .}}",
}


@pytest.mark.parametrize("name", LISTS)
def test_rtf_lists_are_numbered_as_they_are_shown(name):
    label = LISTS[name]

    def lines(number: int, stem: str, *choices: str) -> str:
        rows = [label.replace("1.", f"{number}.") + stem]
        rows += [
            label.replace("1.", f"{letter}.").replace("ilvl0", "ilvl1") + text for letter, text in zip("ab", choices, strict=True)
        ]
        return r"\par ".join(rows) + r"\par "

    text = (
        "{\\rtf1\\ansi "
        + lines(4, "Which is fine?", "sand", "clay")
        + lines(5, "Which is coarse?", "sand", "clay")
        + "Answers: 4. b 5. a\\par}"
    )
    bank = read_source(("test.rtf", text.encode())).bank
    assert [(item.stem, key_of(item)) for item in bank.items] == [("Which is fine?", ["clay"]), ("Which is coarse?", ["sand"])]
    assert not [finding for finding in bank.findings if finding.level != "note"]


@pytest.mark.parametrize("kind", ["docx", "odt", "rtf"])
def test_tabs_part_choices_that_stand_side_by_side(kind):
    data = made(kind, "<p>1.GAPWhich is fine?</p><p>GAPa. sandGAPb. clay</p><p>Answer: b</p>")
    if kind == "rtf":
        data = data.replace(b"GAP", rb"\tab ")
    else:
        tab = b'</w:t><w:tab/><w:t xml:space="preserve">' if kind == "docx" else b"<text:tab/>"
        out = io.BytesIO()
        with zipfile.ZipFile(io.BytesIO(data)) as before, zipfile.ZipFile(out, "w") as after:
            for name in before.namelist():
                after.writestr(name, before.read(name).replace(b"GAP", tab))
        data = out.getvalue()
    [item] = read_source((f"test.{kind}", data)).bank.items
    assert ([choice.content for choice in item.choices], key_of(item)) == (["sand", "clay"], ["clay"])


TABLES = {
    "a question in each row": (
        (("No.", "Question", "A", "B", "Key"), ("1", "Finest?", "sand", "clay", "B"), ("2", "Coarsest?", "sand", "clay", "A")),
        [["clay"], ["sand"]],
    ),
    "choices named in full": (
        (
            ("Question", "Choice A", "Choice B", "Correct answer"),
            ("Finest?", "sand", "clay", "B"),
            ("Coarsest?", "sand", "clay", "A"),
        ),
        [["clay"], ["sand"]],
    ),
    "numbers in a column, keys in another": (
        (
            ("1", "Finest?", "B"),
            ("", "A. sand", ""),
            ("", "B. clay", ""),
            ("2", "Coarsest?", "A"),
            ("", "A. sand", ""),
            ("", "B. clay", ""),
        ),
        [["clay"], ["sand"]],
    ),
}


@pytest.mark.parametrize("name", TABLES)
def test_tests_that_stand_in_tables(name):
    rows, keys = TABLES[name]
    table = "".join("<tr>" + "".join(f"<td>{cell}</td>" for cell in row) + "</tr>" for row in rows)
    items = read_source(("test.docx", made("docx", f"<table>{table}</table>"))).bank.items
    assert [key_of(item) for item in items] == keys


def test_letters_in_a_column_are_choices_and_a_table_of_data_is_none():
    rows = "<table><tr><td>A</td><td>{}</td></tr><tr><td>B</td><td>{}</td></tr></table>"
    choices = f"<p>1. Which?</p>{rows.format('sand', 'clay')}<p>Answer: B</p>"
    data = f"<p>1. Which core is heavier?</p>{rows.format('150 g', '140 g')}<p>a. A</p><p>b. B</p><p>Answer: a</p>"
    [asked], [measured] = (read_source(("test.html", page.encode())).bank.items for page in (choices, data))
    assert key_of(asked) == ["clay"]
    assert "<table>" in measured.stem and key_of(measured) == ["A"]

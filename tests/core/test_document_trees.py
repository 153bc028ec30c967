"""Containers of documents as lines: automatic labels, emphasis, tables of data and tables that lay a test out, colours, formulas."""

from __future__ import annotations

import io
import re
import zipfile

import pytest

from rogatum.core.errors import UnreadableSource
from rogatum.core.formats.shared import pandoc
from rogatum.core.formats.word_documents.numerals import numeral
from rogatum.core.formats.word_documents.rtf_text import rtf_with_marks, with_plain_stand_ins
from rogatum.core.formats.word_documents.tree import LineMaker
from rogatum.core.receiving import read_source


def lines(html: str):
    maker = LineMaker()
    maker.blocks(pandoc.tree_of(html.encode(), "html+tex_math_single_backslash", "x")["blocks"])
    return maker.lines


def bank_of(html: str):
    return read_source(("x.html", f"<html><body>{html}</body></html>".encode())).bank


NUMERALS = [
    (3, "1", "3", "3"),
    (3, "a", "c", "c"),
    (28, "A", "AB", "BB"),
    (4, "i", "iv", "iv"),
    (49, "I", "XLIX", "XLIX"),
    (444, "i", "cdxliv", "cdxliv"),
    (0, "a", "", ""),
    (10**9, "i", "1000000000", "1000000000"),
]


@pytest.mark.parametrize(("number", "system", "label", "repeated"), NUMERALS)
def test_labels_of_lists(number, system, label, repeated):
    assert (numeral(number, system), numeral(number, system, repeated=True)) == (label, repeated)


def test_nested_lists_show_their_labels_and_depths():
    found = lines('<ol start="4"><li>Stem<ol type="A"><li>one</li><li>two</li></ol></li></ol><ul><li>dot</li></ul>')
    assert [(line.text, line.depth) for line in found] == [("4. Stem", 1), ("A. one", 2), ("B. two", 2), ("• dot", 1)]


EMPHASIS = {
    "bold": ("<b>x y</b>", {"bold"}),
    "nested": ("<b><i>x</i></b>", {"bold", "italic"}),
    "underline": ("<u>x</u>", {"underline"}),
    "mark": ("<mark>x</mark>", {"mark"}),
    "yellow ground": ('<span style="background:yellow">x</span>', {"mark"}),
    "red type": ('<span style="color:#c00000">x</span>', {"mark"}),
    "heavy type": ('<span style="font-weight:700">x</span>', {"bold"}),
    "black type": ('<span style="color:#000000">x</span>', set()),
    "white ground": ('<span style="background-color:white">x</span>', set()),
    "only a part": ("<b>x</b> y", set()),
}


@pytest.mark.parametrize(("html", "marks"), EMPHASIS.values(), ids=EMPHASIS)
def test_emphasis_of_a_whole_line(html, marks):
    line = lines(f"<p>{html}</p>")[0]
    line.keep(0)
    assert line.marks() == marks


def test_content_keeps_emphasis_but_for_the_one_that_tells_the_key():
    line = lines("<p>a. <b>x <i>y</i></b> H<sub>2</sub>O</p>")[0]
    line.keep(3)
    assert line.content() == "<strong>x </strong><em><strong>y</strong></em> H<sub>2</sub>O"
    assert line.content("bold") == "x <em>y</em> H<sub>2</sub>O"


def test_line_breaks_make_lines_and_formulas_objects():
    found = lines(r"<p>1. What is \(x^2\)?<br/>a. one</p>")
    assert [line.shown for line in found] == ["1. What is x^2?", "a. one"]
    assert [line.paragraph for line in found] == [True, False]


def test_a_table_of_data_stays_a_table_in_the_stem():
    bank = bank_of(
        "<p>1. Which core is moister?</p><table><tr><th>Core</th><th>Water</th></tr><tr><td>P</td><td>25</td></tr></table>"
        "<p>a. P</p><p>*b. Q</p>"
    )
    assert "<th>Core</th>" in bank.items[0].stem and [c.content for c in bank.items[0].choices] == ["P", "Q"]


LAYOUTS = {
    "choices in cells": "<p>1. Which?</p><table><tr><td>a.</td><td>sand</td></tr><tr><td>b.</td><td><b>clay</b></td></tr></table>",
    "letters within cells": "<p>1. Which?</p><table><tr><td>a. sand</td></tr><tr><td><b>b. clay</b></td></tr></table>",
    "two columns of choices": "<p>1. Which?</p><table><tr><td>a. sand</td><td>c. silt</td></tr><tr><td><b>b. clay</b></td><td>d. peat</td></tr></table>",
    "one row a question": "<table><tr><td>1.</td><td><p>Which?</p><p>a. sand</p><p><b>b. clay</b></p></td></tr>"
    "<tr><td>2.</td><td><p>Next?</p><p>a. x</p><p><b>b. y</b></p></td></tr></table>",
}


@pytest.mark.parametrize("html", LAYOUTS.values(), ids=LAYOUTS)
def test_tables_that_lay_a_test_out(html):
    item = bank_of(html).items[0]
    assert item.stem == "Which?" and [c.content for c in item.choices if c.weight > 0] == ["clay"]
    assert item.choices[0].content == "sand"


GRIDS = {
    "rows": "<tr><td>1</td><td>2</td></tr><tr><td>B</td><td>A</td></tr>",
    "pairs": "<tr><td>1</td><td>B</td></tr><tr><td>2</td><td>A</td></tr>",
    "pairs side by side": "<tr><td>1.</td><td>B</td><td>2.</td><td>A</td></tr>",
}


@pytest.mark.parametrize("grid", GRIDS.values(), ids=GRIDS)
def test_keys_in_a_grid(grid):
    test = "".join(f"<p>{n}. Q{n}?</p><p>a. x</p><p>b. y</p>" for n in (1, 2))
    bank = bank_of(f"{test}<p><b>Answer key</b></p><table>{grid}</table>")
    assert [[c.id for c in item.choices if c.weight] for item in bank.items] == [["b"], ["a"]]


def test_a_table_of_two_lists_is_a_matching():
    bank = bank_of(
        "<p><b>Part C. Matching (4 points)</b></p><p>Match each term with its meaning.</p><table>"
        "<tr><td>____ 1. sand</td><td>a. small</td></tr><tr><td>____ 2. clay</td><td>b. large</td></tr></table>"
        "<p><b>Answers</b></p><p>1. b 2. a</p>"
    )
    item = bank.items[0]
    assert item.type == "matching" and item.points == 4
    assert [(pair.left, pair.right) for pair in item.pairs] == [("sand", "large"), ("clay", "small")]


def test_pictures_come_with_their_size_and_text():
    picture = "data:image/png;base64,iVBORw0KGgo="
    bank = bank_of(f'<p>1. <img src="{picture}" alt="a pit" width="120"/> What is it?</p><p>*a. a pit</p><p>b. a pot</p>')
    assert re.search(r'<img src="media/inline.png" alt="a pit" width="120"/>', bank.items[0].stem) and len(bank.media) == 1


def test_a_picture_that_is_missing_is_queried_at_its_item():
    bank = bank_of('<p>1. <img src="pit.png"/> What?</p><p>*a. x</p><p>b. y</p>')
    assert [(f.code, f.item) for f in bank.findings if f.level == "error"] == [("media-missing", "i1")]


def test_headers_and_footers_of_a_word_document_are_listed():
    data = pandoc.written("<p>1. Which?</p><p>*a. x</p><p>b. y</p>", "docx", "x", {})
    header = b'<w:hdr xmlns:w="http://schemas.openxmlformats.org/wordprocessingml/2006/main"><w:p><w:r><w:t>Harrow Vale College</w:t></w:r></w:p></w:hdr>'
    buffer = io.BytesIO(data)
    with zipfile.ZipFile(buffer, "a") as archive:
        archive.writestr("word/header9.xml", header)
    bank = read_source(("x.docx", buffer.getvalue())).bank
    assert [entry.text for entry in bank.accounting.unclaimed] == ["Harrow Vale College"]


def test_a_damaged_word_document_is_refused_with_a_way_out():
    data = pandoc.written("<p>1. Which?</p>", "docx", "x", {})
    with pytest.raises(UnreadableSource) as caught:
        read_source(("x.docx", data[: len(data) // 2]))
    assert caught.value.way_out


def test_highlights_of_an_rtf_become_marks():
    text = r"{\rtf1{\colortbl;\red255\green255\blue0;}1. Which?\par a. sand\par b. \highlight1 clay\highlight0\par}"
    marked, stands_for_colour = rtf_with_marks(text)
    assert stands_for_colour and r"\strike clay\strike0" in marked
    assert rtf_with_marks(r"{\rtf1 \strike x}") == (r"{\rtf1 \strike x}", False)


def test_stand_ins_of_an_rtf_do_not_swallow_words():
    assert with_plain_stand_ins(r"\u8220?q\u8221?") == r"\u8220\'3fq\u8221\'3f"
    assert with_plain_stand_ins(r"{\uc0\u8220 q}") == r"{\uc0\u8220 q}"


CLIPBOARD = (
    "<meta charset='utf-8'><p><span>1.<span>&nbsp;&nbsp;&nbsp;</span></span>Which soil is fine?</p>"
    "<p><span>a.<span>&nbsp; </span></span>sand</p><p><span>b.<span>&nbsp; </span></span>"
    "<span style='background:yellow'>clay</span></p><p>2. Next?</p><p>a. <span style='background:yellow'>x</span></p><p>b. y</p>"
)


def test_what_a_browser_copies_from_a_word_processor():
    bank = read_source(("paste", CLIPBOARD.encode())).bank
    assert bank.source.format == "html"
    assert [[c.content for c in item.choices if c.weight] for item in bank.items] == [["clay"], ["x"]]


MARKDOWN = """# Soils

1. Which is **not** right?
   - [ ] a
   - [x] b
   - [ ] c

2. Compute $x^2$ for x = 2.

   Answer: 4

3. Which?

   A) one
   B) two

   *Answer: B*
"""


def test_markdown():
    bank = read_source(("soils.md", MARKDOWN.encode())).bank
    assert bank.source.format == "markdown" and bank.pools[0].path == ["Soils"]
    assert [item.type for item in bank.items] == ["multiple_choice", "numeric", "multiple_choice"]
    assert bank.items[0].stem == "Which is <strong>not</strong> right?" and bank.items[0].choices[1].weight == 1
    assert "x^2" in bank.items[1].stem and bank.items[2].choices[1].weight == 1


def test_a_paragraph_that_goes_on_with_a_list_entry_has_no_bullet():
    page = "<ol><li>Two cores:<table><tr><td>P</td><td>9</td></tr></table><p>Which is moist?</p><ol type='a'><li>P</li><li>Q</li></ol></li></ol>"
    made = pandoc.written(page, "docx", "x", {})
    assert read_source(("x.docx", made)).bank.items[0].stem.endswith("<p>Which is moist?</p>")


def test_a_style_of_characters_in_an_rtf_is_of_no_paragraph():
    styles = r"{\stylesheet{\s0\snext0 Normal;}{\*\cs15\snext15\b Key;}}"
    lines = (r"1. Which?", r"a. x", r"b. {\cs15\b y}", r"2. Next?", r"a. {\cs15\b x}", r"b. y")
    text = rf"{{\rtf1{styles}" + "".join(rf"\pard\plain \s0 {line}\par " for line in lines) + "}"
    bank = read_source(("x.rtf", text.encode())).bank
    assert [item.stem for item in bank.items] == ["Which?", "Next?"]
    assert [[c.content for c in item.choices if c.weight] for item in bank.items] == [["y"], ["x"]]


def test_notes_of_an_rtf_are_listed():
    text = r"{\rtf1 1. Which?{\super\chftn{\*\footnote\chftn\pard\plain{ \tab See \u8220\'93Ground\u8221\'94.}}}\par a. x\par b. y\par}"
    bank = read_source(("x.rtf", text.encode())).bank
    assert "See “Ground”." in [entry.text for entry in bank.accounting.unclaimed]


def test_a_question_that_is_struck_out_is_set_aside_and_listed():
    struck = "".join(f"<p><s>{line}</s></p>" for line in ("2. Who?", "a. he", "b. she"))
    bank = bank_of(f"<p>1. Which?</p><p>a. <b>x</b></p><p>b. y</p>{struck}<p>3. What?</p><p>a. x</p><p>b. <b>y</b></p>")
    assert [item.stem for item in bank.items] == ["Which?", "What?"]
    assert "2. Who?" in [entry.text for entry in bank.accounting.unclaimed]

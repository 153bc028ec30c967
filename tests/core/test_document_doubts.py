"""Documents that may be read in two ways: the doubt is told. And the small things that readers lose: labels, blanks, powers."""

from __future__ import annotations

import io
import zipfile

import pytest

from rogatum.core.formats.shared import pandoc
from rogatum.core.receiving import read_source
from tests.core.plain import key_of

# What may be read in two ways, with the finding that says so.
DOUBTS = {
    "a comma before three digits": ("1. How much?\nAnswer: 1,250\n", "number-doubtful"),
    "a letter and another choice's text": ("1. Which?\na. clay\nb. sand\nAnswer: B) clay\n", "keys-disagree"),
    "two keys": ("1. Which?\n*a. clay\nb. sand\nAnswer: B\n", "keys-disagree"),
    "a key that no choice has": ("1. Which?\na. clay\nb. sand\nAnswer: E\n", "key-unknown"),
    "fewer answers than blanks": ("1. The ____ is ____ or ____.\nAnswer: clay; sand\n", "type-unsure"),
    "words below a heading": ("1. Which?\n*a. x\nb. y\n\nChapter 2\nOn water\n\n2. What?\n*a. x\nb. y\n", "line-outside"),
    "letters that begin again": ("1. Which?\n*a. clay\nb. sand\na. silt\nb. loam\n", "line-outside"),
    "a letter that is skipped": ("1. Which?\n*a. clay\nb. sand\nd. loam\n", "label-skipped"),
    "choices that are the same": ("1. Which?\n*a. clay\nb. clay\n", "equal-choices"),
    "a key for no question": ("1. Which?\na. x\nb. y\n2. What?\na. x\nb. y\n\nAnswers\n1. A   3. B\n", "key-without-item"),
    "a number twice": ("1. Which?\n*a. x\nb. y\n1. What?\n*a. x\nb. y\n", "number-double"),
    "a gap in the numbers": ("1. Which?\n*a. x\nb. y\n\n3. What?\n*a. x\nb. y\n", "number-gap"),
    "a question twice": ("1. Which?\n*a. x\nb. y\n2. Which?\na. y\n*b. x\n", "item-doubled"),
    "near a number": ("1. How many?\nAnswer: about 40\n", "type-unsure"),
    "no choices and no key": ("1. Loam\n\n2. Which?\n*a. x\nb. y\n", "type-unsure"),
    "a label that is not known": ("1. Which?\na. x\nb. y\nAnswer: A\nBorrowed from: the old test\n", "line-outside"),
    "words behind a letter": ("1. Which?\na. x\nb. y\nAnswer: A, because x is\nfine.\n", "key-unknown"),
    "a number in an unknown notation": ("1. How many?\nAnswer: 6.02 x 1023\n", "type-unsure"),
}


@pytest.mark.parametrize("name", DOUBTS)
def test_a_doubt_is_told(name):
    text, code = DOUBTS[name]
    findings = read_source(("test.txt", text.encode())).bank.findings
    assert code in {finding.code for finding in findings if finding.level != "note"}, [f.code for f in findings]


def test_labels_of_an_item_are_kept_apart():
    text = "1. Which?\na. x\n   Feedback: Not x.\nb. y\n   Feedback: Right.\nAns. B\nMarks: 2\nLevel: Easy\nTopic: soils\n"
    item = read_source(("test.txt", text.encode())).bank.items[0]
    assert (item.points, item.metadata) == (2, {"difficulty": ["Easy"], "topic": ["soils"]})
    assert [choice.feedback for choice in item.choices] == ["Not x.", "Right."] and not item.feedback


@pytest.mark.parametrize("kind", ["docx", "html"])
def test_underlined_spaces_are_blanks(kind):
    markup = "<p>1. The finest is <u>WIDE</u> and the coarsest is <u>WIDE</u>.</p><p>Answer: clay; sand</p>"
    if kind == "html":
        data = markup.replace("WIDE", "&nbsp;" * 8).encode()
    else:
        made, out = pandoc.written(markup, "docx", "x", {}), io.BytesIO()
        with zipfile.ZipFile(io.BytesIO(made)) as before, zipfile.ZipFile(out, "w") as after:
            for name in before.namelist():
                after.writestr(name, before.read(name).replace(b">WIDE<", b">        <"))
        data = out.getvalue()
    item = read_source((f"test.{kind}", data)).bank.items[0]
    assert (item.type, key_of(item)) == ("cloze", [["clay"], ["sand"]])


def test_a_raised_power_of_ten_is_a_number():
    page = "<p>1. How many molecules are there?</p><p>Answer: 6.02 × 10<sup>23</sup></p>"
    assert key_of(read_source(("test.html", page.encode())).bank.items[0]) == [(6.02e23, 6.02e23)]


def test_a_question_in_two_languages_is_noticed():
    text = """1. What is the smallest particle of the soil?
*a. clay
b. sand
1. ¿Cuál es la partícula más pequeña del suelo?
*a. arcilla
b. arena
2. Which is the coarsest?
Welche ist die gröbste von diesen?
*a. sand
b. clay
"""
    findings = {f.code: (f.item, f.message) for f in read_source(("test.txt", text.encode())).bank.findings}
    assert findings["item-translated"][0] == "i2" and "Spanish" in findings["item-translated"][1]
    assert findings["stem-bilingual"][0] == "i3" and "English and German" in findings["stem-bilingual"][1]


SUSPECTS = {
    "more choices than most": (3, "1. A?\n*a. x\nb. y\n2. B?\n*a. x\nb. y\nc. z\nd. u\n", "count-ran-together", "i2"),
    "a number within": (3, "1. A?\n*a. x\nb. y. 2. Which is it?\n3. C?\n*a. x\nb. y\n", "count-ran-together", "i1"),
    "a stem that goes on": (1, "1. Which soil holds\n*a. x\nb. y\n\n2. water and air?\n*a. u\nb. v\n", "count-came-apart", "i2"),
    "a number twice": (2, "1. A?\n*a. x\nb. y\n1. B is it?\n*a. u\nb. v\n2. C is it?\n*a. u\nb. w\n", "count-came-apart", "i2"),
}


@pytest.mark.parametrize("name", SUSPECTS)
def test_where_the_count_differs_the_likeliest_place_is_said(name):
    expected, text, code, item = SUSPECTS[name]
    findings = read_source(("test.txt", text.encode()), expected=expected).bank.findings
    assert next(f.item for f in findings if f.code == code) == item
    right = read_source(("test.txt", text.encode()), expected=len(read_source(("test.txt", text.encode())).bank.items))
    assert not [f for f in right.bank.findings if f.code.startswith("count-")]

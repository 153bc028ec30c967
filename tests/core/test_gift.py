"""GIFT as its syntax and people's habits have it."""

from __future__ import annotations

import base64

import pytest

from rogatum.core.receiving import read_source

PNG = base64.b64encode(b"\x89PNG\r\n\x1a\n-not-really-").decode()


def read(text):
    return read_source(("x.gift", text.encode()), "gift").bank


def only(text):
    bank = read(text)
    assert len(bank.items) == 1, bank.items
    return bank.items[0]


@pytest.mark.parametrize(
    ("text", "type_"),
    [
        ("Q {=a ~b}", "multiple_choice"),
        ("Q {~%50%a ~%50%b ~%-100%c}", "multiple_response"),
        ("Q {~%100%a ~b}", "multiple_choice"),
        ("Q {T}", "true_false"),
        ("Q {false#no#yes}", "true_false"),
        ("Q {=a =b}", "fill_in"),
        ("Q {#3}", "numeric"),
        ("Q {#1..2}", "numeric"),
        ("Q {=a -> b =c -> d}", "matching"),
        ("Q {}", "essay"),
        ("Q", "information"),
        ("A {=x} and {#3:1} end", "cloze"),
    ],
)
def test_types(text, type_):
    assert only(text).type == type_


@pytest.mark.parametrize(
    ("written", "stem"),
    [
        (r"1 \= 2 \{x\} \~ \# \: \\", "1 = 2 {x} ~ # : \\"),
        (r"a\nb", "a<br/>b"),
        ("[html]<b>x</b> y", "<strong>x</strong> y"),
        ("[plain]<b>x</b>", "&lt;b&gt;x&lt;/b&gt;"),
        ("[markdown]**x** y", "<strong>x</strong> y"),
        ("[sic] x", "[sic] x"),
        ("pF 2 < 3", "pF 2 &lt; 3"),
    ],
)
def test_texts(written, stem):
    assert only(written + " {=q ~r}").stem == stem


def test_tex_commands_that_begin_with_n_are_no_line_breaks():
    assert r"\nu \neq 0" in only(r"Let \(\nu \neq 0\).{T}").stem


def test_numeric_forms():
    item = only("Q {#=1.5:0.1#close =%50%1..2 =%25%-3 ####all}")
    assert [a.bounds() for a in item.answers] == [(1.4, 1.6), (1, 2), (-3, -3)]
    assert [a.weight for a in item.answers] == [1, 0.5, 0.25]
    assert item.answers[0].feedback == "close" and item.feedback == {"general": "all"}


def test_categories_and_comments():
    bank = read("// a note\n$CATEGORY: $course$/top/A//B/C\n\n// [id:q7] [tag:x] [tag:y]\nQ {T}\n")
    assert bank.pools[0].path == ["A/B", "C"]
    assert bank.items[0].id == "q7" and bank.items[0].metadata == {"tag": ["x", "y"]}
    assert [u.text for u in bank.accounting.unclaimed] == ["a note"]


def test_blank_lines_within_braces_do_not_end_a_question():
    bank = read("Q1 {\n=a\n\n~b\n}\n\nQ2 {T}")
    assert [item.type for item in bank.items] == ["multiple_choice", "true_false"]


def test_a_brace_that_is_never_closed_is_an_error_and_costs_only_its_question():
    bank = read("Q1 {=a ~b\n\n::T2::Q2 {T}")
    assert [item.type for item in bank.items] == ["multiple_choice", "true_false"]
    assert [(f.code, f.item) for f in bank.findings if f.level == "error"] == [("invalid-item", "i1")]


def test_inline_pictures_become_media():
    bank = read(rf'Q <img src\="data\:image/png;base64,{PNG.replace("=", chr(92) + "=")}" alt\="x"> {{T}}')
    assert bank.media[0].type == "image/png" and f'src="{bank.media[0].ref}"' in bank.items[0].stem


def test_two_right_choices_are_flagged():
    bank = read("Q {=a =b ~c}")
    assert [f.code for f in bank.findings if f.level == "error"] == ["two-keys"]


def test_text_behind_the_braces_belongs_to_the_stem():
    assert only("A good crumb needs {=roots ~salt} and time.").stem == "A good crumb needs _____ and time."

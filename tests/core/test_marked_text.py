"""Marked text in the habits that people have. Each case is a test; each must be read rightly, or flagged."""

from __future__ import annotations

import pytest

from rogatum.core.receiving import read_source


def read(text, expected=None):
    return read_source(("x.txt", text.encode()), "marked-text", expected).bank


def keys(bank):
    return ["".join(c.id for c in item.choices if c.weight > 0) for item in bank.items]


STEMS = ["1. {}", "1) {}", "(1) {}", "Q1. {}", "Q1 {}", "Question 1: {}", "#1 {}", "1 - {}", "1: {}"]


@pytest.mark.parametrize("stem", STEMS)
def test_numberings(stem):
    two = stem.format("Which soil?") + "\na. loam\n*b. clay\n\n" + stem.replace("1", "2").format("And which?") + "\n*a. x\nb. y\n"
    bank = read(two)
    assert [item.stem for item in bank.items] == ["Which soil?", "And which?"] and keys(bank) == ["b", "a"]


@pytest.mark.parametrize("form", ["{0}. {1}", "{0}) {1}", "({0}) {1}", "{0} - {1}", "  {0}. {1}"])
@pytest.mark.parametrize("letters", ["abcd", "ABCD", ["i", "ii", "iii", "iv"]])
def test_letterings(form, letters):
    if form == "{0} - {1}" and isinstance(letters, list):
        pytest.skip("Roman numerals before a dash are read as text")
    lines = "\n".join(form.format(letter, f"choice {n}") for n, letter in enumerate(letters))
    bank = read(f"1. Which?\n{lines}\nAnswer: {letters[2]}\n")
    assert [c.content for c in bank.items[0].choices] == [f"choice {n}" for n in range(4)]
    assert [c.weight for c in bank.items[0].choices] == [0, 0, 1, 0]


@pytest.mark.parametrize(
    "marks",
    ["a. x\n*b. y", "a. x\n* b. y", "a. x\nb. y*", "a. x\nb. y (correct)", "a. x\n✓ b. y", "[ ] a. x\n[x] b. y"]
    + [
        f"a. x\nb. y\n{line}"
        for line in ("Answer: B", "ANSWER: b", "Ans. b", "Key: (b)", "Correct answer: b", "answer - b", "Answer: b. y", "Answer: y")
    ]
    + ["a. x\nb. y\n\nAnswers\n1. b", "a. x\nb. y\n\nAnswer key:\n1-B\n", "a. x   b. y\nAnswer: b"],
)
def test_key_habits(marks):
    bank = read(f"1. Which?\n{marks}\n")
    assert keys(bank) == ["b"], bank.items
    assert [c.content for c in bank.items[0].choices] == ["x", "y"]


def test_key_lists_in_runs_and_restarting_numbers():
    text = "## One\n1. A?\na. x\nb. y\n2. B?\na. x\nb. y\n## Two\n1. C?\na. x\nb. y\n\nAnswers\n1-A, 2-B\n1. b\n"
    bank = read(text)
    assert keys(bank) == ["a", "b", "b"]
    assert [p.path for p in bank.pools] == [["One"], ["Two"]]


@pytest.mark.parametrize(
    ("text", "type_"),
    [
        ("1. X.\nAnswer: True", "true_false"),
        ("1. X. (T/F)\nAnswer: F", "true_false"),
        ("1. X.\na. True\n*b. False", "true_false"),
        ("1. X?\nAnswer: 25 ± 0.5", "numeric"),
        ("1. X?\nAnswer: 80 (± 1)", "numeric"),
        ("1. X?\nAnswer: 20 to 35", "numeric"),
        ("1. X?\nAnswer: 1.4 g/cm³", "numeric"),
        ("1. X is ____.\nAnswer: loam; a loam", "fill_in"),
        ("1. Explain why.\nModel answer: Because.", "essay"),
        ("1. Explain why.", "essay"),
        ("1. Select all that apply.\n*a. x\n*b. y\nc. z", "multiple_response"),
        ("1. Which?\na. x\nb. y\nc. z\nKey: a, c", "multiple_response"),
    ],
)
def test_types(text, type_):
    assert read(text).items[0].type == type_


def test_labels():
    item = read("1. Which? (2 points)\n*a. x\nb. y\nFeedback: See\nmore.\nDifficulty: easy\nOutcome: 2.1; 2.2\n").items[0]
    assert item.points == 2 and item.stem == "Which?"
    assert item.feedback == {"general": "See more."} and item.metadata == {"difficulty": ["easy"], "outcome": ["2.1", "2.2"]}


def test_years_initials_and_decimals_are_no_labels():
    text = "1. It was laid in\n1962. It runs at\n0.9 m. A. Brook and\nB. Fenn use it. Who?\n*a. Brook\nb. Fenn\n"
    bank = read(text)
    assert [item.stem for item in bank.items] == ["It was laid in 1962. It runs at 0.9 m. A. Brook and B. Fenn use it. Who?"]


@pytest.mark.parametrize(
    ("text", "code"),
    [
        ("1. Which?\na. x\nb. y", "no-key"),
        ("1. Choose one:\n*a. x\n*b. y", "two-keys"),
        ("1. Which?\na. x\nb. y\nAnswer: e", "key-unknown"),
        ("1. Which?\n*a. x\nb. y\nAnswer: b", "keys-disagree"),
        ("1. A?\n*a. x\nb. y\n\n3. B?\n*a. x\nb. y", "number-gap"),
        ("1. A?\n*a. x\nb. y\n\n1. B?\n*a. x\nb. y", "number-double"),
        ("1. A?\n*a. x\nc. y", "label-skipped"),
        ("1. A?\n*a. x\nb.\nc. z", "empty-choice"),
        ("1. A?\n*a. x\nb. x", "equal-choices"),
        ("1. A?\n*a. x 2. What is another one of these\nb. y", "choice-runs-on"),
        ("1. A?\n*a. x\nb. y\n\nStray words here.\n\n2. B?\n*a. x\nb. y", "line-outside"),
        ("1. A?\na. x\nb. y\n\nAnswers\n1. a\n9. b", "key-without-item"),
        ("1. The water is held", "type-unsure"),
        ("1. A is ____.", "no-answer"),
        ("1. Itâ€™s which?\n*a. x\nb. y", "encoding-damage"),
    ],
)
def test_each_doubt_is_said(text, code):
    assert code in [f.code for f in read(text).findings]


def test_a_count_that_differs_is_an_error_with_what_was_read_kept():
    bank = read("1. A?\n*a. x\nb. y", expected=2)
    assert [f.code for f in bank.findings if f.level == "error"] == ["count-differs"] and len(bank.items) == 1


def test_every_line_is_claimed_or_listed():
    text = "Soils\n\n1. A?\n*a. x\nb. y\n\nCollege, page 3\n"
    bank = read(text)
    lines = sum(1 for line in text.split("\n") if line.strip())
    assert bank.accounting.claimed + len(bank.accounting.unclaimed) == lines
    assert [u.text for u in bank.accounting.unclaimed] == ["College, page 3"]

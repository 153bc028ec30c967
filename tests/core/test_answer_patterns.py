"""Answers that are patterns: whatever a source writes, marking takes no longer than the text is long."""

from __future__ import annotations

import pytest

from rogatum.core.answer_patterns import is_usable, meets
from rogatum.core.checks import check_item
from rogatum.core.formats.shared.keys.fitting_text import text_that_fits
from rogatum.core.items import Cloze, FillIn, TextAnswer, TextBlank
from rogatum.core.quizzes.marking import mark
from tests.core.paces import is_bounded

EVIL = ["(a+)+b", "(a|a)*b", "(.*a){20}b", "([a-z]+)*9", "(a*)*b", "^(([a-z])+.)+[A-Z]([a-z])+$"]


@pytest.mark.parametrize("pattern", EVIL)
def test_a_pattern_cannot_hang_marking(pattern):
    item = FillIn(id="q", answers=[TextAnswer(text=pattern, match="regex")])
    marks = []
    # The engine that looks back needs longer than the sun shines.
    assert is_bounded(lambda: marks.append(mark(item, "a" * 20_000 + "!")))
    assert marks[0] == 0


@pytest.mark.parametrize("pattern", ["(?=a)a", r"(a)\1", "a{1001}", "((a{200}){200}){200}", "[", "a" * 5000, "\ud800"])
def test_what_cannot_be_used_accepts_nothing_and_is_told(pattern):
    item = FillIn(id="q", stem="x", answers=[TextAnswer(text=pattern, match="regex")])
    cloze = Cloze(id="c", blanks=[TextBlank(id="b1", answers=[TextAnswer(text=pattern, match="regex")])])
    assert not is_usable(pattern) and mark(item, "a") == 0 and text_that_fits(pattern) is None
    for told in (item, cloze):
        assert "pattern-unusable" in {finding.code for finding in check_item(told)}


@pytest.mark.parametrize(
    ("pattern", "text", "case_sensitive", "met"),
    [
        ("colou?r", "color", True, True),
        ("colou?r", "Colour", True, False),
        ("colou?r", "COLOUR", False, True),
        ("a|ab", "ab", True, True),
        (r"\d+(\.\d+)?", "2.5", True, True),
        ("é+", "ÉÉ", False, True),
        ("clay", "clay soil", True, False),
    ],
)
def test_a_pattern_accepts_whole_texts(pattern, text, case_sensitive, met):
    assert meets(pattern, text, case_sensitive) is met

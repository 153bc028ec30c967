"""A second reading that is nearly as likely is told and can be taken; how a document was read is said in words, and can be said."""

from __future__ import annotations

import pytest

from rogatum.core.receiving import read_source
from rogatum.core.sources.options import ReadOptions
from tests.core.plain import key_of

TWO_WAYS = """1. Which soil holds the most water?
(1) sand
(2) silt
(3) clay
Answer: 3

2. Which soil warms up first in spring?
(1) sand
(2) silt
(3) clay
Answer: 1

3. Which of these are horizons of a soil?
(1) topsoil
(2) subsoil
(3) ploughed land
A) the first two
B) the last two
C) all of them
"""


def read(text, **options):
    return read_source(("test.txt", text.encode()), "marked-text", options=ReadOptions(**options))


def choices_of(reading, position):
    return [choice.content for choice in reading.bank.items[position].choices]


def test_the_other_reading_is_told_and_can_be_taken():
    first = read(TWO_WAYS)
    [doubt] = [finding for finding in first.bank.findings if finding.code == "read-otherwise"]
    assert (doubt.level, doubt.item) == ("warning", "i3")
    assert choices_of(first, 2) == ["the first two", "the last two", "all of them"]
    taken = read(TWO_WAYS, roles=doubt.other.roles)
    assert choices_of(taken, 2) == ["topsoil", "subsoil", "ploughed land"]
    assert [choices_of(taken, n) for n in (0, 1)] == [choices_of(first, n) for n in (0, 1)]
    assert not [finding for finding in taken.bank.findings if finding.code == "read-otherwise"]


def test_a_regular_document_has_no_second_reading():
    regular = (
        TWO_WAYS.replace("(1) topsoil\n(2) subsoil\n(3) ploughed land\n", "")
        .replace("(1)", "A)")
        .replace("(2)", "B)")
        .replace("(3)", "C)")
    )
    assert "read-otherwise" not in {finding.code for finding in read(regular).bank.findings}


def test_how_a_document_was_read_is_said_in_words():
    habits = {habit.about: habit for habit in read(TWO_WAYS).habits}
    assert habits["numbering"].words == "3 questions, numbered as 1."
    assert habits["lettering"].words == "3 with choices, labelled as (1)"


PARTS = "I. Soils\n1. Name a soil.\n2. Name a rock.\n\nII. Water\n1. Name a river.\n2. Name a lake.\n3. Name a sea.\n"


@pytest.mark.parametrize(("said", "count"), [("{n}.", 5), ("{I}.", 2)])
def test_what_numbers_questions_can_be_said(said, count):
    assert len(read(PARTS, numbering=said).bank.items) == count


def test_which_list_holds_the_choices_can_be_said():
    text = "1. Which?\ni. sand\nii. clay\na. i only\nb. ii only\nAnswer: b\n"
    assert choices_of(read(text), 0) == ["i only", "ii only"]
    assert choices_of(read(text, lettering="{i}."), 0) == ["sand", "clay"]


def test_a_key_that_pairs_numbers_says_that_they_are_sides_of_a_matching():
    text = "1. Soils and sizes\n1. sand\n2. clay\na. fine\nb. coarse\nAnswer: 1-B, 2-A\n\n2. Which is fine?\n*a. clay\nb. sand\n"
    matching, choice = read(text).bank.items
    assert [(pair.left, pair.right) for pair in matching.pairs] == [("sand", "coarse"), ("clay", "fine")]
    assert choice.type == "multiple_choice"


def test_keys_in_columns_belong_to_their_part():
    part = "".join(f"{n}. Which is {n}?\na. x\nb. y\n\n" for n in range(1, 5))
    text = f"Part I\n\n{part}Part II\n\n{part}Answer key\nPart I\n1. A   3. A\n2. A   4. A\nPart II\n1. B   3. B\n2. B   4. B\n"
    assert [key_of(item) for item in read(text).bank.items] == [["x"]] * 4 + [["y"]] * 4


def test_a_table_of_keys_that_was_copied_column_by_column():
    text = "1. Which?\na. x\nb. y\n\n2. What?\na. x\nb. y\n\nKey\n1\n2\nB\nA\n"
    assert [key_of(item) for item in read(text).bank.items] == [["y"], ["x"]]

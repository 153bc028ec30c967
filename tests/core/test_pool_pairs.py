"""Near-duplicates among many, what differs between two of them, and what one takes over when both become one."""

from __future__ import annotations

import pytest
from hypothesis import given
from hypothesis import strategies as st

from rogatum.core.formats.items_json.carries import CARRIES
from rogatum.core.items import Choice, Essay, Matching, MultipleChoice, Pair, TrueFalse
from rogatum.core.items.differences import differences
from rogatum.core.items.identity import likeness
from rogatum.core.pools.duplicates import ALIKE, SHARED, _shingles, near_pairs
from rogatum.core.pools.merging import merged
from tests.core.strategies import items

WORDS = st.lists(st.sampled_from("clay silt sand loam root worm lime acid base water slope rain".split()), min_size=1, max_size=14)


@given(st.lists(WORDS.map(" ".join), max_size=18))
def test_pairs_are_those_that_holding_each_against_each_finds(texts):
    found = {(pair.a, pair.b) for pair in near_pairs(dict(enumerate(texts)))}
    firsts = {text: number for number, text in reversed(list(enumerate(texts)))}
    for b, text in enumerate(texts):
        for a in range(b):
            if texts[a] == text:
                assert ((a, b) in found) == (firsts[text] == a), "what is the same is paired with the first of it"
            elif firsts[text] == b and firsts[texts[a]] == a:
                shared = len(_shingles(text) & _shingles(texts[a])) >= SHARED * min(len(_shingles(text)), len(_shingles(texts[a])))
                assert ((a, b) in found) == (shared and likeness(text, texts[a]) >= ALIKE)


def test_a_hundred_of_the_same_are_a_hundred_pairs_less_one_and_progress_is_told():
    told = []
    texts = {n: f"question {n} about the many layers of a deep soil number {n * 7919}" for n in range(2500)}
    texts |= {9000 + n: "which of these soil particles is the smallest of all" for n in range(100)}
    texts[9500] = "which of these soil particles is the smallest of any"
    pairs = near_pairs(texts, progress=lambda done, total: told.append((done, total)))
    same = [pair for pair in pairs if pair.percent == 100]
    assert len(same) == 99 and {pair.a for pair in same} == {9000}
    assert any({pair.a, pair.b} == {9000, 9500} for pair in pairs)
    assert told[0][0] == 0 and len(told) == 2


def question(stem="Which is smallest?", key=2, **fields):
    choices = [Choice(id=str(n), content=text, weight=float(n == key)) for n, text in enumerate(("sand", "silt", "clay"))]
    return MultipleChoice(id="q", stem=stem, choices=choices, **fields)


def lines(a, b):
    return {line.label: line for line in differences(a, b)}


def test_a_line_marks_the_words_that_differ_and_no_others():
    told = lines(question("Which is the smallest?"), question("Which one is the smallest?"))
    stem = told["Stem"]
    assert [p.text.strip() for p in stem.b if p.differs] == ["one"] and "".join(
        p.text for p in stem.b
    ) == "Which one is the smallest?"
    assert not any(p.differs for p in stem.a) and not stem.same and told["Choice 1"].same


def test_choices_stand_beside_their_like_whatever_their_order():
    other = question(key=0)
    other.choices.reverse()
    told = lines(question(), other)
    assert "".join(p.text for p in told["Choice 3"].a) == "✓ clay" and "".join(p.text for p in told["Choice 3"].b) == "clay"
    assert told["Choice 2"].same and not told["Choice 1"].same


@given(items(CARRIES, 1))
def test_an_item_is_told_without_differences_from_itself(item):
    assert all(line.same for line in differences(item, item))


def test_what_one_side_lacks_is_told_as_well():
    told = lines(question(points=1, feedback={"general": "See page 4."}), Essay(id="e", stem="Why?"))
    assert told["Points"].b == [] or "".join(p.text for p in told["Points"].b) == ""
    assert not told["Type"].same and not told["Feedback: general"].same


TAKEN = {
    "points": ({"points": None}, {"points": 2}, "points", 2),
    "title": ({}, {"title": "Sizes"}, "title", "Sizes"),
    "feedback": ({"feedback": {"correct": "Yes."}}, {"feedback": {"general": "G", "correct": "No"}}, "feedback", {"correct": "Yes.", "general": "G"}),
    "metadata": ({"metadata": {"outcome": ["2.1"]}}, {"metadata": {"outcome": ["2.2"], "page": ["4"]}}, "metadata", {"outcome": ["2.1", "2.2"], "page": ["4"]}),
}  # fmt: skip


@pytest.mark.parametrize("name", TAKEN)
def test_the_one_that_stays_takes_over_what_it_lacks(name):
    mine, its, field, wanted = TAKEN[name]
    made = merged(question(**mine), question(**its), lambda ref: 0)
    assert getattr(made.item, field) == wanted and made.took
    assert merged(made.item, question(**its), lambda ref: 0).took == (), "once is enough"


def test_the_better_picture_of_both_stays():
    small, large = '<img src="media/a.png" alt="P"/>', '<img src="media/b.png" alt="P"/>'
    sizes = {"media/a.png": 10, "media/b.png": 90}.__getitem__
    made = merged(question(f"Look: {small}"), question(f"Look: {large}"), sizes)
    assert "media/b.png" in made.item.stem and made.took == ("picture",)
    assert merged(question(f"Look: {large}"), question(f"Look: {small}"), sizes).took == ()
    assert large in merged(question("Look:"), question(f"Look: {large}"), sizes).item.stem


def test_feedback_of_choices_goes_by_what_they_say():
    other = question()
    other.choices[2].feedback = "Finer than 0.002 mm."
    other.choices.reverse()
    made = merged(question(), other, lambda ref: 0)
    assert made.item.choices[2].feedback == "Finer than 0.002 mm." and made.took == ("feedback of choices",)


@given(items(CARRIES, 1), items(CARRIES, 1))
def test_two_of_any_type_can_be_merged_and_keep_what_is_asked(a, b):
    made = merged(a, b, lambda ref: 1)
    assert made.item.type == a.type and made.item.stem.startswith(a.stem)
    assert set(a.metadata) <= set(made.item.metadata)


def test_other_types_have_their_key_in_lines():
    pairs = Matching(id="m", stem="Match", pairs=[Pair(left="A", right="top"), Pair(left="C", right="rock")])
    assert "Key 1" in lines(pairs, pairs) and "Key 1" in lines(TrueFalse(id="t", stem="?", answer=True), pairs)

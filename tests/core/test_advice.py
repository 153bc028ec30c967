"""Advice on the writing of items: what deserves it gets it, and what is like it but sound gets none."""

from __future__ import annotations

from math import comb

import pytest
from hypothesis import given
from hypothesis import strategies as st

from rogatum.core.checks.advice import KeyPlace, advise_bank, advise_item, key_place
from rogatum.core.checks.advice.balance import run_by_chance
from rogatum.core.findings import advice
from rogatum.core.items import Choice, Essay, FillIn, Item, MultipleChoice, TrueFalse


def asked(stem: str, *choices: str, shuffle: bool | None = None) -> MultipleChoice:
    """A multiple choice whose key is the choice with a star."""
    made = [Choice(id=f"c{n}", content=text.lstrip("*"), weight=float(text[0] == "*")) for n, text in enumerate(choices)]
    return MultipleChoice(id="i", stem=stem, choices=made, shuffle=shuffle)


def codes(item: Item, passage: str = "") -> set[str]:
    return {finding.code for finding in advise_item(item, passage)}


SAND = ("*sand", "silt", "clay")
DESERVED: list[tuple[str, Item]] = [
    (
        "key-longest",
        asked("What is loam?", "*a mixture of sand, silt and clay in which none rules", "sand alone", "a kind of peat"),
    ),
    ("article-cue", asked("What bears water below a soil is called an", "*aquifer", "peat bed", "subsoil")),
    ("article-cue", asked("The instrument that bores into the soil is a ____", "*corer", "auger", "harrow")),
    ("number-cue", asked("The smallest particles of a soil are", "*clays", "sand", "silt")),
    ("word-shared", asked("Which property says how porous a soil is by its porosity?", "*its porosity", "its colour", "its depth")),
    ("absolute-word", asked("What is true of clay?", "*It swells when it is wet.", "It never holds water.", "It is coarse.")),
    ("absolute-word", TrueFalse(id="i", stem="The clay in a soil always swells.", answer=False)),
    ("negative-stem", asked("Which of these is not a soil?", *SAND)),
    ("negative-stem", asked("All of these are parts of the soil except", *SAND)),
    ("all-of-the-above", asked("What is in a loam?", "sand", "silt", "*All of the above")),
    ("none-of-the-above", asked("What is in a peat?", "sand", "silt", "*None of these choices")),
    ("choices-overlap", asked("How deep is the topsoil?", "*0 to 10 cm", "5 to 20 cm", "30 to 40 cm")),
    ("choices-unordered", asked("How many horizons are there in it?", "3", "*7", "5")),
    ("blank-first", FillIn(id="i", stem="____ is the finest part of the soil.")),
    ("two-questions", asked("What is loam? And where is it found?", *SAND)),
    ("no-question", asked("Good soil", "*it is of sand", "it is of silt", "the clay")),
    ("refers-to-item", asked("Which is the finest of the soils in question 4?", *SAND)),
    ("refers-to-page", asked("Which is the finest of the soils on page 41?", *SAND)),
    ("figure-absent", asked("Which soil is shown in the figure below?", *SAND)),
    ("for-paper", Essay(id="i", stem="Draw a profile of the soil and label its horizons.")),
    ("for-paper", Essay(id="i", stem="Name the horizons of a soil. Use a sketch, and draw it on graph paper.")),
    ("choice-names-choice", asked("What is in a loam?", "*sand", "silt", "both A and B", shuffle=True)),
]
SOUND: list[tuple[str, Item]] = [
    ("key-longest", asked("What is loam?", "*a mixture of sand, silt and clay", "a mixture of sand and peat alone", "peat")),
    ("article-cue", asked("The top layer of a soil is called a(n)", "*A horizon", "peat bed", "subsoil")),
    ("article-cue", asked("The smallest unit of the soil is a", "*unit cell", "European loam", "peat")),
    ("number-cue", asked("The smallest particles of a soil are", "*clays", "sands", "silts")),
    (
        "word-shared",
        asked("Which property says how porous a soil is by its porosity?", "*its porosity", "a porous bed", "its depth"),
    ),
    ("absolute-word", asked("What is true of clay?", "*It never drains at once.", "It never holds water.", "It is coarse.")),
    ("absolute-word", TrueFalse(id="i", stem="The clay in a soil always swells.", answer=True)),
    ("negative-stem", asked("Which of these is <strong>NOT</strong> a soil?", *SAND)),
    ("negative-stem", asked("Which name has the part of the soil that is not filled by solids?", *SAND)),
    ("negative-stem", asked("What would happen if the walls did not hold the soil?", *SAND)),
    ("all-of-the-above", asked("What lies on the bedrock?", "*all of the soil", "sand", "silt")),
    ("choices-overlap", asked("How deep is the topsoil?", "*0 to 10 cm", "10 to 20 cm", "30 to 40 cm")),
    ("choices-unordered", asked("How many horizons are there in it?", "7", "*5", "3")),
    ("choices-unordered", asked("How many horizons are there in it?", "3", "*7", "5", shuffle=True)),
    ("blank-first", FillIn(id="i", stem="____ and ____ are parts of the soil.")),
    ("two-questions", asked("What is the finest of the soils? Quel est le sol le plus fin ?", *SAND)),
    ("no-question", asked("Peat is formed by", *SAND)),
    ("refers-to-item", asked("Which question did the students of the soil ask next?", *SAND)),
    ("figure-absent", asked('Which soil is shown in the figure below? <img src="media/a.png" alt=""/>', *SAND)),
    ("for-paper", Essay(id="i", stem="What conclusions can you draw from the colour of the soil?")),
    ("for-paper", Essay(id="i", stem="How do plants draw water from the soil?")),
    ("choice-names-choice", asked("What is in a loam?", "*sand", "silt", "both A and B", shuffle=False)),
]


@pytest.mark.parametrize(("code", "item"), DESERVED, ids=[code for code, _ in DESERVED])
def test_what_deserves_advice_gets_it(code, item):
    assert code in codes(item)


@pytest.mark.parametrize(("code", "item"), SOUND, ids=[code for code, _ in SOUND])
def test_what_is_sound_gets_none(code, item):
    assert code not in codes(item)


def test_every_kind_is_tried():
    over_the_bank = {"keys-unbalanced", "truths-unbalanced", "keys-run"}
    kinds = {kind.code for kind in vars(advice).values() if hasattr(kind, "code")}
    assert kinds == {code for code, _ in DESERVED} | over_the_bank


def test_the_passage_counts_as_what_is_there():
    item = asked("Which soil is shown in the figure below?", *SAND)
    assert not codes(item, '<img src="media/a.png" alt="profile"/>')


def test_words_of_another_language_are_no_cues():
    assert codes(asked("La ville qui n'est pas touchée s'appelle a", "*Évrard", "Paris", "Lyon")) == set()


def test_what_was_read_wrong_gets_no_advice():
    item = asked("The colour of a soil rich in iron is", "*red 15. The colour of a soil rich in humus is", "blue", "white")
    assert codes(item) == set()


def places(keys: str) -> list[tuple[int, KeyPlace]]:
    return [(n, KeyPlace(4, "ABCD".index(key), False)) for n, key in enumerate(keys, 1)]


def test_keys_that_crowd_at_one_place_are_told_with_the_exact_chance():
    found = advise_bank(places("BABBCBBDBBABBBCBBBDB"))
    message = next(finding.message for finding in found if finding.code == "keys-unbalanced")
    tail = sum(comb(20, k) * 3 ** (20 - k) for k in range(14, 21)) / 4**20
    assert "Of 20 items with 4 choices, 14 have B as the key" in message and f"1 in {round(1 / (8 * tail)):,}" in message


def test_even_keys_are_no_matter_and_few_prove_nothing():
    assert advise_bank(places("ABCDBCADCBADDABCCDAB")) == [] and advise_bank(places("AAAAA")) == []


def test_a_run_and_crowded_truths_are_told():
    assert {finding.code for finding in advise_bank(places("ABCDCCCCCCCABDBADBAD"))} == {"keys-run"}
    truths = [(n, KeyPlace(2, 0 if n % 12 else 1, True)) for n in range(1, 25)]
    told = {finding.code: finding.message for finding in advise_bank(truths)}
    assert "22 are true" in told["truths-unbalanced"] or "2 are false" in told["truths-unbalanced"]


@given(st.integers(2, 4), st.integers(1, 7), st.integers(1, 8))
def test_the_chance_of_a_run_is_exact(choices, length, of):
    def has_run(number: int) -> bool:
        keys = [number // choices**n % choices for n in range(of)]
        return any(len(set(keys[n : n + length])) == 1 for n in range(of - length + 1))

    if choices**of <= 4096:
        counted = sum(map(has_run, range(choices**of))) / choices**of
        assert run_by_chance(length, of, choices) == pytest.approx(counted)


def test_where_a_key_stands():
    assert key_place(asked("?", "a", "*b")) == KeyPlace(2, 1, False)
    assert key_place(asked("?", "a", "*b", shuffle=True)) is None and key_place(Essay(id="e")) is None

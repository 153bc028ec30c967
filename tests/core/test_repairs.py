"""Repairs: each settles the finding that offers it, changes nothing else, and can be applied twice."""

from __future__ import annotations

import pytest

from rogatum.core.checks import REPAIRS, apply_repair, check_item
from rogatum.core.findings.catalogue import CATALOGUE
from rogatum.core.items import Choice, Essay, FillIn, Item, MultipleChoice, MultipleResponse, TextAnswer, TrueFalse


def choices(*weights: float, texts: str = "abcdefgh") -> list[Choice]:
    return [Choice(id=f"c{n}", content=text, weight=weight) for n, (weight, text) in enumerate(zip(weights, texts, strict=False))]


CASES: dict[str, tuple[Item, str, str]] = {
    "two keys": (MultipleChoice(id="i", stem="Which?", points=1, choices=choices(1, 1, 0)), "two-keys", "to-multiple-response"),
    "no points": (TrueFalse(id="i", stem="Loam?", answer=True, points=0), "points-zero", "points-to-1"),
    "no answer": (FillIn(id="i", stem="The finest is ____.", points=1), "no-answer", "to-essay"),
    "an empty choice": (
        MultipleChoice(id="i", stem="Which?", points=1, choices=[*choices(1, 0), Choice(id="x", content="")]),
        "empty-choice",
        "drop-empty-choices",
    ),
    "weights that do not add up": (
        MultipleResponse(id="i", stem="Which?", points=1, scoring="per_choice", choices=choices(0.5, 0.9, 0)),
        "weights-sum",
        "even-weights",
    ),
    "damaged letters": (
        MultipleChoice(id="i", stem="Wie groÃŸ ist 25 Â°C?", points=1, choices=choices(1, 0)),
        "encoding-damage",
        "mend-encoding",
    ),
}


@pytest.mark.parametrize("name", CASES)
def test_a_repair_settles_what_offers_it(name):
    item, code, repair = CASES[name]
    assert CATALOGUE[code].repair == repair and code in {finding.code for finding in check_item(item)}
    mended = apply_repair(item, repair)
    assert code not in {finding.code for finding in check_item(mended)}
    assert apply_repair(mended, repair) == mended
    same = {"id", "title", "metadata", "feedback", "stimulus"}
    assert mended.model_dump(include=same) == item.model_dump(include=same)


def test_damaged_letters_are_mended_in_all_parts_of_an_item():
    item = MultipleChoice(id="Ã¤", stem="BÃ¶den", choices=[Choice(id="a", content="LÃ¶ss", weight=1, feedback="WÃ¤hle")])
    mended = apply_repair(item, "mend-encoding")
    assert (mended.id, mended.stem, mended.choices[0].content, mended.choices[0].feedback) == ("Ã¤", "Böden", "Löss", "Wähle")


def test_letters_that_are_not_damaged_stay():
    item = FillIn(id="i", stem="São Böden 25 °C – “loess”", answers=[TextAnswer(text="Löss")])
    assert apply_repair(item, "mend-encoding") == item


@pytest.mark.parametrize("name", [name for name, repair in REPAIRS.items() if repair.type in (None, "essay")])
def test_a_repair_leaves_an_item_that_it_is_not_for(name):
    essay = Essay(id="e", stem="Why?", points=1, sample_answer=None)
    assert apply_repair(essay, name) == essay


def test_a_multiple_response_shares_its_points_evenly():
    mended = apply_repair(MultipleChoice(id="i", stem="Which?", choices=choices(1, 1, 0, -0.5)), "to-multiple-response")
    assert isinstance(mended, MultipleResponse)
    assert [choice.weight for choice in mended.choices] == [0.5, 0.5, 0, -0.5]

"""Decisions of one key, other types, and the ways of a repair: what a person sets at a stroke goes through the core."""

from __future__ import annotations

from typing import get_args

import pytest
from hypothesis import given
from hypothesis import strategies as st

from rogatum.core.checks import apply_repair, check_item, ways_of
from rogatum.core.errors import NoSuchKey, NoSuchType
from rogatum.core.formats.items_json.carries import CARRIES
from rogatum.core.items import (
    Choice,
    Cloze,
    FillIn,
    Item,
    ItemType,
    MultipleChoice,
    MultipleResponse,
    TextAnswer,
    TextBlank,
    TrueFalse,
)
from rogatum.core.items.changes import with_blanks_of_stem
from rogatum.core.items.deciding import (
    KeyDecision,
    OutcomeDecision,
    PaperDecision,
    PointsDecision,
    TypeDecision,
    decide,
    is_on_paper,
)
from rogatum.core.items.key import key_words
from rogatum.core.items.parts import feedback
from rogatum.core.items.retyping import as_type, blank_as
from tests.core.strategies import items


def choices(*weights: float) -> list[Choice]:
    return [Choice(id=f"c{n}", content=text, weight=weight) for n, (weight, text) in enumerate(zip(weights, "abcd", strict=False))]


def right(item: Item) -> list[int]:
    return [n for n, choice in enumerate(item.choices, 1) if choice.weight > 0]  # type: ignore[union-attr]


def test_a_digit_marks_the_key_and_unmarks_it():
    item = MultipleChoice(id="i", stem="Which?", choices=choices(0, 1, 0))
    marked = decide(item, KeyDecision(choice=3))
    assert right(marked) == [3] and right(decide(marked, KeyDecision(choice=3))) == []


def test_of_two_keys_a_digit_leaves_the_one_that_it_names():
    item = MultipleChoice(id="i", stem="Which?", choices=choices(1, 1, -0.5))
    marked = decide(item, KeyDecision(choice=1))
    assert right(marked) == [1] and marked.choices[2].weight == -0.5


def test_on_several_a_digit_toggles_and_shares_the_points_anew():
    item = MultipleResponse(id="i", stem="Which?", choices=choices(0.5, 0.5, 0, 0))
    more = decide(item, KeyDecision(choice=3))
    assert right(more) == [1, 2, 3] and sum(choice.weight for choice in more.choices) == pytest.approx(1, abs=1e-5)
    assert right(decide(more, KeyDecision(choice=1))) == [2, 3]


def test_true_and_false_are_1_and_2():
    item = TrueFalse(id="i", stem="Loam.")
    assert decide(item, KeyDecision(choice=1)).answer is True
    assert decide(decide(item, KeyDecision(choice=2)), KeyDecision(choice=2)).answer is None


@pytest.mark.parametrize("item", [TrueFalse(id="i"), MultipleChoice(id="i", choices=choices(1, 0)), FillIn(id="i")])
def test_what_is_not_there_cannot_be_the_key(item):
    with pytest.raises(NoSuchKey):
        decide(item, KeyDecision(choice=3))


def test_points_outcomes_and_paper_are_set_and_taken_back():
    item = TrueFalse(id="i", stem="Loam.", metadata={"outcome": ["1.1"]})
    assert decide(item, PointsDecision(points=2)).points == 2
    aligned = decide(item, OutcomeDecision(code="2.1"))
    assert aligned.metadata == {"outcome": ["1.1", "2.1"]}
    assert decide(decide(aligned, OutcomeDecision(code="1.1")), OutcomeDecision(code="2.1")).metadata == {}
    paper = decide(item, PaperDecision())
    assert is_on_paper(paper) and decide(paper, PaperDecision()) == item


TARGETS = sorted(set(get_args(ItemType)) - {"preserved"})


@given(item=items(CARRIES, 1), wanted=st.sampled_from(TARGETS))
def test_another_type_keeps_what_all_have_and_tells_the_rest(item, wanted):
    made = as_type(item, wanted)
    assert made.item.type == wanted
    same = {"id", "title", "points", "feedback", "stimulus", "metadata"}
    assert made.item.model_dump(include=same) == item.model_dump(include=same)
    if key_words(item) and not key_words(made.item) and wanted != "essay" and item.type != wanted:
        assert made.goes, "a key that goes is told"
    told = {text for slot, text in feedback(item).items() if slot.startswith("choice")}
    if told - set(feedback(made.item).values()) and item.type != "cloze":
        assert "the feedback of choices" in made.goes


def test_nothing_is_made_a_kind_that_is_only_kept():
    with pytest.raises(NoSuchType):
        decide(TrueFalse(id="i"), TypeDecision(type="preserved"))


def test_texts_that_are_numbers_become_numbers_with_their_unit():
    item = FillIn(id="i", stem="How wet?", answers=[TextAnswer(text="25 %"), TextAnswer(text="25,0 %", weight=1)])
    made = as_type(item, "numeric")
    assert (made.item.answers[0].value, made.item.unit, made.goes) == (25, "%", []) and len(made.item.answers) == 1
    back = as_type(made.item, "fill_in")
    assert [answer.text for answer in back.item.answers] == ["25"] and back.goes == ["the unit"]


def test_a_blank_alone_and_an_item_of_its_kind_are_made_of_each_other():
    item = FillIn(id="i", stem="The finest is ______.", answers=[TextAnswer(text="clay")])
    cloze = as_type(item, "cloze").item
    assert cloze.stem == 'The finest is <span data-blank="b1"></span>.' and not check_item(cloze)
    assert as_type(cloze, "fill_in").item == item


@pytest.mark.parametrize("kind", ["text", "numeric", "choice"])
def test_a_blank_is_made_into_each_kind_of_what_it_holds(kind):
    held = [TextAnswer(text="25 ± 0.5", feedback="Well weighed."), TextAnswer(text="26", weight=0.5)]
    made = blank_as(TextBlank(id="b1", answers=held, share=0.25), kind)
    assert (made.id, made.kind, made.share) == ("b1", kind, 0.25)
    if kind == "choice":
        assert [(choice.content, choice.weight) for choice in made.choices] == [("25 ± 0.5", 1.0), ("26", 0.5)]
        assert made.choices[0].feedback == "Well weighed."
    elif kind == "numeric":
        assert [(answer.bounds(), answer.weight) for answer in made.answers] == [((24.5, 25.5), 1.0), ((26.0, 26.0), 0.5)]
    # And back: a text of each that is right.
    back = blank_as(made, "text").answers
    assert [answer.text for answer in back][:1] == [{"numeric": "25"}.get(kind, "25 ± 0.5")]


def test_of_two_keys_each_is_offered_and_both():
    item = MultipleChoice(id="i", stem="Which?", points=1, choices=choices(1, 0, 1))
    ways = ways_of("two-keys", item)
    assert [way.label for way in ways] == ["Only A", "Only C", "Both: multiple response"]
    for way, key in zip(ways, ([1], [3], [1, 3]), strict=True):
        mended = apply_repair(item, way.name)
        assert right(mended) == key and not check_item(mended)
    assert [way.for_all for way in ways] == [False, False, True]


def test_an_unknown_repair_is_refused():
    for name in ("only-0", "only-²", "only-9999999999", "nothing"):
        with pytest.raises(KeyError):
            apply_repair(TrueFalse(id="i"), name)


def test_blanks_follow_the_stem_and_share_the_points_anew():
    stem = " and ".join(f'<span data-blank="{name}"></span>' for name in ("b2", "b3", "b1"))
    blanks = [TextBlank(id=name, share=share) for name, share in (("b1", 0.5), ("b2", 0.25), ("b9", 0.25))]
    made = with_blanks_of_stem(Cloze(id="c", stem=stem, blanks=blanks))
    assert [blank.id for blank in made.blanks] == ["b2", "b3", "b1"]
    assert [blank.share for blank in made.blanks] == pytest.approx([0.25 / 1.125, 0.375 / 1.125, 0.5 / 1.125], abs=1e-5)
    assert with_blanks_of_stem(Cloze(id="c", stem="None.", blanks=blanks)).blanks == []

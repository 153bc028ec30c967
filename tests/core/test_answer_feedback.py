"""Feedback of single answers, right and wrong: told from the responses that show it, and written so that it is found again."""

from __future__ import annotations

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from rogatum.core.exporting import export_bank
from rogatum.core.items import (
    Bank,
    Choice,
    ChoiceBlank,
    Cloze,
    FillIn,
    Item,
    Numeric,
    NumericAnswer,
    NumericBlank,
    TextAnswer,
    TextBlank,
    parts,
)
from rogatum.core.items.content import blank_marker
from rogatum.core.receiving import read_source
from tests.core.schemas import breaks
from tests.core.strategies import media_box

NOTES = st.none() | st.sampled_from(["<p>Look <em>again</em>.</p>", "Nearly", "That is it"])


@st.composite
def clozes(draw) -> Cloze:
    """A cloze whose answers and choices may each have feedback; the first blank's first never, so that it is not all the right ones'."""
    scoring = draw(st.sampled_from(["per_part", "all_or_nothing"]))
    half = 0.5 if scoring == "per_part" else 1.0
    blanks = [
        TextBlank(
            id="b1",
            answers=[TextAnswer(text="loam"), TextAnswer(text="silt", weight=half, feedback=draw(NOTES))],
            share=0.5,
        ),
        NumericBlank(
            id="b2",
            answers=[NumericAnswer(value=5, tolerance=0.5), NumericAnswer(min=10, max=20, weight=half, feedback=draw(NOTES))],
            share=0.25,
        ),
        ChoiceBlank(
            id="b3",
            choices=[
                Choice(id="A", content="one", weight=1, feedback=draw(NOTES)),
                Choice(id="B", content="two", feedback=draw(NOTES)),
                Choice(id="C", content="three"),
            ],
            share=0.25,
        ),
    ]
    stem = f"The first is {blank_marker('b1')}, then {blank_marker('b2')} and {blank_marker('b3')} end"
    whole = {slot: text for slot in ("general", "correct", "incorrect") if (text := draw(st.none() | st.just(f"The {slot} one")))}
    return Cloze(id="c", title="C", stem=stem, points=2, blanks=blanks, scoring=scoring, feedback=whole)


@st.composite
def typed(draw) -> FillIn | Numeric:
    """A text or a number to type, with wrong answers that are told of."""
    told = st.sampled_from(["Finer", "<p>Coarser</p>"])
    common = {"id": "t", "title": "T", "stem": "Which?", "points": 1, "feedback": draw(st.just({}) | st.just({"incorrect": "No"}))}
    if draw(st.booleans()):
        wrong = [TextAnswer(text=text, weight=0, feedback=draw(told)) for text in draw(st.sets(st.sampled_from(["silt", "peat"])))]
        half = [TextAnswer(text="marl", weight=0.5, feedback=draw(NOTES))]
        return FillIn(**common, answers=[TextAnswer(text="loam"), *half, *wrong], case_sensitive=draw(st.booleans()))
    sides = [
        NumericAnswer(max=4, include_max=False, weight=0, feedback="Too low"),
        NumericAnswer(min=6, include_min=False, weight=0, feedback="Too high"),
    ]
    return Numeric(
        **common, answers=[NumericAnswer(value=5, tolerance=1), *draw(st.sampled_from([[], sides, sides[:1], sides[1:]]))]
    )


@pytest.mark.parametrize("format_name", ["qti-1.2", "qti-2.1", "qti-2.2", "qti-3.0"])
@given(item=clozes() | typed())
@settings(max_examples=60)
def test_feedback_of_single_answers_goes_out_and_comes_back(format_name, item):
    export = export_bank(Bank(items=[item]), media_box(), format_name)
    facets = export.ledger.items[0].facets
    assert set(facets.values()) <= {"same", "added"}, export.ledger.items[0].notes
    assert not export.written.findings and not breaks(format_name, export.written.data)


def old_rule(condition: str, score: float | None, link: str = "") -> str:
    """A rule of QTI 1.2 that goes on."""
    earned = "" if score is None else f'<setvar varname="SCORE" action="Add">{score}</setvar>'
    shown = f'<displayfeedback feedbacktype="Response" linkrefid="{link}"/>' if link else ""
    return f'<respcondition continue="Yes"><conditionvar>{condition}</conditionvar>{earned}{shown}</respcondition>'


def old_item(blanks: int, fibtype: str, *rules: str) -> Item:
    """An item of QTI 1.2 to type into, with the feedback "one", "two" and "three"."""
    fields = "".join(
        f'<material><mattext>and</mattext></material><response_str ident="R{n}"><render_fib fibtype="{fibtype}">'
        f'<response_label ident="L{n}"/></render_fib></response_str>'
        for n in range(1, blanks + 1)
    )
    texts = "".join(
        f'<itemfeedback ident="{name}"><material><mattext>{name}</mattext></material></itemfeedback>'
        for name in ("one", "two", "three")
    )
    outcomes = '<outcomes><decvar varname="SCORE" vartype="Decimal"/></outcomes>'
    text = f'<questestinterop><item ident="i"><presentation>{fields}</presentation><resprocessing>{outcomes}{"".join(rules)}</resprocessing>'
    return read_source(("x.xml", f"{text}{texts}</item></questestinterop>".encode())).bank.items[0]


def same(name: str, value: str) -> str:
    return f'<varequal respident="{name}" case="No">{value}</varequal>'


WAYS = {
    "each right blank says something": (
        (
            2,
            "String",
            old_rule(same("R1", "loam"), 1, "one"),
            old_rule(same("R2", "clay"), 1, "two"),
        ),
        {"blank 1, answer 1": "one", "blank 2, answer 1": "two"},
    ),
    "a wrong value of one blank says something": (
        (2, "String", old_rule(same("R1", "loam"), 1), old_rule(same("R1", "silt"), None, "one"), old_rule(same("R2", "clay"), 1)),
        {"blank 1, answer 2": "one"},
    ),
    "all blanks right say one thing": (
        (2, "String", old_rule(same("R1", "loam"), 1, "one"), old_rule(same("R2", "clay"), 1, "one")),
        {"correct": "one"},
    ),
    "a wrong text says something": (
        (1, "String", old_rule(same("R1", "loam"), 1, "one"), old_rule(same("R1", "silt"), 0, "two")),
        {"correct": "one", "answer 2": "two"},
    ),
    "what is too low and too high say something": (
        (
            1,
            "Decimal",
            old_rule('<vargte respident="R1">4</vargte><varlte respident="R1">6</varlte>', 1),
            old_rule('<varlt respident="R1">4</varlt>', None, "one"),
            old_rule('<vargt respident="R1">6</vargt>', None, "two"),
        ),
        {"answer 2": "one", "answer 3": "two"},
    ),
    "all that is wrong says one thing": (
        (1, "Decimal", old_rule(same("R1", "5"), 1), old_rule(f"<not>{same('R1', '5')}</not>", None, "one")),
        {"incorrect": "one"},
    ),
}


@pytest.mark.parametrize(("item", "found"), WAYS.values(), ids=WAYS)
def test_feedback_belongs_to_what_shows_it(item, found):
    feedback = parts.feedback(old_item(*item))
    # What no response shows is general.
    assert {slot: text for slot, text in feedback.items() if slot != "general"} == found
    assert all(text not in feedback.get("general", "") for text in found.values())

"""The ledger's judgement, facet by facet: what makes each verdict, and that nothing else moves."""

from __future__ import annotations

import pytest

from rogatum.core.fidelity import compare
from rogatum.core.items import (
    Bank,
    Choice,
    ChoiceBlank,
    Cloze,
    Essay,
    FillIn,
    Matching,
    Media,
    MultipleChoice,
    MultipleResponse,
    Numeric,
    NumericAnswer,
    Ordering,
    Pair,
    PoolEntry,
    Preserved,
    Stimulus,
    TextAnswer,
    TextBlank,
    TrueFalse,
)

FORMULA = (
    '<math xmlns="http://www.w3.org/1998/Math/MathML"><semantics><mi>{0}</mi>'
    '<annotation encoding="application/x-tex">{0}</annotation></semantics></math>'
)


def choice(**more):
    base = {
        "id": "q",
        "stem": "Which is the smallest particle of a soil?",
        "points": 1,
        "choices": [Choice(id="a", content="clay", weight=1), Choice(id="b", content="sand")],
    }
    return MultipleChoice(**(base | more))


def facets(a, b, **banks):
    first, second = Bank(items=[a], **banks.get("first", {})), Bank(items=[b], **banks.get("second", {}))
    entry = compare(first, second).items[0]
    return {facet: verdict for facet, verdict in entry.facets.items() if verdict != "same"}


SAND, CLAY = Choice(id="b", content="sand"), Choice(id="a", content="clay", weight=1)
CASES = {
    "nothing": (choice(), choice(), {}),
    "other identifiers": (choice(), choice(choices=[Choice(id="1", content="clay", weight=1), Choice(id="2", content="sand")]), {}),
    "quotes of another kind": (choice(stem="A “fine” soil?"), choice(stem='A "fine" soil?'), {}),
    "a word of the stem": (choice(), choice(stem="Which is the largest particle of a soil?"), {"stem": "changed"}),
    "spaces": (choice(), choice(stem="Which is thesmallest particle of a soil?"), {"stem": "recast"}),
    "emphasis gone": (choice(stem="<em>Which</em> one?"), choice(stem="Which one?"), {"formatting": "lost"}),
    "emphasis new": (choice(stem="Which one?"), choice(stem="<em>Which</em> one?"), {"formatting": "added"}),
    "a formula gone": (choice(stem="x" + FORMULA.format("y")), choice(stem="xy"), {"math": "lost"}),
    "another formula": (
        choice(stem="Which soil has a porosity of " + FORMULA.format("y")),
        choice(stem="Which soil has a porosity of " + FORMULA.format("z")),
        {"math": "changed", "stem": "changed"},
    ),
    "choices in another order": (choice(choices=[CLAY, SAND]), choice(choices=[SAND, CLAY]), {"choices": "recast"}),
    "a choice gone": (
        choice(choices=[CLAY, SAND, Choice(id="c", content="silt")]),
        choice(choices=[CLAY, SAND]),
        {"choices": "lost"},
    ),
    "another key": (
        choice(),
        choice(choices=[Choice(id="a", content="clay"), Choice(id="b", content="sand", weight=1)]),
        {"key": "changed", "marking": "changed"},
    ),
    "a part of the credit": (
        choice(choices=[CLAY, Choice(id="b", content="sand", weight=0.5)]),
        choice(choices=[CLAY, SAND]),
        {"key": "changed", "marking": "changed"},
    ),
    "points": (choice(), choice(points=100), {"points": "changed"}),
    "points gone": (choice(), choice(points=None), {"points": "lost"}),
    "points new": (choice(points=None), choice(points=1), {"points": "added"}),
    "feedback gone": (choice(feedback={"general": "See page 4."}), choice(), {"feedback": "lost"}),
    "feedback elsewhere": (
        choice(feedback={"correct": "See page 4."}),
        choice(feedback={"general": "See page 4."}),
        {"feedback": "recast"},
    ),
    "other feedback": (choice(feedback={"general": "Yes."}), choice(feedback={"general": "No."}), {"feedback": "changed"}),
    "metadata gone": (choice(metadata={"outcome": ["2.1"]}), choice(), {"metadata": "lost"}),
    "metadata new": (choice(), choice(metadata={"outcome": ["2.1"]}), {"metadata": "added"}),
    "a title gone": (choice(title="Fine soil"), choice(), {"metadata": "lost"}),
    "true or false as a choice": (
        TrueFalse(id="q", stem="Loam is a class.", answer=True, points=1),
        MultipleChoice(
            id="q",
            stem="Loam is a class.",
            points=1,
            choices=[Choice(id="t", content="True", weight=1), Choice(id="f", content="False")],
        ),
        {"type": "recast"},
    ),
    "a number as text": (
        Numeric(id="q", stem="How much?", points=1, answers=[NumericAnswer(value=25, tolerance=0.5)]),
        FillIn(id="q", stem="How much?", points=1, answers=[TextAnswer(text="25")]),
        {"type": "changed", "key": "changed", "marking": "changed"},
    ),
    "a tolerance": (
        Numeric(id="q", stem="How much?", points=1, answers=[NumericAnswer(value=25, tolerance=0.5)]),
        Numeric(id="q", stem="How much?", points=1, answers=[NumericAnswer(value=25)]),
        {"key": "changed", "marking": "changed"},
    ),
    "a range instead of a tolerance": (
        Numeric(id="q", stem="How much?", points=1, answers=[NumericAnswer(value=25, tolerance=0.5)]),
        Numeric(id="q", stem="How much?", points=1, answers=[NumericAnswer(min=24.5, max=25.5)]),
        {},
    ),
    "case that matters": (
        FillIn(id="q", stem="Name it.", points=1, answers=[TextAnswer(text="Ah")], case_sensitive=True),
        FillIn(id="q", stem="Name it.", points=1, answers=[TextAnswer(text="Ah")]),
        {"marking": "changed"},
    ),
    "an order": (
        Ordering(id="q", stem="Order them.", points=1, sequence=["rock", "gravel", "soil"]),
        Ordering(id="q", stem="Order them.", points=1, sequence=["gravel", "rock", "soil"]),
        {"key": "changed", "marking": "changed", "choices": "recast"},
    ),
    "a pair": (
        Matching(id="q", stem="Match.", points=1, pairs=[Pair(left="sand", right="large"), Pair(left="clay", right="small")]),
        Matching(id="q", stem="Match.", points=1, pairs=[Pair(left="sand", right="small"), Pair(left="clay", right="large")]),
        {"key": "changed", "marking": "changed"},
    ),
    "a sample answer": (
        Essay(id="q", stem="Discuss the soil.", points=1, sample_answer="It depends."),
        Essay(id="q", stem="Discuss the soil.", points=1),
        {"key": "lost"},
    ),
    "all or nothing as choice by choice": (
        MultipleResponse(
            id="q",
            stem="Which two?",
            points=1,
            choices=[Choice(id=c, content=c, weight=w) for c, w in zip("abc", (0.5, 0.5, 0), strict=True)],
        ),
        MultipleResponse(
            id="q",
            stem="Which two?",
            points=1,
            scoring="per_choice",
            choices=[Choice(id=c, content=c, weight=w) for c, w in zip("abc", (0.5, 0.5, 0), strict=True)],
        ),
        {"marking": "changed"},
    ),
    "a preserved original": (
        Preserved(id="q", stem="Point at it.", original="<item/>", original_format="qti-1.2"),
        Preserved(id="q", stem="Point at it.", original="<item a='1'/>", original_format="qti-1.2"),
        {"key": "changed", "marking": "changed"},
    ),
}


@pytest.mark.parametrize(("a", "b", "wanted"), CASES.values(), ids=CASES)
def test_what_differs_is_judged_and_nothing_else(a, b, wanted):
    found = facets(a, b)
    # What stands in an item has a formatting too; only the facets that are named are under test here.
    assert {
        facet: verdict for facet, verdict in found.items() if facet in wanted or facet not in ("formatting", "choices")
    } == wanted


def test_shares_of_blanks():
    def cloze(share):
        blanks = [
            TextBlank(id="b1", answers=[TextAnswer(text="Ah")], share=share),
            ChoiceBlank(id="b2", choices=[Choice(id="x", content="Bt", weight=1), Choice(id="y", content="C")], share=1 - share),
        ]
        return Cloze(id="q", stem='<span data-blank="b1"></span> over <span data-blank="b2"></span>', points=2, blanks=blanks)

    assert facets(cloze(0.5), cloze(0.5)) == {} and facets(cloze(0.5), cloze(0.25)) == {"marking": "changed"}


def test_pools_and_passages():
    def bank(path, passage):
        pools = [PoolEntry(path=path, items=["q"])] if path else []
        return {"pools": pools, "stimuli": [Stimulus(id="s", content=passage)] if passage else []}

    item = choice(stimulus="s")
    for second, verdict in (
        (bank(["A", "B"], "notes"), None),
        (bank(["A"], "notes"), "changed"),
        (bank([], "notes"), "lost"),
        (bank(["A / B"], "notes"), "recast"),
        (bank(["A", "B"], ""), "lost"),
        (bank(["A", "B"], "other notes"), "changed"),
    ):
        assert facets(item, item, first=bank(["A", "B"], "notes"), second=second).get("grouping") == verdict


def test_pictures_are_told_by_their_bytes():
    item = choice(stem='<img src="media/a.png" alt="pit"/>')
    other = choice(stem='<img src="media/b.png" alt="pit"/>')
    renamed = {"first": {"media": [Media(ref="media/a.png", sha256="1", size=1, type="image/png")]}}
    same = {"second": {"media": [Media(ref="media/b.png", sha256="1", size=1, type="image/png")]}}
    different = {"second": {"media": [Media(ref="media/b.png", sha256="2", size=1, type="image/png")]}}
    assert facets(item, other, **renamed, **same) == {} and facets(item, other, **renamed, **different) == {"media": "changed"}
    assert facets(item, choice(stem=""), **renamed)["media"] == "lost"


def test_items_are_matched_by_identifier_then_by_content():
    a = Bank(items=[choice(id="1", stem="Which gas do roots need?"), choice(id="2", stem="Which soil is the finest of all?")])
    b = Bank(items=[choice(id="9", stem="Which soil is the finest of all ?"), choice(id="1", stem="Quite another question")])
    ledger = compare(a, b, {"1": "It was left out."})
    assert ledger.only_in_a == ["1"] and ledger.only_in_b == ["1"]
    assert [(entry.a, entry.b) for entry in ledger.items if entry.a and entry.b] == [("2", "9")]
    assert next(entry for entry in ledger.items if entry.a == "1").notes[0].message == "It was left out."
    assert ledger.totals.lost == 1 and ledger.totals.added == 1 and not ledger.sound


def test_marks_that_differ_name_the_responses_that_show_it():
    note = (
        compare(Bank(items=[choice()]), Bank(items=[choice(choices=[SAND, Choice(id="a", content="clay", weight=0.5)])]))
        .items[0]
        .notes
    )
    marking = next(entry for entry in note if entry.facet == "marking")
    assert marking.code == "marks-differ" and "clay" in marking.message and "100 %" in marking.a and "50 %" in marking.b

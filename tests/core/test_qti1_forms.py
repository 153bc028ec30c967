"""QTI 1.2 items, form by form: what presentation and processing make of an item, and what stands beside the question."""

from __future__ import annotations

import pytest

from tests.core.plain import key_of
from tests.core.test_qti1_habits import bank_of, equal, item, labels, pick, rule, text


def filled(ident: str = "R", kind: str = "String", rows: str = "", count: int = 1, response: str = "str") -> str:
    shape = f' fibtype="{kind}"' + (f' rows="{rows}"' if rows else "")
    blanks = "".join(f'<response_label ident="L{n}"/>' for n in range(1, count + 1))
    return (
        f'<response_{response} ident="{ident}" rcardinality="Single"><render_fib{shape}>{blanks}</render_fib></response_{response}>'
    )


def ordered(ident: str = "R") -> str:
    return pick(ident, "A", "B", "C", cardinality="Ordered")


def lid(ident: str, prompt: str, *options: str) -> str:
    return pick(ident, *options, prompt=text(prompt))


def within(low: float, high: float) -> str:
    return f'<and><vargte respident="R">{low}</vargte><varlte respident="R">{high}</varlte></and>'


ADD = {"action": "Add", "goes_on": "Yes"}
FORMS = {
    "one of several": (pick("R", "A", "B"), rule(equal("R", "B"), 2), ("multiple_choice", ["choice B"], 2)),
    "several": (
        pick("R", "A", "B", "C", cardinality="Multiple"),
        rule(f"<and>{equal('R', 'A')}{equal('R', 'C')}<not>{equal('R', 'B')}</not></and>", 3),
        ("multiple_response", ["choice A", "choice C"], 3),
    ),
    "an order by index": (
        ordered(),
        rule("<and>" + "".join(equal("R", v, index=str(n)) for n, v in enumerate("CAB", 1)) + "</and>"),
        ("ordering", ["choice C", "choice A", "choice B"], 1),
    ),
    "an order in a list": (ordered(), rule(equal("R", "B,C,A")), ("ordering", ["choice B", "choice C", "choice A"], 1)),
    "a number": (filled(kind="Decimal"), rule(within(2.5, 3.5)), ("numeric", [(2.5, 3.5)], 1)),
    "a number by its response": (filled(response="num"), rule(equal("R", "12")), ("numeric", [(12, 12)], 1)),
    "a number told by its comparisons": (filled(), rule(within(4, 5)), ("numeric", [(4, 5)], 1)),
    "an integer": (filled(kind="Integer"), rule(equal("R", "7"), 4), ("numeric", [(7, 7)], 4)),
    "a word": (filled(), rule(f"<or>{equal('R', 'clay')}{equal('R', 'fine clay')}</or>"), ("fill_in", ["clay", "fine clay"], 1)),
    "an essay": (filled(rows="8"), "", ("essay", None, None)),
    "two blanks of their own": (
        text("The finest is ") + filled("R1") + text(" and the coarsest ") + filled("R2"),
        rule(equal("R1", "clay"), **ADD) + rule(equal("R2", "sand"), **ADD),
        ("cloze", [["clay"], ["sand"]], 2),
    ),
    "a blank to choose for": (
        text("Clay is ") + pick("R1", "A", "B") + text(" and sand ") + filled("R2"),
        rule(equal("R1", "A"), **ADD) + rule(equal("R2", "coarse"), **ADD),
        ("cloze", [["choice A"], ["coarse"]], 2),
    ),
    "a blank for a number": (
        text("There are ") + filled("R1", kind="Integer") + text(" of ") + filled("R2"),
        rule(equal("R1", "3"), **ADD) + rule(equal("R2", "them"), **ADD),
        ("cloze", [[(3, 3)], ["them"]], 2),
    ),
    "two blanks of one response": (
        filled(count=2),
        rule(equal("R", "clay", index="1"), **ADD) + rule(equal("R", "sand", index="2"), **ADD),
        ("cloze", [["clay"], ["sand"]], 2),
    ),
    "the same options for each": (
        lid("R1", "fine", "A", "B", "C") + lid("R2", "coarse", "A", "B", "C"),
        rule(equal("R1", "B"), **ADD) + rule(equal("R2", "A"), **ADD),
        ("matching", ["fine=choice B", "coarse=choice A"], 2),
    ),
    "the same options, all together": (
        lid("R1", "fine", "A", "B") + lid("R2", "coarse", "A", "B"),
        rule(f"<and>{equal('R1', 'B')}{equal('R2', 'A')}</and>", 2),
        ("matching", ["fine=choice B", "coarse=choice A"], 2),
    ),
    "nothing asked": ("", "", ("information", None, None)),
    "a place on a picture": (
        '<response_xy ident="R"><render_hotspot><response_label ident="A" rarea="Rectangle">1,1,9,9</response_label></render_hotspot>'
        "</response_xy>",
        rule(equal("R", "A")),
        ("preserved", None, 1),
    ),
    "a slider": (
        '<response_num ident="R"><render_slider lowerbound="0" upperbound="9"><response_label ident="A"/></render_slider></response_num>',
        rule(equal("R", "4")),
        ("preserved", None, 1),
    ),
    "kinds that do not go together": (
        pick("R1", "A", "B", cardinality="Multiple") + filled("R2"),
        rule(equal("R1", "A")),
        ("preserved", None, 1),
    ),
}


@pytest.mark.parametrize("name", FORMS)
def test_a_presentation_gives_its_form(name):
    presentation, rules, (type_, key, points) = FORMS[name]
    bank = bank_of(item(text("Question") + presentation, rules, maximum="1" if type_ == "preserved" else ""))
    read = bank.items[0]
    assert (read.type, key_of(read), read.points) == (type_, key, points)
    if type_ == "preserved":
        assert "<presentation>" in read.original and "Question" in read.stem
        assert "preserved-kind" in {finding.code for finding in bank.findings}


SHORT_TRUTHS = {
    "true first": (("True", "False"), 0, "true_false", True),
    "false first": (("False", "True"), 0, "true_false", False),
    "letters": (("T", "F"), 1, "true_false", False),
    "yes and no": (("Yes", "No"), 0, "multiple_choice", ["Yes"]),
    "three": (("True", "False", "Perhaps"), 0, "multiple_choice", ["True"]),
}


@pytest.mark.parametrize("name", SHORT_TRUTHS)
def test_true_and_false_are_known_by_their_words(name):
    words, right, type_, key = SHORT_TRUTHS[name]
    options = "".join(f'<response_label ident="{n}">{text(word)}</response_label>' for n, word in enumerate(words))
    shown = f'<response_lid ident="R" rcardinality="Single"><render_choice>{options}</render_choice></response_lid>'
    read = bank_of(item(text("Clay is fine.") + shown, rule(equal("R", str(right))))).items[0]
    assert (read.type, key_of(read)) == (type_, key)


def test_pairs_that_earn_nothing_alone_count_together():
    presentation, rules, _ = FORMS["the same options, all together"]
    bank = bank_of(item(text("Match.") + presentation, rules))
    assert bank.items[0].scoring == "all_or_nothing" and not bank.findings


def test_an_order_that_no_rule_names_is_said():
    messages = [finding.message for finding in bank_of(item(ordered(), rule("<other/>", 0))).findings]
    assert any("no order of the entries" in message for message in messages)


GROUP = (
    '<response_grp ident="R" rcardinality="Multiple"><render_extension><response_label ident="A" match_group="P,Q">{}</response_label>'
    '<response_label ident="P">{}</response_label></render_extension></response_grp>'
)


def test_a_group_without_pairs_is_preserved():
    read = bank_of(item(GROUP.format(text("clay"), text("fine")), rule(equal("R", "nothing")))).items[0]
    assert read.type == "preserved"


def fields(**values: str) -> str:
    listed = "".join(
        f"<qtimetadatafield><fieldlabel>{label}</fieldlabel><fieldentry>{value}</fieldentry></qtimetadatafield>"
        for label, value in values.items()
    )
    return f"<itemmetadata><qtimetadata>{listed}</qtimetadata></itemmetadata>"


BESIDE = {
    "difficulty": (fields(qmd_levelofdifficulty="Easy"), {"difficulty": ["Easy"]}),
    "a topic": ("<itemmetadata><qmd_topic>Texture</qmd_topic></itemmetadata>", {"topic": ["Texture"]}),
    "a field of its own": (fields(shelf="B 4"), {"shelf": ["B 4"]}),
    "objectives": (f"<objectives>{text('Explain texture.')}</objectives>", {"outcome": ["Explain texture."]}),
    "a hint": (
        f'<itemfeedback ident="h"><hint><hintmaterial>{text("Think.")}</hintmaterial></hint></itemfeedback>',
        {"hint": ["Think."]},
    ),
    "a rubric": (f"<itemrubric>{text('Use ink.')}</itemrubric>", {"rubric": ["Use ink."]}),
    "an empty field": (fields(qmd_topic=""), {}),
}


@pytest.mark.parametrize("name", BESIDE)
def test_what_stands_beside_the_question(name):
    extra, metadata = BESIDE[name]
    assert bank_of(item(pick("R", "A", "B"), rule(equal("R", "A")), extra)).items[0].metadata == metadata


def test_points_that_metadata_state_win_over_the_scale_of_the_rules():
    read = bank_of(item(pick("R", "A", "B"), rule(equal("R", "A"), 100), fields(qmd_weighting="3"))).items[0]
    assert read.points == 3 and read.choices[0].weight == 1


SOLUTION = '<itemfeedback ident="s"><solution><solutionmaterial>{}</solutionmaterial></solution></itemfeedback>'


def test_a_solution_is_an_essays_answer_and_another_items_feedback():
    essay = bank_of(item(filled(rows="5"), "", SOLUTION.format(text("It depends.")))).items[0]
    assert essay.sample_answer == "It depends."
    choice = bank_of(item(pick("R", "A", "B"), rule(equal("R", "A")), SOLUTION.format(text("See page 4.")))).items[0]
    assert "See page 4." in choice.feedback["general"]


def test_an_essay_takes_its_rubric():
    assert bank_of(item(filled(rows="5"), "", f"<itemrubric>{text('5 for one.')}</itemrubric>")).items[0].rubric == "5 for one."


@pytest.mark.parametrize(("shuffle", "wanted"), [("Yes", True), ("No", False)])
def test_shuffling_is_what_the_source_says(shuffle, wanted):
    shown = f'<response_lid ident="R" rcardinality="Single"><render_choice shuffle="{shuffle}">{labels("A", "B")}</render_choice></response_lid>'
    assert bank_of(item(shown, rule(equal("R", "A")))).items[0].shuffle is wanted

"""QTI 2.x bodies, interaction by interaction: the form that each gives an item, its key, its points and what is said about it."""

from __future__ import annotations

import pytest

from rogatum.core.receiving import read_source
from tests.core.plain import key_of

HEAD = '<assessmentItem xmlns="http://www.imsglobal.org/xsd/imsqti_v2p1" identifier="q" title="T" adaptive="{adaptive}" timeDependent="false">'
SCORE = '<outcomeDeclaration identifier="SCORE" cardinality="single" baseType="float"{}/>'
CORRECT = '<responseProcessing template="http://www.imsglobal.org/question/qti_v2p1/rptemplates/match_correct"/>'
MAPPED = '<responseProcessing template="http://www.imsglobal.org/question/qti_v2p1/rptemplates/map_response"/>'


def response(base: str, *correct: str, ident: str = "RESPONSE", cardinality: str = "single", mapping: str = "") -> str:
    values = "".join(f"<value>{value}</value>" for value in correct)
    right = f"<correctResponse>{values}</correctResponse>" if correct else ""
    return (
        f'<responseDeclaration identifier="{ident}" cardinality="{cardinality}" baseType="{base}">{right}{mapping}'
        "</responseDeclaration>"
    )


def mapping(**entries: float) -> str:
    listed = "".join(f'<mapEntry mapKey="{key.replace("_", " ")}" mappedValue="{value}"/>' for key, value in entries.items())
    return f'<mapping defaultValue="0">{listed}</mapping>'


def summed(*idents: str) -> str:
    """Each right response adds one point."""
    rules = "".join(
        f'<responseCondition><responseIf><match><variable identifier="{i}"/><correct identifier="{i}"/></match>'
        '<setOutcomeValue identifier="SCORE"><sum><variable identifier="SCORE"/><baseValue baseType="float">1</baseValue></sum>'
        "</setOutcomeValue></responseIf></responseCondition>"
        for i in idents
    )
    return f"<responseProcessing>{rules}</responseProcessing>"


def together(*idents: str) -> str:
    """All right responses together earn two points, and fewer none."""
    tests = "".join(f'<match><variable identifier="{i}"/><correct identifier="{i}"/></match>' for i in idents)
    return (
        f"<responseProcessing><responseCondition><responseIf><and>{tests}</and>"
        '<setOutcomeValue identifier="SCORE"><baseValue baseType="float">2</baseValue></setOutcomeValue>'
        "</responseIf></responseCondition></responseProcessing>"
    )


def bank_of(body, declarations="", processing="", extra="", maximum=""):
    text = (
        f"{HEAD.format(adaptive='false')}{declarations}{SCORE.format(maximum)}<itemBody>{body}</itemBody>{processing}{extra}"
        "</assessmentItem>"
    )
    return read_source(("item.xml", text.encode())).bank


def options(tag: str, **texts: str) -> str:
    return "".join(f'<{tag} identifier="{ident}" matchMax="1">{text}</{tag}>' for ident, text in texts.items())


HOTTEXT = (
    '<hottextInteraction responseIdentifier="RESPONSE" maxChoices="1"><prompt>Mark the noun.</prompt>'
    '<p>The <hottext identifier="A">soil</hottext> is <hottext identifier="B">wet</hottext>.</p></hottextInteraction>'
)
GAPS = (
    f'<gapMatchInteraction responseIdentifier="RESPONSE"><prompt>Fill in.</prompt>{options("gapText", W="clay", S="sand", L="loam")}'
    '<p>The finest is <gap identifier="G1"/> and the coarsest <gap identifier="G2"/>.</p></gapMatchInteraction>'
)
INLINE = (
    '<p>Clay is <inlineChoiceInteraction responseIdentifier="RESPONSE"><inlineChoice identifier="A">fine</inlineChoice>'
    '<inlineChoice identifier="B">coarse</inlineChoice></inlineChoiceInteraction> soil.</p>'
)
TWO_TEXTS = (
    '<p>The finest is <textEntryInteraction responseIdentifier="R1"/> and the coarsest '
    '<textEntryInteraction responseIdentifier="R2"/>.</p>'
)
ORDER = (
    f'<orderInteraction responseIdentifier="RESPONSE"><prompt>Smallest first.</prompt>{options("simpleChoice", A="sand", B="clay", C="silt")}'
    "</orderInteraction>"
)
ASSOCIATE = (
    '<associateInteraction responseIdentifier="RESPONSE" maxAssociations="2"><prompt>Pair them.</prompt>'
    f"{options('simpleAssociableChoice', A='clay', B='sand', P='fine', Q='coarse')}</associateInteraction>"
)
MATCH = (
    '<matchInteraction responseIdentifier="RESPONSE" maxAssociations="2"><prompt>Match.</prompt>'
    f"<simpleMatchSet>{options('simpleAssociableChoice', A='clay', B='sand')}</simpleMatchSet>"
    f"<simpleMatchSet>{options('simpleAssociableChoice', P='fine', Q='coarse', Z='neither')}</simpleMatchSet></matchInteraction>"
)
TWO_CHOICES = "".join(
    f'<choiceInteraction responseIdentifier="R{n}" maxChoices="1"><prompt>Which is {word}?</prompt>'
    f"{options('simpleChoice', A='clay', B='sand')}</choiceInteraction>"
    for n, word in ((1, "fine"), (2, "coarse"))
)
PAIRED = response("directedPair", "A P", "B Q", cardinality="multiple")
FORMS = {
    "words to mark": (
        (HOTTEXT, response("identifier", "A"), CORRECT),
        ("multiple_choice", ["soil"], 1, {"type-guessed"}),
    ),
    "words into gaps": (
        (GAPS, response("directedPair", "W G1", "S G2", cardinality="multiple", mapping=mapping(W_G1=1, S_G2=1)), MAPPED),
        ("cloze", [["clay"], ["sand"]], 2, set()),
    ),
    "words into gaps, all together": (
        (GAPS, response("directedPair", "W G1", "S G2", cardinality="multiple"), CORRECT),
        ("cloze", [["clay"], ["sand"]], 1, set()),
    ),
    "a choice within a line": (
        (INLINE, response("identifier", "A"), CORRECT),
        ("cloze", [["fine"]], 1, set()),
    ),
    "two blanks that add up": (
        (TWO_TEXTS, response("string", "clay", ident="R1") + response("string", "sand", ident="R2"), summed("R1", "R2")),
        ("cloze", [["clay"], ["sand"]], 2, set()),
    ),
    "two blanks that count together": (
        (TWO_TEXTS, response("string", "clay", ident="R1") + response("string", "sand", ident="R2"), together("R1", "R2")),
        ("cloze", [["clay"], ["sand"]], 2, set()),
    ),
    "a number and a word": (
        (TWO_TEXTS, response("float", "3", ident="R1") + response("string", "sand", ident="R2"), summed("R1", "R2")),
        ("cloze", [[(3, 3)], ["sand"]], 2, set()),
    ),
    "questions side by side": (
        (TWO_CHOICES, response("identifier", "A", ident="R1") + response("identifier", "B", ident="R2"), summed("R1", "R2")),
        ("cloze", [["clay"], ["sand"]], 2, {"type-guessed"}),
    ),
    "an order": (
        (ORDER, response("identifier", "B", "C", "A", cardinality="ordered"), CORRECT),
        ("ordering", ["clay", "silt", "sand"], 1, set()),
    ),
    "an order without all": (
        (ORDER, response("identifier", "B", "C", cardinality="ordered"), CORRECT),
        ("preserved", None, 1, {"preserved-kind"}),
    ),
    "an order that earns nothing": (
        (ORDER, response("identifier", "B", "C", "A", cardinality="ordered"), summed("OTHER")),
        ("ordering", ["clay", "silt", "sand"], None, {"no-key-found"}),
    ),
    "pairs of two sides": (
        (
            MATCH,
            response("directedPair", "A P", "B Q", cardinality="multiple", mapping=mapping(A_P=0.5, B_Q=0.5)),
            MAPPED,
        ),
        ("matching", ["clay=fine", "sand=coarse"], 1, set()),
    ),
    "pairs that count together": (
        (MATCH, PAIRED, CORRECT),
        ("matching", ["clay=fine", "sand=coarse"], 1, set()),
    ),
    "pairs that weigh unequally": (
        (MATCH, response("directedPair", "A P", "B Q", cardinality="multiple", mapping=mapping(A_P=3, B_Q=1)), MAPPED),
        ("matching", ["clay=fine", "sand=coarse"], 4, set()),
    ),
    "pairs that a mapping alone knows": (
        (MATCH, response("directedPair", cardinality="multiple", mapping=mapping(A_P=1, B_Q=1)), MAPPED),
        ("matching", ["clay=fine", "sand=coarse"], 2, set()),
    ),
    "one left with two rights": (
        (MATCH, response("directedPair", "A P", "A Q", "B P", cardinality="multiple"), CORRECT),
        ("preserved", None, 1, {"preserved-kind"}),
    ),
    "pairs without sides": (
        (ASSOCIATE, response("pair", "A P", "B Q", cardinality="multiple", mapping=mapping(A_P=1, B_Q=1)), MAPPED),
        ("matching", ["clay=fine", "sand=coarse"], 2, {"type-guessed"}),
    ),
    "an essay": (
        ('<p>Discuss.</p><extendedTextInteraction responseIdentifier="RESPONSE"/>', response("string", "It depends."), ""),
        ("essay", None, None, set()),
    ),
    "a long text with accepted answers": (
        (
            '<p>Name it.</p><extendedTextInteraction responseIdentifier="RESPONSE"/>',
            response("string", "loam", mapping=mapping(loam=1)),
            MAPPED,
        ),
        ("fill_in", ["loam"], 1, set()),
    ),
    "no interaction": (("<p>Read this.</p>", "", ""), ("information", None, None, set())),
    "a film to be watched": (
        (
            '<mediaInteraction responseIdentifier="RESPONSE" autostart="false"><object data="a.mp4" type="video/mp4"/></mediaInteraction>',
            response("integer"),
            "",
        ),
        ("preserved", None, None, {"preserved-kind", "media-missing"}),
    ),
    "a slider": (
        ('<sliderInteraction responseIdentifier="RESPONSE" lowerBound="0" upperBound="9"/>', response("integer", "4"), CORRECT),
        ("preserved", None, 1, {"preserved-kind"}),
    ),
    "an undeclared response": (
        (f'<choiceInteraction responseIdentifier="X">{options("simpleChoice", A="x", B="y")}</choiceInteraction>', "", CORRECT),
        ("preserved", None, None, {"preserved-kind"}),
    ),
    "kinds that do not go together": (
        (ORDER + MATCH, PAIRED, CORRECT),
        ("preserved", None, 1, {"preserved-kind"}),
    ),
    "values made anew": (
        (
            '<p>What is <printedVariable identifier="N"/>?</p><textEntryInteraction responseIdentifier="RESPONSE"/>',
            response("float"),
            "",
        ),
        ("preserved", None, None, {"preserved-kind"}),
    ),
}


@pytest.mark.parametrize("name", FORMS)
def test_a_body_gives_its_form(name):
    parts, (type_, key, points, codes) = FORMS[name]
    bank = bank_of(*parts)
    item = bank.items[0]
    assert (item.type, key_of(item), item.points) == (type_, key, points)
    said = {finding.code for finding in bank.findings if finding.code in SPOKEN}
    assert said == codes


SPOKEN = {"type-guessed", "marking-approximated", "no-key-found", "preserved-kind", "media-missing"}


def test_gaps_and_sides_keep_their_texts():
    gaps = bank_of(*FORMS["words into gaps"][0]).items[0]
    assert [choice.content for choice in gaps.blanks[0].choices] == ["clay", "sand", "loam"]
    assert [blank.share for blank in gaps.blanks] == [0.5, 0.5]
    assert gaps.stem.index("finest is") < gaps.stem.index('data-blank="b1"') < gaps.stem.index("coarsest") < gaps.stem.index("b2")
    match = bank_of(*FORMS["pairs of two sides"][0]).items[0]
    assert match.distractors == ["neither"] and "Match." in match.stem


def test_what_is_preserved_shows_its_question_and_keeps_its_source():
    item = bank_of(*FORMS["one left with two rights"][0]).items[0]
    assert "Match." in item.stem and "<simpleMatchSet>" in item.original and item.original_format == "qti-2.1"


CONTENT = {
    "marked by style": ('<p><span style="text-decoration: underline">not</span></p>', "<u>not</u>"),
    "struck by class": ('<p><span class="line-through">no</span></p>', "<s>no</s>"),
    "a picture as an object": ('<p><object data="pit.png" type="image/png" width="40">A pit</object></p>', 'alt="A pit"'),
    "a sound": ('<p><audio><source src="rain.mp3"/></audio></p>', "<audio"),
    "a table": ("<table><tbody><tr><td>1</td></tr></tbody></table>", "<td>1</td>"),
    "code": ("<pre>for x:\n  y</pre>", "for x:\n  y"),
    "raised": ("<p>m<sup>2</sup></p>", "<sup>2</sup>"),
    "a formula": ('<p><math xmlns="http://www.w3.org/1998/Math/MathML"><mi>n</mi></math></p>', "<mi>n</mi>"),
    "another language": ('<p xml:lang="de">Boden</p>', 'lang="de"'),
    "an entity": ("<p>a &lt; b &amp; c</p>", "a &lt; b &amp; c"),
}


@pytest.mark.parametrize("name", CONTENT)
def test_content_of_a_body(name):
    markup, wanted = CONTENT[name]
    assert wanted in bank_of(markup).items[0].stem


def test_rubrics_go_to_whom_they_are_for():
    rubric = '<rubricBlock view="{}"><p>{}</p></rubricBlock>'
    body = rubric.format("candidate", "Use the map.") + rubric.format("scorer", "5 for one.")
    essay = '<extendedTextInteraction responseIdentifier="RESPONSE"/>'
    item = bank_of(body + essay, response("string")).items[0]
    assert "Use the map." in item.stem and "5 for one." not in item.stem
    assert item.rubric == "<p>5 for one.</p>" or item.rubric == "5 for one."
    other = bank_of(body + HOTTEXT, response("identifier", "A"), CORRECT).items[0]
    assert other.metadata["rubric"] == ["5 for one."]


def test_an_adaptive_item_says_so():
    text = (
        f"{HEAD.format(adaptive='true')}{response('identifier', 'A')}{SCORE.format('')}<itemBody>{HOTTEXT}</itemBody>{CORRECT}"
        "</assessmentItem>"
    )
    findings = read_source(("item.xml", text.encode())).bank.findings
    assert any("adaptive" in finding.message for finding in findings if finding.code == "marking-approximated")


def test_points_are_the_declared_maximum_where_no_rule_gives_them():
    bank = bank_of(
        '<p>Discuss.</p><extendedTextInteraction responseIdentifier="RESPONSE"/>', response("string"), maximum=' normalMaximum="8"'
    )
    assert bank.items[0].points == 8

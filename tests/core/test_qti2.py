"""QTI 2.x and 3.0: keys found by running the item's own processing, whatever way it is written in; packages; what is preserved."""

from __future__ import annotations

import io
import zipfile

import pytest
from lxml import etree

from rogatum.core.exporting import export_bank
from rogatum.core.formats import format_named
from rogatum.core.formats.qti2.dialects import DIALECTS, camel, kebab
from rogatum.core.items import Bank, Matching, MultipleChoice, Pair, Preserved, Stimulus
from rogatum.core.receiving import read_source
from rogatum.core.sources import MediaBox

TEMPLATE = '<responseProcessing template="http://www.imsglobal.org/question/qti_v2p1/rptemplates/{}"/>'
HEAD = '<assessmentItem xmlns="http://www.imsglobal.org/xsd/imsqti_v2p1" identifier="q" title="T" adaptive="false" timeDependent="false">'
SCORE = '<outcomeDeclaration identifier="SCORE" cardinality="single" baseType="float"/>'


def item_of(body: str, declarations: str = "", processing: str = "", feedback: str = ""):
    """The one item of a file made of these parts, and the codes of its findings."""
    text = f"{HEAD}{declarations}{SCORE}<itemBody>{body}</itemBody>{processing}{feedback}</assessmentItem>"
    bank = read_source(("item.xml", text.encode())).bank
    return bank.items[0], {finding.code for finding in bank.findings if finding.level != "note"}


def declared(base: str, cardinality: str = "single", *correct: str, mapping: str = "") -> str:
    values = "".join(f"<value>{value}</value>" for value in correct)
    right = f"<correctResponse>{values}</correctResponse>" if correct else ""
    return (
        f'<responseDeclaration identifier="R" cardinality="{cardinality}" baseType="{base}">{right}{mapping}</responseDeclaration>'
    )


def chosen(*options: str, most: int = 1) -> str:
    labels = "".join(f'<simpleChoice identifier="{option}">choice {option}</simpleChoice>' for option in options)
    return f'<choiceInteraction responseIdentifier="R" shuffle="false" maxChoices="{most}"><prompt>Pick</prompt>{labels}</choiceInteraction>'


def when(test: str, points: float = 1) -> str:
    value = f'<baseValue baseType="float">{points}</baseValue>'
    rule = f'<responseIf>{test}<setOutcomeValue identifier="SCORE">{value}</setOutcomeValue></responseIf>'
    return f"<responseProcessing><responseCondition>{rule}</responseCondition></responseProcessing>"


VARIABLE = '<variable identifier="R"/>'


def has(option: str) -> str:
    return f'<member><baseValue baseType="identifier">{option}</baseValue>{VARIABLE}</member>'


ONE_KEY = {
    "template": TEMPLATE.format("match_correct"),
    "template with a suffix": TEMPLATE.format("match_correct.xml"),
    "match": when(f'<match>{VARIABLE}<correct identifier="R"/></match>'),
    "base value": when(f'<match><baseValue baseType="identifier">B</baseValue>{VARIABLE}</match>'),
    "not the others": when(f"<not><or>{has('A')}{has('C')}<isNull>{VARIABLE}</isNull></or></not>"),
    "a sum": when("<gte><sum><mapResponse identifier='R'/></sum><baseValue baseType='float'>1</baseValue></gte>"),
}


@pytest.mark.parametrize("processing", ONE_KEY.values(), ids=ONE_KEY)
def test_the_same_key_however_it_is_written(processing):
    mapping = '<mapping defaultValue="0"><mapEntry mapKey="B" mappedValue="1"/></mapping>'
    item, codes = item_of(chosen("A", "B", "C"), declared("identifier", "single", "B", mapping=mapping), processing)
    assert item.type == "multiple_choice" and [choice.weight for choice in item.choices] == [0, 1, 0]
    assert item.points == 1 and not codes


def test_all_or_nothing_over_a_combination():
    test = f"<and>{has('A')}{has('C')}<not>{has('B')}</not></and>"
    item, codes = item_of(chosen("A", "B", "C", most=0), declared("identifier", "multiple"), when(test, 3))
    assert (item.type, item.scoring, item.points) == ("multiple_response", "all_or_nothing", 3)
    assert [choice.weight for choice in item.choices] == [0.5, 0, 0.5] and not codes


def test_a_mapping_with_bounds_gives_weights():
    entries = "".join(f'<mapEntry mapKey="{k}" mappedValue="{v}"/>' for k, v in (("A", 2), ("B", -1), ("C", 2)))
    mapping = f'<mapping lowerBound="0" upperBound="4" defaultValue="0">{entries}</mapping>'
    item, codes = item_of(
        chosen("A", "B", "C", most=0),
        declared("identifier", "multiple", "A", "C", mapping=mapping),
        TEMPLATE.format("map_response").replace("RESPONSE", "R"),
    )
    assert item.scoring == "per_choice" and [choice.weight for choice in item.choices] == [0.5, -0.25, 0.5]
    assert item.points == 4 and not codes


NUMBERS = {
    "absolute": ('<equal toleranceMode="absolute" tolerance="0.5 0.5">{v}<correct identifier="R"/></equal>', (199.5, 200.5)),
    "relative": ('<equal toleranceMode="relative" tolerance="5">{v}<correct identifier="R"/></equal>', (190, 210)),
    "exact": ('<equal toleranceMode="exact">{v}<correct identifier="R"/></equal>', (200, 200)),
    "between": ("<and><gte>{v}{low}</gte><lte>{v}{high}</lte></and>", (150, 250)),
    "at least": ("<gte>{v}{low}</gte>", (150, float("inf"))),
    "rounded": (
        '<equalRounded roundingMode="decimalPlaces" figures="0">{v}<correct identifier="R"/></equalRounded>',
        (199.5, 200.5),
    ),
    "by difference": (
        "<lte><mathOperator name='abs'><subtract>{v}<correct identifier='R'/></subtract></mathOperator>{one}</lte>",
        None,
    ),
}


@pytest.mark.parametrize(("test", "bounds"), NUMBERS.values(), ids=NUMBERS)
def test_numbers_and_their_bounds(test, bounds):
    values = {name: f'<baseValue baseType="float">{v}</baseValue>' for name, v in (("low", 150), ("high", 250), ("one", 1))}
    body = '<p>How much?</p><p><textEntryInteraction responseIdentifier="R"/></p>'
    item, codes = item_of(body, declared("float", "single", "200"), when(test.format(v=VARIABLE, **values), 2))
    assert item.type == "numeric" and item.points == 2
    if bounds:
        assert item.answers[0].bounds() == pytest.approx(bounds)
    else:
        assert item.answers[0].bounds()[0] <= 200 <= item.answers[0].bounds()[1]


def test_texts_patterns_and_case():
    body = '<p>A <textEntryInteraction responseIdentifier="R"/> holds water.</p>'
    entries = '<mapping defaultValue="0"><mapEntry mapKey="Pore" mappedValue="2" caseSensitive="{}"/><mapEntry mapKey="gap" mappedValue="1"/></mapping>'
    for case in (True, False):
        mapping = entries.format(str(case).lower())
        item, _ = item_of(body, declared("string", "single", "Pore", mapping=mapping), TEMPLATE.format("map_response"))
        assert [(a.text, a.weight) for a in item.answers] == [("Pore", 1), ("gap", 0.5)] and item.points == 2
        assert item.stem == "A _____ holds water." and (item.case_sensitive or not case)
    item, _ = item_of(body, declared("string"), when(f'<patternMatch pattern="[Pp]ores?">{VARIABLE}</patternMatch>'))
    assert [(a.text, a.match) for a in item.answers] == [("[Pp]ores?", "regex")]


def test_feedback_finds_its_place_by_what_shows_it():
    outcome = '<outcomeDeclaration identifier="F" cardinality="single" baseType="identifier"/>'
    rules = (
        f'<responseProcessing><responseCondition><responseIf><match>{VARIABLE}<correct identifier="R"/></match>'
        '<setOutcomeValue identifier="SCORE"><baseValue baseType="float">1</baseValue></setOutcomeValue>'
        '<setOutcomeValue identifier="F"><baseValue baseType="identifier">x1</baseValue></setOutcomeValue></responseIf>'
        '<responseElse><setOutcomeValue identifier="F"><baseValue baseType="identifier">x2</baseValue></setOutcomeValue></responseElse>'
        "</responseCondition></responseProcessing>"
    )
    shown = "".join(
        f'<modalFeedback outcomeIdentifier="F" showHide="show" identifier="{i}">{text}</modalFeedback>'
        for i, text in (("x1", "Yes."), ("x2", "No."))
    )
    item, _ = item_of(chosen("A", "B", "C"), declared("identifier", "single", "B") + outcome, rules, shown)
    assert item.feedback == {"correct": "Yes.", "incorrect": "No."}


KEPT = {
    "slider": '<sliderInteraction responseIdentifier="R" lowerBound="0" upperBound="9"><prompt>Set it</prompt></sliderInteraction>',
    "upload": '<uploadInteraction responseIdentifier="R"><prompt>Send it</prompt></uploadInteraction>',
    "custom": '<customInteraction responseIdentifier="R"><x:a xmlns:x="http://example.org/x"/></customInteraction>',
    "template": '<p><printedVariable identifier="X"/> <textEntryInteraction responseIdentifier="R"/></p>',
}


@pytest.mark.parametrize("body", KEPT.values(), ids=KEPT)
def test_what_the_model_does_not_hold_is_preserved_and_goes_back_verbatim(body):
    item, codes = item_of(body, declared("string"))
    assert isinstance(item, Preserved) and "preserved-kind" in codes and "itemBody" in item.original
    export = export_bank(Bank(items=[item]), MediaBox(), "qti-2.1")
    assert export.read_back.items[0].original == item.original and export.ledger.sound
    assert export_bank(Bank(items=[item]), MediaBox(), "qti-3.0").ledger.totals.lost == 1


def test_random_and_custom_rules_are_said_to_be_undecided():
    item, codes = item_of(chosen("A", "B"), declared("identifier", "single", "A"), when("<customOperator class='x'/>"))
    assert {"marking-undecided", "no-key"} <= codes


def test_pairs_without_a_side_and_rows_with_shared_answers():
    options = "".join(f'<simpleAssociableChoice identifier="{i}" matchMax="1">{i}</simpleAssociableChoice>' for i in "ABCD")
    body = f'<associateInteraction responseIdentifier="R" maxAssociations="2"><prompt>Pair</prompt>{options}</associateInteraction>'
    item, _ = item_of(body, declared("pair", "multiple", "A C", "B D"), TEMPLATE.format("match_correct"))
    assert [(pair.left, pair.right) for pair in item.pairs] == [("A", "C"), ("B", "D")]


def package(**files: str) -> bytes:
    buffer = io.BytesIO()
    with zipfile.ZipFile(buffer, "w") as archive:
        for name, text in files.items():
            archive.writestr(name, text)
    return buffer.getvalue()


def test_a_test_gives_pools_draws_weights_and_says_what_is_missing():
    question = f"{HEAD}{declared('identifier', 'single', 'A')}{SCORE}<itemBody>{chosen('A', 'B')}</itemBody>{TEMPLATE.format('match_correct')}</assessmentItem>"
    test = (
        '<assessmentTest xmlns="http://www.imsglobal.org/xsd/imsqti_v2p1" identifier="t" title="Soils"><testPart identifier="p">'
        '<assessmentSection identifier="s" title="Water" visible="true"><selection select="1"/><rubricBlock view="candidate"><p>Notes</p></rubricBlock>'
        '<assessmentItemRef identifier="a" href="ITEMS\\q%201.xml"><weight identifier="W" value="3"/></assessmentItemRef>'
        '<assessmentItemRef identifier="b" href="nowhere.xml"/></assessmentSection></testPart></assessmentTest>'
    )
    bank = read_source(("p.zip", package(**{"items/q 1.xml": question, "test.xml": test}))).bank
    assert bank.pools[0].path == ["Soils", "Water"] and bank.items[0].points == 3
    assert [(draw.pool, draw.pick, draw.points_each) for draw in bank.draws] == [(["Soils", "Water"], 1, 3)]
    assert bank.stimuli[0].content == "Notes" and bank.items[0].stimulus == bank.stimuli[0].id
    assert any("nowhere.xml" in finding.message for finding in bank.findings)


ORDER = "responseDeclaration outcomeDeclaration assessmentStimulusRef itemBody responseProcessing modalFeedback".split()


@pytest.mark.parametrize("dialect", DIALECTS, ids=lambda dialect: dialect.format)
def test_what_is_written_keeps_the_order_and_the_attributes_of_the_schema(dialect):
    item = Matching(
        id="1 st",
        title="t",
        stem="<p>a</p><table><tr><td>b</td></tr></table>",
        stimulus="s1",
        pairs=[Pair(left="l", right="r")],
        feedback={"correct": "c"},
    )
    bank = Bank(title="B", items=[item], stimuli=[Stimulus(id="s1", content="passage")])
    written = format_named(dialect.format).write(bank, MediaBox())
    with zipfile.ZipFile(io.BytesIO(written.data)) as archive:
        names = archive.namelist()
        manifest = etree.fromstring(archive.read("imsmanifest.xml"))
        roots = {name: etree.fromstring(archive.read(name)) for name in names if name.startswith("items/")}
    hrefs = [element.get("href") for element in manifest.iter("{*}file")]
    assert names[0] == "imsmanifest.xml" and sorted(hrefs) == sorted(names[1:])
    root = next(iter(roots.values()))
    assert etree.QName(root).namespace == dialect.namespace
    children = [camel(etree.QName(child).localname.removeprefix("qti-")) for child in root]
    assert children == sorted(children, key=ORDER.index) and "itemBody" in children
    timed = "time-dependent" if dialect.kebab else "timeDependent"
    assert root.get("identifier") == "item1" and root.get("title") == "t" and root.get(timed) == "false"
    body = next(child for child in root if etree.QName(child).localname.endswith(("itemBody", "item-body")))
    assert not (body.text or "").strip(), "an item's body holds blocks alone"


@pytest.mark.parametrize("name", ["choiceInteraction", "durationLT", "itemBody", "responseElseIf", "mapResponsePoint"])
def test_names_go_to_3_0_and_back(name):
    assert camel(kebab(name)) == name


def test_a_choice_id_that_is_no_identifier_is_renamed_and_marks_alike():
    from_sheet = [{"id": "1", "content": "one", "weight": 1}, {"id": "a b", "content": "two", "weight": 0}]
    bank = Bank(items=[MultipleChoice(id="q", stem="s", points=1, choices=from_sheet)])
    assert export_bank(bank, MediaBox(), "qti-3.0").ledger.sound

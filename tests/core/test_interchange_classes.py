"""Classes of what was lost, doubled or called otherwise between formats: each in its shortest form."""

from __future__ import annotations

import pytest

from rogatum.core.errors import UnreadableSource
from rogatum.core.exporting import export_bank
from rogatum.core.formats import format_named
from rogatum.core.items import Bank, FillIn, MultipleChoice, TextAnswer
from rogatum.core.items.content import rich, skeleton
from rogatum.core.receiving import read_source
from rogatum.core.sources import MediaBox
from tests.core.strategies import PICTURES
from tests.core.test_packages import ITEM, manifest, package
from tests.core.test_packages import item as item_2
from tests.core.test_qti1_forms import ADD, filled
from tests.core.test_qti1_habits import bank_of, equal, item, pick, rule, text, zipped
from tests.core.test_qti2_forms import bank_of as bank_of_2
from tests.core.test_qti2_forms import response

MATH = '<{0}math{1}><{0}semantics><{0}mi>x</{0}mi><{0}annotation encoding="application/x-tex">x</{0}annotation></{0}semantics></{0}math>'
NAMESPACE = "http://www.w3.org/1998/Math/MathML"
PLAIN = MATH.format("", f' xmlns="{NAMESPACE}"')
PREFIXED = MATH.format("m:", f' xmlns:m="{NAMESPACE}"')
GROUPED = (
    '<response_grp ident="R" rcardinality="Multiple"><render_choice>'
    + "".join(
        f'<response_label ident="l{n}" match_group="r1,r2" match_max="1">{text(f"left {n}")}</response_label>' for n in (1, 2)
    )
    + "".join(f'<response_label ident="r{n}">{text(f"right {n}")}</response_label>' for n in (1, 2))
    + "</render_choice></response_grp>"
)


def told(ident: str, words: str) -> str:
    return f'<itemfeedback ident="{ident}">{text(words)}</itemfeedback>'


def test_a_picture_behind_material_that_is_referred_to_stays_in_its_stem():
    shared = '<material><mattext label="m1">Look.</mattext></material>'
    picture = (
        '<material><matref linkrefid="m1"/><matimage uri="data:image/png;base64,iVBORw0KGgo=" imagtype="image/png"/></material>'
    )
    read = bank_of(item(shared + picture + pick("R", "A", "B"), rule(equal("R", "A")))).items[0]
    assert read.stem.count("Look.") == 2 and read.stem.count("<img") == 1


@pytest.mark.parametrize("markup", [PLAIN, PREFIXED], ids=["plain", "with a prefix"])
def test_a_formula_is_read_once_however_its_elements_are_written(markup):
    assert rich(f"If {markup} then").count("<mi>x</mi>") == 1 and "x-tex" in rich(markup)
    old = bank_of(item(f'<material><mattext texttype="text/xhtml">If {markup} then</mattext></material>'))
    new = bank_of_2(f"<p>If {markup} then</p>")
    for stem in (old.items[0].stem, new.items[0].stem):
        assert stem.startswith("If <math") and stem.count("</math>") == 1 and "m:" not in stem


def test_rows_whose_options_are_referred_to_are_matched():
    first = f'<response_lid ident="R1">{text("one")}<render_choice>' + "".join(
        f'<response_label ident="a{n}"><material><mattext label="o{n}">option {n}</mattext></material></response_label>'
        for n in (1, 2)
    )
    second = f'<response_lid ident="R2">{text("two")}<render_choice>' + "".join(
        f'<response_label ident="b{n}"><material><matref linkrefid="o{n}"/></material></response_label>' for n in (1, 2)
    )
    ends = "</render_choice></response_lid>"
    rules = rule(equal("R1", "a2"), **ADD) + rule(equal("R2", "b1"), **ADD)
    read = bank_of(item(text("Match.") + first + ends + second + ends, rules)).items[0]
    assert [(pair.left, pair.right) for pair in read.pairs] == [("one", "option 2"), ("two", "option 1")]


def test_groups_have_their_points():
    rules = "".join(rule(f'<varsubset respident="R" setmatch="Partial">l{n},r{3 - n}</varsubset>', 2, **ADD) for n in (1, 2))
    read = bank_of(item(text("Match.") + GROUPED, rules))
    assert (
        read.items[0].points == 4 and [pair.right for pair in read.items[0].pairs] == ["right 2", "right 1"] and not read.findings
    )


FEEDBACK = {
    "blanks": (
        text("It is ") + filled("R1") + text(" and ") + filled("R2"),
        f"<and>{equal('R1', 'clay')}{equal('R2', 'silt')}</and>",
    ),
    "an order": (
        text("Order.") + pick("R", "A", "B", "C", cardinality="Ordered"),
        "<and>" + "".join(equal("R", value, index=str(n)) for n, value in enumerate("CAB", 1)) + "</and>",
    ),
    "a word": (text("What?") + filled(), equal("R", "clay")),
    "a number": (
        text("How many?") + filled(kind="Decimal"),
        '<and><vargt respident="R">3</vargt><varlt respident="R">5</varlt></and>',
    ),
}


@pytest.mark.parametrize("name", FEEDBACK)
def test_feedback_for_right_and_for_any_other_response_is_told_apart(name):
    presentation, right = FEEDBACK[name]
    rules = rule(right, shows="yes") + rule("<other/>", 0, shows="no")
    read = bank_of(item(presentation, rules, told("yes", "So it is.") + told("no", "Look again."))).items[0]
    assert read.feedback == {"correct": "So it is.", "incorrect": "Look again."}
    again = export_bank(Bank(items=[read]), MediaBox(), "qti-2.1").ledger.items[0]
    assert again.facets["feedback"] == "same"


def test_feedback_of_one_of_several_answers_is_its_own():
    rules = rule(equal("R", "clay"), shows="yes") + rule(equal("R", "silt"), 0.5, shows="half") + rule("<other/>", 0, shows="no")
    extra = told("yes", "So it is.") + told("half", "Nearly.") + told("no", "No.")
    read = bank_of(item(text("What?") + filled(), rules, extra)).items[0]
    assert [answer.feedback for answer in read.answers] == [None, "Nearly."]
    assert read.feedback == {"correct": "So it is.", "incorrect": "No."}


def test_general_feedback_of_an_essay_is_no_sample_answer():
    body = '<p>Say why.</p><extendedTextInteraction responseIdentifier="RESPONSE"/>'
    shows = '<responseProcessing><setOutcomeValue identifier="SOLUTION"><baseValue baseType="identifier">general</baseValue></setOutcomeValue></responseProcessing>'
    modal = '<modalFeedback outcomeIdentifier="SOLUTION" identifier="general" showHide="show">Page 3.</modalFeedback>'
    declared = response("string") + '<outcomeDeclaration identifier="SOLUTION" cardinality="single" baseType="identifier"/>'
    read = bank_of_2(body, declared, shows, modal).items[0]
    assert (read.feedback, read.sample_answer) == ({"general": "Page 3."}, None)


def test_longer_labels_of_metadata_mean_what_they_end_with_and_points_are_never_guessed():
    fields = "".join(
        f"<qtimetadatafield><fieldlabel>{label}</fieldlabel><fieldentry>{value}</fieldentry></qtimetadatafield>"
        for label, value in (("Textbook page", "41"), ("Difficulty rating", "easy"), ("Bonus points", "3"))
    )
    metadata = f"<itemmetadata><qtimetadata>{fields}</qtimetadata></itemmetadata>"
    source = item(text("Which?") + pick("R", "A", "B"), rule(equal("R", "A"))).replace(
        "<presentation>", metadata + "<presentation>"
    )
    read = bank_of(source).items[0]
    assert read.metadata == {"page": ["41"], "difficulty": ["easy"], "bonus points": ["3"]} and read.points == 1


def test_a_zip_of_zips_whose_resources_name_the_form_is_read():
    document = f"<questestinterop>{item(text('Which?') + pick('R', 'A', 'B'), rule(equal('R', 'A')))}</questestinterop>"
    listed = manifest(("quiz.xml", "imsqti_section_xmlv1p2", ""))
    inner = zipped(**{"imsmanifest.xml": listed, "quiz.xml": document})
    assert len(read_source(("x.zip", zipped(**{"chapter_1.zip": inner}))).bank.items) == 1


def test_items_that_are_named_and_not_there_are_an_error_with_their_count():
    listed = manifest(("a.xml", ITEM, ""), ("b.xml", ITEM, ""), ("c.xml", ITEM, ""))
    bank = read_source(package(imsmanifest__xml=listed, a__xml=item_2("a"))).bank
    told_ = next(finding for finding in bank.findings if finding.code == "questions-missing")
    assert told_.level == "error" and "2 questions" in told_.message and "b.xml, c.xml" in told_.message


@pytest.mark.parametrize("tag", ["section", "flow", "and"])
def test_parts_within_parts_without_end_are_unreadable(tag):
    deep = f"<questestinterop>{f'<{tag}>' * 10_000}{f'</{tag}>' * 10_000}</questestinterop>"
    with pytest.raises(UnreadableSource, match="too deep"):
        read_source(("x.xml", deep.encode()))


def test_what_an_entity_stands_for_is_an_error_where_it_is_used_and_nothing_where_it_is_not():
    head = '<!DOCTYPE questestinterop [<!ENTITY who "farmer">]>'
    codes = {}
    for stem in ("The &who; ploughs", "The farmer ploughs"):
        bank = read_source(("x.xml", f"{head}<questestinterop>{item(text(stem))}</questestinterop>".encode())).bank
        codes[stem] = [finding.code for finding in bank.findings if finding.level == "error"]
        assert "&amp;who;" in bank.items[0].stem or "farmer" in bank.items[0].stem
    assert list(codes.values()) == [["entities-unknown"], []]


def test_two_right_values_where_one_is_asked_for_are_an_error():
    body = '<p>Which?</p><choiceInteraction responseIdentifier="RESPONSE" shuffle="false" maxChoices="1"><simpleChoice identifier="A">a</simpleChoice><simpleChoice identifier="B">b</simpleChoice></choiceInteraction>'
    bank = bank_of_2(body, response("identifier", "A", "B"), '<responseProcessing template="x/match_correct"/>')
    assert ("two-right-values", "error") in [(finding.code, finding.level) for finding in bank.findings]


def test_points_that_all_share_are_one_finding_of_the_whole():
    sources = [item(text(f"Which {n}?") + pick("R", "A", "B"), rule(equal("R", "A"), 100), ident=f"q{n}") for n in range(5)]
    found = [finding for finding in bank_of(*sources).findings if finding.code == "points-odd"]
    assert [(finding.item, finding.repair) for finding in found] == [(None, "points-to-1")] and "5 items" in found[0].message


def test_pictures_beside_a_text_in_an_archive_are_found():
    data = PICTURES[sorted(PICTURES)[0]]
    text_ = b'::Pit:: [html]Which layer? <img src\\="pics/pit.png" alt\\="a pit"> {=A ~B}'
    bank = read_source(("x.zip", zipped(**{"quiz.gift": text_, "pics/pit.png": data}))).bank
    assert len(bank.media) == 1 and {finding.code for finding in bank.findings} == {"points-missing"}


def test_a_lone_paragraph_is_no_formatting():
    assert skeleton("<p>Which?</p>") == [] == skeleton("<p>Which?</p><span data-blank='b1'></span>")
    assert skeleton("<p>Which?</p><p>And why?</p>") != []


def test_each_item_has_a_title_and_one_made_of_its_words_is_no_change():
    bank = Bank(items=[MultipleChoice(id="a", stem="Which of these layers is the topsoil of the profile here?")])
    export = export_bank(bank, MediaBox(), "qti-2.1")
    assert export.read_back.items[0].title == "Which of these layers is the topsoil of"
    assert export.ledger.items[0].facets["metadata"] == "same"


@pytest.mark.parametrize("pattern", ["lo[ae]m|clay", "[b-d]x{2,3}", r"\d+ k[mM]n", "[^aB]o"])
def test_patterns_overlook_case_in_the_words_of_the_standard(pattern):
    bank = Bank(items=[FillIn(id="a", stem="What?", answers=[TextAnswer(text=pattern, match="regex")])])
    written = format_named("qti-2.1").write(bank, MediaBox()).data
    assert b"(?i)" not in written
    assert export_bank(bank, MediaBox(), "qti-2.1").ledger.items[0].facets["key"] == "same"

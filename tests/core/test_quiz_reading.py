"""Tests of QTI as quizzes: what they say of the whole is read, and what no quiz says is listed."""

from __future__ import annotations

import io
import zipfile

import pytest
from hypothesis import given
from hypothesis import settings as relaxed
from hypothesis import strategies as st

from rogatum.core.items import Bank
from rogatum.core.quizzes.catalogue import catalogue_of, ids_of
from rogatum.core.quizzes.model import Draw
from rogatum.core.quizzes.worth import Stock, points_in, total_points
from rogatum.core.receiving import read_source

NS = 'xmlns="http://www.imsglobal.org/xsd/imsqti_v2p2"'
TEST = f"""<assessmentTest {NS} identifier="t1" title="Midterm">
  <outcomeDeclaration identifier="TOTAL" cardinality="single" baseType="float"/>
  <outcomeDeclaration identifier="SAID" cardinality="single" baseType="identifier"/>
  <timeLimits maxTime="5400"/>
  <testPart identifier="p" navigationMode="linear" submissionMode="individual">
    <itemSessionControl maxAttempts="3" showFeedback="true" showSolution="false" allowReview="true" allowSkipping="false"/>
    <assessmentSection identifier="s1" title="All of these" visible="true"><ordering shuffle="true"/>
      <assessmentItemRef identifier="a" href="a.xml"/>
      <assessmentItemRef identifier="b" href="b.xml"><weight identifier="W" value="2.5"/></assessmentItemRef>
    </assessmentSection>
    <assessmentSectionRef identifier="s2" href="more/section.xml"/>
  </testPart>
  <outcomeProcessing>
    <setOutcomeValue identifier="TOTAL"><sum><testVariables variableIdentifier="SCORE" weightIdentifier="W"/></sum></setOutcomeValue>
    <outcomeCondition>
      <outcomeIf><gte><variable identifier="TOTAL"/><baseValue baseType="float">2.75</baseValue></gte>
        <setOutcomeValue identifier="SAID"><baseValue baseType="identifier">good</baseValue></setOutcomeValue></outcomeIf>
      <outcomeElse><setOutcomeValue identifier="SAID"><baseValue baseType="identifier">poor</baseValue></setOutcomeValue></outcomeElse>
    </outcomeCondition>
  </outcomeProcessing>
  <testFeedback access="atEnd" outcomeIdentifier="SAID" identifier="good" showHide="show"><p>Well done.</p></testFeedback>
  <testFeedback access="atEnd" outcomeIdentifier="SAID" identifier="poor" showHide="show"><p>Once more.</p></testFeedback>
</assessmentTest>"""
SECTION = f"""<assessmentSection {NS} identifier="s2" title="One of these" visible="true"><selection select="1"/>
  <assessmentItemRef identifier="c" href="../c.xml"/><assessmentItemRef identifier="d" href="../d.xml"/></assessmentSection>"""


def qti_item(ident: str) -> str:
    return (
        f'<assessmentItem {NS} identifier="{ident}" title="" adaptive="false" timeDependent="false">'
        '<responseDeclaration identifier="RESPONSE" cardinality="single" baseType="identifier"><correctResponse><value>A</value>'
        '</correctResponse></responseDeclaration><outcomeDeclaration identifier="SCORE" cardinality="single" baseType="float" '
        f'normalMaximum="1"/><itemBody><p>{ident}?</p><choiceInteraction responseIdentifier="RESPONSE" shuffle="false" '
        'maxChoices="1"><simpleChoice identifier="A">x</simpleChoice><simpleChoice identifier="B">y</simpleChoice>'
        "</choiceInteraction></itemBody><responseProcessing "
        'template="http://www.imsglobal.org/question/qti_v2p2/rptemplates/match_correct"/></assessmentItem>'
    )


def archive(**files: str) -> tuple[str, bytes]:
    buffer = io.BytesIO()
    with zipfile.ZipFile(buffer, "w") as zipped:
        for name, text in files.items():
            zipped.writestr(name.replace("__", "/") + ".xml", text)
    return "p.zip", buffer.getvalue()


def test_a_test_is_a_quiz_with_its_parts_points_settings_and_what_it_says_at_the_end():
    bank = read_source(archive(test=TEST, more__section=SECTION, **{name: qti_item(name) for name in "abcd"})).bank
    (quiz,) = bank.quizzes
    assert (quiz.id, quiz.title, [part.title for part in quiz.parts]) == ("t1", "Midterm", ["All of these", "One of these"])
    fixed, draw = quiz.parts
    assert fixed.items == ["a", "b"] and [points_in(fixed, bank.item(key)) for key in "ab"] == [1, 2.5]
    assert (draw.draw, draw.points_each) == (Draw(pool=["Midterm", "One of these"], pick=1), 1)
    assert [draw.pick for draw in bank.draws] == [1] and total_points(bank, quiz) == 4.5
    said = dict(quiz.settings.said())
    feedback = said.pop("feedback")
    assert said == {
        "time_limit": 90,
        "attempts": 3,
        "shuffle_items": True,
        "show_feedback": "on submitting",
        "show_key": "never",
        "navigation": "in order",
        "submission": "item by item",
        "skipping": False,
        "show_responses": "on submitting",
    }
    assert [(entry.content, entry.least, entry.below) for entry in feedback] == [
        ("Well done.", round(2.75 / 4.5, 7), None),
        ("Once more.", None, round(2.75 / 4.5, 7)),
    ]
    assert not [entry.text for entry in bank.accounting.unclaimed if "feedback" in entry.text.lower()]


def test_what_no_quiz_says_is_listed_and_never_dropped():
    test = TEST.replace("<gte>", '<gte><testVariables variableIdentifier="duration"/>').replace(
        '<ordering shuffle="true"/>', '<itemSessionControl maxAttempts="7"/><ordering shuffle="true"/>'
    )
    test = test.replace(
        '<setOutcomeValue identifier="TOTAL">', '<setOutcomeValue identifier="TOTAL"><randomFloat min="0" max="1"/>'
    )
    bank = read_source(archive(test=test, more__section=SECTION, **{name: qti_item(name) for name in "abcd"})).bank
    unclaimed = " ".join(entry.text for entry in bank.accounting.unclaimed)
    assert "Well done." in unclaimed and "Once more." in unclaimed and "7" in unclaimed
    assert bank.quizzes[0].settings.feedback in (None, [])


def test_parts_of_a_test_that_are_run_in_different_ways_are_listed():
    second = '<testPart identifier="p2" navigationMode="nonlinear" submissionMode="individual">'
    test = TEST.replace(
        "</testPart>", f'</testPart>{second}<assessmentSection identifier="s9" title="More" visible="true"/></testPart>'
    )
    bank = read_source(archive(test=test, more__section=SECTION, **{name: qti_item(name) for name in "abcd"})).bank
    settings = bank.quizzes[0].settings
    assert settings.navigation is None and settings.submission == "item by item" and settings.attempts is None
    unclaimed = " ".join(entry.text for entry in bank.accounting.unclaimed)
    assert "linear" in unclaimed and "nonlinear" in unclaimed


ASSESSMENT = """<questestinterop><assessment ident="A" title="Exam">{head}
  <section ident="s1" title="Fixed"><selection_ordering><order order_type="{order}"/></selection_ordering>{one}</section>
  <section ident="s2" title="Drawn"><selection_ordering><selection><selection_number>1</selection_number></selection></selection_ordering>
  {two}{three}</section></assessment></questestinterop>"""


def old_item(ident: str, weight: str = "") -> str:
    metadata = (
        f"<itemmetadata><qtimetadata><qtimetadatafield><fieldlabel>qmd_weighting</fieldlabel><fieldentry>{weight}</fieldentry>"
        "</qtimetadatafield></qtimetadata></itemmetadata>"
        if weight
        else ""
    )
    return (
        f'<item ident="{ident}">{metadata}<presentation><material><mattext>{ident}?</mattext></material>'
        '<response_lid ident="R" rcardinality="Single"><render_choice><response_label ident="A"><material><mattext>x</mattext>'
        '</material></response_label><response_label ident="B"><material><mattext>y</mattext></material></response_label>'
        '</render_choice></response_lid></presentation><resprocessing><outcomes><decvar varname="SCORE" maxvalue="2"/></outcomes>'
        '<respcondition><conditionvar><varequal respident="R">A</varequal></conditionvar><setvar action="Set">2</setvar>'
        "</respcondition></resprocessing></item>"
    )


def exam(head: str = "", order: str = "Random", weight: str = "", one: str = "") -> Bank:
    items = {name: old_item(name, weight) for name in ("one", "two", "three")} | ({"one": one} if one else {})
    return read_source(("x.xml", ASSESSMENT.format(head=head, order=order, **items).encode())).bank


SWITCHES = '<assessmentcontrol feedbackswitch="{}" solutionswitch="{}"/>'


@pytest.mark.parametrize(
    ("head", "settings"),
    [
        ("", {"shuffle_items": True}),
        ("<duration>PT1H30M</duration>", {"shuffle_items": True, "time_limit": 90}),
        ("<duration>P0Y0M0DT0H25M30S</duration>", {"shuffle_items": True, "time_limit": 25.5}),
        ("<duration>soon</duration>", {"shuffle_items": True}),
        (SWITCHES.format("No", "No"), {"shuffle_items": True, "show_feedback": "never", "show_key": "never"}),
        (SWITCHES.format("Yes", "No"), {"shuffle_items": True, "show_feedback": "on submitting", "show_key": "never"}),
        (SWITCHES.format("Yes", "Yes"), {"shuffle_items": True, "show_feedback": "on submitting", "show_key": "on submitting"}),
    ],
)
def test_an_assessment_is_a_quiz(head, settings):
    bank = exam(head)
    (quiz,) = bank.quizzes
    assert [(part.title, part.items, part.draw) for part in quiz.parts] == [
        ("Fixed", ["one"], None),
        ("Drawn", [], Draw(pool=["Exam", "Drawn"], pick=1)),
    ]
    assert dict(quiz.settings.said()) == settings
    if "soon" in head:
        assert "soon" in [entry.text for entry in bank.accounting.unclaimed]


def test_a_weighting_is_what_items_are_worth_unless_the_score_model_multiplies_by_it():
    weighted = exam('<outcomes_processing scoremodel="SumOfScoresWeighted"/>', weight="3")
    assert [item.points for item in weighted.items] == [2, 2, 2] and weighted.quizzes[0].parts[0].points_each == 6
    plain = exam(weight="3")
    assert [item.points for item in plain.items] == [3, 3, 3] and plain.quizzes[0].parts[0].points_each is None


def test_what_is_drawn_and_lies_in_no_pool_gets_one():
    selection = "<selection_ordering><selection><selection_number>1</selection_number></selection></selection_ordering>"
    text = f'<questestinterop><section ident="s">{selection}{old_item("one")}{old_item("two")}</section></questestinterop>'
    bank = read_source(("x.xml", text.encode())).bank
    (part,) = bank.quizzes[0].parts
    assert part.draw == Draw(pool=["items"], pick=1) and bank.pool_paths() == {"one": ("items",), "two": ("items",)}
    assert list(ids_of(catalogue_of(bank).given_by(part))) == ["one", "two"]


def test_an_assessment_that_names_items_of_a_bank_has_them_as_its_own():
    text = f'<questestinterop><objectbank ident="B">{old_item("one")}</objectbank><assessment ident="A" title="Exam">'
    text += '<section ident="s"><itemref linkrefid="one"/></section></assessment></questestinterop>'
    bank = read_source(("x.xml", text.encode())).bank
    assert [quiz.item_ids() for quiz in bank.quizzes] == [["one"]] and len(bank.items) == 1


def unclaimed(bank: Bank) -> str:
    return " | ".join(entry.text for entry in bank.accounting.unclaimed)


def of_package(test: str, **files: str) -> Bank:
    return read_source(archive(test=test, more__section=SECTION, **{name: qti_item(name) for name in "abcd"}, **files)).bank


CONDITION = '<match><variable identifier="A.SCORE"/><baseValue baseType="float">1</baseValue></match>'
ITEM_A = '<assessmentItemRef identifier="a" href="a.xml"/>'
TITLED = 'title="All of these" visible="true">'


@pytest.mark.parametrize(
    ("place", "more", "listed"),
    [
        (ITEM_A, ITEM_A.replace("/>", f"><preCondition>{CONDITION}</preCondition></assessmentItemRef>"), "preCondition: a condition at a"),
        (ITEM_A, ITEM_A.replace("/>", f'><branchRule target="EXIT_TEST">{CONDITION}</branchRule></assessmentItemRef>'), "EXIT_TEST"),
        (ITEM_A, ITEM_A.replace("/>", ' fixed="true"/>'), "fixed: 1 of the section keep their place"),
        (TITLED, TITLED + '<rubricBlock view="scorer"><p>Be strict.</p></rubricBlock>', "Be strict."),
        (' access="atEnd" outcomeIdentifier="SAID" identifier="good"', ' access="during" outcomeIdentifier="SAID" identifier="good"', "Well done."),
        ('showSolution="false"', 'showSolution="maybe"', "showSolution: maybe"),
        ('maxAttempts="3"', 'maxAttempts="some"', "maxAttempts: some"),
        ("<gte>", '<gte><variable identifier="a.SCORE"/>', "Well done."),
        ('variableIdentifier="SCORE"', 'variableIdentifier="SCORE" sectionIdentifier="s1"', "Well done."),
        ('variableIdentifier="SCORE"', 'variableIdentifier="SCORE" includeCategory="hard"', "Well done."),
        (' identifier="good" showHide="show"', ' identifier="never" showHide="show"', "Well done."),
        ('<weight identifier="W" value="2.5"/>', '<weight identifier="W" value="2.5"/><weight identifier="V" value="9"/>', "weight V of b"),
    ],
)  # fmt: skip
def test_what_a_test_says_of_single_items_is_listed(place, more, listed):
    assert place in TEST
    bank = of_package(TEST.replace(place, more, 1))
    assert listed in unclaimed(bank) and listed not in unclaimed(of_package(TEST))
    assert not bank.stimuli and total_points(bank, bank.quizzes[0]) == 4.5


def test_what_must_be_drawn_is_listed():
    bank = of_package(TEST.replace('<assessmentSectionRef identifier="s2" href="more/section.xml"/>', SECTION.replace("../", "").replace(
        'href="c.xml"', 'href="c.xml" required="true"')))  # fmt: skip
    assert "required: 1 of the section are always among what is selected" in unclaimed(bank)


def test_the_weights_of_a_test_are_those_that_its_score_uses():
    other = TEST.replace(
        '<weight identifier="W" value="2.5"/>', '<weight identifier="V" value="9"/><weight identifier="W" value="2.5"/>'
    )
    bank = of_package(other)
    assert total_points(bank, bank.quizzes[0]) == 4.5
    plain = of_package(TEST.replace(' weightIdentifier="W"', ""))
    assert total_points(plain, plain.quizzes[0]) == 3 and "weight W of b" in unclaimed(plain)


def test_a_section_may_stand_in_a_test_twice_and_never_in_itself():
    reference = '<assessmentSectionRef identifier="s2" href="more/section.xml"/>'
    twice = of_package(TEST.replace(reference, reference + reference.replace("s2", "s3")))
    assert [part.title for part in twice.quizzes[0].parts] == ["All of these", "One of these", "One of these"]
    inner = SECTION.replace(
        "</assessmentSection>", '<assessmentSectionRef identifier="s2" href="section.xml"/></assessmentSection>'
    )
    source = archive(test=TEST, more__section=inner, **{name: qti_item(name) for name in "abcd"})
    assert [finding.code for finding in read_source(source).bank.findings] == ["reference-missing"]


def test_what_a_test_names_and_the_source_lacks_is_told():
    qti2 = of_package(TEST.replace(ITEM_A, ITEM_A + '<assessmentItemRef identifier="z" href="z.xml"/>'))
    qti1 = exam(one='<itemref linkrefid="z"/><sectionref linkrefid="s7"/>' + old_item("one"))
    told = [[finding.message for finding in bank.findings if finding.code == "reference-missing"] for bank in (qti2, qti1)]
    words = "A test names {} that the source does not hold: {}."
    assert told == [[words.format("1 part", "z.xml")], [words.format("2 parts", "z, s7")]]


def test_a_draw_from_a_bank_that_is_not_in_the_source_is_told():
    selection = "<selection><sourcebank_ref>{}</sourcebank_ref><selection_number>2</selection_number></selection>"
    draws = "".join(
        f'<section ident="s{n}"><selection_ordering>{selection.format(n)}</selection_ordering></section>' for n in ("B", "C")
    )
    text = f'<questestinterop><objectbank ident="B">{old_item("one")}{old_item("two")}{old_item("six")}</objectbank>'
    bank = read_source(("x.xml", f'{text}<assessment ident="A" title="Exam">{draws}</assessment></questestinterop>'.encode())).bank
    assert [finding.message for finding in bank.findings] == ["A test names 1 part that the source does not hold: C."]
    assert [(part.draw.pool, part.draw.pick) for part in bank.quizzes[0].parts] == [(["B"], 2), (["C"], 2)]


def test_a_section_that_stands_elsewhere_is_a_part_where_it_is_named():
    shared = f'<section ident="s9" title="Shared">{old_item("i5")}{old_item("i6")}</section>'
    text = '<questestinterop><assessment ident="A" title="Exam"><sectionref linkrefid="s9"/><section ident="s1" title="First">'
    text += f'{old_item("i1")}<sectionref linkrefid="s9"/></section></assessment>{shared}</questestinterop>'
    bank = read_source(("x.xml", text.encode())).bank
    parts = [(part.title, part.items) for part in bank.quizzes[0].parts]
    assert parts == [("Shared", ["i5", "i6"]), ("First", ["i1"]), ("Shared", ["i5", "i6"])] and len(bank.items) == 3


def test_sections_that_stand_elsewhere_may_name_others_and_be_drawn_from_and_never_hold_themselves():
    def named(ident: str) -> str:
        return f'<sectionref linkrefid="{ident}"/>'

    inner = f'<section ident="s8" title="Inner">{old_item("i5")}{named("s9")}</section>'
    outer = f'<section ident="s9" title="Outer">{old_item("i6")}{old_item("i7")}{named("s8")}</section>'
    drawn = f'<section ident="s1" title="Drawn">{SELECTED.format("")}{old_item("i1")}{named("s9")}</section>'
    text = f'<questestinterop><assessment ident="A" title="Exam">{named("s8")}{drawn}</assessment>{inner}{outer}</questestinterop>'
    bank = read_source(("x.xml", text.encode())).bank
    assert [(part.title, part.items) for part in bank.quizzes[0].parts if not part.draw] == [("Inner", ["i5", "i6", "i7"])]
    assert draws_of(bank) == [(1, {"i1", "i5", "i6", "i7"})] and "whole sections" in unclaimed(bank) and not bank.findings


def test_sections_that_name_one_another_again_and_again_are_read_at_once():
    """Forty sections that each hold the next twice would be a million million items, and 3,000 in a row too deep."""
    for count, times in ((40, 2), (3000, 1)):
        inner = "".join(
            f'<section ident="s{n}" title="{n}">{old_item(f"i{n}")}{times * f"""<sectionref linkrefid="s{n + 1}"/>"""}</section>'
            for n in range(count)
        )
        text = f'<questestinterop><assessment ident="A" title="Exam"><sectionref linkrefid="s0"/></assessment>{inner}</questestinterop>'
        (part,) = read_source(("x.xml", text.encode())).bank.quizzes[0].parts
        assert part.items == [f"i{n}" for n in range(count)]


@pytest.mark.parametrize(
    ("head", "one", "listed"),
    [
        ("<selection_ordering><selection><selection_number>1</selection_number></selection></selection_ordering>", "", "whole sections"),
        ("", '<sectioncontrol feedbackswitch="No"/>', "feedbackswitch off in one section"),
        ("", "<selection_ordering><selection><selection_number>all</selection_number></selection></selection_ordering>", "all"),
    ],
)  # fmt: skip
def test_what_an_assessment_says_beyond_a_quiz_is_listed(head, one, listed):
    bank = exam(head, one=one + old_item("one"))
    assert listed in unclaimed(bank) and listed not in unclaimed(exam())
    assert bank.quizzes[0].parts[0].items == ["one"]


# What is drawn


@st.composite
def sections(draw, depth: int = 2) -> dict:
    """A section as any author may build it: with a title, one that others have, or none; drawn from or not; with others in it."""
    inner = draw(st.lists(sections(depth - 1), max_size=2)) if depth else []
    size = draw(st.integers(0 if inner else 1, 3))
    return {
        "title": draw(st.sampled_from(["", "", "A", "B"])),
        "pick": draw(st.sampled_from([None, None, 1, 2])),
        "size": size,
        "inner": inner,
    }


class Written:
    """Sections as markup, and which items each draw is of: a draw within another is a part of that one."""

    def __init__(self, item, section) -> None:
        self.item, self.section = item, section
        self.names: list[str] = []
        self.draws: list[tuple[int, set[str]]] = []

    def markup(self, entry: dict, drawn: bool = False) -> str:
        own = entry["pick"] is not None and not drawn
        first = len(self.names)
        self.names += [f"q{first + n}" for n in range(entry["size"])]
        text = "".join(map(self.item, self.names[first:]))
        at = len(self.draws)
        text += "".join(self.markup(inner, drawn or own) for inner in entry["inner"])
        members = set(self.names[first:])
        if own and entry["pick"] < len(members):
            self.draws.insert(at, (entry["pick"], members))
        return self.section(f"s{first}{len(self.names)}{len(text)}", entry["title"], entry["pick"], text)


def old_section(ident: str, title: str, pick: int | None, text: str) -> str:
    drawn = f"<selection_ordering><selection><selection_number>{pick}</selection_number></selection></selection_ordering>"
    return f'<section ident="{ident}" title="{title}">{drawn if pick else ""}{text}</section>'


def new_section(ident: str, title: str, pick: int | None, text: str) -> str:
    drawn = f'<selection select="{pick}"/>' if pick else ""
    return f'<assessmentSection identifier="{ident}" title="{title}" visible="true">{drawn}{text}</assessmentSection>'


def draws_of(bank: Bank) -> list[tuple[int, set[str]]]:
    stock, (quiz,) = Stock(bank), bank.quizzes
    return [(part.draw.pick, set(stock.given_by(part))) for part in quiz.parts if part.draw]


@relaxed(max_examples=120)
@given(entries=st.lists(sections(), min_size=1, max_size=3))
def test_a_draw_is_of_the_items_of_its_section_and_no_others(entries):
    old, new = (
        Written(old_item, old_section),
        Written(lambda name: f'<assessmentItemRef identifier="r{name}" href="{name}.xml"/>', new_section),
    )
    text = "".join(old.markup(entry) for entry in entries)
    bank = read_source(
        ("x.xml", f'<questestinterop><assessment ident="T" title="Exam">{text}</assessment></questestinterop>'.encode())
    ).bank
    parts = "".join(new.markup(entry) for entry in entries)
    test = f'<assessmentTest {NS} identifier="t" title="Exam"><testPart identifier="p" navigationMode="linear" submissionMode="individual">{parts}'
    package = read_source(archive(test=f"{test}</testPart></assessmentTest>", **{name: qti_item(name) for name in new.names})).bank
    for read, wanted in ((bank, old.draws), (package, new.draws)):
        assert len(read.items) == len(old.names) and not read.findings
        assert draws_of(read) == wanted


SELECTED = "<selection_ordering><selection>{}<selection_number>1</selection_number></selection></selection_ordering>"


def of_banks(drawn: str, bank_title: str = "") -> Bank:
    """An assessment that draws from two object banks of three items each."""
    field = "<qtimetadata><qtimetadatafield><fieldlabel>bank_title</fieldlabel><fieldentry>{}</fieldentry></qtimetadatafield></qtimetadata>"
    banks = "".join(
        f'<objectbank ident="{bank}">{field.format(f"{bank_title} {bank}") if bank_title else ""}{"".join(map(old_item, items))}</objectbank>'
        for bank, items in (("B1", ["q1", "q2", "q3"]), ("B2", ["q4", "q5", "q6"]))
    )
    text = f'<questestinterop>{banks}<assessment ident="A" title="Exam">{drawn}</assessment></questestinterop>'
    return read_source(("x.xml", text.encode())).bank


@pytest.mark.parametrize("title", ["", "Soils"])
def test_a_draw_from_a_bank_is_of_its_items_whether_it_has_a_title_or_none(title):
    sections = "".join(
        f'<section ident="s{n}">{SELECTED.format(f"<sourcebank_ref>B{n}</sourcebank_ref>")}</section>' for n in (1, 2)
    )
    bank = of_banks(sections, title)
    assert draws_of(bank) == [(1, {"q1", "q2", "q3"}), (1, {"q4", "q5", "q6"})] and not bank.findings


def section_of(ident: str, *items: str) -> str:
    references = "".join(f'<itemref linkrefid="{item}"/>' for item in items)
    return f'<section ident="{ident}" title="{ident}">{SELECTED.format("")}{references}</section>'


def test_a_draw_of_some_of_a_bank_gets_a_pool_below_that_of_the_bank():
    bank = of_banks(section_of("Some", "q1", "q2"), "Soils")
    assert draws_of(bank) == [(1, {"q1", "q2"})] and bank.pool_paths()["q3"] == ("Soils B1",)
    assert bank.pool_paths()["q1"] == ("Soils B1", "Some") and not bank.findings


@pytest.mark.parametrize("title", ["", "Soils"])
def test_draws_that_share_some_of_their_items_cannot_have_a_pool_each_and_say_so(title):
    bank = of_banks(section_of("One", "q1", "q2") + section_of("Two", "q2", "q3"), title)
    first, second = draws_of(bank)
    assert first == (1, {"q1", "q2"}) and second[1] >= {"q2"} and second[1] != {"q2", "q3"} and len(second[1]) < 6
    (finding,) = bank.findings
    assert finding.code == "draw-wider" and "“Two” is of 2 items" in finding.message

"""QTI 1.2 and Common Cartridge in the habits of many programs."""

from __future__ import annotations

import io
import zipfile

import pytest

from rogatum.core.exporting import export_bank
from rogatum.core.items import Bank, Choice, Essay, FillIn, MultipleChoice, Numeric, NumericAnswer, PoolEntry, TextAnswer
from rogatum.core.receiving import read_source
from rogatum.core.sources import MediaBox


def zipped(**files: str | bytes) -> bytes:
    buffer = io.BytesIO()
    with zipfile.ZipFile(buffer, "w") as archive:
        for name, data in files.items():
            archive.writestr(name, data)
    return buffer.getvalue()


def text(words: str, kind: str = "text/plain") -> str:
    return f'<material><mattext texttype="{kind}">{words}</mattext></material>'


def labels(*options: str) -> str:
    return "".join(f'<response_label ident="{o}">{text("choice " + o)}</response_label>' for o in options)


def pick(ident: str, *options: str, cardinality: str = "Single", prompt: str = "") -> str:
    return f'<response_lid ident="{ident}" rcardinality="{cardinality}">{prompt}<render_choice>{labels(*options)}</render_choice></response_lid>'


def rule(test: str, points: float = 1, action: str = "Set", goes_on: str = "No", shows: str = "") -> str:
    shown = f'<displayfeedback feedbacktype="Response" linkrefid="{shows}"/>' if shows else ""
    return (
        f'<respcondition continue="{goes_on}"><conditionvar>{test}</conditionvar>'
        f'<setvar varname="SCORE" action="{action}">{points}</setvar>{shown}</respcondition>'
    )


def equal(ident: str, value: str, **more: str) -> str:
    shown = "".join(f' {name}="{v}"' for name, v in more.items())
    return f'<varequal respident="{ident}"{shown}>{value}</varequal>'


def item(presentation: str, rules: str = "", extra: str = "", ident: str = "q", maximum: str = "", title: str = "") -> str:
    limit = f' maxvalue="{maximum}"' if maximum else ""
    processing = (
        f'<resprocessing><outcomes><decvar varname="SCORE" vartype="Decimal"{limit}/></outcomes>{rules}</resprocessing>'
        if rules
        else ""
    )
    return f'<item ident="{ident}" title="{title}"><presentation>{presentation}</presentation>{processing}{extra}</item>'


def bank_of(*items: str, around: str = "{}"):
    inner = around.format("".join(items))
    return read_source(("q.xml", f"<questestinterop>{inner}</questestinterop>".encode())).bank


def weights(read):
    return [choice.weight for choice in read.items[0].choices]


ONE = text("Which?") + pick("R", "A", "B", "C")
KEYS = {
    "set": rule(equal("R", "B")),
    "add": rule(equal("R", "B"), action="Add", goes_on="Yes"),
    "all that is not wrong": rule(f"<not><or>{equal('R', 'A')}{equal('R', 'C')}<unanswered respident='R'/></or></not>"),
    "subtract for the wrong": "".join(rule(equal("R", o), 0) for o in "AC") + rule("<other/>"),
    "a subset": rule('<varsubset respident="R" setmatch="Exact">B</varsubset>'),
    "set, then multiplied": rule(equal("R", "B"), 2, goes_on="Yes") + rule(equal("R", "B"), 0.5, action="Multiply"),
    "other first": rule("<other/>", 0, goes_on="Yes") + rule(equal("R", "B")),
}


@pytest.mark.parametrize("rules", KEYS.values(), ids=KEYS)
def test_the_same_key_however_it_is_written(rules):
    read = bank_of(item(ONE, rules))
    best = weights(read)[1]
    assert best == 1 and max(weights(read)[0], weights(read)[2]) < 1


def test_scales_of_a_hundred_and_negative_weights():
    rules = rule(equal("R", "A"), 100) + rule(equal("R", "B"), 50) + rule(equal("R", "C"), -25)
    read = bank_of(item(ONE, rules, maximum="100"))
    assert weights(read) == [1, 0.5, -0.25] and read.items[0].points == 100


def test_grouped_responses_are_a_matching():
    group = (
        '<response_grp ident="G" rcardinality="Multiple"><render_choice>'
        f'<response_label ident="L1" match_group="R1,R2,R3" match_max="1">{text("sand")}</response_label>'
        f'<response_label ident="L2" match_group="R1,R2,R3">{text("clay")}</response_label>'
        f'<response_label ident="R1">{text("coarse")}</response_label><response_label ident="R2">{text("fine")}</response_label>'
        f'<response_label ident="R3">{text("none")}</response_label></render_choice></response_grp>'
    )
    rules = "".join(
        rule(f'<varsubset respident="G">{pair}</varsubset>', action="Add", goes_on="Yes") for pair in ("L1,R1", "L2,R2")
    )
    found = bank_of(item(text("Match") + group, rules, maximum="2")).items[0]
    assert [(p.left, p.right) for p in found.pairs] == [("sand", "coarse"), ("clay", "fine")] and found.distractors == ["none"]
    assert found.points == 2


def test_blanks_within_a_sentence_keep_their_spaces():
    blank = '<response_str ident="S" rcardinality="Single"><render_fib><response_label ident="x"/></render_fib></response_str>'
    body = f"<flow>{text('The')}{blank}{text('horizon is a')}{pick('R', 'A', 'B')}{text('one.')}</flow>"
    rules = rule(equal("S", "Ah", case="Yes"), action="Add", goes_on="Yes") + rule(equal("R", "B"), action="Add", goes_on="Yes")
    found = bank_of(item(body, rules, maximum="2")).items[0]
    assert found.stem == 'The <span data-blank="b1"></span> horizon is a <span data-blank="b2"></span> one.'
    assert [blank.kind for blank in found.blanks] == ["text", "choice"] and found.blanks[0].case_sensitive


FEEDBACK = {
    "each choice has its own": (
        "".join(rule(equal("R", o), p, shows=f"f{o}") for o, p in (("A", 0), ("B", 1), ("C", 0))),
        "ABC",
        ({}, ["fA", "fB", "fC"]),
    ),
    "right and wrong": (
        rule(equal("R", "B"), shows="fA") + rule("<other/>", 0, shows="fB"),
        "AB",
        ({"correct": "fA", "incorrect": "fB"}, [None, None, None]),
    ),
    "for all": (rule("<other/>", 0, goes_on="Yes", shows="fA") + rule(equal("R", "B")), "A", ({"general": "fA"}, [None] * 3)),
}


@pytest.mark.parametrize(("rules", "texts", "wanted"), FEEDBACK.values(), ids=FEEDBACK)
def test_feedback_finds_its_place_by_what_shows_it(rules, texts, wanted):
    extra = "".join(f'<itemfeedback ident="f{t}" view="Candidate">{text("f" + t)}</itemfeedback>' for t in texts)
    found = bank_of(item(ONE, rules, extra)).items[0]
    assert (found.feedback, [choice.feedback for choice in found.choices]) == wanted


TEXTS = {
    "plain": (text("5 &lt; 6 &amp; 7"), "5 &lt; 6 &amp; 7"),
    "escaped markup": (text("a &lt;b&gt;b&lt;/b&gt;", "text/html"), "a <strong>b</strong>"),
    "escaped twice": (text("a &amp;lt;b&amp;gt;b&amp;lt;/b&amp;gt;", "text/html"), "a <strong>b</strong>"),
    "CDATA": ('<material><mattext texttype="text/html"><![CDATA[a <i>b</i>]]></mattext></material>', "a <em>b</em>"),
    "markup within": ('<material><mattext texttype="text/html">a <b>b</b></mattext></material>', "a <strong>b</strong>"),
    "emphasis of its own": ("<material><mattext>a </mattext><matemtext>b</matemtext></material>", "a <em>b</em>"),
    "a break": ("<material><mattext>a</mattext><matbreak/><mattext>b</mattext></material>", "a<br/>b"),
    "named characters": (text("25&#160;%"), "25\u00a0%"),
}


@pytest.mark.parametrize(("material", "wanted"), TEXTS.values(), ids=TEXTS)
def test_ways_to_write_text(material, wanted):
    assert bank_of(item(material + pick("R", "A", "B"), rule(equal("R", "A")))).items[0].stem == wanted


def test_sections_of_any_depth_are_pools_and_selections_draws():
    one = "".join(item(ONE, rule(equal("R", "A")), ident=name, maximum="2") for name in "ab")
    around = (
        '<assessment ident="x" title="Exam"><section ident="s" title="One"><section ident="t" title="Deep">'
        "<selection_ordering><selection><selection_number>1</selection_number></selection></selection_ordering>{}"
        "</section></section></assessment>"
    )
    read = bank_of(one, around=around)
    assert read.pools[0].path == ["Exam", "One", "Deep"]
    assert [(d.pool, d.pick, d.points_each) for d in read.draws] == [(["Exam", "One", "Deep"], 1, 2)]


def test_a_draw_names_the_pool_of_the_bank_that_it_draws_from():
    field = "<qtimetadata><qtimetadatafield><fieldlabel>bank_title</fieldlabel><fieldentry>Soils</fieldentry></qtimetadatafield></qtimetadata>"
    around = (
        f'<objectbank ident="OB">{field}{{}}</objectbank><assessment ident="x" title="Exam"><section ident="s" title="One"><selection_ordering>'
        "<selection><sourcebank_ref>OB</sourcebank_ref><selection_number>1</selection_number></selection></selection_ordering></section></assessment>"
    )
    read = bank_of(item(ONE, rule(equal("R", "A"))), around=around)
    assert [(draw.pool, draw.pick) for draw in read.draws] == [(["Soils"], 1)]


@pytest.mark.parametrize("encoding", ["utf-8", "utf-8-sig", "utf-16", "latin-1", "cp1252"])
def test_encodings_with_and_without_a_declaration(encoding):
    body = f"<questestinterop>{item(text('Höhe') + pick('R', 'A', 'B'), rule(equal('R', 'A')))}</questestinterop>"
    assert read_source(("q.xml", body.encode(encoding))).bank.items[0].stem == "Höhe"
    if encoding in ("latin-1", "cp1252"):
        declared = f'<?xml version="1.0" encoding="{encoding}"?>{body}'
        assert read_source(("q.xml", declared.encode(encoding))).bank.items[0].stem == "Höhe"


PATHS = [
    "pictures\\pit.png",
    "./pictures/pit.png",
    "pictures/PIT.PNG",
    "pictures/p%69t.png",
    "elsewhere/pit.png",
    "../pictures/pit.png",
]


@pytest.mark.parametrize("path", PATHS)
def test_pictures_are_found_where_references_lie(path):
    stem = f'<material><matimage imagtype="image/png" uri="{path}" label="a pit"/></material>'
    body = f"<questestinterop>{item(stem + pick('R', 'A', 'B'), rule(equal('R', 'A')))}</questestinterop>"
    bank = read_source(("p.zip", zipped(**{"q.xml": body, "pictures/pit.png": b"\x89PNG"}))).bank
    assert bank.items[0].stem == '<img src="media/pit.png" alt="a pit"/>' and bank.media[0].size == 4


@pytest.mark.parametrize("name", ["q.xml", "q.dat", "q.qti", "q.txt", "res00001"])
def test_a_package_without_a_manifest_is_read_whatever_its_files_are_called(name):
    body = f"<questestinterop>{item(ONE, rule(equal('R', 'A')))}</questestinterop>"
    assert len(read_source(("p.zip", zipped(**{f"folder/{name}.xml" if name == "res00001" else name: body}))).bank.items) == 1


CARTRIDGE = """<manifest xmlns="http://www.imsglobal.org/xsd/imsccv1p{v}/imscp_v1p1"><metadata><schema>IMS Common Cartridge</schema>
<schemaversion>1.{v}.0</schemaversion></metadata><organizations/><resources>
<resource identifier="Q" type="imsqti_xmlv1p2/imscc_xmlv1p{v}/assessment"><file href="quiz/quiz.xml"/></resource>
<resource identifier="B" type="imsqti_xmlv1p2/imscc_xmlv1p{v}/question-bank"><file href="bank.xml"/></resource>
<resource identifier="P" type="webcontent" href="page.html"><file href="page.html"/></resource></resources></manifest>"""


@pytest.mark.parametrize("version", [1, 2, 3])
def test_a_cartridge_with_a_quiz_a_bank_and_a_page(version):
    def fields(weight: str) -> str:
        return (
            "<itemmetadata><qtimetadata><qtimetadatafield><fieldlabel>cc_weighting</fieldlabel>"
            f"<fieldentry>{weight}</fieldentry></qtimetadatafield></qtimetadata></itemmetadata>"
        )

    quiz = item(ONE, rule(equal("R", "B"), 100), ident="a", maximum="100").replace(
        "<presentation>", fields("3") + "<presentation>", 1
    )
    bank = item(ONE, rule(equal("R", "C"), 100), ident="b", maximum="100")
    data = zipped(
        **{
            "imsmanifest.xml": CARTRIDGE.replace("{v}", str(version)),
            "quiz/quiz.xml": f'<questestinterop><assessment ident="x" title="Week 1"><section ident="s">{quiz}</section></assessment></questestinterop>',
            "bank.xml": f'<questestinterop><objectbank ident="ob">{bank}</objectbank></questestinterop>',
            "page.html": "<p>Field guide</p>",
        }
    )
    read = read_source(("course.imscc", data)).bank
    assert read.source.format == "common-cartridge" and len(read.items) == 2
    assert [item_.points for item_ in read.items] == [3, 1] and read.pools[0].path == ["Week 1"]
    assert any("page.html" in entry.text for entry in read.accounting.unclaimed)


def test_a_cartridge_says_what_it_cannot_hold():
    items = [
        MultipleChoice(
            id="a",
            stem="Which one is it?",
            points=2,
            choices=[Choice(id="x", content="this", weight=1), Choice(id="y", content="that")],
        ),
        FillIn(
            id="b",
            stem="What is it called?",
            points=1,
            answers=[TextAnswer(text="loam"), TextAnswer(text="silt", match="contains")],
        ),
        Essay(id="c", stem="Discuss the whole of it.", points=4, sample_answer="It depends."),
        Numeric(id="d", stem="How much of it is there?", points=1, answers=[NumericAnswer(value=3, tolerance=1)]),
    ]
    bank = Bank(title="Week 1", items=items, pools=[PoolEntry(path=["Soils", "Texture"], items=["a", "b", "c", "d"])])
    export = export_bank(bank, MediaBox(), "common-cartridge")
    assert export.ledger.only_in_a == ["d"] and "no numeric items" in export.written.findings[0].message
    verdicts = {entry.a: entry.facets for entry in export.ledger.items if entry.b}
    assert {facet for facets in verdicts.values() for facet, verdict in facets.items() if verdict in ("changed", "lost")} == set()
    assert {facets["grouping"] for facets in verdicts.values()} == {"same"}

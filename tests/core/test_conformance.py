"""What writers give is of the standards' form: against schemas of our own, for any bank and any content."""

from __future__ import annotations

import re

import pytest
from hypothesis import given
from hypothesis import strategies as st

from rogatum.core.exporting import export_bank
from rogatum.core.formats import format_named
from rogatum.core.items import (
    Bank,
    Choice,
    ChoiceBlank,
    Cloze,
    Essay,
    FillIn,
    Information,
    Item,
    Matching,
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
from rogatum.core.items.content import blank_marker, rich
from rogatum.core.items.walking import with_content
from rogatum.core.quizzes.model import Draw, Part, Quiz
from rogatum.core.receiving import read_source
from tests.core.schemas import breaks
from tests.core.strategies import PICTURES, banks, media_box
from tests.core.test_round_trips import MANY

BY_SCHEMA = pytest.mark.parametrize("name", ["qti-1.2", "common-cartridge", "qti-2.1", "qti-2.2", "qti-3.0"])


@BY_SCHEMA
@MANY
@given(data=st.data())
def test_any_bank_is_written_in_the_form_of_the_standard(name, data):
    entry = format_named(name)
    assert not breaks(name, entry.write(data.draw(banks(entry.carries)), media_box()).data)


# Content as it comes from pages that no standard was asked for.
CONTENTS = [
    "plain",
    "&lt;b&gt; a tag in words",
    "<p>a</p>loose<p>b</p>",
    "<p><u>under</u> <s>gone</s> <a href='https://example.org'>x</a></p>",
    "<blockquote>Text alone <em>so</em></blockquote>",
    "<ul><li>one<ul><li>inner</li></ul></li><li><p>two</p></li></ul>",
    "<ul>stray<li>a</li>tail</ul>",
    "<ul></ul><table></table>x",
    "<table><caption>c</caption><tr><th scope='col'>a</th><td colspan='2'>b<p>para</p></td></tr></table>",
    "<table><thead><tr><td>only a head</td></tr></thead></table>",
    "<em><table><tr><td>1</td></tr></table></em>",
    "<sub><p>odd</p></sub><li>alone</li>",
    "<pre>code\n  here</pre><code>x = 1</code><br>y",
    "<h2>Head</h2><audio src='media/a.mp3' controls></audio> sound",
    "<p lang='de'>Größe</p><span dir='rtl'>a</span>",
]


def awkward() -> list[Item]:
    """Items of each type as instructors leave them: without choices, pairs, answers, and with identifiers that the standards refuse."""

    def four(*weights: float) -> list[Choice]:
        notes = ("f", None, "g", None)
        return [
            Choice(id=str(n), content=text, weight=w, feedback=note)
            for n, (text, w, note) in enumerate(zip("ABCD", weights, notes, strict=True))
        ]

    def chosen(blank: str) -> ChoiceBlank:
        return ChoiceBlank(id=blank, share=0.5, choices=[Choice(id="a", content="x", weight=1), Choice(id="b", content="y")])

    said = {"general": "g", "correct": "c", "incorrect": "i"}
    return [
        MultipleChoice(id="1 mc", stem="S", choices=four(1, 0, -0.25, 0), feedback=said, points=2),
        MultipleChoice(id="none", stem="S"),
        MultipleResponse(id="mr/2", stem="S", choices=four(0.5, 0.5, 0, -0.5), scoring="per_choice", feedback=said),
        MultipleResponse(id="all", stem="S", choices=four(0.5, 0.5, 0, 0), feedback={"incorrect": "x"}),
        MultipleResponse(id="none of several", stem="S"),
        TrueFalse(id="tf", stem="S", answer=False, choice_feedback={"true": "n"}, feedback={"correct": "c"}),
        FillIn(
            id="fi", stem="S", answers=[TextAnswer(text='a<b&"'), TextAnswer(text="B", weight=0.5, match="contains")], feedback=said
        ),
        FillIn(id="nothing", stem="S"),
        Numeric(
            id="nu", stem="S", answers=[NumericAnswer(value=2, tolerance=0.1), NumericAnswer(min=0, weight=0.5)], feedback=said
        ),
        Numeric(id="any", stem="S", answers=[NumericAnswer()]),
        Cloze(id="cl", stem=f"S {blank_marker('b1')} {blank_marker('b2')}", blanks=[chosen("b1"), chosen("b2")], feedback=said),
        Cloze(id="cl2", stem=f"S {blank_marker('b1')}", blanks=[TextBlank(id="b1")], scoring="all_or_nothing"),
        Cloze(id="cl3", stem="No blank", blanks=[TextBlank(id="b1", answers=[TextAnswer(text="q")])]),
        Matching(id="ma", stem="S", pairs=[Pair(left="l", right="r"), Pair(left="m", right="r")], distractors=["d"], feedback=said),
        Matching(id="no pairs", stem="S"),
        Ordering(id="or", stem="S", sequence=["a", "b", "c"], scoring="per_part", feedback=said),
        Ordering(id="no entries", stem="S"),
        Essay(id="es", stem="S", sample_answer="s", rubric="r", feedback={"general": "g"}),
        Essay(id="bare", stem="S"),
        Information(id="in", stem="S", feedback={"general": "g"}),
        Information(id="empty", stem=""),
    ]


@BY_SCHEMA
@pytest.mark.parametrize("content", CONTENTS)
def test_any_content_is_written_in_the_form_of_the_standard(name, content):
    canonical = rich(content)

    def changed(text: str) -> str:
        return text.replace("S", canonical, 1) if "data-blank" in text else canonical and text and canonical

    items = [with_content(item, changed) for item in awkward()]
    items[0].stimulus = "s1"
    bank = Bank(items=items, stimuli=[Stimulus(id="s1", content=canonical)], pools=[PoolEntry(path=["P"], items=[items[0].id])])
    assert not breaks(name, format_named(name).write(bank, media_box()).data)


@BY_SCHEMA
def test_what_is_shown_has_its_feedback_and_what_is_written_is_shown(name):
    package = format_named(name).write(Bank(items=awkward()), media_box()).data
    back = read_source(("x.zip", package), name).bank
    read = {item.id: item for item in back.items}
    assert not [item.id for item in read.values() if not item.title] or name in ("qti-1.2", "common-cartridge")
    assert read["all"].feedback == {"incorrect": "x"}
    assert "general" not in read["empty"].feedback if "empty" in read else True


def test_blanks_to_choose_for_have_identifiers_of_their_own():
    written = format_named("qti-2.1").write(Bank(items=[awkward()[10]]), media_box())
    back = read_source(("x.zip", written.data)).bank.items[0]
    idents = [choice.id for blank in back.blanks for choice in blank.choices]
    assert len(idents) == 4 == len(set(idents))


PICTURE = sorted(PICTURES)[0]
SPOT = (
    '<assessmentItem xmlns="http://www.imsglobal.org/xsd/imsqti_v2p1" identifier="spot" title="Spot" adaptive="false" timeDependent="false">'
    '<responseDeclaration identifier="RESPONSE" cardinality="single" baseType="point"/><outcomeDeclaration identifier="SCORE" '
    'cardinality="single" baseType="float"/><itemBody><selectPointInteraction responseIdentifier="RESPONSE" maxChoices="1">'
    '<prompt>Where?</prompt><object data="pics/pit.png" type="image/png" width="9" height="9"/></selectPointInteraction></itemBody>'
    "</assessmentItem>"
)
OLD_SPOT = (
    '<questestinterop><item ident="spot"><presentation><material><mattext texttype="text/html">&lt;p&gt;Where? '
    '&lt;img src="pics/pit.png"&gt;&lt;/p&gt;</mattext></material><response_xy ident="R"><render_hotspot><material>'
    '<matimage uri="pics/pit.png" imagtype="image/png"/></material></render_hotspot></response_xy></presentation></item></questestinterop>'
)


@pytest.mark.parametrize(("name", "markup"), [("qti-2.1", SPOT), ("qti-1.2", OLD_SPOT)])
def test_preserved_items_bring_their_pictures(name, markup, tmp_path):
    (tmp_path / "pics").mkdir()
    (tmp_path / "item.xml").write_text(markup)
    (tmp_path / "pics" / "pit.png").write_bytes(PICTURES[PICTURE])
    reading = read_source(tmp_path)
    kept = reading.bank.items[0]
    assert isinstance(kept, Preserved) and list(kept.media) == ["pics/pit.png"]
    export = export_bank(reading.bank, reading.media, name)
    assert set(export.ledger.items[0].facets.values()) <= {"same", "added"}
    again = export.read_back
    assert [entry.sha256 for entry in again.media] == [entry.sha256 for entry in reading.bank.media]
    assert not [finding.code for finding in again.findings if finding.code == "media-missing"]


@pytest.mark.parametrize("name", ["qti-1.2", "qti-2.2"])
def test_a_draw_takes_no_more_than_is_there_and_says_so(name):
    items = [
        MultipleChoice(id=f"i{n}", stem=f"S{n}", choices=[Choice(id="a", content="x", weight=1), Choice(id="b", content="y")])
        for n in (1, 2)
    ]
    quiz = Quiz(id="q", title="Q", parts=[Part(title="Drawn", draw=Draw(pool=["P"], pick=5))])
    bank = Bank(items=items, pools=[PoolEntry(path=["P"], items=["i1", "i2"])], quizzes=[quiz])
    export = export_bank(bank, media_box(), name)
    assert [finding.code for finding in export.written.findings] == ["draw-short"]
    assert export.ledger.quizzes[0].facets["draws"] in ("changed", "lost")


@MANY
@given(data=st.data())
def test_gift_has_balanced_braces_and_no_blank_line_within_its_answers(data):
    entry = format_named("gift")
    bank = data.draw(banks(entry.carries)) if data.draw(st.booleans()) else Bank(items=awkward())
    text = entry.write(bank, media_box()).data.decode()
    bare = re.sub(r"\\.", "", "".join(line for line in text.splitlines(True) if not line.startswith("//")), flags=re.S)
    assert not re.search(r"{[^{}]*{|}[^{}]*}", f"{bare}") and bare.count("{") == bare.count("}")
    for body in re.findall(r"{([^}]*)}", bare):
        assert "\n\n" not in body, body

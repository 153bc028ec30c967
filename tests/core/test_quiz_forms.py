"""Quizzes in interchange forms and between courses: instructions, conditions, what goes along and what stays behind."""

from __future__ import annotations

import pytest

from rogatum.core.exporting import export_bank
from rogatum.core.items.one_line import line_of, line_text
from rogatum.core.quizzes.adopting import Arrival, Home, adopted
from rogatum.core.quizzes.catalogue import catalogue_of, count_of, ids_of
from rogatum.core.quizzes.criteria import Condition, Draw
from rogatum.core.quizzes.model import Part, Quiz, as_handed_on, renumbered, sparse
from rogatum.core.quizzes.plan import Plan
from rogatum.core.quizzes.settings import Settings
from rogatum.core.quizzes.worth import Stock
from rogatum.core.receiving import read_source
from rogatum.core.sources import MediaBox
from tests.core.test_quiz_values import soils

ESSAYS = Condition(facet="type", values=("essay",), but=True)


def with_instructions():
    bank = soils(time_limit=25)
    fixed, draw = bank.quizzes[0].parts
    bank.quizzes[0].parts = [
        fixed.model_copy(update={"instructions": "Answer <em>all</em>."}),
        draw.model_copy(update={"page_break": True}),
    ]
    return bank


# Whether a format says instructions, and page breaks.
SAYS = {
    "qti-1.2": (True, False),
    "qti-2.1": (True, False),
    "qti-2.2": (True, False),
    "qti-3.0": (True, False),
    "common-cartridge": (False, False),
    "items-json": (True, True),
}


@pytest.mark.parametrize("name", SAYS)
def test_instructions_and_page_breaks_go_where_a_format_says_them(name):
    instructions, pages = SAYS[name]
    export = export_bank(with_instructions(), MediaBox(), name)
    (entry,) = export.ledger.quizzes
    assert (entry.facets["instructions"] == "same") is instructions and (entry.facets["pages"] == "same") is pages
    said = [part.instructions for part in export.read_back.quizzes[0].parts]
    assert (said[0] == "Answer <em>all</em>.") is instructions
    if not instructions:
        assert entry.facets["instructions"] == "lost" and [n.code for n in entry.notes if n.facet == "instructions"] == [
            "no-instructions"
        ]


RUBRIC = (
    '<questestinterop><assessment ident="A" title="Exam"><section ident="S" title="One">{}'
    '<item ident="Q"><presentation><material><mattext>Which?</mattext></material><response_str ident="R"><render_fib/>'
    "</response_str></presentation></item></section></assessment></questestinterop>"
)


@pytest.mark.parametrize(
    ("rubric", "said"),
    [
        ('<rubric view="Candidate"><material><mattext>Read this.</mattext></material></rubric>', "Read this."),
        ("<rubric><material><mattext>Read this.</mattext></material></rubric>", "Read this."),
        ('<rubric view="Scorer"><material><mattext>Be strict.</mattext></material></rubric>', ""),
        ("", ""),
    ],
)
def test_what_a_section_of_qti_1_2_tells_students(rubric, said):
    bank = read_source(("exam.xml", RUBRIC.format(rubric).encode())).bank
    assert bank.quizzes[0].parts[0].instructions == said and not bank.stimuli
    assert ("Be strict." in " ".join(entry.text for entry in bank.accounting.unclaimed)) is ("Scorer" in rubric)


def test_a_quiz_in_json_says_what_is_said_alone():
    draw = Draw(pool=["Soils"], pick=2, where=[ESSAYS], without=["q1"])
    quiz = Quiz(id="q", title="Q", parts=[Part(title="A", draw=draw), Part(items=["q2"])], settings=Settings(attempts=2))
    told = sparse(quiz)
    assert told["parts"][0]["draw"] == {
        "pool": ["Soils"],
        "pick": 2,
        "where": [{"facet": "type", "values": ["essay"], "but": True}],
        "without": ["q1"],
    }
    assert told["parts"][1] == {"items": ["q2"], "points_each": None} and told["settings"] == {"attempts": 2}
    assert Quiz.model_validate(told) == quiz
    whole = Quiz(id="q", title="Q", parts=[Part(draw=Draw(pool=[], pick=1))])
    assert Quiz.model_validate(sparse(whole)) == whole


def planned() -> Quiz:
    row = Draw(pool=["Soils"], pick=2, without=["q1", "q9"])
    part = Part(draw=row, picked_from=row, points={"q2": 3})
    return Quiz(id="q", title="Q", parts=[part], plan=Plan(rows=[row], apart_from=["5"]))


def test_what_is_handed_on_leaves_the_plan_behind():
    handed = as_handed_on(planned(), {"q1": "i1", "q2": "i2"})
    (part,) = handed.parts
    assert (handed.plan, part.picked_from, part.draw.without, part.points) == (None, None, ["i1"], {"i2": 3})
    both = renumbered(planned(), {"q1": "i1"}).parts[0]
    assert both.draw.without == both.picked_from.without == ["i1", "q9"]


def test_conditions_come_along_into_a_course():
    quiz = Quiz(title="Q", parts=[Part(draw=Draw(pool=["Soils"], pick=1, where=[ESSAYS], without=["q1", "q2"], alone=True))])
    home = Home(["Course", "Soils"], {"11", "12"}, ["q1", "q2"])
    made = adopted(quiz, Arrival({"q1": "11"}, {("Soils",): home})).quiz
    draw = made.parts[0].draw
    assert (draw.pool, draw.where, draw.without, draw.alone) == (["Course", "Soils"], [ESSAYS], ["11"], True)


@pytest.mark.parametrize(
    "draw",
    [
        Draw(pool=[], pick=1),
        Draw(pool=["Soils"], pick=1),
        Draw(pool=["Soils"], pick=1, alone=True),
        Draw(pool=["Soils", "Clay"], pick=1, without=["q3"]),
        Draw(pool=[], pick=1, where=[ESSAYS]),
        Draw(pool=["Nowhere"], pick=1),
    ],
)
def test_a_bank_and_its_catalogue_give_the_same(draw):
    """What writers and the ledger ask of a bank, and what figures ask of a catalogue, is one thing."""
    bank = soils()
    lots = catalogue_of(bank).drawn_from(draw)
    assert sorted(ids_of(lots)) == sorted(Stock(bank).drawn_from(draw)) and count_of(lots) == len(list(ids_of(lots)))


LINES = {
    "words": ("Which is it?", "Which is it?"),
    "a table": ("<p>The table:</p><table><tr><td>clay</td></tr></table><p>Which?</p>", "The table: Which?"),
    "a picture": ('Look: <img src="media/a.png" alt="a"/> Which?', "Look: Which?"),
    "a list": ("<ul><li>clay</li><li>sand</li></ul>", "clay sand"),
    "emphasis": ("Which is <em>not</em> so?", "Which is <em>not</em> so?"),
    "code": ("<p>Run</p><pre>a = 1</pre>", "Run"),
}


@pytest.mark.parametrize("name", LINES)
def test_an_item_in_one_line(name):
    content, line = LINES[name]
    assert line_of(content) == line and line_text(content) == line.replace("<em>", "").replace("</em>", "")

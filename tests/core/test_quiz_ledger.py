"""The ledger says of a quiz what became of it, for any quiz and any format; what a quiz holds is told by its own document."""

from __future__ import annotations

from dataclasses import replace

import pytest
from hypothesis import given
from hypothesis import settings as relaxed
from hypothesis import strategies as st

from rogatum.core.exporting import export_bank
from rogatum.core.fidelity import compare
from rogatum.core.formats import format_named
from rogatum.core.formats.shared.base import EVERYTHING
from rogatum.core.items import Bank, Essay, Matching, Pair, PoolEntry, Stimulus
from rogatum.core.items.content import plain_text
from rogatum.core.quizzes.criteria import Condition
from rogatum.core.quizzes.model import SETTINGS, Draw, Part, Quiz
from rogatum.core.receiving import read_source
from rogatum.core.sources import MediaBox
from tests.core.strategies import banks, media_box, settings
from tests.core.test_quiz_reading import archive
from tests.core.test_quiz_values import question

POINTS = st.sampled_from([None, 4.0, 1.5, 0.0])


@st.composite
def any_part(draw, bank: Bank) -> Part:
    """Fixed items in any order, each with its points or none, or more drawn than there are from any pool."""
    ids = [item.id for item in bank.items]
    title, each = draw(st.sampled_from(["", "A", "A", "Water & <b>"])), draw(POINTS)
    if bank.pools and draw(st.booleans()):
        pool = draw(st.sampled_from([[], ["Soils"], *(pool.path for pool in bank.pools)]))
        where = draw(st.sampled_from([[], [Condition(facet="type", values=("essay", "numeric"), but=True)]]))
        never = draw(st.lists(st.sampled_from(ids), max_size=2, unique=True))
        from_ = Draw(pool=pool, pick=draw(st.integers(1, 6)), alone=draw(st.booleans()), where=where, without=never)
        return Part(title=title, points_each=each, draw=from_, instructions=draw(st.sampled_from(["", "Read <em>on</em>."])))
    items = draw(st.lists(st.sampled_from(ids), min_size=1, unique=True))
    own = draw(st.dictionaries(st.sampled_from(items), st.sampled_from([0.0, 3.0, 7.25]), max_size=3))
    return Part(title=title, points_each=each, items=items, points=own, page_break=draw(st.booleans()))


@st.composite
def banks_with_any_quizzes(draw) -> Bank:
    """Up to three quizzes, which share items and say what no format has a place for."""
    bank = draw(banks(replace(EVERYTHING, quizzes=False)))
    for name in draw(distinct_names()):
        parts = draw(st.lists(any_part(bank), min_size=1, max_size=3))
        bank.quizzes.append(Quiz(id=name, title=draw(st.sampled_from([name, "", "Q & A"])), parts=parts))
        bank.quizzes[-1].settings = draw(settings(EVERYTHING))
    return bank


def distinct_names():
    return st.lists(st.sampled_from(["q1", "week 3", "item1", "1"]), min_size=1, max_size=3, unique=True)


def what_students_get(bank: Bank, quiz: Quiz) -> list[tuple[int | None, list[tuple[str, float | None]]]]:
    """Per part: how many are drawn, and the items that can come with what they are worth. Written without the core's own functions."""
    items, paths = {item.id: item for item in bank.items}, bank.pool_paths()
    told = []
    for part in quiz.parts:
        if part.draw is None:
            keys = [key for key in part.items if key in items]
        else:
            keys = [i.id for i in bank.items if i.type != "information" and _may_come(part.draw, i, paths.get(i.id, ()))]
        worth = [(plain_text(items[key].stem)[-14:], _worth(part, items[key])) for key in keys]
        told.append((part.draw.pick, sorted(worth, key=str)) if part.draw else (None, worth))
    return [part for part in told if part[1]]


def _may_come(draw: Draw, item, path: tuple[str, ...]) -> bool:
    pool = tuple(draw.pool)
    lies = path == pool if draw.alone and pool else path[: len(pool)] == pool
    return lies and item.id not in draw.without and not (draw.where and item.type in draw.where[0].values)


def _worth(part: Part, item) -> float | None:
    if item.type == "information":
        return None
    return part.points.get(item.id, item.points if part.points_each is None else part.points_each)


def without_points(parts):
    return [(pick, [stem for stem, _ in held]) for pick, held in parts]


@pytest.mark.parametrize("name", ["qti-1.2", "qti-2.1", "qti-3.0", "common-cartridge", "gift", "sheet", "items-json"])
@relaxed(max_examples=25)
@given(bank=banks_with_any_quizzes())
def test_the_ledger_says_what_became_of_a_quiz(name, bank):
    export = export_bank(bank, media_box(), name)
    back = read_source(("x" + format_named(name).suffix, export.written.data), name).bank
    ledger = export.ledger.quizzes
    mine, its = {quiz.id: quiz for quiz in bank.quizzes}, {quiz.id: quiz for quiz in back.quizzes}
    assert {entry.a for entry in ledger} - {""} == set(mine) and {entry.b for entry in ledger} - {""} == set(its)
    for entry in ledger:
        told = {facet for facet, verdict in entry.facets.items() if verdict != "same"}
        if not entry.a or not entry.b:
            assert told
            continue
        before, after = mine[entry.a], its[entry.b]
        given_before, given_after = what_students_get(bank, before), what_students_get(back, after)
        if sorted(map(str, without_points(given_before))) != sorted(map(str, without_points(given_after))):
            assert told & {"parts", "order", "draws"}
        elif without_points(given_before) == without_points(given_after) and given_before != given_after:
            assert "points" in told
        assert before.title == after.title or "title" in told
        for setting in SETTINGS:
            assert getattr(before.settings, setting) == getattr(after.settings, setting) or setting in told


def assessment(title: str, stem: str, more: str = "") -> str:
    """A document of QTI 1.2 whose one item is called Q1, as each document may call its first item."""
    return (
        f'<questestinterop><assessment ident="{title}" title="{title}"><section ident="S"><item ident="Q1"><presentation><material>'
        f'<mattext>{stem}</mattext></material><response_str ident="R"><render_fib/></response_str></presentation></item>{more}'
        "</section></assessment></questestinterop>"
    )


def test_documents_of_a_package_may_call_their_items_alike():
    files = {"one": assessment("One", "First?"), "two": assessment("Two", "Second?", '<itemref linkrefid="Q1"/>')}
    bank = read_source(archive(**files)).bank
    held = [[bank.item(key).stem for key in quiz.item_ids()] for quiz in bank.quizzes]
    assert held == [["First?"], ["Second?"]]


def test_a_reference_to_an_item_of_another_document_finds_it():
    one = assessment("One", "First?").replace("Q1", "Q7")
    bank = read_source(archive(one=one, two=assessment("Two", "Second?", '<itemref linkrefid="Q7"/>'))).bank
    assert [[bank.item(key).stem for key in quiz.item_ids()] for quiz in bank.quizzes] == [["First?"], ["Second?", "First?"]]


def shared_by_two(first: Part, second: Part) -> Bank:
    quizzes = [Quiz(id=f"w{n}", title=f"Week {n}", parts=[part]) for n, part in enumerate((first, second), 1)]
    return Bank(items=[question("q1", 2.0), question("q2", 2.0)], quizzes=quizzes)


def test_each_assessment_of_a_cartridge_says_what_its_items_are_worth_in_it():
    bank = shared_by_two(Part(items=["q1", "q2"], points={"q1": 5.0}), Part(items=["q1"]))
    export = export_bank(bank, MediaBox(), "common-cartridge")
    assert [entry.facets["points"] for entry in export.ledger.quizzes] == ["same", "same"] and export.ledger.sound
    first, second = export.read_back.quizzes
    assert [[export.read_back.item(key).points for key in quiz.item_ids()] for quiz in (first, second)] == [[5, 2], [2]]


def test_an_item_that_is_worth_something_else_in_a_second_place_is_told_where_there_is_one_place_for_it():
    bank = shared_by_two(Part(items=["q1"]), Part(items=["q1", "q2"], points_each=6.0))
    ledger = export_bank(bank, MediaBox(), "qti-1.2").ledger
    assert [entry.facets["points"] for entry in ledger.quizzes] == ["same", "lost"] and not ledger.sound
    (note,) = [note for note in ledger.quizzes[1].notes if note.facet == "points"]
    assert note.code == "no-points-by-place"
    assert export_bank(bank, MediaBox(), "qti-2.2").ledger.sound


def test_formats_without_quizzes_say_of_which_quizzes_the_points_stand_with_the_items():
    bank = shared_by_two(Part(items=["q1"], points_each=5.0), Part(items=["q1"], points_each=6.0))
    bank.quizzes.append(Quiz(id="w3", title="Week 3", parts=[Part(items=["q2"])]))
    export = export_bank(bank, MediaBox(), "sheet")
    assert [entry.facets["points"] for entry in export.ledger.quizzes] == ["recast", "lost", "recast"]
    assert [item.points for item in export.read_back.items] == [5, 2]


def test_what_is_drawn_is_drawn_with_its_passage_in_whatever_order_its_pool_is():
    items = [Essay(id=f"q{n}", stem=f"Why, {n}?", stimulus="s1" if n < 3 else None) for n in range(1, 5)]
    parts = [Part(draw=Draw(pool=["Soils"], pick=2))]
    pools = [PoolEntry(path=["Soils"], items=[item.id for item in items])]
    bank = Bank(items=items, stimuli=[Stimulus(id="s1", content="Read.")], pools=pools, quizzes=[Quiz(id="w", parts=parts)])
    mixed = bank.model_copy(update={"items": [items[n] for n in (0, 3, 1, 2)]})
    assert compare(bank, mixed).quizzes[0].facets["passages"] == "same"


def test_a_second_copy_of_an_item_is_not_taken_for_another_that_was_left_out():
    """A cartridge has no matching items, and holds the essay once for each quiz: its second copy is no matching that changed."""
    stem = "Which of these layers of the soil holds most of its water, number {}?"
    pairs = [Pair(left=str(n), right=f"layer {n}") for n in range(3)]
    items = [Matching(id="m", stem=stem.format(1), pairs=pairs), Essay(id="e", stem=stem.format(2))]
    quizzes = [
        Quiz(id=name, title=name, parts=[Part(items=held)]) for name, held in (("a", ["m", "e"]), ("b", ["m"]), ("c", ["e"]))
    ]
    ledger = export_bank(Bank(items=items, quizzes=quizzes), MediaBox(), "common-cartridge").ledger
    assert ledger.only_in_a == ["m"] and ledger.quizzes[1].facets["parts"] == "lost"

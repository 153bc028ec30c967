"""The quiz as a value: written as tests, compared facet by facet, changed, and tried."""

from __future__ import annotations

import json

import pytest

from rogatum.core.errors import NotInQuiz, QuizRefused
from rogatum.core.exporting import export_bank
from rogatum.core.fidelity import QUIZ_FACETS, compare
from rogatum.core.formats import writable_formats
from rogatum.core.items import Bank, Choice, Information, MultipleChoice, PoolEntry, Stimulus
from rogatum.core.quizzes import editing
from rogatum.core.quizzes.adopting import Arrival, Home, adopted
from rogatum.core.quizzes.attempt import arranged, drawn, mark_attempt
from rogatum.core.quizzes.catalogue import catalogue_of
from rogatum.core.quizzes.figures import figures_of_quiz
from rogatum.core.quizzes.model import Draw, Part, Quiz, Settings
from rogatum.core.quizzes.worth import points_in, total_points, worth_on_items
from rogatum.core.receiving import read_source
from rogatum.core.sources import MediaBox
from tests.core.strategies import SETTINGS


def question(ident: str, points: float | None = 1.0, **fields) -> MultipleChoice:
    choices = [Choice(id="a", content="clay", weight=1), Choice(id="b", content="sand")]
    return MultipleChoice(id=ident, stem=f"Which is it, {ident}?", points=points, choices=choices, **fields)


def soils(**settings) -> Bank:
    """Five questions in two pools, and a quiz of two fixed ones and a draw worth 4 points each."""
    return Bank(
        title="Week 3",
        items=[question(f"q{n}", 2.0 if n == 2 else 1.0) for n in range(1, 6)],
        pools=[PoolEntry(path=["Soils", "Water"], items=["q1", "q2"]), PoolEntry(path=["Soils", "Clay"], items=["q3", "q4", "q5"])],
        quizzes=[
            Quiz(
                id="w3",
                title="Week 3",
                parts=[
                    Part(title="First", items=["q2", "q1"], points={"q1": 3.0}),
                    Part(title="Then", draw=Draw(pool=["Soils", "Clay"], pick=2), points_each=4.0),
                ],
                settings=Settings(**settings),
            )
        ],
    )


def verdicts(ledger, *but) -> dict[str, str]:
    (quiz,) = ledger.quizzes
    return {facet: verdict for facet, verdict in quiz.facets.items() if verdict != "same" and facet not in but}


# Writing


@pytest.mark.parametrize("name", ["qti-1.2", "qti-2.1", "qti-2.2", "qti-3.0", "items-json"])
def test_a_draw_worth_4_each_and_an_item_worth_more_than_alone_come_back_so(name):
    export = export_bank(soils(), MediaBox(), name)
    assert not verdicts(export.ledger, "navigation", "submission") and export.ledger.sound
    (quiz,) = export.read_back.quizzes
    fixed, draw = quiz.parts
    assert (draw.draw, draw.points_each) == (Draw(pool=["Soils", "Clay"], pick=2), 4)
    assert fixed.items == ["q2", "q1"] and [item.points for item in export.read_back.items[:2]] in ([1, 2], [2, 1])
    assert {key: points_in(fixed, export.read_back.item(key)) for key in fixed.items} == {"q1": 3, "q2": 2}


@pytest.mark.parametrize("name", ["qti-1.2", "qti-2.1", "qti-3.0", "items-json"])
def test_several_quizzes_share_items_and_leave_others_in_their_pools(name):
    bank = soils()
    second = Quiz(id="w4", title="Week 4", parts=[Part(title="Again", items=["q1"])])
    bank.quizzes.append(second)
    bank.items.append(question("q9"))
    bank.pools[0].items.append("q9")
    export = export_bank(bank, MediaBox(), name)
    assert export.ledger.sound and len(export.read_back.items) == 6, export.ledger.quizzes
    assert [(quiz.title, len(quiz.parts)) for quiz in export.read_back.quizzes] == [("Week 3", 2), ("Week 4", 1)]
    assert export.read_back.pool_paths()["q9"] == ("Soils", "Water")


@pytest.mark.parametrize("name", ["qti-1.2", "qti-2.1", "qti-2.2"])
def test_passages_stay_with_their_items_in_parts_and_draws_and_outside_of_the_quiz(name):
    bank = soils()
    bank.stimuli = [Stimulus(id="s1", content="Read the notes."), Stimulus(id="s2", content="Look at the pit.")]
    for item, passage in zip(bank.items, ["s1", "s1", "s2", "s2", None], strict=True):
        item.stimulus = passage
    bank.items.append(question("q9", stimulus="s2"))
    bank.pools[0].items.append("q9")
    export = export_bank(bank, MediaBox(), name)
    assert export.ledger.sound and not verdicts(export.ledger, "navigation", "submission")


def test_a_cartridge_has_one_part_no_draws_and_its_own_words_for_settings():
    export = export_bank(
        soils(time_limit=25, attempts=0, show_feedback="on submitting", show_key="on submitting", counts="best"),
        MediaBox(),
        "common-cartridge",
    )
    assert verdicts(export.ledger) == {"parts": "lost", "draws": "lost", "counts": "lost"}
    (quiz,) = export.read_back.quizzes
    assert quiz.settings == Settings(time_limit=25, attempts=0, show_feedback="on submitting", show_key="on submitting")
    assert {item.id: item.points for item in export.read_back.items} == {"q1": 3, "q2": 2, "q3": 4, "q4": 4, "q5": 4}
    assert "one part" in next(note.message for note in export.ledger.quizzes[0].notes if note.facet == "parts")


@pytest.mark.parametrize("entry", [e for e in writable_formats() if not e.carries.quizzes], ids=lambda entry: entry.name)
def test_a_format_without_quizzes_says_that_the_quiz_is_lost_and_shows_what_items_are_worth_in_it(entry):
    export = export_bank(soils(time_limit=25), MediaBox(), entry.name)
    moved = {"points": "recast"} if entry.carries.points else {"points": "lost"}
    printed = entry.carries.printed
    told = {facet: "recast" if facet in printed else "lost" for facet in ("title", "parts", "order", "draws", "time_limit")}
    assert verdicts(export.ledger) == told | moved and export.ledger.sound == (entry.name == "pdf")
    if entry.carries.points and entry.read:
        assert sorted(item.points for item in export.read_back.items) == [2, 3, 4, 4, 4]


@pytest.mark.parametrize("entry", [e for e in writable_formats() if e.carries.quizzes], ids=lambda entry: entry.name)
@pytest.mark.parametrize("setting", Settings.model_fields)
def test_each_setting_is_the_same_or_said_to_be_lost(entry, setting):
    """A setting without a place is lost with that reason; one with a place comes back as it was."""
    for value in SETTINGS[setting]:
        export = export_bank(soils(**{setting: value}), MediaBox(), entry.name)
        (quiz,) = export.ledger.quizzes
        allowed = entry.carries.settings.get(setting, frozenset())
        placed = allowed is None or value in list(allowed)
        assert quiz.facets[setting] == ("same" if placed else "lost"), (setting, value, quiz.notes)
        if not placed:
            assert f"{entry.label} has no place" in next(note.message for note in quiz.notes if note.facet == setting)


def test_pools_that_become_a_test_are_said_and_are_no_loss():
    bank = soils()
    bank.quizzes = []
    ledger = export_bank(bank, MediaBox(), "qti-2.2").ledger
    assert ledger.sound and [(quiz.a, quiz.worst) for quiz in ledger.quizzes] == [("", "added")]
    assert "pools" in ledger.quizzes[0].notes[0].message


def test_json_leaves_out_what_nobody_said_and_repeats_draws_for_older_readers():
    data = json.loads(soils(time_limit=25, attempts=2).model_dump_json())
    (quiz,) = data["quizzes"]
    assert quiz["settings"] == {"time_limit": 25, "attempts": 2}
    assert quiz["parts"][0] == {"items": ["q2", "q1"], "title": "First", "points_each": None, "points": {"q1": 3}}
    assert quiz["parts"][1] == {"draw": {"pool": ["Soils", "Clay"], "pick": 2}, "title": "Then", "points_each": 4}
    assert data["draws"] == [{"title": "Then", "pool": ["Soils", "Clay"], "pick": 2, "points_each": 4}]
    del data["quizzes"]
    (older,) = read_source(("x.json", json.dumps(data).encode())).bank.quizzes
    assert [(part.title, part.draw, part.points_each) for part in older.parts] == [
        ("Then", Draw(pool=["Soils", "Clay"], pick=2), 4)
    ]


# The ledger


def other(change) -> Bank:
    bank = soils(time_limit=25)
    bank.quizzes = [change(bank.quizzes[0])]
    return bank


def parts_as(*parts: Part):
    return lambda quiz: quiz.model_copy(update={"parts": list(parts)})


FIXED, DRAWN = soils().quizzes[0].parts
CHANGES = {
    "nothing": (lambda quiz: quiz, {}),
    "its title": (lambda quiz: quiz.model_copy(update={"title": "Week 4"}), {"title": "changed"}),
    "the order of the parts": (parts_as(DRAWN, FIXED), {}),
    "the order of the items": (parts_as(FIXED.model_copy(update={"items": ["q1", "q2"]}), DRAWN), {"order": "changed"}),
    "an item gone": (parts_as(FIXED.model_copy(update={"items": ["q2"]}), DRAWN), {"parts": "lost"}),
    "an item more": (
        parts_as(FIXED.model_copy(update={"items": ["q2", "q1", "q3"], "points": {"q1": 3, "q3": 4}}), DRAWN),
        {"parts": "changed"},
    ),
    "parts run together": (parts_as(FIXED.model_copy(update={"title": "All"}), DRAWN), {"parts": "changed"}),
    "another pick": (
        parts_as(FIXED, DRAWN.model_copy(update={"draw": Draw(pool=["Soils", "Clay"], pick=1)})),
        {"draws": "changed"},
    ),
    "another pool": (
        parts_as(FIXED, DRAWN.model_copy(update={"draw": Draw(pool=["Soils"], pick=2)})),
        {"draws": "changed", "parts": "changed"},
    ),
    "no draw": (parts_as(FIXED), {"draws": "lost", "parts": "lost"}),
    "other points": (parts_as(FIXED, DRAWN.model_copy(update={"points_each": 1})), {"points": "changed"}),
    "a longer time": (lambda quiz: quiz.model_copy(update={"settings": Settings(time_limit=30)}), {"time_limit": "changed"}),
    "no time": (lambda quiz: quiz.model_copy(update={"settings": Settings()}), {"time_limit": "lost"}),
    "more said": (
        lambda quiz: quiz.model_copy(update={"settings": Settings(time_limit=25, attempts=2)}),
        {"attempts": "added"},
    ),
}


@pytest.mark.parametrize(("change", "wanted"), CHANGES.values(), ids=CHANGES)
def test_what_differs_of_a_quiz_is_judged_and_nothing_else(change, wanted):
    ledger = compare(other(lambda quiz: quiz), other(change))
    assert verdicts(ledger) == wanted
    assert {note.facet for note in ledger.quizzes[0].notes} == set(wanted) and set(ledger.quizzes[0].facets) == set(QUIZ_FACETS)
    assert ledger.sound == (not {"changed", "lost"} & set(wanted.values()))


def test_a_quiz_that_is_gone_is_lost_and_one_that_came_is_added():
    none = soils()
    none.quizzes = []
    assert compare(soils(), none).quiz_totals.lost == 1 and compare(none, soils()).quiz_totals.added == 1


# Changing, and trying


def numbered() -> Quiz:
    quiz = soils().quizzes[0]
    return quiz.model_copy(update={"parts": [part.model_copy(update={"id": str(n)}) for n, part in enumerate(quiz.parts)]})


def test_changes_of_a_quiz_give_new_values_and_leave_the_old_as_it_was():
    quiz = numbered()
    before = quiz.model_copy(deep=True)
    assert [part.id for part in editing.with_parts_at(quiz, ["1"], 0).parts] == ["1", "0"]
    assert [part.id for part in editing.without_parts(quiz, ["0"]).parts] == ["1"]
    assert editing.with_part(quiz, "1", editing.picking(1)).parts[1].draw.pick == 1
    assert editing.with_part(quiz, "0", editing.picking(1)).parts[0] == quiz.parts[0]
    assert editing.with_part(quiz, "0", editing.worth(2)).parts[0].points == {}
    added = editing.with_items(quiz, ["q2", "q4", "q4"])
    assert added.parts[2].items == ["q4"] and editing.with_items(added, ["q5"]).parts[2].items == ["q4", "q5"]
    assert editing.with_draw(quiz, Draw(pool=["Soils"], pick=3), None).parts[2].title == ""
    assert quiz == before


def test_what_no_quiz_can_take_is_refused_with_a_way_out():
    quiz = numbered()
    late, early = "2026-09-02T08:00:00Z", "2026-09-01T08:00:00Z"
    for refused in (
        lambda: editing.with_items(quiz, ["q1"]),
        lambda: editing.with_title(quiz, "  "),
        lambda: editing.with_settings(quiz, Settings(opens=late, closes=early)),
    ):
        with pytest.raises(QuizRefused) as error:
            refused()
        assert error.value.fact and error.value.way_out
    with pytest.raises(NotInQuiz):
        editing.without_parts(quiz, ["9"])


def test_an_attempt_gives_what_the_parts_say_and_marks_what_items_are_worth_there():
    bank = soils(shuffle_items=True)
    quiz, catalogue = bank.quizzes[0], catalogue_of(bank)
    quiz = quiz.model_copy(update={"parts": [part.model_copy(update={"id": f"p{n}"}) for n, part in enumerate(quiz.parts)]})
    given = arranged(quiz, drawn(quiz, catalogue, "s"), {}, "s")
    assert (
        given == arranged(quiz, drawn(quiz, catalogue, "s"), {}, "s")
        and {g.item for g in given} >= {"q1", "q2"}
        and len(given) == 4
    )
    assert {g.item: g.points for g in given if g.item in ("q1", "q2")} == {"q1": 3, "q2": 2}
    assert [g.points for g in given if g.item not in ("q1", "q2")] == [4, 4]
    shown = [(bank.item(g.item), g.points) for g in given]
    for released in ((), ("show_marks",), ("show_marks", "show_feedback"), ("show_right", "show_key")):
        shown[0][0].feedback = {"general": "So it is."}
        result = mark_attempt(shown, {item.id: "a" for item, _ in shown}, released)
        first, told = result.items[0], set(released)
        assert result.points == 13 and (result.earned == 13) is (first.earned is not None) is ("show_marks" in told)
        assert (bool(first.feedback), bool(first.key)) == ("show_feedback" in told, "show_key" in told)
        assert (first.share == 1) is ("show_right" in told) and first.share in (None, 1)


def test_figures_count_single_points_and_texts_that_ask_nothing():
    bank = soils()
    bank.items.append(Information(id="t", stem="Read this first."))
    bank.quizzes[0].parts[0].items.insert(0, "t")
    figures = figures_of_quiz(bank.quizzes[0], catalogue_of(bank))
    assert (figures.items, figures.points) == (5, 13) and total_points(bank, bank.quizzes[0]) == 13


def test_a_quiz_taken_into_a_course_leaves_out_what_was_not_taken():
    quiz = soils().quizzes[0]
    clay = Home(["Course", "Clay"], {"13", "20"}, ["q3", "q4", "q5"])
    made = adopted(quiz, Arrival({"q1": "11", "q3": "13", "q4": "14"}, {("Soils", "Clay"): clay}))
    fixed, draw = made.quiz.parts
    assert (fixed.items, fixed.points, draw.draw.pool) == (["11"], {"11": 3}, ["Course", "Clay"])
    assert (made.left_out, made.elsewhere, made.besides) == ({"q2", "q5"}, {"14"}, {"20"})
    nothing = adopted(quiz, Arrival({}, {("Soils", "Clay"): Home(["Clay"], (), ())}))
    assert nothing.left_out == {"q1", "q2"} and len(nothing.quiz.parts) == 1


def test_items_keep_in_a_quiz_what_they_were_worth_where_others_stand_for_them():
    quiz = soils().quizzes[0]
    unsaid = quiz.parts[1].model_copy(update={"points_each": None})
    clay = Home(["Clay"], {"13"}, ["q3"])
    arrival = Arrival({"q1": "11", "q2": "12", "q3": "13"}, {("Soils", "Clay"): clay}, {"q1": 1, "q2": 2, "q3": 5})
    fixed, draw = adopted(quiz.model_copy(update={"parts": [quiz.parts[0], unsaid]}), arrival).quiz.parts
    assert fixed.points == {"11": 3, "12": 2} and draw.points == {"13": 5}
    assert adopted(quiz, arrival).quiz.parts[1].points == {}


def test_items_alone_are_worth_what_their_quiz_says():
    bank = soils()
    assert [item.points for item in worth_on_items(bank).items] == [3, 2, 4, 4, 4]
    assert [item.points for item in bank.items] == [1, 2, 1, 1, 1]

"""The two readings of settings: in words, and what is worth a second look; and quizzes carried on, changed, put in order."""

from __future__ import annotations

from datetime import UTC, datetime
from zoneinfo import ZoneInfo

import pytest

from rogatum.core.errors import NotInQuiz, QuizRefused
from rogatum.core.quizzes import editing
from rogatum.core.quizzes.carrying import carried, for_section, moving
from rogatum.core.quizzes.phrases import minutes_words
from rogatum.core.quizzes.second_look import second_look
from rogatum.core.quizzes.settings import SectionDates, Settings, StudentException
from rogatum.core.quizzes.telling import counts_words, in_words, student_rules
from rogatum.core.quizzes.terms import terms_for
from tests.core.quiz_making import catalogue, drawn, fixed, lot, quiz

ZONE = ZoneInfo("America/Chicago")
HELD = catalogue({"Texture": [lot(*range(1, 26))], "Storage": [lot(31, 32, 33)]})


def at(day: int, hour: int = 14, month: int = 12) -> datetime:
    return datetime(2026, month, day, hour, tzinfo=ZONE)


def told(*parts, **settings) -> str:
    return " ".join(sentence for part in in_words(quiz(*parts, **settings), HELD, ZONE) for sentence in part.sentences)


def test_a_quiz_is_told_as_one_would_tell_a_class():
    said = told(drawn("Texture", 10), shown="one at a time", time_limit=10, show_key=at(12))
    assert said.startswith("Each student gets 10 of 25 items, one at a time, 10 minutes, once.")
    assert "the key from Sat 12 Dec 2026, 14:00 on" in said and "It is open at any time." in said


SAID = {
    "nothing in it": ({}, (), "There are no items in it yet."),
    "fixed items": ({}, (fixed(1, 2),), "Each student gets 2 items, once."),
    "the window": ({"opens": at(7), "closes": at(9)}, (), "It opens Mon 7 Dec 2026, 14:00 and closes Wed 9 Dec 2026, 14:00."),
    "late work": ({"due": at(8), "late": "with a deduction", "late_deduction": 0.1}, (), "Each late day costs 10 % of the marks."),
    "a section": (
        {"sections": [SectionDates(section="Thursday", due=at(10))]},
        (),
        "For section Thursday it is due Thu 10 Dec 2026, 14:00.",
    ),
    "an exception": (
        {"time_limit": 60, "exceptions": [StudentException(student="R. Vane", time_factor=1.5, attempts=2)]},
        (),
        "R. Vane has 90 minutes and may try twice.",
    ),
    "attempts": (
        {"attempts": 3, "counts": "average", "pause": 1440},
        (fixed(1),),
        "their average counts. Between two attempts lie 24 hours",
    ),
    "no way back": ({"navigation": "in order"}, (fixed(1),), "without a way back"),
    "a sitting": ({"one_sitting": True}, (), "losing the connection, hands it in"),
    "orders": ({"shuffle_parts": True, "shuffle_choices": True}, (), "Parts and choices come in an order of each student's own."),
    "the key": ({}, (), "The key is never shown."),
    "nothing shown": (
        dict.fromkeys(("show_marks", "show_responses", "show_right", "show_key", "show_feedback"), "never"),
        (),
        "Students are shown nothing of the result.",
    ),
    "the code": ({"access_code": "loam"}, (), "It opens with the code “loam”."),
}


@pytest.mark.parametrize("name", SAID)
def test_settings_in_words(name):
    settings, parts, words = SAID[name]
    assert words in told(*parts, **settings)


def test_what_a_student_is_told_is_by_their_own_rules():
    settings = {"time_limit": 60.0, "attempts": 2, "exceptions": [StudentException(student="R. Vane", time_factor=1.5)]}
    made = quiz(drawn("Texture", 10), **settings)
    rules = student_rules(made, HELD, terms_for(made.settings, "", "R. Vane"), ZONE)
    assert rules[:3] == ["It has 10 items.", "You have 90 minutes.", "You may take it twice."]
    assert counts_words(made.settings, terms_for(made.settings)) == "the best one counts"
    assert [minutes_words(m) for m in (1, 25, 60, 90, 120, 150, 2880)] == [
        "1 minute", "25 minutes", "an hour", "90 minutes", "2 hours", "2 hours and 30 minutes", "2 days",
    ]  # fmt: skip


EXCEPTION = [StudentException(student="R. Vane", closes=at(12))]
DOUBTS: dict[str, tuple[dict[str, object], tuple[object, ...], str]] = {
    "the key while others write": (
        {"opens": at(1), "closes": at(9), "show_key": "on submitting"},
        (),
        "Students see the key as soon as they have handed in, and the class can write until Wed 9 Dec 2026, 14:00.",
    ),
    "the key at a time too early": ({"closes": at(9), "show_key": at(8)}, (), "Students see the key from Tue 8 Dec 2026, 14:00 on"),
    "the key after closing, with an exception": (
        {"closes": at(9), "exceptions": EXCEPTION, "show_key": "after closing"},
        (),
        "R. Vane can write until Sat 12 Dec 2026, 14:00.",
    ),
    "the key without an end": ({"show_key": "on submitting"}, (), "the quiz never closes: others still write"),
    "the key after the first of two": (
        {"attempts": 2, "show_key": "on submitting"},
        (),
        "the key after each attempt, and can try again",
    ),
    "marks after closing that never comes": ({"show_marks": "after closing"}, (), "the quiz never closes"),
    "marks after the last of any number": ({"attempts": 0, "show_marks": "after the last attempt"}, (), "there is no last one"),
    "a limit longer than the window": ({"opens": at(9, 13), "closes": at(9), "time_limit": 90}, (), "longer than it is open"),
    "an exception that ends later": ({"closes": at(9), "exceptions": EXCEPTION}, (), "after it closes for the others"),
    "more of no limit": ({"exceptions": [StudentException(student="R. Vane", time_factor=2)]}, (), "there is no time limit"),
    "due after closing": ({"due": at(10), "closes": at(9)}, (), "It is due Thu 10 Dec 2026, 14:00 and closes before"),
    "due before opening": ({"opens": at(9), "due": at(8)}, (), "It is due before it opens"),
    "late without due": ({"late": "refused"}, (), "no time is due"),
    "a deduction of nothing": ({"due": at(8), "late": "with a deduction"}, (), "not how many is said"),
    "one long sitting": ({"one_sitting": True, "time_limit": 90}, (), "One sitting of 90 minutes"),
    "a whole pool": ({}, (drawn("Storage", 3),), "Storage gives all 3 items that it can be drawn from"),
    "another total": ({"out_of": 66}, (fixed(1, 2, each=30),), "The quiz is out of 66, the items add up to 60."),
    "no way back on one page": ({"navigation": "in order"}, (), "all items stand on one page"),
    "time that is up without a limit": ({"time_up": "refused"}, (), "there is no time limit"),
    "a pause of one attempt": ({"pause": 30}, (), "there is one attempt"),
    "which counts of one": ({"counts": "best"}, (), "there is one attempt"),
}


@pytest.mark.parametrize("name", DOUBTS)
def test_what_is_worth_a_second_look_has_its_way_out(name):
    settings, parts, fact = DOUBTS[name]
    made = quiz(*parts, **settings)
    found = [doubt for doubt in second_look(made, HELD, ZONE) if fact in doubt.fact]
    assert found and all(doubt.way_out for doubt in found)
    doubt = found[0]
    if doubt.change:
        settled = made.model_copy(update={"settings": Settings.model_validate(made.settings.model_dump() | doubt.change)})
        assert doubt.code not in [other.code for other in second_look(settled, HELD, ZONE)]


def test_usual_settings_are_worth_no_second_look():
    usual = {"opens": at(1), "due": at(8), "closes": at(9), "late": "taken", "time_limit": 25, "attempts": 2, "counts": "best"}
    assert second_look(quiz(drawn("Texture", 10), out_of=10, **usual, show_key="after closing"), HELD, ZONE) == []


# Carried on


@pytest.mark.parametrize(
    ("moment", "weeks", "wanted"),
    [
        (datetime(2026, 10, 26, 9, tzinfo=ZONE), 1, datetime(2026, 11, 2, 9, tzinfo=ZONE)),
        (datetime(2027, 3, 10, 9, tzinfo=ZONE), 1, datetime(2027, 3, 17, 9, tzinfo=ZONE)),
        (datetime(2026, 9, 7, 23, 59, tzinfo=ZONE), 26, datetime(2027, 3, 8, 23, 59, tzinfo=ZONE)),
        (datetime(2026, 9, 7, 8, tzinfo=ZONE), -4, datetime(2026, 8, 10, 8, tzinfo=ZONE)),
        # An hour that is left out when the clocks go forward is the one after it.
        (datetime(2027, 3, 7, 2, 30, tzinfo=ZONE), 1, datetime(2027, 3, 14, 3, 30, tzinfo=ZONE)),
    ],
)
def test_dates_keep_weekday_and_hour_over_a_change_of_the_clocks(moment, weeks, wanted):
    moved = moving(weeks, ZONE)(moment)
    assert moved == wanted and moved.tzinfo is UTC
    assert moved.astimezone(ZONE).weekday() == moment.weekday()


def test_all_dates_of_a_quiz_are_carried_on():
    settings = {
        "opens": at(7),
        "closes": at(9),
        "show_key": at(10),
        "show_marks": "after closing",
        "sections": [SectionDates(section="Monday", due=at(8)), SectionDates(section="Thursday", due=at(11))],
        "exceptions": EXCEPTION,
    }
    term = carried(quiz(fixed(1), **settings), moving(10, ZONE), {"Monday"}).settings
    assert [m.astimezone(ZONE).strftime("%a %d %b %H:%M") for m in (term.opens, term.closes, term.show_key)] == [
        "Mon 15 Feb 14:00", "Wed 17 Feb 14:00", "Thu 18 Feb 14:00",
    ]  # fmt: skip
    assert term.show_marks == "after closing" and term.exceptions is None
    assert [dates.section for dates in term.sections] == ["Monday"]
    kept = carried(quiz(**settings), moving(0, ZONE), set(), keep_exceptions=True).settings
    assert kept.exceptions[0].closes == at(12) and kept.sections is None
    later = for_section(quiz(**settings), "Thursday", moving(0, ZONE, days=3)).settings
    assert [(d.section, d.opens, d.due) for d in later.sections] == [("Monday", None, at(8)), ("Thursday", at(10), None)]
    assert later.opens == at(7)


# Changed


MADE = quiz(fixed(1, 2, 3, each=2), drawn("Texture", 3), fixed(4, title="More"))


def shape(made) -> list[tuple[str, list[str]]]:
    return [(part.title, part.items) for part in made.parts]


def test_parts_and_items_are_moved_split_replaced_and_taken_out():
    assert [part.id for part in editing.with_parts_at(MADE, ["f1", "f4"], 1).parts] == ["Texture3", "f1", "f4"]
    moved = editing.with_items_at(MADE, ["3", "1"], "f4", 0)
    assert shape(moved) == [("Fixed", ["2"]), ("Texture", []), ("More", ["3", "1", "4"])]
    assert moved.parts[2].points == {"3": 2, "1": 2}
    assert shape(editing.with_items_at(MADE, ["3"], "f1", 0))[0] == ("Fixed", ["3", "1", "2"])
    first, second = editing.split_before(MADE, "f1", "2").parts[:2]
    assert (first.items, second.items, second.id, second.page_break) == (["1"], ["2", "3"], "", True)
    other = editing.with_replaced(
        MADE.model_copy(update={"parts": [MADE.parts[0].model_copy(update={"points": {"2": 5}})]}), "2", "9"
    )
    assert (other.parts[0].items, other.parts[0].points) == (["1", "9", "3"], {"9": 5})
    assert shape(editing.without_items(MADE, ["4", "1"])) == [("Fixed", ["2", "3"]), ("Texture", [])]
    assert editing.with_item(MADE, "f4", "9").parts[2].items == ["4", "9"]


@pytest.mark.parametrize(
    "refused",
    [
        lambda: editing.with_items_at(MADE, ["1"], "Texture3", 0),
        lambda: editing.split_before(MADE, "f1", "1"),
        lambda: editing.with_replaced(MADE, "1", "4"),
        lambda: editing.with_replaced(MADE, "8", "9"),
        lambda: editing.without_parts(MADE, ["x"]),
        lambda: editing.with_item(MADE, "f1", "4"),
        lambda: editing.with_settings(MADE, Settings(sections=[SectionDates(section="A", opens=at(9), closes=at(8))])),
        lambda: editing.with_settings(MADE, Settings(sections=[SectionDates(section="A"), SectionDates(section="A")])),
        lambda: editing.with_settings(MADE, Settings(exceptions=[StudentException(student="A"), StudentException(student="A")])),
    ],
)
def test_what_cannot_be_changed_is_refused_in_words(refused):
    with pytest.raises((QuizRefused, NotInQuiz)) as error:
        refused()
    assert error.value.fact and error.value.way_out

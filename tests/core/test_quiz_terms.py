"""The rules of a quiz for one student: windows, limits, late work, what counts, what is released — as tables of cases."""

from __future__ import annotations

from datetime import UTC, datetime, timedelta

import pytest

from rogatum.core.errors import QuizRefused
from rogatum.core.quizzes.attempt import Given, Shared, arranged, pages_of
from rogatum.core.quizzes.attempt import drawn as drawn_items
from rogatum.core.quizzes.settings import (
    RELEASED,
    SectionDates,
    Settings,
    StudentException,
    pattern_of,
    with_pattern,
)
from rogatum.core.quizzes.terms import (
    Attempt,
    after_deduction,
    counted,
    counting,
    counts_for_nothing,
    days_late,
    deadline_of,
    minutes_over,
    refusal_of,
    released,
    terms_for,
)
from rogatum.core.quizzes.trying import Trial, answered, begun, caught_up, come_back, handed_in, turned_to, unanswered
from tests.core.quiz_making import catalogue, drawn, fixed, lot, quiz


def at(day: int, hour: int = 8, minute: int = 0) -> datetime:
    return datetime(2026, 9, day, hour, minute, tzinfo=UTC)


OPEN = {"opens": at(1), "due": at(7), "closes": at(9)}
SECTION = SectionDates(section="Thursday", opens=at(4), closes=at(12))
OWN = StudentException(student="R. Vane", section="Thursday", time_factor=1.5, closes=at(14), attempts=3)


@pytest.mark.parametrize(
    ("section", "student", "wanted"),
    [
        ("", "", (at(1), at(7), at(9), 2, 10)),
        ("Thursday", "", (at(4), at(7), at(12), 2, 10)),
        ("Monday", "", (at(1), at(7), at(9), 2, 10)),
        ("", "R. Vane", (at(4), at(7), at(14), 3, 15)),
        ("Monday", "R. Vane", (at(4), at(7), at(14), 3, 15)),
        ("", "nobody", (at(1), at(7), at(9), 2, 10)),
    ],
)
def test_an_exception_goes_before_a_section_and_a_section_before_the_quiz(section, student, wanted):
    settings = Settings(**OPEN, sections=[SECTION], exceptions=[OWN], attempts=2, time_limit=10)
    terms = terms_for(settings, section, student)
    assert (terms.opens, terms.due, terms.closes, terms.attempts, terms.time_limit) == wanted
    assert terms_for(Settings(exceptions=[OWN]), "", "R. Vane").time_limit is None and terms_for(Settings()).attempts == 1


STATES = {
    "before it opens": (at(1, 7), "taken", 0, "not open yet", "not open yet"),
    "when it opens": (at(1), "taken", 0, "open", None),
    "just before it is due": (at(6), "taken", 0, "open", None),
    "when it is due": (at(7), "taken", 0, "late", None),
    "late, which is refused": (at(8), "refused", 0, "late", "Late work is not taken"),
    "when it closes": (at(9), "taken", 0, "closed", "closed"),
    "with all attempts used": (at(2), "taken", 2, "open", "All attempts are used"),
    "within the pause": (at(2, 8, 20), "taken", 1, "open", "has to wait"),
    "after the pause": (at(2, 9), "taken", 1, "open", None),
}


@pytest.mark.parametrize("name", STATES)
def test_whether_an_attempt_may_begin(name):
    now, late, before, state, refused = STATES[name]
    settings = Settings(**OPEN, late=late, attempts=2, pause=30)
    terms = terms_for(settings)
    made = [Attempt(at(2, 7), at(2, 8), "handed in")] * before
    refusal = refusal_of(settings, terms, made, now)
    assert terms.state(now) == state
    assert (refusal is None) if refused is None else refused in refusal.fact
    assert refusal is None or refusal.at in (at(1), at(7), at(9), at(2, 8, 30), None)


ENDS = {
    "nothing ends it": ({}, None),
    "its limit": ({"time_limit": 30}, (at(5, 8, 30), "time")),
    "a limit after which one may go on": ({"time_limit": 30, "time_up": "may go on"}, None),
    "closing before the limit": ({"time_limit": 30, "closes": at(5, 8, 10)}, (at(5, 8, 10), "closed")),
    "due, where late work is refused": ({"due": at(5, 9), "late": "refused", "closes": at(6)}, (at(5, 9), "due")),
    "due, where it is taken": ({"due": at(5, 9), "late": "taken", "closes": at(6)}, (at(6), "closed")),
}


@pytest.mark.parametrize("name", ENDS)
def test_when_an_attempt_ends_by_itself(name):
    said, wanted = ENDS[name]
    settings = Settings(**said)
    end = deadline_of(settings, terms_for(settings), at(5))
    assert (end and (end.at, end.ends)) == wanted


def test_what_late_work_and_time_that_is_up_cost():
    settings = Settings(due=at(7), late="with a deduction", late_deduction=0.25)
    terms = terms_for(settings)
    for submitted, days, left in ((at(7), 0, 8), (at(7, 8, 1), 1, 6), (at(8), 1, 6), (at(8, 9), 2, 4), (at(20), 13, 0)):
        assert (days_late(terms, submitted), after_deduction(settings, terms, 8, submitted)) == (days, left)
    assert after_deduction(Settings(due=at(7), late="taken"), terms, 8, at(20)) == 8
    limited = terms_for(Settings(time_limit=30))
    assert [minutes_over(limited, at(2), at(2, 8, minute)) for minute in (10, 30, 45)] == [0, 0, 15]
    assert counts_for_nothing(Settings(time_up="refused"), "time") and not counts_for_nothing(
        Settings(time_up="refused"), "handed in"
    )
    assert not counts_for_nothing(Settings(), "time")


@pytest.mark.parametrize(
    ("counts", "value", "places"),
    [("last", 4, [2]), ("first", 6, [0]), ("best", 9, [1]), ("average", 6.3333, [0, 1, 2]), (None, 9, [1])],
)
def test_which_attempt_counts(counts, value, places):
    assert (counted([6, 9, 4], counts), counting([6, 9, 4], counts)) == (value, places)
    assert counted([], counts) is None


# When each thing is shown: after the first of two attempts, after both, before and after closing at 9, and at the 12th.
RELEASES = {
    "never": (False, False, False, False),
    "on submitting": (True, True, True, True),
    "after the last attempt": (False, True, True, True),
    "after closing": (False, False, True, True),
    at(12): (False, False, False, True),
}


@pytest.mark.parametrize("release", RELEASES)
@pytest.mark.parametrize("name", RELEASED)
def test_what_is_released_when(name, release):
    settings = Settings(closes=at(9), attempts=2, **{name: release})
    one, two = [Attempt(at(2), at(3), "handed in")], [Attempt(at(2), at(3), "handed in"), Attempt(at(4), at(5), "handed in")]
    told = [
        name in released(settings, terms_for(settings), attempts, now)
        for attempts, now in ((one, at(5)), (two, at(5)), (one, at(9)), (one, at(12)))
    ]
    assert tuple(told) == RELEASES[release]


def test_what_is_not_said_is_as_usual_and_older_settings_are_understood():
    now = released(Settings(), terms_for(Settings()), [Attempt(at(2), at(3), "handed in")], at(3))
    assert now == set(RELEASED) - {"show_key"}
    older = Settings(release="marks", release_when="after closing", review=False)
    assert (older.show_marks, older.show_key, older.show_feedback) == ("after closing", "never", "never")
    assert older.show_responses == "never" and Settings(release="everything").show_key == "on submitting"
    assert Settings.model_validate(older.model_dump(mode="json")) == older


def test_a_pattern_leaves_what_is_of_one_quiz():
    settings = Settings(**OPEN, sections=[SECTION], exceptions=[OWN], out_of=10, attempts=2, time_limit=10, access_code="loam")
    pattern = pattern_of(settings)
    assert dict(pattern.said()) == {"attempts": 2, "time_limit": 10, "access_code": "loam"}
    other = with_pattern(Settings(opens=at(3), attempts=5, shown="by parts"), pattern)
    assert dict(other.said()) == {"opens": at(3), "attempts": 2, "time_limit": 10, "access_code": "loam"}


# Attempts in order and on pages


HELD = catalogue({"A": [lot(*range(1, 9))]})


def test_what_shares_a_passage_stays_together_and_in_order():
    made = quiz(fixed(1, 2, 3, 4, 5, 6), drawn("A", 2), shuffle_items=True, shuffle_parts=True)
    passages = {"2": Shared("p", 1), "4": Shared("p", 2), "5": Shared("p", 3)}
    orders = set()
    for seed in map(str, range(40)):
        given = arranged(made, drawn_items(made, HELD, seed), passages, seed)
        ids = [entry.item for entry in given]
        orders.add(tuple(ids))
        at_ = ids.index("2")
        assert ids[at_ : at_ + 3] == ["2", "4", "5"] and sorted(ids[:6] if given[0].part == "f1" else ids[2:]) == list("123456")
    assert len(orders) > 20
    still = quiz(fixed(3, 1, 2))
    assert [entry.item for entry in arranged(still, drawn_items(still, HELD, "s"), {}, "s")] == ["3", "1", "2"]


@pytest.mark.parametrize(
    ("shown", "breaks", "pages"),
    [
        ("all at once", False, [[0, 1, 2, 3]]),
        (None, True, [[0, 1], [2, 3]]),
        ("by parts", False, [[0, 1], [2, 3]]),
        ("one at a time", False, [[0], [1], [2], [3]]),
    ],
)
def test_pages(shown, breaks, pages):
    made = quiz(fixed(1, 2), fixed(3, 4).model_copy(update={"page_break": breaks}), shown=shown)
    assert pages_of(made, drawn_items(made, HELD, "s")) == pages


# Trying


GIVEN = [Given(item="1", points=1), Given(item="t", points=0, asks=False), Given(item="2", points=1)]
PAGES = [[0], [1], [2]]
START = at(5)


def started(**settings) -> tuple[Trial, Settings]:
    said = Settings(**settings)
    return begun(Trial(), said, START, said.access_code or "", "s", GIVEN), said


def later(minutes: float) -> datetime:
    return START + timedelta(minutes=minutes)


def test_an_attempt_from_its_code_to_its_end():
    said = Settings(access_code="loam", attempts=1)
    with pytest.raises(QuizRefused, match="access code"):
        begun(Trial(), said, START, "clay", "s", GIVEN)
    trial = begun(Trial(), said, START, " loam ", "s", GIVEN)
    trial = answered(trial, said, PAGES, later(1), {"1": "a"})
    assert trial.open.responses == {"1": "a"} and unanswered(trial.open, range(3)) == [2]
    trial = Trial.model_validate_json(trial.model_dump_json())
    done = handed_in(trial, said, later(2))
    assert done.open is None and (done.sittings[0].submitted, done.sittings[0].ended) == (later(2), "handed in")
    for refused in (
        lambda: handed_in(done, said, later(3)),
        lambda: answered(done, said, PAGES, later(3), {"1": "b"}),
        lambda: begun(done, said, later(3), "loam", "s", GIVEN),
        lambda: begun(trial, said, later(3), "loam", "s", GIVEN),
        lambda: begun(Trial(), Settings(), START, "", "s", []),
    ):
        with pytest.raises(QuizRefused) as error:
            refused()
        assert error.value.fact and error.value.way_out


def test_time_that_is_up_hands_in_what_is_there():
    trial, said = started(time_limit=10)
    trial = answered(trial, said, PAGES, later(9), {"1": "a"})
    assert caught_up(trial, said, later(9.9)).open
    ended = caught_up(trial, said, later(11)).sittings[0]
    assert (ended.submitted, ended.ended, ended.responses) == (later(10), "time", {"1": "a"})
    with pytest.raises(QuizRefused, match="has ended"):
        answered(trial, said, PAGES, later(10), {"2": "b"})


def test_a_clock_set_ahead_is_the_one_that_counts():
    said = Settings(opens=at(6), closes=at(7), time_limit=10)
    ahead = Trial(ahead=timedelta(days=1).total_seconds())
    trial = begun(ahead, said, START, "", "s", GIVEN)
    assert trial.open.started == at(6) and caught_up(trial, said, later(5)).open and not caught_up(trial, said, later(11)).open
    with pytest.raises(QuizRefused, match="not open yet"):
        begun(Trial(), said, START, "", "s", GIVEN)


@pytest.mark.parametrize("one_sitting", [True, False])
def test_coming_back_ends_what_is_made_in_one_sitting(one_sitting):
    trial, said = started(one_sitting=one_sitting)
    back = come_back(trial, said, later(3))
    assert (back.open is None) is one_sitting and (back.sittings[0].ended == "left") is one_sitting


# What is tried at the second of three pages, the first seen and answered.
WAYS = {
    "free: back": ({}, "turn", 0, True),
    "free: to the end": ({}, "turn", 2, True),
    "free: an answer of before": ({}, "answer", "1", True),
    "in order: back": ({"navigation": "in order"}, "turn", 0, False),
    "in order: on": ({"navigation": "in order"}, "turn", 2, True),
    "in order: an answer of before": ({"navigation": "in order"}, "answer", "1", False),
    "in order: an answer of what comes": ({"navigation": "in order"}, "answer", "2", False),
    "item by item: an answer of before": ({"submission": "item by item"}, "answer", "1", False),
    "item by item: what comes": ({"submission": "item by item"}, "answer", "2", True),
    "no skipping: on from a text": ({"skipping": False}, "turn", 2, True),
    "no such page": ({}, "turn", 9, False),
}


@pytest.mark.parametrize("name", WAYS)
def test_the_way_through(name):
    settings, act, what, allowed = WAYS[name]
    trial, said = started(**settings)
    trial = turned_to(answered(trial, said, PAGES, later(1), {"1": "a"}), said, PAGES, later(1), 1)

    def tried() -> Trial:
        if act == "turn":
            return turned_to(trial, said, PAGES, later(2), what)
        return answered(trial, said, PAGES, later(2), {what: "b"})

    if allowed:
        assert tried() != trial
    else:
        with pytest.raises(QuizRefused):
            tried()


def test_what_may_not_be_skipped_is_asked_for():
    trial, said = started(skipping=False)
    for refused in (lambda: turned_to(trial, said, PAGES, later(1), 1), lambda: handed_in(trial, said, later(1))):
        with pytest.raises(QuizRefused, match="answer"):
            refused()
    both = answered(answered(trial, said, PAGES, later(1), {"1": "a"}), said, PAGES, later(1), {"2": "b"})
    assert handed_in(both, said, later(2)).open is None

"""Quizzes under any settings: what is told is whole, nothing trips over what is odd, trials keep their rules, dates their hours."""

from __future__ import annotations

from datetime import UTC, datetime, timedelta
from zoneinfo import ZoneInfo

import pytest
from hypothesis import given
from hypothesis import strategies as st

from rogatum.core.errors import QuizRefused
from rogatum.core.quizzes.attempt import Given
from rogatum.core.quizzes.carrying import moved_by
from rogatum.core.quizzes.figures import given_parts
from rogatum.core.quizzes.second_look import second_look
from rogatum.core.quizzes.settings import SETTINGS as NAMES
from rogatum.core.quizzes.settings import USUAL_RELEASE, Settings
from rogatum.core.quizzes.sums import sums_of
from rogatum.core.quizzes.telling import in_words, student_rules
from rogatum.core.quizzes.terms import released, terms_for
from rogatum.core.quizzes.trying import Trial, answered, begun, caught_up, come_back, deadline, handed_in, turned_to
from tests.core.quiz_making import catalogue, drawn, fixed, lot, quiz
from tests.core.strategies import SETTINGS

ZONE = ZoneInfo("America/Chicago")
HELD = catalogue({"A": [lot(*range(1, 9))], "B": [lot(5, 6, 7, 8, 9)]})
PARTS = (fixed(1, 2), drawn("A", 2), drawn("B", 1))
# What goes with a setting, so that it has something to say; and those that have words of their own elsewhere.
WITH: dict[str, dict[str, object]] = {
    "late": {"due": datetime(2026, 9, 7, tzinfo=UTC)},
    "late_deduction": {"due": datetime(2026, 9, 7, tzinfo=UTC), "late": "with a deduction"},
    "counts": {"attempts": 3},
    "pause": {"attempts": 3},
    "time_up": {"time_limit": 30},
    "exceptions": {"time_limit": 30},
}
ELSEWHERE = {"feedback"}
# What is as usual reads as if nothing were said.
USUAL: dict[str, object] = dict.fromkeys(NAMES, False) | USUAL_RELEASE
USUAL |= {"late": "taken", "counts": "best", "time_up": "handed in", "shown": "all at once", "navigation": "free"}
USUAL |= {"submission": "at the end", "skipping": True, "attempts": 1}


def told(**settings) -> str:
    return " ".join(sentence for part in in_words(quiz(*PARTS, **settings), HELD, ZONE) for sentence in part.sentences)


@pytest.mark.parametrize("name", sorted(set(NAMES) - ELSEWHERE))
def test_each_setting_is_told_in_words(name):
    """No setting can be made that the words leave out: each of its values that is not as usual changes what is told."""
    besides = WITH.get(name, {})
    for value in SETTINGS[name]:
        if value != USUAL[name] or type(value) is not type(USUAL[name]):
            assert told(**besides, **{name: value}) != told(**besides), value


@st.composite
def any_settings(draw) -> Settings:
    names = draw(st.lists(st.sampled_from(NAMES), unique=True, max_size=8))
    return Settings(**{name: draw(st.sampled_from(SETTINGS[name])) for name in names})


@given(any_settings(), st.integers(0, 3))
def test_no_settings_trip_what_is_told_of_them(settings, count):
    made = quiz(*PARTS[:count]).model_copy(update={"settings": settings})
    assert in_words(made, HELD, ZONE) and student_rules(made, HELD, terms_for(settings), ZONE)
    doubts = second_look(made, HELD, ZONE)
    assert all(doubt.fact and doubt.way_out and set(doubt.change) <= set(NAMES) for doubt in doubts)
    for doubt in doubts:
        Settings.model_validate(settings.model_dump() | doubt.change)
    found = sums_of(made, HELD, (), 5)
    assert sum(found.chances) == pytest.approx(1) and found.worst <= sum(part.count for part in given_parts(made, HELD))


GIVEN = [Given(item=str(n), points=1) for n in range(4)]
PAGES = [[0], [1], [2, 3]]
ACTIONS = st.lists(
    st.tuples(st.sampled_from(["begin", "answer", "turn", "submit", "back"]), st.integers(0, 3), st.integers(0, 20)), max_size=25
)
RULES = st.fixed_dictionaries(
    {},
    optional={
        "time_limit": st.sampled_from([5.0, 30.0]),
        "attempts": st.sampled_from([0, 1, 2]),
        "navigation": st.sampled_from(["free", "in order"]),
        "submission": st.sampled_from(["at the end", "item by item"]),
        "skipping": st.booleans(),
        "one_sitting": st.booleans(),
        "pause": st.just(10.0),
        "closes": st.just(datetime(2026, 9, 5, 10, tzinfo=UTC)),
        "time_up": st.sampled_from(["handed in", "refused", "may go on"]),
    },
)


@given(RULES, ACTIONS)
def test_a_trial_keeps_its_rules_whatever_a_student_does(rules, actions):
    settings, trial, now = Settings(**rules), Trial(), datetime(2026, 9, 5, 8, tzinfo=UTC)
    terms = terms_for(settings)
    for act, number, minutes in actions:
        now += timedelta(minutes=minutes)
        before = caught_up(trial, settings, now)
        steps = {
            "begin": lambda: begun(before, settings, now, "", "s", GIVEN),  # noqa: B023
            "answer": lambda: answered(before, settings, PAGES, now, {str(number): "x"}),  # noqa: B023
            "turn": lambda: turned_to(before, settings, PAGES, now, number),  # noqa: B023
            "submit": lambda: handed_in(before, settings, now),  # noqa: B023
            "back": lambda: come_back(before, settings, now),  # noqa: B023
        }
        try:
            trial = steps[act]()
        except QuizRefused as refused:
            assert refused.fact and refused.way_out
            trial = before
        assert not any(sitting.submitted is None for sitting in trial.sittings[:-1])
        assert not terms.attempts or len(trial.sittings) <= terms.attempts
        assert all(sitting.submitted is None or sitting.started <= sitting.submitted <= now for sitting in trial.sittings)
        end = deadline(trial, settings)
        assert end is None or now < end.at
        if settings.skipping is False:
            handed = [sitting for sitting in trial.sittings if sitting.ended == "handed in"]
            assert all(len(sitting.responses) == len(GIVEN) for sitting in handed)
        shown = released(settings, terms, trial.attempts, now)
        assert "show_key" not in shown
    assert Trial.model_validate_json(trial.model_dump_json()) == trial


ZONES = st.sampled_from(["America/Chicago", "Europe/Oslo", "Asia/Kolkata", "Australia/Lord_Howe", "UTC"]).map(ZoneInfo)


@given(st.datetimes(datetime(2024, 1, 1), datetime(2030, 1, 1)), st.integers(-60, 60), ZONES)
def test_a_moment_moved_by_weeks_keeps_weekday_and_hour(wall, weeks, zone):
    moment = wall.replace(second=0, microsecond=0, tzinfo=zone).astimezone(UTC)
    local = moment.astimezone(zone)
    moved = moved_by(moment, weeks, 0, zone).astimezone(zone)
    wanted = local.replace(tzinfo=None) + timedelta(weeks=weeks)
    # An hour that the clocks leave out is the one after it.
    left_out = wanted.replace(tzinfo=zone).astimezone(UTC).astimezone(zone).replace(tzinfo=None) != wanted
    assert moved.replace(tzinfo=None) == wanted or left_out
    assert abs(moved.replace(tzinfo=None) - wanted) <= timedelta(hours=1)

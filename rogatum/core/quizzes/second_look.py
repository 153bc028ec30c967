"""What in the settings of a quiz is worth a second look: what students could do that nobody meant. Each with its way out."""

from __future__ import annotations

from collections.abc import Callable, Iterator, Sequence
from dataclasses import dataclass, field
from datetime import datetime, timedelta, tzinfo
from typing import Any

from rogatum.core.quizzes.catalogue import Catalogue
from rogatum.core.quizzes.figures import GivenPart, given_parts
from rogatum.core.quizzes.model import Quiz
from rogatum.core.quizzes.phrases import count_words, minutes_words, moment_words
from rogatum.core.quizzes.settings import RELEASED, Release, Settings
from rogatum.core.quizzes.telling import RELEASED_WORDS
from rogatum.core.quizzes.terms import Terms, release_of, terms_for


@dataclass(frozen=True)
class Doubt:
    """A matter with its way out. `change` are the settings that would settle it, by name; empty where a person has to choose."""

    code: str
    setting: str
    fact: str
    way_out: str
    change: dict[str, Any] = field(default_factory=dict)


@dataclass(frozen=True)
class _Case:
    """A quiz with what is asked of it over and over: the rules for each kind of student, and what its parts give."""

    quiz: Quiz
    given: Sequence[GivenPart]
    zone: tzinfo
    catalogue: Catalogue

    @property
    def settings(self) -> Settings:
        return self.quiz.settings

    @property
    def everybody(self) -> list[tuple[str, Terms]]:
        """The rules for students without a section, for those of each section, and for each exception."""
        settings = self.settings
        found = [("the class", terms_for(settings))]
        found += [(f"section {dates.section}", terms_for(settings, dates.section)) for dates in settings.sections or []]
        found += [(own.student, terms_for(settings, "", own.student)) for own in settings.exceptions or []]
        return found

    @property
    def last_writing(self) -> tuple[str, datetime] | None:
        """Who can write the longest, and until when; None where somebody can for ever."""
        ends = [(who, terms.closes) for who, terms in self.everybody]
        known = [(who, end) for who, end in ends if end is not None]
        return max(known, key=lambda entry: entry[1]) if len(known) == len(ends) else None

    def moment(self, moment: datetime) -> str:
        return moment_words(moment, self.zone)


# What would help others who still write.
_TELLING = ("show_key", "show_right", "show_feedback")


def _key_while_writing(case: _Case) -> Iterator[Doubt]:
    settings, last = case.settings, case.last_writing
    for name in _TELLING:
        first = _first_shown(release_of(settings, name), case.everybody)
        if first is None or _as_usual(settings, name):
            continue
        thing, when = RELEASED_WORDS[name], _when(release_of(settings, name), first, case)
        if last is None:
            yield Doubt(
                f"{name}-while-open",
                name,
                f"Students see {thing} {when}, and the quiz never closes: others still write.",
                "Set a closing time, and show it after that.",
            )
        elif first is _AT_ONCE or first < last[1]:
            yield Doubt(
                f"{name}-while-open",
                name,
                f"Students see {thing} {when}, and {last[0]} can write until {case.moment(last[1])}.",
                f"Show {thing} from {case.moment(last[1])} on.",
                {name: last[1]},
            )


_AT_ONCE = datetime.min


def _as_usual(settings: Settings, name: str) -> bool:
    """Whether nobody said when: rights and feedback at once are usual then, and no doubt of this quiz."""
    return name != "show_key" and getattr(settings, name) is None


def _first_shown(release: Release, everybody: Sequence[tuple[str, Terms]]) -> datetime | None:
    """When somebody sees something first; None for never."""
    if isinstance(release, datetime):
        return release
    if release == "never":
        return None
    if release == "after closing":
        return min((terms.closes for _, terms in everybody if terms.closes), default=None)
    return _AT_ONCE


def _when(release: Release, first: datetime, case: _Case) -> str:
    if first is not _AT_ONCE:
        return f"from {case.moment(first)} on"
    return "after their last attempt" if release == "after the last attempt" else "as soon as they have handed in"


def _key_after_first(case: _Case) -> Iterator[Doubt]:
    settings = case.settings
    if settings.attempts in (None, 1):
        return
    for name in _TELLING:
        if getattr(settings, name) == "on submitting":
            yield Doubt(
                f"{name}-before-next-attempt",
                name,
                f"Students see {RELEASED_WORDS[name]} after each attempt, and can try again.",
                "Show it after the last attempt.",
                {name: "after the last attempt"},
            )


def _never_released(case: _Case) -> Iterator[Doubt]:
    settings = case.settings
    unending = settings.attempts == 0 and settings.closes is None
    for name in RELEASED:
        release = getattr(settings, name)
        if release == "after closing" and settings.closes is None:
            yield Doubt(
                f"{name}-never",
                name,
                f"Students see {RELEASED_WORDS[name]} after closing, and the quiz never closes.",
                "Set when it closes.",
            )
        elif release == "after the last attempt" and unending:
            yield Doubt(
                f"{name}-never",
                name,
                f"Students see {RELEASED_WORDS[name]} after the last attempt, and there is no last one.",
                "Set how many attempts there are, or when it closes.",
            )


def _limit_over_window(case: _Case) -> Iterator[Doubt]:
    for who, terms in case.everybody:
        if terms.time_limit and terms.opens and terms.closes:
            window = (terms.closes - terms.opens) / timedelta(minutes=1)
            if terms.time_limit > window:
                yield Doubt(
                    "limit-over-window",
                    "time_limit" if who == "the class" else "exceptions",
                    f"The limit of {minutes_words(terms.time_limit)} is longer than it is open for {who}: {minutes_words(window)}.",
                    "Close it later, or set a shorter limit.",
                )


def _exceptions_after_closing(case: _Case) -> Iterator[Doubt]:
    settings = case.settings
    for own in settings.exceptions or []:
        closes = terms_for(settings, own.section).closes
        if own.closes and closes and own.closes > closes:
            shown = [RELEASED_WORDS[name] for name in _TELLING if release_of(settings, name) == "after closing"]
            yield Doubt(
                "exception-after-closing",
                "exceptions",
                f"{own.student} can write until {case.moment(own.closes)}, after it closes for the others"
                + (f", who then see {shown[0]}." if shown else "."),
                "End it with the others, or show nothing before.",
            )
        if own.time_factor and not settings.time_limit:
            yield Doubt(
                "exception-of-no-limit",
                "exceptions",
                f"{own.student} has {own.time_factor:g} times as long, and there is no time limit.",
                "Set a time limit, or give them dates of their own.",
            )


def _due_outside(case: _Case) -> Iterator[Doubt]:
    for who, terms in case.everybody:
        if terms.due and terms.closes and terms.due > terms.closes:
            yield Doubt(
                "due-after-closing",
                "due",
                f"It is due {case.moment(terms.due)} and closes before, {case.moment(terms.closes)}, for {who}.",
                "Close it when it is due, or later.",
            )
        if terms.due and terms.opens and terms.due <= terms.opens:
            yield Doubt("due-before-opening", "due", f"It is due before it opens, for {who}.", "Set a later due time.")


def _late_without_due(case: _Case) -> Iterator[Doubt]:
    settings = case.settings
    dues = [terms.due for _, terms in case.everybody if terms.due]
    if settings.late and not dues:
        yield Doubt(
            "late-without-due",
            "late",
            "What happens to late work is said, and no time is due.",
            "Set when it is due.",
            {"late": None},
        )
    if settings.late == "with a deduction" and not settings.late_deduction:
        yield Doubt(
            "deduction-of-nothing",
            "late_deduction",
            "A late day costs marks, and not how many is said.",
            "Set what a late day costs.",
        )


def _long_sitting(case: _Case) -> Iterator[Doubt]:
    settings = case.settings
    longest = max((terms.time_limit or 0 for _, terms in case.everybody), default=0)
    if settings.one_sitting and (longest >= 60 or not settings.time_limit):
        length = f"of {minutes_words(longest)}" if longest else "without an end"
        yield Doubt(
            "long-sitting",
            "one_sitting",
            f"One sitting {length}: who loses the connection once has ended.",
            "Let students come back within the time limit.",
            {"one_sitting": False},
        )


def _whole_pools(case: _Case) -> Iterator[Doubt]:
    for part in case.given:
        if part.part.draw and part.held and part.count == part.held:
            yield Doubt(
                "whole-pool-drawn",
                "parts",
                f"{part.title} gives all {count_words(part.held, 'item')} that it can be drawn from: every student gets the same.",
                "Draw fewer, or from a larger pool.",
            )


def _total(case: _Case) -> Iterator[Doubt]:
    announced = case.settings.out_of
    worth = [part.points() for part in case.given]
    if announced is None:
        return
    if None in worth:
        yield Doubt(
            "total-differs",
            "out_of",
            f"The quiz is out of {announced:g}, and its points differ from student to student.",
            "Give each draw points each.",
        )
        return
    total = round(sum(points or 0.0 for points in worth), 4)
    if total != announced:
        yield Doubt(
            "total-differs",
            "out_of",
            f"The quiz is out of {announced:g}, the items add up to {total:g}.",
            f"Share out {announced:g} points, or say {total:g}.",
            {"out_of": total} if total > 0 else {},
        )


def _no_way_back_shuffled(case: _Case) -> Iterator[Doubt]:
    settings = case.settings
    if (
        settings.navigation == "in order"
        and (settings.shown or "all at once") == "all at once"
        and not any(p.part.page_break for p in case.given)
    ):
        yield Doubt(
            "no-way-back-on-one-page",
            "navigation",
            "There is no way back, and all items stand on one page.",
            "Show them one at a time.",
            {"shown": "one at a time"},
        )


# What items do that set the order of their choices themselves, where the quiz shuffles and where it does not: of one, of several.
_OWN_ORDER = {
    True: ("keeps its choices in order", "keep their choices in order"),
    False: ("shuffles its choices", "shuffle their choices"),
}


def _order_overridden(case: _Case) -> Iterator[Doubt]:
    shuffled = case.settings.shuffle_choices
    if shuffled is None:
        return
    count = case.catalogue.overriding(case.quiz.parts, shuffled)
    if count:
        one, many = _OWN_ORDER[shuffled]
        yield Doubt(
            "choices-by-items",
            "shuffle_choices",
            f"{count_words(count, 'item')} of this quiz {one if count == 1 else many}, whatever is set here.",
            "Change the shuffling of these items in their pools, or leave it.",
        )


def _no_time(case: _Case) -> Iterator[Doubt]:
    settings = case.settings
    if settings.time_up and not settings.time_limit:
        yield Doubt(
            "time-up-without-limit",
            "time_up",
            "What happens when time is up is said, and there is no time limit.",
            "Set a time limit.",
            {"time_up": None},
        )
    if settings.pause and settings.attempts in (None, 1):
        yield Doubt(
            "pause-without-attempts",
            "pause",
            "A pause between attempts is set, and there is one attempt.",
            "Give more attempts.",
            {"pause": None},
        )
    if settings.counts and settings.attempts in (None, 1):
        yield Doubt(
            "counts-of-one",
            "counts",
            "Which attempt counts is said, and there is one attempt.",
            "Give more attempts.",
            {"counts": None},
        )


RULES: tuple[Callable[[_Case], Iterator[Doubt]], ...] = (
    _total,
    _key_while_writing,
    _key_after_first,
    _never_released,
    _limit_over_window,
    _due_outside,
    _late_without_due,
    _exceptions_after_closing,
    _long_sitting,
    _whole_pools,
    _no_way_back_shuffled,
    _order_overridden,
    _no_time,
)


def second_look(quiz: Quiz, catalogue: Catalogue, zone: tzinfo) -> list[Doubt]:
    """What of a quiz is worth a second look, the weightiest first."""
    case = _Case(quiz, given_parts(quiz, catalogue), zone, catalogue)
    return [doubt for rule in RULES for doubt in rule(case)]

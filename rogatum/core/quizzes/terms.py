"""The rules of a quiz for one student: its window, its limits, whether an attempt may begin, when it ends, what is shown when."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass
from datetime import datetime, timedelta
from typing import Literal

from rogatum.core.quizzes.settings import (
    ANY_NUMBER,
    RELEASED,
    USUAL_RELEASE,
    WINDOW,
    Counts,
    Release,
    Settings,
    StudentException,
    Window,
)

USUAL_COUNTS: Counts = "best"
End = Literal["", "handed in", "time", "due", "closed", "left"]
State = Literal["not open yet", "open", "late", "closed"]


@dataclass(frozen=True)
class Terms:
    """What holds for one student. `attempts` is 0 for any number; times are minutes."""

    opens: datetime | None
    due: datetime | None
    closes: datetime | None
    attempts: int
    time_limit: float | None

    def state(self, now: datetime) -> State:
        if self.opens and now < self.opens:
            return "not open yet"
        if self.closes and now >= self.closes:
            return "closed"
        return "late" if self.due and now >= self.due else "open"


def exception_of(settings: Settings, student: str) -> StudentException | None:
    return next((entry for entry in settings.exceptions or [] if student and entry.student == student), None)


def terms_for(settings: Settings, section: str = "", student: str = "") -> Terms:
    """What holds for a student of a section: their own exception before their section's dates, and these before the quiz's."""
    own = exception_of(settings, student)
    section = (own.section if own else "") or section
    dates = next((entry for entry in settings.sections or [] if section and entry.section == section), None)
    layers: list[Window | None] = [own, dates, settings]
    opens, due, closes = (_first(layers, name) for name in WINDOW)
    attempts = 1 if settings.attempts is None else settings.attempts
    limit = settings.time_limit
    return Terms(
        opens=opens,
        due=due,
        closes=closes,
        attempts=own.attempts if own and own.attempts is not None else attempts,
        time_limit=limit * own.time_factor if limit and own and own.time_factor else limit,
    )


def _first(layers: Sequence[Window | None], name: str) -> datetime | None:
    found = (getattr(layer, name) for layer in layers if layer is not None)
    return next((moment for moment in found if moment is not None), None)


@dataclass(frozen=True)
class Attempt:
    """An attempt in time: when it began and was handed in (None while it goes on), and how it ended."""

    started: datetime
    submitted: datetime | None = None
    ended: End = ""


@dataclass(frozen=True)
class Deadline:
    at: datetime
    ends: End


def deadline_of(settings: Settings, terms: Terms, started: datetime) -> Deadline | None:
    """When an attempt that began then ends by itself; None where nothing ends it."""
    ends: list[Deadline] = []
    if terms.time_limit and settings.time_up != "may go on":
        ends.append(Deadline(started + timedelta(minutes=terms.time_limit), "time"))
    if terms.due and settings.late == "refused":
        ends.append(Deadline(terms.due, "due"))
    if terms.closes:
        ends.append(Deadline(terms.closes, "closed"))
    return min(ends, key=lambda end: end.at, default=None)


def counts_for_nothing(settings: Settings, ended: End) -> bool:
    """Whether an attempt that ended so earns nothing, since only what is handed in in time does."""
    return ended == "time" and settings.time_up == "refused"


@dataclass(frozen=True)
class Refusal:
    """Why an attempt may not begin now; `then` with the moment `at` says since when, or from when on it may."""

    fact: str
    at: datetime | None = None
    then: str = ""


def refusal_of(settings: Settings, terms: Terms, before: Sequence[Attempt], now: datetime, used: bool = False) -> Refusal | None:
    """Why no attempt may begin; None where one may. The access code is asked for besides; `used` says that all attempts are."""
    state = terms.state(now)
    if state == "not open yet":
        return Refusal("This quiz is not open yet.", terms.opens, "It opens")
    if state == "closed":
        return Refusal("This quiz is closed.", terms.closes, "It closed")
    if state == "late" and settings.late == "refused":
        return Refusal("Late work is not taken.", terms.due, "It was due")
    if used or (terms.attempts != ANY_NUMBER and len(before) >= terms.attempts):
        return Refusal("All attempts are used.")
    last = max((attempt.submitted for attempt in before if attempt.submitted), default=None)
    if last and settings.pause and now < (again := last + timedelta(minutes=settings.pause)):
        return Refusal("The next attempt has to wait.", again, "It may begin")
    return None


def days_late(terms: Terms, submitted: datetime) -> int:
    """The days by which work is late, each one that has begun."""
    if terms.due is None or submitted <= terms.due:
        return 0
    return math.ceil((submitted - terms.due) / timedelta(days=1))


def minutes_over(terms: Terms, started: datetime, submitted: datetime) -> float:
    """By how much an attempt took longer than its time limit, where one may go on."""
    if terms.time_limit is None:
        return 0.0
    return round(max(0.0, (submitted - started) / timedelta(minutes=1) - terms.time_limit), 1)


def after_deduction(settings: Settings, terms: Terms, earned: float, submitted: datetime) -> float:
    """What is left of marks for work handed in then."""
    if settings.late != "with a deduction":
        return earned
    return round(earned * max(0.0, 1 - (settings.late_deduction or 0.0) * days_late(terms, submitted)), 4)


def said_at_end(settings: Settings, earned: float | None, points: float) -> list[str]:
    """What is said to who reached so much; nothing where that is not told."""
    if earned is None or not points:
        return []
    share, entries = earned / points, settings.feedback or []
    return [e.content for e in entries if (e.least is None or share >= e.least) and (e.below is None or share < e.below)]


def release_of(settings: Settings, name: str) -> Release:
    """When a thing is shown, as the quiz says or as is usual."""
    said: Release | None = getattr(settings, name)
    return USUAL_RELEASE[name] if said is None else said


def released(settings: Settings, terms: Terms, attempts: Sequence[Attempt], now: datetime, used: bool = False) -> frozenset[str]:
    """What of a submitted attempt is shown to its student now: names of the settings that say so."""
    done = [attempt for attempt in attempts if attempt.submitted]
    used = used or (terms.attempts != ANY_NUMBER and len(done) >= terms.attempts)
    return frozenset(name for name in RELEASED if _is_out(release_of(settings, name), terms, used, now))


def _is_out(release: Release, terms: Terms, used: bool, now: datetime) -> bool:
    if isinstance(release, datetime):
        return now >= release
    closed = terms.closes is not None and now >= terms.closes
    return {"never": False, "on submitting": True, "after closing": closed, "after the last attempt": used or closed}[release]


def counting(scores: Sequence[float], counts: Counts | None) -> list[int]:
    """The places of the attempts that count: all where their average does, none where there are none."""
    if not scores:
        return []
    ways: dict[Counts, list[int]] = {
        "last": [len(scores) - 1],
        "first": [0],
        "best": [max(range(len(scores)), key=lambda place: scores[place])],
        "average": list(range(len(scores))),
    }
    return ways[counts or USUAL_COUNTS]


def counted(scores: Sequence[float], counts: Counts | None) -> float | None:
    """What counts of the scores of several attempts, in their order; None for none."""
    places = counting(scores, counts)
    return round(sum(scores[place] for place in places) / len(places), 4) if places else None

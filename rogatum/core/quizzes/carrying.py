"""A quiz carried on to another section, course or term: its dates moved by weeks, on the course's clocks."""

from __future__ import annotations

from collections.abc import Callable, Collection
from datetime import UTC, datetime, timedelta, tzinfo
from typing import Any

from rogatum.core.quizzes.model import Quiz
from rogatum.core.quizzes.settings import RELEASED, WINDOW, SectionDates, Settings, Window

Moved = Callable[[datetime], datetime]


def moved_by(moment: datetime, weeks: int, days: int, zone: tzinfo) -> datetime:
    """A moment so many weeks and days on, at the same hour on the clocks of a zone, over a change of its time too.

    An hour that the clocks leave out is the one after it.
    """
    local = moment.astimezone(zone)
    wanted = (local.replace(tzinfo=None) + timedelta(weeks=weeks, days=days)).replace(tzinfo=zone, fold=local.fold)
    return wanted.astimezone(UTC)


def moving(weeks: int, zone: tzinfo, days: int = 0) -> Moved:
    return lambda moment: moved_by(moment, weeks, days, zone)


def with_dates_moved(settings: Settings, move: Moved) -> Settings:
    """The settings with all their moments moved: windows, those of sections, and when things are released."""
    changed: dict[str, Any] = _window(settings, move)
    for name in RELEASED:
        said = getattr(settings, name)
        changed[name] = move(said) if isinstance(said, datetime) else said
    if settings.sections is not None:
        changed["sections"] = [dates.model_copy(update=_window(dates, move)) for dates in settings.sections]
    if settings.exceptions is not None:
        changed["exceptions"] = [own.model_copy(update=_window(own, move)) for own in settings.exceptions]
    return settings.model_copy(update=changed)


def _window(window: Window, move: Moved) -> dict[str, Any]:
    return {name: move(moment) if (moment := getattr(window, name)) else None for name in WINDOW}


def carried(quiz: Quiz, move: Moved, sections: Collection[str], keep_exceptions: bool = False) -> Quiz:
    """The quiz for another term: dates moved, the dates of sections that are there kept, and no student of before excepted."""
    settings = with_dates_moved(quiz.settings, move)
    kept = [dates for dates in settings.sections or [] if dates.section in sections]
    changed: dict[str, Any] = {"sections": kept or None}
    if not keep_exceptions:
        changed["exceptions"] = None
    return quiz.model_copy(update={"settings": settings.model_copy(update=changed)})


def as_of_section(quiz: Quiz, section: str) -> Quiz:
    """The quiz as it is for one section: its dates are the quiz's, and nothing is said of other sections and their students."""
    settings = quiz.settings
    own = next((dates for dates in settings.sections or [] if dates.section == section), None)
    dates = {name: value for name in WINDOW if own is not None and (value := getattr(own, name)) is not None}
    theirs = [entry for entry in settings.exceptions or [] if entry.section in ("", section)]
    changed = {"sections": None, "exceptions": theirs or None, **dates}
    return quiz.model_copy(update={"settings": settings.model_copy(update=changed)})


def for_section(quiz: Quiz, section: str, move: Moved) -> Quiz:
    """The quiz with dates of their own for a section: its own ones, moved. What the section had before goes."""
    moved = _window(quiz.settings, move)
    others = [dates for dates in quiz.settings.sections or [] if dates.section != section]
    dates = SectionDates(section=section, **moved)
    return quiz.model_copy(update={"settings": quiz.settings.model_copy(update={"sections": [*others, dates]})})

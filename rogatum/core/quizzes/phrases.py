"""Words for what a quiz is made of: which items are meant, how many, how long, and when in the course's time zone."""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence
from datetime import datetime, tzinfo

from rogatum.core.items.type_words import TYPE_LABELS
from rogatum.core.quizzes.criteria import Condition, Draw


def where_words(where: Iterable[Condition]) -> str:
    """“outcome 2.1, not hard”; nothing for no condition."""
    return ", ".join(map(_condition, where))


def _condition(condition: Condition) -> str:
    labels: Mapping[str, str] = TYPE_LABELS if condition.facet == "type" else {}  # type: ignore[assignment]
    said = " or ".join(labels.get(value, value) for value in condition.values)
    return f"{'not ' if condition.but else ''}{'outcome ' if condition.facet == 'outcome' else ''}{said}"


def pool_words(path: Sequence[str]) -> str:
    """A pool by its name; a path that begins with nothing is of one that is gone."""
    return "the course" if not path else path[-1] if path[0] else "a pool that is gone"


def draw_words(draw: Draw) -> str:
    """Where a draw is from: “Chapter 3: hard”."""
    where = where_words(draw.where)
    return f"{pool_words(draw.pool)}{' alone' if draw.alone else ''}{f': {where}' if where else ''}"


def count_words(count: float, one: str, many: str = "") -> str:
    """“1 item”, “2.5 items”."""
    return f"{count:g} {one if count == 1 else many or one + 's'}"


def minutes_words(minutes: float) -> str:
    """“25 minutes”, “an hour and 30 minutes”, “2 days”."""
    if minutes >= 2880 and minutes % 1440 == 0:
        return count_words(minutes / 1440, "day")
    hours, rest = divmod(minutes, 60)
    if not hours or minutes < 120 and rest:
        return count_words(round(minutes, 2), "minute")
    said = "an hour" if hours == 1 else count_words(hours, "hour")
    return f"{said} and {count_words(round(rest, 2), 'minute')}" if rest else said


def moment_words(moment: datetime, zone: tzinfo) -> str:
    """“Sat 12 Dec 2026, 14:00”, as the course's clocks show it."""
    local = moment.astimezone(zone)
    return f"{local:%a} {local.day} {local:%b %Y, %H:%M}"


def listed(words: Sequence[str]) -> str:
    """“a, b and c”."""
    return " and ".join([", ".join(words[:-1]), words[-1]] if len(words) > 1 else words)

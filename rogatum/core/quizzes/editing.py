"""Changing a quiz: each function gives a new one. Parts are known by their ids; a new one has none until it is stored."""

from __future__ import annotations

from collections.abc import Callable, Sequence

from rogatum.core.errors import InQuizAlready, NotInQuiz, QuizRefused
from rogatum.core.quizzes.model import Draw, Part, Quiz, Settings

FIXED = "Fixed items"


def with_draw(quiz: Quiz, pool: Sequence[str], pick: int, points_each: float | None) -> Quiz:
    """The quiz with a draw behind its parts, called as its pool."""
    part = Part(title=pool[-1] if pool else "", draw=Draw(pool=list(pool), pick=pick), points_each=points_each)
    return quiz.model_copy(update={"parts": [*quiz.parts, part]})


def with_items(quiz: Quiz, items: Sequence[str]) -> Quiz:
    """The quiz with fixed items behind the others; into the last part where that is one of fixed items.

    Raises InQuizAlready where it has them all.
    """
    known = set(quiz.item_ids())
    fresh = [item for item in dict.fromkeys(items) if item not in known]
    if not fresh:
        raise InQuizAlready("These items are in the quiz already.", "Choose others.")
    last = quiz.parts[-1] if quiz.parts else None
    if last is None or last.draw is not None:
        return quiz.model_copy(update={"parts": [*quiz.parts, Part(title=FIXED, items=fresh)]})
    grown = last.model_copy(update={"items": [*last.items, *fresh]})
    return quiz.model_copy(update={"parts": [*quiz.parts[:-1], grown]})


def with_part(quiz: Quiz, part_id: str, change: Callable[[Part], Part]) -> Quiz:
    """The quiz with one part changed. Raises NotInQuiz."""
    _place(quiz, part_id)
    return quiz.model_copy(update={"parts": [change(part) if part.id == part_id else part for part in quiz.parts]})


def picking(pick: int) -> Callable[[Part], Part]:
    """How many a draw gives; fixed items are all given."""
    return lambda part: part.model_copy(update={"draw": part.draw.model_copy(update={"pick": pick})}) if part.draw else part


def worth(points_each: float | None) -> Callable[[Part], Part]:
    """What each item of a part is worth; None for its own points."""
    return lambda part: part.model_copy(update={"points_each": points_each, "points": {}})


def with_part_at(quiz: Quiz, part_id: str, place: int) -> Quiz:
    """The quiz with a part moved to a place, counted from 0. Raises NotInQuiz."""
    part = quiz.parts[_place(quiz, part_id)]
    others = [other for other in quiz.parts if other.id != part_id]
    others.insert(max(0, place), part)
    return quiz.model_copy(update={"parts": others})


def without_part(quiz: Quiz, part_id: str) -> Quiz:
    """Raises NotInQuiz."""
    _place(quiz, part_id)
    return quiz.model_copy(update={"parts": [part for part in quiz.parts if part.id != part_id]})


def with_settings(quiz: Quiz, settings: Settings) -> Quiz:
    """Raises QuizRefused for settings that no quiz can have."""
    if settings.opens and settings.closes and settings.closes <= settings.opens:
        raise QuizRefused("The quiz would close before it opens.", "Set a later closing time.")
    return quiz.model_copy(update={"settings": settings})


def with_title(quiz: Quiz, title: str) -> Quiz:
    """Raises QuizRefused where nothing is left of the title."""
    if not title.strip():
        raise QuizRefused("A quiz needs a title.", "Type one in.")
    return quiz.model_copy(update={"title": title.strip()})


def _place(quiz: Quiz, part_id: str) -> int:
    place = next((n for n, part in enumerate(quiz.parts) if part.id == part_id), None)
    if place is None:
        raise NotInQuiz("The quiz has no such part.", "Load the page again.")
    return place

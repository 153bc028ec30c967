"""Changing a quiz: each function gives a new one. Parts are known by their ids; a new one has none until it is stored."""

from __future__ import annotations

from collections.abc import Callable, Collection, Sequence
from itertools import groupby

from rogatum.core.errors import InQuizAlready, NotInQuiz, QuizRefused
from rogatum.core.quizzes.criteria import Draw
from rogatum.core.quizzes.model import Part, Quiz
from rogatum.core.quizzes.settings import Settings, Window

Change = Callable[[Part], Part]

# Putting in


def with_draw(quiz: Quiz, draw: Draw, points_each: float | None) -> Quiz:
    """The quiz with a draw behind its parts. It has no title: students read that, and would read the name of a pool."""
    part = Part(draw=draw, points_each=points_each)
    return quiz.model_copy(update={"parts": [*quiz.parts, part]})


def with_items(quiz: Quiz, items: Sequence[str], title: str = "") -> Quiz:
    """The quiz with fixed items behind the others; into the last part where that is one of fixed items.

    With a `title`, they are a part of their own. Raises InQuizAlready where it has them all.
    """
    known = set(quiz.item_ids())
    fresh = [item for item in dict.fromkeys(items) if item not in known]
    if not fresh:
        raise InQuizAlready("These items are in the quiz already.", "Choose others.")
    last = quiz.parts[-1] if quiz.parts else None
    if title or last is None or last.draw is not None or last.picked_from is not None:
        return quiz.model_copy(update={"parts": [*quiz.parts, Part(title=title, items=fresh)]})
    grown = last.model_copy(update={"items": [*last.items, *fresh]})
    return quiz.model_copy(update={"parts": [*quiz.parts[:-1], grown]})


def with_item(quiz: Quiz, part_id: str, item: str) -> Quiz:
    """The quiz with one item more in a part of fixed ones."""
    if item in quiz.item_ids():
        raise InQuizAlready("This item is in the quiz already.", "Choose another.")
    return with_part(quiz, part_id, lambda part: part.model_copy(update={"items": [*part.items, item]}))


# Changing parts


def with_part(quiz: Quiz, part_id: str, change: Change) -> Quiz:
    """The quiz with one part changed. Raises NotInQuiz."""
    return with_parts(quiz, [part_id], change)


def with_parts(quiz: Quiz, part_ids: Collection[str], change: Change) -> Quiz:
    """The quiz with some of its parts changed alike. Raises NotInQuiz."""
    for part_id in part_ids:
        place_of(quiz, part_id)
    return quiz.model_copy(update={"parts": [change(part) if part.id in part_ids else part for part in quiz.parts]})


def picking(pick: int) -> Change:
    """How many a draw gives; fixed items are all given."""
    return lambda part: part.model_copy(update={"draw": part.draw.model_copy(update={"pick": pick})}) if part.draw else part


def worth(points_each: float | None) -> Change:
    """What each item of a part is worth; None for its own points."""
    return lambda part: part.model_copy(update={"points_each": points_each, "points": {}})


def with_items_worth(quiz: Quiz, items: Collection[str], points: float | None) -> Quiz:
    """The quiz with what single fixed items are worth, wherever they stand; None for what they are worth otherwise."""

    def change(part: Part) -> Part:
        here = [item for item in part.items if item in items]
        others = {key: value for key, value in part.points.items() if key not in here}
        said = others if points is None else others | dict.fromkeys(here, points)
        return part.model_copy(update={"points": said}) if here else part

    return quiz.model_copy(update={"parts": [change(part) for part in quiz.parts]})


# Order


def with_parts_at(quiz: Quiz, part_ids: Sequence[str], place: int) -> Quiz:
    """The quiz with parts moved, together and in their order, so that the first stands at a place of those that are left."""
    for part_id in part_ids:
        place_of(quiz, part_id)
    moved = [part for part in quiz.parts if part.id in part_ids]
    others = [part for part in quiz.parts if part.id not in part_ids]
    at = max(0, min(place, len(others)))
    return quiz.model_copy(update={"parts": [*others[:at], *moved, *others[at:]]})


def with_items_at(quiz: Quiz, items: Sequence[str], part_id: str, place: int) -> Quiz:
    """The quiz with fixed items moved into a part of fixed ones, the first at a place of those that are left there.

    What they are worth stays with them. Raises NotInQuiz.
    """
    target = quiz.parts[place_of(quiz, part_id)]
    if target.draw is not None:
        raise QuizRefused("A draw holds no single items.", "Move them into a part of fixed items.")
    there = set(quiz.item_ids())
    moved = [item for item in items if item in there]
    worth_of = {item: part.points.get(item, part.points_each) for part in quiz.parts for item in part.items if item in moved}
    left = _without_items(quiz.parts, moved)

    def put(part: Part) -> Part:
        if part.id != part_id:
            return part
        at = max(0, min(place, len(part.items)))
        said = {item: points for item, points in worth_of.items() if points is not None and points != part.points_each}
        return part.model_copy(update={"items": [*part.items[:at], *moved, *part.items[at:]], "points": part.points | said})

    return quiz.model_copy(update={"parts": [put(part) for part in left]})


def split_before(quiz: Quiz, part_id: str, item: str) -> Quiz:
    """The quiz with a part of fixed items made into two, the second with the item and all behind it."""
    at = place_of(quiz, part_id)
    part = quiz.parts[at]
    if item not in part.items[1:]:
        raise QuizRefused("Nothing would be left before this item.", "Choose one further down.")
    cut = part.items.index(item)
    halves = [_with_only(part, part.items[:cut]), _with_only(part, part.items[cut:])]
    second = halves[1].model_copy(update={"id": "", "title": "", "instructions": "", "page_break": True})
    return quiz.model_copy(update={"parts": [*quiz.parts[:at], halves[0], second, *quiz.parts[at + 1 :]]})


# Taking out


def without_parts(quiz: Quiz, part_ids: Collection[str]) -> Quiz:
    """Raises NotInQuiz."""
    for part_id in part_ids:
        place_of(quiz, part_id)
    return quiz.model_copy(update={"parts": [part for part in quiz.parts if part.id not in part_ids]})


def without_items(quiz: Quiz, items: Collection[str]) -> Quiz:
    """The quiz without some of its fixed items; a part of which nothing is left goes, unless it was picked by a plan."""
    before = {part.id: bool(part.items) for part in quiz.parts}
    left = _without_items(quiz.parts, items)
    kept = [part for part in left if part.draw or part.items or part.picked_from or not before[part.id]]
    return quiz.model_copy(update={"parts": kept})


def _without_items(parts: Sequence[Part], items: Collection[str]) -> list[Part]:
    return [_with_only(part, [item for item in part.items if item not in items]) for part in parts]


def _with_only(part: Part, items: list[str]) -> Part:
    if part.items == items:
        return part
    points = {item: points for item, points in part.points.items() if item in items}
    return part.model_copy(update={"items": items, "points": points})


def with_replaced(quiz: Quiz, item: str, by: str) -> Quiz:
    """The quiz with another item in the place of a fixed one, worth what that was. Raises NotInQuiz."""
    if item not in quiz.item_ids():
        raise NotInQuiz("The quiz does not have this item any more.", "Load the page again.")
    if by in quiz.item_ids():
        raise InQuizAlready("That item is in the quiz already.", "Choose another.")

    def change(part: Part) -> Part:
        if item not in part.items:
            return part
        points = {by if key == item else key: value for key, value in part.points.items()}
        return part.model_copy(update={"items": [by if key == item else key for key in part.items], "points": points})

    return quiz.model_copy(update={"parts": [change(part) for part in quiz.parts]})


# The whole


def with_settings(quiz: Quiz, settings: Settings) -> Quiz:
    """Raises QuizRefused for settings that no quiz can have."""
    windows: list[tuple[str, Window]] = [("The quiz", settings)]
    windows += [(f"Section {dates.section}", dates) for dates in settings.sections or []]
    windows += [(f"The exception for {own.student}", own) for own in settings.exceptions or []]
    for name, window in windows:
        if window.opens and window.closes and window.closes <= window.opens:
            raise QuizRefused(f"{name} would close before it opens.", "Set a later closing time.")
    for kind, said in (
        ("section", [d.section for d in settings.sections or []]),
        ("student", [e.student for e in settings.exceptions or []]),
    ):
        double = next((name for name, group in groupby(sorted(said)) if len(list(group)) > 1), None)
        if double is not None:
            raise QuizRefused(f"The {kind} {double} is named twice.", "Keep one of them.")
    return quiz.model_copy(update={"settings": settings})


def with_title(quiz: Quiz, title: str) -> Quiz:
    """Raises QuizRefused where nothing is left of the title."""
    if not title.strip():
        raise QuizRefused("A quiz needs a title.", "Type one in.")
    return quiz.model_copy(update={"title": title.strip()})


def place_of(quiz: Quiz, part_id: str) -> int:
    """Where a part stands, from 0. Raises NotInQuiz."""
    place = next((n for n, part in enumerate(quiz.parts) if part.id == part_id), None)
    if place is None:
        raise NotInQuiz("The quiz has no such part.", "Load the page again.")
    return place

"""One attempt at a quiz: which items a student gets, in which order and on which pages, and what comes of the responses."""

from __future__ import annotations

from collections.abc import Collection, Iterable, Mapping, Sequence
from dataclasses import dataclass

from pydantic import BaseModel, ConfigDict

from rogatum.core.items import Item
from rogatum.core.items.key import key_words
from rogatum.core.quizzes.catalogue import Catalogue, ids_of
from rogatum.core.quizzes.draws import PartPlan, assemble, shuffled
from rogatum.core.quizzes.marking import Response, feedback_for, mark
from rogatum.core.quizzes.model import Part, Quiz


class Given(BaseModel):
    """An item of an attempt, what it is worth there, the part that gives it, and whether it asks something."""

    model_config = ConfigDict(frozen=True)

    item: str
    points: float
    part: str = ""
    asks: bool = True


@dataclass(frozen=True)
class Shared:
    """The passage of an item, and its place among those that share it."""

    passage: str
    place: int


def drawn(quiz: Quiz, catalogue: Catalogue, seed: str) -> list[Given]:
    """The items of one attempt, part by part. The same seed gives the same attempt."""
    offered = [catalogue.given_by(part) for part in quiz.parts]
    plans = [
        PartPlan(tuple(ids_of(lots)), part.draw.pick if part.draw else None) for part, lots in zip(quiz.parts, offered, strict=True)
    ]
    return [
        Given(item=key, points=lot.points_in(part, key), part=part.id, asks=lot.is_question)
        for part, keys in zip(quiz.parts, assemble(plans, seed), strict=True)
        for key, lot in ((key, catalogue.by_id[key]) for key in keys)
    ]


def arranged(quiz: Quiz, given: Sequence[Given], passages: Mapping[str, Shared], seed: str) -> list[Given]:
    """The items in the order in which they are shown: parts and what is in them shuffled as the quiz says.

    Items that share a passage stand together, in the order in which they lie in their pool.
    """
    ids = [part.id for part in quiz.parts]
    order = shuffled(ids, f"{seed}/parts") if quiz.settings.shuffle_parts else ids
    by_part: dict[str, list[Given]] = {key: [] for key in order}
    for entry in given:
        by_part[entry.part].append(entry)
    mixed = bool(quiz.settings.shuffle_items)
    return [entry for key in order for entry in _in_part(by_part[key], passages, f"{seed}/items/{key}", mixed)]


def _in_part(given: Sequence[Given], passages: Mapping[str, Shared], seed: str, mixed: bool) -> list[Given]:
    groups: dict[str, list[Given]] = {}
    for entry in given:
        shared = passages.get(entry.item)
        groups.setdefault(f"passage {shared.passage}" if shared else entry.item, []).append(entry)
    names = shuffled(list(groups), seed) if mixed else list(groups)
    return [entry for name in names for entry in sorted(groups[name], key=lambda e: _place(passages, e))]


def _place(passages: Mapping[str, Shared], entry: Given) -> int:
    return passages[entry.item].place if entry.item in passages else 0


def pages_of(quiz: Quiz, given: Sequence[Given]) -> list[list[int]]:
    """The pages of an attempt, as places in `given`."""
    parts = {part.id: part for part in quiz.parts}
    pages: list[list[int]] = []
    before: Part | None = None
    for place, entry in enumerate(given):
        part = parts.get(entry.part, Part())
        if not pages or _begins_page(quiz, part, before):
            pages.append([])
        pages[-1].append(place)
        before = part
    return pages


def _begins_page(quiz: Quiz, part: Part, before: Part | None) -> bool:
    shown, fresh = quiz.settings.shown, before is None or part.id != before.id
    return shown == "one at a time" or fresh and (shown == "by parts" or part.page_break)


def parts_begun(quiz: Quiz, given: Sequence[Given], places: Iterable[int]) -> dict[str, Part]:
    """The parts of which the first item stands at one of the places, by that item."""
    parts = {part.id: part for part in quiz.parts}
    first = (given[place] for place in places if place == 0 or given[place - 1].part != given[place].part)
    return {entry.item: parts[entry.part] for entry in first if entry.part in parts}


@dataclass
class Marked:
    """An item as it is shown afterwards: what is not released is None, or empty.

    `share` is None too where only a person can mark it (`by_hand`).
    """

    id: str
    points: float
    by_hand: bool
    share: float | None
    earned: float | None
    feedback: list[str]
    key: str


@dataclass
class Result:
    """`earned` is without what waits for a person (`by_hand`); None where marks are not released."""

    items: list[Marked]
    earned: float | None
    points: float
    by_hand: float
    released: list[str]


def earned_by(given: Iterable[tuple[Item, float]], responses: Mapping[str, Response]) -> float:
    """The points that responses earn, as far as they can be marked without a person."""
    return round(sum(max(mark(item, responses.get(item.id)) or 0.0, 0.0) * points for item, points in given), 4)


def mark_attempt(given: Sequence[tuple[Item, float]], responses: Mapping[str, Response], released: Collection[str]) -> Result:
    """Marks the responses to items worth so many points each, and shows as much of it as is `released` (settings by name)."""
    marked = [_marked(item, points, responses.get(item.id), released) for item, points in given]
    return Result(
        items=marked,
        earned=earned_by(given, responses) if "show_marks" in released else None,
        points=round(sum(entry.points for entry in marked), 4),
        by_hand=round(sum(entry.points for entry in marked if entry.by_hand), 4),
        released=sorted(released),
    )


def _marked(item: Item, points: float, response: Response, released: Collection[str]) -> Marked:
    share = mark(item, response)
    earned = None if share is None else round(max(share, 0.0) * points, 4)
    return Marked(
        id=item.id,
        points=points,
        by_hand=share is None and points > 0,
        share=share if "show_right" in released else None,
        earned=earned if "show_marks" in released else None,
        feedback=feedback_for(item, response) if "show_feedback" in released else [],
        key=key_words(item) if "show_key" in released else "",
    )

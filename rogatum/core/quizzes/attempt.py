"""One attempt at a quiz: which items a student gets, what each is worth, and what comes of the responses."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

from rogatum.core.items import Item
from rogatum.core.items.key import key_words
from rogatum.core.quizzes.catalogue import Catalogue
from rogatum.core.quizzes.draws import PartPlan, assemble, shuffled
from rogatum.core.quizzes.marking import Response, feedback_for, mark
from rogatum.core.quizzes.model import Quiz, Release

# What a quiz releases where it does not say.
USUAL_RELEASE: Release = "feedback"


@dataclass(frozen=True)
class Given:
    """An item of an attempt, and what it is worth there."""

    item: str
    points: float


def attempt(quiz: Quiz, catalogue: Catalogue, seed: str) -> list[Given]:
    """The items of one attempt in the order in which they are shown. The same seed gives the same attempt."""
    offered = [catalogue.given_by(part) for part in quiz.parts]
    plans = [
        PartPlan(tuple(candidate.id for candidate in given), part.draw.pick if part.draw else None)
        for part, given in zip(quiz.parts, offered, strict=True)
    ]
    found = [
        Given(key, catalogue.items[key].points_in(part))
        for part, keys in zip(quiz.parts, assemble(plans, seed), strict=True)
        for key in keys
    ]
    if not quiz.settings.shuffle_items:
        return found
    order = {key: place for place, key in enumerate(shuffled([given.item for given in found], f"{seed}/items"))}
    return sorted(found, key=lambda given: order[given.item])


@dataclass
class Marked:
    """`share` is None where only a person can mark; `feedback` and `key` are as much as the quiz releases."""

    id: str
    share: float | None
    earned: float | None
    points: float
    feedback: list[str]
    key: str


@dataclass
class Result:
    items: list[Marked]
    earned: float
    points: float
    by_hand: float
    release: Release


def mark_attempt(given: Sequence[tuple[Item, float]], responses: Mapping[str, Response], release: Release | None) -> Result:
    """Marks the responses to items worth so many points each."""
    shown = release or USUAL_RELEASE
    marked = [_marked(item, points, responses.get(item.id), shown) for item, points in given]
    return Result(
        items=marked,
        earned=round(sum(entry.earned or 0.0 for entry in marked), 4),
        points=round(sum(entry.points for entry in marked), 4),
        by_hand=round(sum(entry.points for entry in marked if entry.share is None), 4),
        release=shown,
    )


def _marked(item: Item, points: float, response: Response, release: Release) -> Marked:
    share = mark(item, response)
    return Marked(
        id=item.id,
        share=share,
        earned=None if share is None else round(max(share, 0.0) * points, 4),
        points=points,
        feedback=feedback_for(item, response) if release in ("feedback", "everything") else [],
        key=key_words(item) if release == "everything" else "",
    )

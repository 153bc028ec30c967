"""A quiz of a source among the items and pools of a course: what it holds by the ids that these have there."""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from types import MappingProxyType

from rogatum.core.quizzes.model import Part, Quiz

Path = Sequence[str]


def adopted(
    quiz: Quiz, items: Mapping[str, str], pool_of: Callable[[Path], Path], worth: Mapping[str, float] = MappingProxyType({})
) -> tuple[Quiz, int]:
    """The quiz with its items by the ids that `items` gives and its draws from the pools that `pool_of` gives.

    Items that `items` lacks were not taken and are left out; their number is returned too. A part without any is left out.
    `worth` gives what items of the quiz are worth on their own where those that stand for them in the course are worth something
    else: the quiz says it then.
    """
    missing = [item for item in quiz.item_ids() if item not in items]
    parts = [_adopted(part, items, pool_of, worth) for part in quiz.parts]
    return quiz.model_copy(update={"id": "", "parts": [part for part in parts if part.items or part.draw]}), len(missing)


def _adopted(part: Part, items: Mapping[str, str], pool_of: Callable[[Path], Path], worth: Mapping[str, float]) -> Part:
    draw = part.draw.model_copy(update={"pool": list(pool_of(part.draw.pool))}) if part.draw else None
    kept = list(dict.fromkeys(items[item] for item in part.items if item in items))
    own = {} if part.points_each is not None else {item: worth[item] for item in part.items if item in worth}
    points = {items[item]: points for item, points in (own | part.points).items() if item in items}
    return part.model_copy(update={"id": "", "items": kept, "draw": draw, "points": points})

"""From a wish to changes: what each item would be, what of it reads differently, and what was asked for in vain."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass, field
from typing import Any

from rogatum.core.errors import NothingToMend
from rogatum.core.items import Item
from rogatum.core.items.parts import content_fields
from rogatum.core.mending import keys, numeric, outcomes, pictures, points, texts
from rogatum.core.mending.numbers import Made, Subject
from rogatum.core.mending.wishes import Wish

# A step gives None where the item stays as it is.
Step = Callable[[Subject], Made | None]


@dataclass(frozen=True)
class Change:
    """An item as it would be, and what of it reads differently; `shown` is the content in which a picture came into its place."""

    position: int
    item: Item
    before: str
    after: str
    shown: str = ""


@dataclass(frozen=True)
class Plan:
    """The changes, and what of the wish could not be done, in words."""

    changes: list[Change] = field(default_factory=list)
    unmet: list[str] = field(default_factory=list)


_STEPS: dict[str, Callable[[Any, Sequence[Subject], list[str]], Step]] = {
    "points-ratio": points.by_ratio,
    "points-table": points.by_table,
    "to-numeric": numeric.to_numeric,
    "part-units": numeric.part_units,
    "outcomes-by-number": outcomes.by_number,
    "outcomes-by-chapter": outcomes.by_chapter,
    "keys": keys.from_list,
    "feedback": texts.feedback_by_number,
    "pictures": pictures.by_name,
}


def plan(subjects: Sequence[Subject], wish: Wish) -> Plan:
    """What a wish would change of the items. Raises NothingToMend where it cannot be understood, or would change nothing."""
    unmet: list[str] = []
    step = _STEPS[wish.kind](wish, subjects, unmet)
    made = [(subject, step(subject)) for subject in subjects]
    changes = [
        Change(subject.position, *found, _shown(subject.item, found[0]) if wish.kind == "pictures" else "")
        for subject, found in made
        if found and found[0] != subject.item
    ]
    if not changes:
        raise NothingToMend("This would change no item.", "; ".join(unmet[:3]) or "Look at what is said, and at which items.")
    return Plan(changes, unmet)


def _shown(before: Item, after: Item) -> str:
    """The first content that is another one now."""
    pairs = zip(content_fields(before), content_fields(after), strict=False)
    return next((new for old, new in pairs if old != new), "")

"""A test while it is read: its parts by the items that stand in them; the quiz is made when all items are known."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field

from rogatum.core.formats.shared.draw_pools import DrawPools
from rogatum.core.items import Bank
from rogatum.core.quizzes.model import Draw, Part, Quiz, Settings
from rogatum.core.quizzes.worth import UNSAID, with_points


@dataclass
class PartDraft:
    """A part: what stands in it (`members`, by whatever names the reader has), how many are picked, and the weights of some.

    `pool` is the place of what is drawn from, where the test names a bank instead of holding the items.
    """

    title: str
    path: tuple[str, ...]
    members: list[str] = field(default_factory=list)
    pick: int | None = None
    weights: dict[str, float] = field(default_factory=dict)
    pool: tuple[str, ...] | None = None
    instructions: str = ""

    def empty(self) -> bool:
        return not self.members and self.pool is None and not self.instructions


@dataclass
class QuizDraft:
    id: str
    title: str
    parts: list[PartDraft] = field(default_factory=list)
    settings: Settings = field(default_factory=Settings)


class QuizMaker:
    """Makes the quizzes of a source. `ids` gives the items by the reader's names; members that it lacks are left out."""

    def __init__(self, bank: Bank, ids: Mapping[str, str]) -> None:
        self.ids, self.own = ids, {item.id: item.points for item in bank.items}
        self.pools = DrawPools(bank)

    def quiz_of(self, draft: QuizDraft) -> Quiz:
        parts = [self._part(part).model_copy(update={"instructions": part.instructions}) for part in draft.parts]
        return Quiz(id=draft.id, title=draft.title, parts=[p for p in parts if p.items or p.draw], settings=draft.settings)

    def _part(self, draft: PartDraft) -> Part:
        members = [self.ids[name] for name in draft.members if self.ids.get(name) in self.own]
        weights = {self.ids[name]: weight for name, weight in draft.weights.items() if name in self.ids}
        worth = {item: _worth(self.own[item], weights.get(item, 1.0)) for item in members}
        if draft.pick is None or (draft.pool is None and draft.pick >= len(draft.members)):
            return with_points(Part(title=draft.title, items=members), worth)
        path = draft.pool or draft.path or (draft.title or "items",)
        pool = self.pools.holding(members, path, draft.title) if members else path
        part = Part(title=draft.title, draw=Draw(pool=list(pool), pick=draft.pick))
        # What all that can be drawn is worth is said of the draw, whether it is weighted or not.
        values = {self.own[item] if points is None else points for item, points in worth.items()}
        if len(values) == 1:
            return part.model_copy(update={"points_each": values.pop()})
        return with_points(part, worth)


def _worth(own: float | None, weight: float) -> float | None:
    """What an item is worth by its weight; None where that is what it is worth on its own."""
    return None if weight == 1 else round((UNSAID if own is None else own) * weight, 6)

"""A test while it is read: its parts by the items that stand in them; the quiz is made when all items are known."""

from __future__ import annotations

from collections import Counter
from dataclasses import dataclass, field

from rogatum.core.items import Bank
from rogatum.core.items.parts import is_question
from rogatum.core.quizzes.model import Draw, Part, Quiz, Settings
from rogatum.core.quizzes.worth import UNSAID, with_points


@dataclass
class PartDraft:
    """A part: what stands in it (`members`, by whatever names the reader has), how many are picked, and the weights of some.

    `pool` names the pool that is drawn from, where the test says it instead of holding the items.
    """

    title: str
    path: tuple[str, ...]
    members: list[str] = field(default_factory=list)
    pick: int | None = None
    weights: dict[str, float] = field(default_factory=dict)
    pool: tuple[str, ...] | None = None

    def empty(self) -> bool:
        return not self.members and self.pool is None


@dataclass
class QuizDraft:
    id: str
    title: str
    parts: list[PartDraft] = field(default_factory=list)
    settings: Settings = field(default_factory=Settings)


def quiz_of(draft: QuizDraft, bank: Bank, ids: dict[str, str]) -> Quiz:
    """The quiz of a draft. `ids` gives the items by the reader's names; members that it lacks were not read and are left out."""
    own = {item.id: item.points for item in bank.items}
    pools = _Pools(bank)
    parts = [_part(part, pools, ids, own) for part in draft.parts]
    return Quiz(id=draft.id, title=draft.title, parts=[p for p in parts if p.items or p.draw], settings=draft.settings)


def _part(draft: PartDraft, pools: _Pools, names: dict[str, str], own: dict[str, float | None]) -> Part:
    members = [names[name] for name in draft.members if names.get(name) in own]
    weights = {names[name]: weight for name, weight in draft.weights.items() if name in names}
    worth = {item: _worth(own[item], weights.get(item, 1.0)) for item in members}
    if draft.pick is None or (draft.pool is None and draft.pick >= len(draft.members)):
        return with_points(Part(title=draft.title, items=members), worth)
    pool = draft.pool or pools.holding(members, draft.path) or pools.made_of(members, draft.title or "items")
    part = Part(title=draft.title, draw=Draw(pool=list(pool), pick=draft.pick))
    # What all that can be drawn is worth is said of the draw, whether it is weighted or not.
    values = {own[item] if points is None else points for item, points in worth.items()}
    if len(values) == 1:
        return part.model_copy(update={"points_each": values.pop()})
    return with_points(part, worth)


def _worth(own: float | None, weight: float) -> float | None:
    """What an item is worth by its weight; None where that is what it is worth on its own."""
    return None if weight == 1 else round((UNSAID if own is None else own) * weight, 6)


class _Pools:
    """The pools of a bank by how many questions lie in each and below it."""

    def __init__(self, bank: Bank) -> None:
        self.bank, self.paths = bank, bank.pool_paths()
        self.sizes: Counter[tuple[str, ...]] = Counter()
        for item in bank.items:
            if is_question(item) and (path := self.paths.get(item.id)):
                self.sizes.update(path[:depth] for depth in range(1, len(path) + 1))

    def holding(self, members: list[str], path: tuple[str, ...]) -> tuple[str, ...]:
        """The pool that holds the members of a draw: where they lie together and nothing else does, else that of the section."""
        common = _common([self.paths.get(item, ()) for item in members])
        return common if common and self.sizes[common] == len(set(members)) else path

    def made_of(self, members: list[str], name: str) -> tuple[str, ...]:
        """A pool for what is drawn and lies in none: a draw is from a pool."""
        for item in dict.fromkeys(members):
            if item not in self.paths:
                self.bank.place_in_pool(item, [name])
        return (name,)


def _common(paths: list[tuple[str, ...]]) -> tuple[str, ...]:
    if not paths:
        return ()
    shortest, longest = min(paths), max(paths)
    count = next((n for n, name in enumerate(shortest) if n >= len(longest) or longest[n] != name), len(shortest))
    return shortest[:count]

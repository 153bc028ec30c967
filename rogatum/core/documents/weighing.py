"""Readings of one question, weighed by what the whole document does: the likeliest is taken, a near second one is kept."""

from __future__ import annotations

from collections import Counter
from collections.abc import Sequence
from dataclasses import dataclass, field

from rogatum.core.documents.choice_lists import LIKING, ChoiceList

# How much a reading gains by each regularity, and how near a second one has to be to be told.
SHAPE, COUNT, KEYED, LAST, LIKED = 3.0, 0.5, 1.5, 0.4, 0.25
NEAR = 0.6


@dataclass(frozen=True)
class Regularity:
    """What most questions of a document do: in which shapes they list their choices, and how many they have."""

    shapes: Counter[str] = field(default_factory=Counter)
    counts: Counter[int] = field(default_factory=Counter)

    def share(self, shape: str) -> float:
        total = sum(self.shapes.values())
        return self.shapes[shape] / total if total else 0.0

    def usual_count(self) -> int:
        return max(self.counts, key=lambda count: self.counts[count], default=0)


@dataclass(frozen=True)
class Weighed:
    """The likeliest list of a question's choices, and another one that is nearly as likely."""

    best: ChoiceList | None = None
    second: ChoiceList | None = None


def regularity_of(lists: Sequence[Sequence[ChoiceList]]) -> Regularity:
    """By the last list of each question, letters before numbers."""
    last = [max(of_item, key=lambda found: (found.last_index, LIKING[found.system])) for of_item in lists if of_item]
    return Regularity(Counter(found.shape for found in last), Counter(len(found.marks) for found in last))


def weigh(lists: Sequence[ChoiceList], regular: Regularity, key: Sequence[str] = ()) -> Weighed:
    """Which list holds the choices; `key` is what the question's key says, which may name labels of one list only."""
    if len(lists) < 2:
        return Weighed(*lists)
    firsts: dict[str, ChoiceList] = {}
    for found in sorted(lists, key=lambda found: found.first.index):
        firsts.setdefault(found.shape, found)
    last = max(found.first.index for found in firsts.values())
    weights = {shape: _weight(found, regular, key, found.first.index == last) for shape, found in firsts.items()}
    ranked = sorted(firsts.values(), key=lambda found: -weights[found.shape])
    near = len(ranked) > 1 and weights[ranked[0].shape] - weights[ranked[1].shape] < NEAR
    return Weighed(ranked[0], ranked[1] if near else None)


def _weight(found: ChoiceList, regular: Regularity, key: Sequence[str], last: bool) -> float:
    labels = {mark.label.token.casefold() for mark in found.marks if mark.label}
    named = bool(key) and all(name in labels for name in key)
    return (
        SHAPE * regular.share(found.shape)
        + COUNT * (len(found.marks) == regular.usual_count())
        + KEYED * named
        + LAST * last
        + LIKED * LIKING[found.system]
    )

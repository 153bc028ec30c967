"""Finds an item's key by probing: its response processing is run on candidate responses, and what they earn is the key.

So any correct way of writing the rules is understood. Whether the item that comes of it marks as its source is proved afterwards
(`proof.py`).
"""

from __future__ import annotations

import itertools
from collections.abc import Iterable, Sequence
from dataclasses import dataclass, field

from rogatum.core.finding import FindingKind
from rogatum.core.findings.keys import MARKING_APPROXIMATED, MARKING_UNDECIDED, NO_KEY_FOUND, SEVERAL_COMBINATIONS
from rogatum.core.formats.shared.keys.marker import CLOSE, Asked, Marker, Responses, Scale
from rogatum.core.items import Scoring

EXHAUSTIVE = 8


@dataclass
class ChoiceKey:
    """What choices of which several can be picked are worth: weights, how they count, and the least that their sum comes to."""

    weights: list[float]
    scoring: Scoring
    scale: Scale
    lowest: float | None = 0.0


@dataclass
class Prober:
    """Runs an item's processing; `note` takes kinds of findings with the values of their texts."""

    processing: Marker
    notes: list[tuple[FindingKind, dict[str, object]]] = field(default_factory=list)

    def note(self, kind: FindingKind, **values: object) -> None:
        self.notes.append((kind, values))

    def score(self, responses: Responses) -> float:
        return self.processing.earned(responses)

    def shown(self, responses: Responses) -> list[str]:
        """The feedback that a response shows."""
        return self.processing.run(responses).feedback

    def scale(self, best: float) -> Scale:
        """The scale by the best score reached and the maximum declared (`decvar maxvalue`)."""
        if self.processing.undecided:
            self.note(MARKING_UNDECIDED, detail=", ".join(dict.fromkeys(self.processing.undecided)))
        declared = self.processing.maximum
        if best <= 0:
            return Scale(declared or 0.0, declared)
        if declared is None or declared <= 0:
            return Scale(best, round(best, 6))
        if abs(declared - best) <= max(CLOSE * declared, 1e-9):
            return Scale(best, declared)
        self.note(
            MARKING_APPROXIMATED,
            detail=f"the best response earns {best:g}, and the maximum declared is {declared:g}.",
        )
        return Scale(best, declared)

    def needs_a_key(self, earned: float) -> None:
        """Says it where nothing that was tried earns points."""
        if earned <= 0:
            self.note(NO_KEY_FOUND, detail="no response to its parts earns points.")

    # Choices

    def single_choice(self, response: Asked) -> tuple[list[float], Scale]:
        """The weight of each choice of a response that takes one."""
        scores = [self.score({response.ident: [label.ident]}) for label in response.labels]
        scale = self.scale(max(scores, default=0.0))
        return [scale.share(score) for score in scores], scale

    def multiple_choice(self, response: Asked) -> ChoiceKey:
        """The key of a response that takes several choices."""
        idents = [label.ident for label in response.labels]
        scores = {subset: self.score({response.ident: list(subset)}) for subset in self._subsets(response, idents)}
        best = max(scores.values(), default=0.0)
        scale = self.scale(best)
        if best <= 0:
            return ChoiceKey([0.0] * len(idents), "all_or_nothing", scale)
        singles = _in_company(idents, scores, best)
        several = sum(s > 0 for s in singles) > 1 or (max(singles) > 0 and min(singles) < 0)
        by_ident = dict(zip(idents, singles, strict=True))
        lowest = _lowest(scores, by_ident, scale)
        if several and _additive(scores, by_ident, scale, lowest):
            return ChoiceKey([scale.share(s) for s in singles], "per_choice", scale, _in_shares(lowest, scale))
        return ChoiceKey(self._all_or_nothing(idents, scores, scale), "all_or_nothing", scale)

    def _subsets(self, response: Asked, idents: list[str]) -> Iterable[tuple[str, ...]]:
        if len(idents) <= EXHAUSTIVE:
            return [s for size in range(len(idents) + 1) for s in itertools.combinations(idents, size)]
        found: dict[tuple[str, ...], None] = {(): None, tuple(idents): None}
        found.update(dict.fromkeys((ident,) for ident in idents))
        for candidate in self._named_sets(response, idents):
            found[candidate] = None
            for ident in idents:
                changed = set(candidate) ^ {ident}
                found[tuple(i for i in idents if i in changed)] = None
        return list(found)

    def _named_sets(self, response: Asked, idents: list[str]) -> Iterable[tuple[str, ...]]:
        """The sets that the conditions name without `not`, all together and rule by rule of thumb: all but the negated."""
        named = [n for n in self.processing.named if n.response == response.ident]
        positive = {v for n in named if not n.negated for v in (n.value.split(",") if n.test == "varsubset" else [n.value])}
        negative = {n.value for n in named if n.negated}
        alone = {i: self.score({response.ident: [i]}) for i in idents}
        gaining, losing = {i for i in idents if alone[i] > 0}, {i for i in idents if alone[i] < 0}
        for chosen in (positive, positive - negative, set(idents) - negative, gaining, losing):
            yield tuple(i for i in idents if i in chosen)

    def _all_or_nothing(self, idents: list[str], scores: dict[tuple[str, ...], float], scale: Scale) -> list[float]:
        full = [set(subset) for subset, score in scores.items() if score >= scale.full * (1 - CLOSE)]
        smallest = [s for s in full if not any(other < s for other in full)]
        key = min(smallest, key=lambda s: (len(s), [i not in s for i in idents]))
        if len(smallest) > 1:
            self.note(SEVERAL_COMBINATIONS)
        return [round(1 / len(key), 6) if ident in key else 0.0 for ident in idents] if key else [0.0] * len(idents)


def _in_company(idents: list[str], scores: dict[tuple[str, ...], float], best: float) -> list[float]:
    """What each choice earns alone; one that takes points off shows that beside right ones, where sums never go below 0."""
    singles = [scores[(ident,)] for ident in idents]
    gaining = tuple(ident for ident, score in zip(idents, singles, strict=True) if score > 0)
    if not gaining or abs(scores.get(gaining, 0.0) - best) > CLOSE * best:
        return singles
    joined = {ident: scores.get(tuple(i for i in idents if i in gaining or i == ident), best) for ident in idents}
    if len(gaining) == 1 and all(score <= CLOSE * best for ident, score in joined.items() if ident not in gaining):
        return singles  # one right choice, and any other beside it takes all: that is the whole key or nothing
    return [
        min(single, joined[ident] - best) if ident not in gaining else single for ident, single in zip(idents, singles, strict=True)
    ]


def _lowest(scores: dict[tuple[str, ...], float], singles: dict[str, float], scale: Scale) -> float | None:
    """The least that a sum comes to: None where the sums of this item meet no bound, 0 where none goes below it."""
    return lowest_of(sum(min(single, 0.0) for single in singles.values()), min(scores.values()), scale.full)


def _in_shares(lowest: float | None, scale: Scale) -> float | None:
    return None if lowest is None else round(lowest / scale.full, 6)


def _additive(scores: dict[tuple[str, ...], float], singles: dict[str, float], scale: Scale, lowest: float | None) -> bool:
    """Whether every set earns the sum of its members, within the item's bounds."""
    for subset, score in scores.items():
        total = sum(singles[ident] for ident in subset)
        held = min(scale.full, total if lowest is None else max(lowest, total))
        if subset and abs(score - held) > CLOSE * scale.full and abs(score - total) > CLOSE * scale.full:
            return False
    return True


def lowest_of(least: float, reached: float, full: float) -> float | None:
    """The bound that keeps a sum, which could come to `least`, at what it `reached`; None where nothing keeps it."""
    if least >= 0:
        return 0.0
    return None if abs(reached - least) <= CLOSE * full else min(reached, 0.0)


def choice_weights(scores: Sequence[float], nothing: float = 0.0) -> tuple[list[float], float]:
    """The weights (-1 to 1) of the choices of a blank by the scores of each pick, and what the best one earns more than no pick."""
    best = max([score - nothing for score in scores] + [0.0])
    return [max(-1.0, round((score - nothing) / best, 6)) if best else 0.0 for score in scores], best

"""Keys with several parts (blanks, pairs, places of an order): what is right in each, and whether each or only all of them earn."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import dataclass

from rogatum.core.formats.shared.keys.finding import lowest_of
from rogatum.core.formats.shared.keys.marker import CLOSE, Responses
from rogatum.core.items import Cloze, PartScoring
from rogatum.core.items.parts import weights_of_blank

Picks = Mapping[str, str]
# What conditions name stands first among the candidates, so that few steps are needed; an item of hundreds of parts ends here.
MOST_STEPS = 3000


@dataclass
class PartKey:
    """The best response found, part by part; `gains` is what each part adds; `whole` what all earn together."""

    picks: dict[str, str]
    whole: float
    gains: dict[str, float]
    scoring: PartScoring


@dataclass(frozen=True)
class Parts:
    """How parts make up a response. `candidates` are what may be right in each, the likeliest first."""

    candidates: Mapping[str, list[str]]
    assemble: Callable[[Picks], Responses]
    score: Callable[[Responses], float]

    def earned(self, picks: Picks) -> float:
        return self.score(self.assemble(picks))

    @staticmethod
    def without(picks: Picks, slot: str) -> dict[str, str]:
        return {other: value for other, value in picks.items() if other != slot}


def key_by_parts(parts: Parts) -> PartKey:
    """Finds the response that earns most: from the likeliest candidates, each part in turn is changed as long as that helps."""
    picks = {slot: options[0] for slot, options in parts.candidates.items() if options}
    whole, steps, better = parts.earned(picks), 0, True
    while better and steps < MOST_STEPS:
        better = False
        for slot, options in parts.candidates.items():
            for option in options:
                if option == picks[slot] or steps >= MOST_STEPS:
                    continue
                steps += 1
                earned = parts.earned({**picks, slot: option})
                if earned > whole + 1e-9:
                    picks, whole, better = {**picks, slot: option}, earned, True
    return _with_gains(parts, picks, whole)


def _with_gains(parts: Parts, picks: dict[str, str], whole: float) -> PartKey:
    nothing = parts.earned({})
    alone = {slot: parts.earned({slot: pick}) - nothing for slot, pick in picks.items()}
    close = CLOSE * max(whole, 1e-9)
    if len(picks) < 2 or abs(sum(alone.values()) - (whole - nothing)) <= close * len(picks):
        return PartKey(picks, whole, alone, "per_part")
    missed = {slot: whole - parts.earned(parts.without(picks, slot)) for slot in picks}
    together = max(alone.values()) <= close and all(gain >= whole - close for gain in missed.values())
    return PartKey(picks, whole, missed, "all_or_nothing" if together else "per_part")


def pair_shares(key: PartKey) -> list[float | None]:
    """The shares of pairs by what each earns; null for all where they earn the same, or only all together."""
    gains = list(key.gains.values())
    if key.scoring == "all_or_nothing" or min(gains, default=0.0) <= 0 or max(gains) - min(gains) <= CLOSE * max(gains):
        return [None] * len(gains)
    return list(shares(gains))


def scoring_of_order(order: list[str], score: Callable[[list[str]], float]) -> PartScoring:
    """Whether each place of an order earns its part: told from what the order with two entries in each other's place earns."""
    whole, swapped = score(order), score([*order[:-2], *order[-2:][::-1]])
    return "per_part" if len(order) > 2 and 0 < swapped < whole else "all_or_nothing"


def shares(gains: list[float]) -> list[float]:
    """The shares of blanks by what each earns; equal ones where none earns anything alone."""
    total = sum(gains)
    return [round(gain / total, 6) if total > 0 else round(1 / len(gains), 6) for gain in gains]


def lowest_of_blanks(item: Cloze, earned: Callable[[Picks], float], full: float) -> float | None:
    """The least share that an item's blanks come to, as its `lowest`: told from the response whose every part takes most off.

    `earned` is what picks (by the blanks' ids) earn in the source.
    """
    if item.scoring == "all_or_nothing" or full <= 0:
        return 0.0
    worst = {blank.id: min(weights_of_blank(blank), key=lambda pair: pair[1], default=("", 0.0)) for blank in item.blanks}
    taking = {blank_id: value for blank_id, (value, weight) in worst.items() if weight < 0}
    least = sum(blank.share * worst[blank.id][1] for blank in item.blanks if blank.id in taking)
    lowest = lowest_of(least * full, earned(taking), full) if taking else 0.0
    return None if lowest is None else round(lowest / full, 6)

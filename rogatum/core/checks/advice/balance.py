"""Advice over a bank: keys that crowd at one place, or come in runs, more than chance allows (guideline 20, vary the key's place).

The tests are exact. Of n items with k choices each, the number with the key at one place is binomial (n, 1/k) where places are
random; the chance told is for any of the k places, at either side. A run is judged by the exact chance of one so long anywhere.
"""

from __future__ import annotations

from collections import Counter, defaultdict
from collections.abc import Callable, Iterator, Sequence
from math import comb
from typing import Any, NamedTuple

from rogatum.core.finding import Finding
from rogatum.core.findings.advice import KEYS_RUN, KEYS_UNBALANCED, TRUTHS_UNBALANCED
from rogatum.core.items import ChoiceItem, Item, TrueFalse
from rogatum.core.items.by_type import ByType
from rogatum.core.items.parts import letter

RARE = 0.01
FEWEST = 10


class KeyPlace(NamedTuple):
    """Where the key of an item stands: the index among so many choices; of statements, true is 0 and false 1 of 2."""

    of: int
    at: int
    truth: bool


def key_place(item: Item) -> KeyPlace | None:
    """Where the key stands; None for other types, for several keys, and where the choices are shuffled."""
    return _PLACE.of(item)(item)


def _place_of_choice(item: ChoiceItem) -> KeyPlace | None:
    right = [n for n, choice in enumerate(item.choices) if choice.weight > 0.999]
    return KeyPlace(len(item.choices), right[0], False) if len(right) == 1 and not item.shuffle else None


def _place_of_truth(item: TrueFalse) -> KeyPlace | None:
    return None if item.answer is None else KeyPlace(2, 0 if item.answer else 1, True)


def _nowhere(_item: Item) -> None:
    return None


_PLACE: ByType[Callable[[Any], KeyPlace | None]] = ByType(
    "where the key stands among the choices",
    {
        "multiple_choice": _place_of_choice,
        "multiple_response": _nowhere,
        "true_false": _place_of_truth,
        "fill_in": _nowhere,
        "numeric": _nowhere,
        "cloze": _nowhere,
        "matching": _nowhere,
        "ordering": _nowhere,
        "essay": _nowhere,
        "information": _nowhere,
        "preserved": _nowhere,
    },
)


def advise_bank(places: Sequence[tuple[int, KeyPlace]]) -> list[Finding]:
    """Advice on the keys of a bank, given as (position, place) in order."""
    kinds: dict[tuple[int, bool], list[tuple[int, int]]] = defaultdict(list)
    for position, place in places:
        kinds[place.of, place.truth].append((position, place.at))
    found: list[Finding] = []
    for (choices, truth), keys in sorted(kinds.items()):
        if len(keys) >= FEWEST and choices > 1:
            found += [*_balance(choices, truth, keys), *_runs(choices, truth, keys)]
    return found


def _balance(choices: int, truth: bool, keys: list[tuple[int, int]]) -> Iterator[Finding]:
    counts = Counter(at for _, at in keys)
    # Of two places, one is as far from even as the other.
    chances = [(_off_by_chance(counts[at], len(keys), choices), at) for at in range(1 if choices == 2 else choices)]
    chance, at = min(chances)
    chance = min(1.0, chance * len(chances))
    if chance >= RARE:
        return
    values: dict[str, Any] = {"of": len(keys), "count": counts[at], "label": _label(at, truth), "chance": _words(chance)}
    yield TRUTHS_UNBALANCED.at("", **values) if truth else KEYS_UNBALANCED.at("", choices=choices, **values)


def _off_by_chance(count: int, of: int, choices: int) -> float:
    """How likely it is that a count is so far out, on its side of what is expected, and twice that for both sides."""
    side = range(count + 1) if count * choices < of else range(count, of + 1)
    tail = sum(comb(of, k) * (choices - 1) ** (of - k) for k in side) / choices**of
    return min(1.0, 2.0 * float(tail))


def _runs(choices: int, truth: bool, keys: list[tuple[int, int]]) -> Iterator[Finding]:
    length, start = _longest_run([at for _, at in keys])
    chance = run_by_chance(length, len(keys), choices)
    if chance < RARE:
        position, at = keys[start]
        yield KEYS_RUN.at("", count=length, label=_label(at, truth), first=position, chance=_words(chance))


def _longest_run(keys: Sequence[int]) -> tuple[int, int]:
    """The length of the longest run, and the index at which it starts."""
    best, start = (0, 0), 0
    for n, key in enumerate(keys):
        if key != keys[start]:
            start = n
        best = max(best, (n - start + 1, -start))
    return best[0], -best[1]


def run_by_chance(length: int, of: int, choices: int) -> float:
    """The exact chance that among so many random keys some run is at least so long."""
    if length <= 1:
        return 1.0
    # What is without such a run, by the length of the run at its end.
    ends = [0.0] * length
    ends[1 if length > 1 else 0] = 1.0
    for _ in range(of - 1):
        whole = sum(ends)
        ends = [0.0, whole * (choices - 1) / choices, *(part / choices for part in ends[1:-1])]
    return max(0.0, 1.0 - sum(ends))


def _label(at: int, truth: bool) -> str:
    return ("true", "false")[at] if truth else letter(at)


def _words(chance: float) -> str:
    return f"1 in {round(1 / chance):,}" if chance > 1e-6 else "less than 1 in a million"

"""The ways that a finding on an item can be repaired: the usual one of its kind, and others where the item allows several."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass

from rogatum.core.checks.repairs import ONLY, REPAIRS
from rogatum.core.findings.catalogue import CATALOGUE
from rogatum.core.findings.items import TYPE_UNSURE, WEIGHTS_SUM
from rogatum.core.findings.keys import NO_ANSWER, NO_KEY, TWO_KEYS
from rogatum.core.items import ChoiceItem, Item, MultipleChoice, parts
from rogatum.core.items.retyping import as_type


@dataclass(frozen=True)
class Way:
    """A repair by its name, what it does in words, and whether it makes sense for all items that have the finding."""

    name: str
    label: str
    for_all: bool = True


def ways_of(code: str, item: Item) -> list[Way]:
    """The ways to repair a finding of this code on an item, the usual one first; none where there is no repair."""
    found = _WAYS.get(code)
    ways = found(item) if found else []
    usual = CATALOGUE[code].repair if code in CATALOGUE else None
    if usual and all(way.name != usual for way in ways):
        ways = [_way(usual), *ways]
    return ways


def _way(name: str, label: str = "") -> Way:
    return Way(name, label or REPAIRS[name].label)


def _of_several_keys(item: Item) -> list[Way]:
    """Only one of them, each in turn; or all of them, as a multiple response."""
    right = [n for n, choice in enumerate(parts.choices(item)) if choice.weight > 0.999]
    only = [Way(f"{ONLY}{n + 1}", f"Only {parts.letter(n)}", for_all=False) for n in right]
    both = "Both" if len(right) == 2 else f"All {len(right)}"
    return [*only, _way("to-multiple-response", f"{both}: multiple response")]


def _of_no_key(item: Item) -> list[Way]:
    """Any choice may be it; a few are offered, for more there are the digits."""
    if not isinstance(item, ChoiceItem) or len(item.choices) > 6:
        return []
    only = [Way(f"{ONLY}{n + 1}", f"Only {parts.letter(n)}", for_all=False) for n in range(len(item.choices))]
    return [*only, _way("to-essay")]


def _of_no_answer(_item: Item) -> list[Way]:
    return [_way("to-essay"), _way("to-information")]


def _of_weights(item: Item) -> list[Way]:
    ways = [_way("even-weights")]
    return [*ways, _way("to-multiple-response")] if isinstance(item, MultipleChoice) else ways


def _of_unsure_type(item: Item) -> list[Way]:
    """The types that lose nothing of the item."""
    wanted = ("to-multiple-choice", "to-multiple-response", "to-numeric", "to-fill-in", "to-essay", "to-information")
    types = {name: REPAIRS[name].type for name in wanted}
    return [_way(name) for name, kind in types.items() if kind and kind != item.type and not as_type(item, kind).goes]


_WAYS: dict[str, Callable[[Item], list[Way]]] = {
    TWO_KEYS.code: _of_several_keys,
    NO_KEY.code: _of_no_key,
    NO_ANSWER.code: _of_no_answer,
    WEIGHTS_SUM.code: _of_weights,
    TYPE_UNSURE.code: _of_unsure_type,
}

"""What a careful person would query about a bank: its count, its points, items that stand twice."""

from __future__ import annotations

import re
from collections import Counter
from collections.abc import Iterator

from rogatum.core.checks.item import check_item
from rogatum.core.finding import Finding
from rogatum.core.findings.items import CHOICE_RUNS_ON, POINTS_MISSING, POINTS_ODD
from rogatum.core.findings.numbering import (
    COUNT_CAME_APART,
    COUNT_DIFFERS,
    COUNT_RAN_TOGETHER,
    ITEM_DOUBLED,
    ITEM_DOUBLED_KEY,
    NO_ITEMS,
    NUMBER_DOUBLE,
    NUMBER_GAP,
)
from rogatum.core.items import Bank, Essay, Item, parts
from rogatum.core.items.content import media_refs, plain_text
from rogatum.core.items.identity import identities

COMMON_SCALES = (1.0, 2.0)
MOST_SUSPECTS = 5
_NUMBER_WITHIN = re.compile(r"[.?:)]\s+\(?\d{1,3}[.)]\s+[A-Z]")
_CONTINUES = re.compile(r"^[a-zß-ÿ,;)]")


def check_bank(bank: Bank, expected: int | None = None) -> list[Finding]:
    """The findings of all items, and of the bank as a whole; `expected` is how many items it should be."""
    found: list[Finding] = []
    if expected is not None and expected != len(bank.items):
        found.append(COUNT_DIFFERS.at(bank.source.name, expected=expected, found=len(bank.items)))
    if not bank.items:
        found.append(NO_ITEMS.at(bank.source.name))
    for item in bank.items:
        found += check_item(item, _where(bank, item))
    found += [*_points(bank), *_doubled(bank)]
    if expected is not None and expected != len(bank.items):
        found += _suspects(bank, found, missing=expected > len(bank.items))
    return found


def _where(bank: Bank, item: Item) -> str:
    place = bank.places.get(item.id)
    return place.where if place else ""


def _points(bank: Bank) -> Iterator[Finding]:
    """Points that no item has, or that are the same odd number on all."""
    worth = [item for item in bank.items if parts.is_question(item)]
    values = Counter(item.points for item in worth)
    if len(values) != 1 or len(worth) < 2:
        missing = [item for item in worth if item.points is None]
        if len(worth) == 1 or (missing and len(missing) < len(worth)):
            yield from (POINTS_MISSING.at(_where(bank, item), item.id) for item in missing)
        return
    value = next(iter(values))
    if value is not None and value > 0 and value not in COMMON_SCALES:
        # What all share is one matter, with one repair for all.
        yield POINTS_ODD.at(bank.source.name, count=len(worth), points=f"{value:g}")


def _doubled(bank: Bank) -> Iterator[Finding]:
    """Items that ask the same with the same choices, in whatever order; where their keys differ, one of them is wrong."""
    known = identities(bank)
    first: dict[str, Item] = {}
    for item in bank.items:
        if not (plain_text(item.stem) or media_refs(item.stem)):
            continue
        before = first.setdefault(known[item.id].asked, item)
        if before is not item:
            kind = ITEM_DOUBLED if known[before.id].key == known[item.id].key else ITEM_DOUBLED_KEY
            yield kind.at(_where(bank, item), item.id, other=_where(bank, before) or before.id)


# Where the count differs: the places that are most likely to blame


def _suspects(bank: Bank, checked: list[Finding], missing: bool) -> list[Finding]:
    """The items at which two questions may have run together or one came apart, the likeliest first."""
    said = {finding.item: finding.code for finding in [*bank.findings, *checked] if finding.item}
    counts = Counter(len(parts.choices(item)) for item in bank.items if parts.choices(item))
    usual = counts.most_common(1)[0][0] if counts else 0
    weigh, kind = (_ran_together, COUNT_RAN_TOGETHER) if missing else (_came_apart, COUNT_CAME_APART)
    weighed = [(*weigh(item, said.get(item.id, ""), usual), item) for item in bank.items]
    likely = sorted((entry for entry in weighed if entry[0]), key=lambda entry: -entry[0])[:MOST_SUSPECTS]
    return [kind.at(_where(bank, item), item.id, why=why) for _, why, item in likely]


def _ran_together(item: Item, code: str, usual: int) -> tuple[int, str]:
    """How likely it is that an item holds two questions, and why."""
    choices = len(parts.choices(item))
    if usual and choices >= max(usual + 2, 1.5 * usual):
        return 4, f"it has {choices} choices, where most have {usual}"
    if any(_NUMBER_WITHIN.search(plain_text(content)) for content in (item.stem, *parts.options(item))):
        return 4, "a number stands within it as before a question"
    if code == CHOICE_RUNS_ON.code:
        return 3, "a choice runs on"
    if code == NUMBER_GAP.code:
        return 2, "the numbers before it have a gap"
    return (1, "its stem asks more than once") if plain_text(item.stem).count("?") > 1 else (0, "")


def _came_apart(item: Item, code: str, usual: int) -> tuple[int, str]:
    """How likely it is that an item is a part of the one before it, and why."""
    text = plain_text(item.stem)
    if code == NUMBER_DOUBLE.code:
        return 4, "its number stands twice"
    if usual and isinstance(item, Essay) and not item.sample_answer:
        return 3, "it has no choices and no answer"
    if _CONTINUES.match(text):
        return 3, "its stem begins as a sentence goes on"
    if 0 < len(parts.choices(item)) < usual:
        return 2, f"it has {len(parts.choices(item))} choices, where most have {usual}"
    return (1, "its stem is very short") if len(text.split()) < 3 else (0, "")

"""Versions of a paper test: the same items in orders of their own, with choices shuffled where that keeps their sense."""

from __future__ import annotations

import re
from itertools import groupby

from rogatum.core.items import Bank, Choice, Item, MultipleChoice, MultipleResponse
from rogatum.core.items.content import plain_text
from rogatum.core.quizzes.draws import shuffled
from rogatum.core.quizzes.worth import Stock

# A choice that speaks of the others stays where it is, and where it names their letters, so do all.
_OF_OTHERS = re.compile(r"^(?>.*?\b(?:all|none|both|neither|either|any)\b).*\b(?:above|these|those|others?)\b", re.I)
_OF_LETTERS = re.compile(r"^\W*(?:both\s+|only\s+|neither\s+)?[A-Ha-h]\s*(?:,|and|or|nor|&|\+)\s*(?:[A-Ha-h]\b|both\b)", re.I)


def version_name(number: int) -> str:
    """A, B, C and on, counted from 0."""
    return chr(ord("A") + number)


def version_of(bank: Bank, number: int) -> Bank:
    """The bank as a version of it; version 0 is the bank as it is.

    Items stay within their part of the quiz, or their pool, and those that share a passage stay together. The same bank and number
    give the same version.
    """
    if number == 0:
        return bank
    items: list[Item] = []
    for name, group in _groups(bank):
        items += _in_order(group, f"{version_name(number)}/{name}")
    return bank.model_copy(update={"items": [_with_choices_in_order(item, version_name(number)) for item in items]})


def _groups(bank: Bank) -> list[tuple[str, list[Item]]]:
    """Items that may change places with one another: those of a part of the quiz, else those of a pool."""
    if len(bank.quizzes) != 1:
        paths = bank.pool_paths()
        by_pool = groupby(bank.items, key=lambda item: paths.get(item.id, ()))
        return [("/".join(path), list(group)) for path, group in by_pool]
    stock, left = Stock(bank), {item.id: item for item in bank.items}
    groups = []
    for number, part in enumerate(bank.quizzes[0].parts):
        keys = [key for key in stock.given_by(part) if key in left]
        groups.append((f"part {number}", [left.pop(key) for key in keys]))
    return [*groups, ("", list(left.values()))]


def _in_order(items: list[Item], seed: str) -> list[Item]:
    """The items in an order that the seed decides; neighbours with one passage move as one."""
    runs: dict[str, list[Item]] = {}
    for item in items:
        last = next(reversed(runs.values()), [])
        if item.stimulus and last and last[-1].stimulus == item.stimulus:
            last.append(item)
        else:
            runs[item.id] = [item]
    return [item for first in shuffled(list(runs), seed) for item in runs[first]]


def _with_choices_in_order(item: Item, seed: str) -> Item:
    if not isinstance(item, MultipleChoice | MultipleResponse) or item.shuffle is False:
        return item
    texts = [plain_text(choice.content) for choice in item.choices]
    if any(map(_OF_LETTERS.search, texts)):
        return item
    fixed = {position for position, text in enumerate(texts) if _OF_OTHERS.search(text)}
    moving: dict[str, Choice] = {f"{n}": choice for n, choice in enumerate(item.choices) if n not in fixed}
    order = iter(shuffled(list(moving), f"{seed}/{item.id}"))
    choices = [choice if n in fixed else moving[next(order)] for n, choice in enumerate(item.choices)]
    return item.model_copy(update={"choices": choices})

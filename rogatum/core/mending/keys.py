"""Keys from a list that was pasted, read as lists of keys in documents are."""

from __future__ import annotations

import string
from collections.abc import Callable, Sequence
from typing import Any

from rogatum.core.documents.keys.entries import entries_of, number_name
from rogatum.core.documents.keys.values import labels_in, texts_of, truth_of
from rogatum.core.errors import NothingToMend
from rogatum.core.items import ChoiceItem, FillIn, Item, Numeric, TextAnswer, TrueFalse
from rogatum.core.items.by_type import ByType
from rogatum.core.items.content import comparable, escape
from rogatum.core.items.key import key_words, set_key
from rogatum.core.items.retyping import as_type
from rogatum.core.items.typed_numbers import number_of
from rogatum.core.mending.numbers import Made, Subject, by_number, told_missing
from rogatum.core.mending.wishes import KeysFromList

_LETTERS = string.ascii_lowercase


def from_list(wish: KeysFromList, subjects: Sequence[Subject], unmet: list[str]) -> Callable[[Subject], Made | None]:
    known = by_number(subjects)
    keys = _entries(wish.text)
    told_missing(list(keys), known, unmet)
    said = {known[number].position: key for number, key in keys.items() if number in known}

    def step(subject: Subject) -> Made | None:
        key = said.get(subject.position)
        if key is None:
            return None
        item = _KEYED.of(subject.item)(subject.item, key)
        if item is None:
            unmet.append(f"Item {subject.position}: “{key[:40]}” is no key of it.")
            return None
        return item, key_words(subject.item) or "no key", key_words(item)

    return step


def _entries(text: str) -> dict[int, str]:
    """The keys of a list by number. Raises NothingToMend where there are none, or where one number stands with two keys."""
    lines = [line for line in text.splitlines() if line.strip()]
    found: dict[int, str] = {}
    for line in lines:
        for number, key in entries_of(line):
            name = number_name(number)
            if not name.isdigit():
                continue
            if found.get(int(name), key) != key:
                raise NothingToMend(f"Number {name} stands with two keys: {found[int(name)]} and {key}.", "Leave one of them.")
            found[int(name)] = key
    if not found:
        raise NothingToMend("No keys were found in this.", "Write a number and its key, as in “1 C 2 A” or one a line.")
    return found


def _picked(item: ChoiceItem, key: str) -> Item | None:
    labels = dict(zip(_LETTERS, item.choices, strict=False))
    named = [labels[label].id for label in labels_in(key, frozenset(labels))]
    named = named or [choice.id for choice in item.choices if comparable(choice.content).casefold() == key.casefold()]
    if not named:
        return None
    if len(named) > 1 and item.type == "multiple_choice":
        item = as_type(item, "multiple_response").item  # type: ignore[assignment]
    return set_key(item, named)


def _stated(item: TrueFalse, key: str) -> Item | None:
    truth = truth_of(key, any_word=True)
    return None if truth is None else set_key(item, ["true" if truth else "false"])


def _written(item: FillIn, key: str) -> Item:
    return item.model_copy(update={"answers": [TextAnswer(text=text) for text in texts_of(key)]})


def _counted(item: Numeric, key: str) -> Item | None:
    number = number_of(key)
    return None if number is None else item.model_copy(update={"answers": [number.answer], "unit": number.unit or item.unit})


def _ordered(item: Any, key: str) -> Item | None:
    labels = _LETTERS[: len(item.sequence)]
    named = labels_in(key, frozenset(labels))
    whole = sorted(named) == list(labels)
    return set_key(item, [str(labels.index(label)) for label in named]) if whole else None


def _none(_item: Item, _key: str) -> None:
    return None


_KEYED: ByType[Callable[[Any, str], Item | None]] = ByType(
    "the item with a key from a list",
    {
        "multiple_choice": _picked,
        "multiple_response": _picked,
        "true_false": _stated,
        "fill_in": _written,
        "numeric": _counted,
        "cloze": _none,
        "matching": _none,
        "ordering": _ordered,
        "essay": lambda item, key: item.model_copy(update={"sample_answer": escape(key)}),
        "information": _none,
        "preserved": _none,
    },
)

"""An item as the rules of advice see it: its words, its choices as texts, which of them are right."""

from __future__ import annotations

import re
from dataclasses import dataclass
from functools import cached_property

from rogatum.core.items import Item, MultipleChoice, MultipleResponse, parts
from rogatum.core.items.content import MATH, plain_text

_WORD = re.compile(r"[A-Za-zÀ-ÿ]+(?:['’][A-Za-z]+)?")
_SENTENCE = re.compile(r"[^.!?]{1,2000}[.!?]*")
_ENGLISH = frozenset(
    "the of and which what is are in that for does do how by with from this these when where why following on an as be it can not "
    "or has have was were would best most one each if at its into than between during there called known type".split()
)
_SHOWN = re.compile(r"<(?:img|table|video|audio)\b")


@dataclass(frozen=True)
class Seen:
    """An item with its texts; `passage` is the content of what it shares with others."""

    item: Item
    passage: str = ""

    @cached_property
    def stem(self) -> str:
        return plain_text(self.item.stem)

    @cached_property
    def words(self) -> list[str]:
        return [word.lower() for word in _WORD.findall(self.stem)]

    @cached_property
    def choices(self) -> list[str]:
        return [plain_text(choice.content) for choice in parts.choices(self.item)]

    @cached_property
    def right(self) -> list[int]:
        """The indices of the choices that are the key."""
        return [n for n, choice in enumerate(parts.choices(self.item)) if choice.weight > 0.999]

    @cached_property
    def key(self) -> int | None:
        """The index of the one right choice of a multiple choice."""
        return self.right[0] if isinstance(self.item, MultipleChoice) and len(self.right) == 1 else None

    @cached_property
    def wrong(self) -> list[int]:
        return [n for n, choice in enumerate(parts.choices(self.item)) if choice.weight <= 0]

    @cached_property
    def is_english(self) -> bool:
        """Whether enough of its words are such as every English question has."""
        words = [*self.words, *(word.lower() for choice in self.choices for word in _WORD.findall(choice))]
        known = sum(word in _ENGLISH for word in words)
        return known >= 2 and known >= 0.12 * len(words)

    @cached_property
    def is_picked(self) -> bool:
        return isinstance(self.item, MultipleChoice | MultipleResponse)

    @cached_property
    def asks(self) -> str:
        """The last sentence of the stem, which is the one that asks."""
        found = [match[0].strip() for match in _SENTENCE.finditer(self.stem) if match[0].strip(" .!?")]
        return found[-1] if found else ""

    @cached_property
    def shows(self) -> bool:
        """Whether there is a picture, a table or a sound to look at."""
        return any(_SHOWN.search(content) for content in (self.item.stem, self.passage, *parts.options(self.item)))

    @cached_property
    def has_formulas(self) -> bool:
        return any(MATH.search(content) for content in parts.options(self.item))


def words_of(text: str) -> list[str]:
    return [word.lower() for word in _WORD.findall(text)]


def has_english(text: str) -> bool:
    """Whether any of its words is one of English questions."""
    return any(word in _ENGLISH for word in words_of(text))

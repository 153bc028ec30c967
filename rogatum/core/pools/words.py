"""What sorting and splitting see of an item: its words, cut to their stems, and what its metadata says."""

from __future__ import annotations

import re
from collections.abc import Iterable
from dataclasses import dataclass
from functools import cache
from typing import Any

from rogatum.core.items import Item, parts
from rogatum.core.items.content import MATH, plain_text
from rogatum.core.pools.learning import common_words, vectors

# A word is told by its first letters: “weathering” and “weathered” are one.
STEM = 6
_WORD = re.compile(r"[^\W\d_]{3,40}")
_CODE = re.compile(r"(\w{1,12})\.\w{1,12}(?:\W|$)")
# The labels of metadata that speak of what an item is about.
_TELLING = ("outcome", "topic", "level")
_OF_TESTS = frozenset(
    word[:STEM] for word in "follow correct answer statement true false best describe choose option question".split()
)


@cache
def _common() -> frozenset[str]:
    return _OF_TESTS | {word[:STEM] for word in common_words()}


@dataclass(frozen=True)
class Wording:
    """An item as words: its text, its metadata as (label, value), and texts that are known of these and do not stand in it."""

    text: str
    said: tuple[tuple[str, str], ...] = ()
    behind: str = ""


def wording_of(item: Item) -> Wording:
    """The words of an item's title, stem and options, and what its metadata says of its subject."""
    contents = [item.title, item.stem, *parts.options(item)]
    said = [(label, part) for label in _TELLING for value in item.metadata.get(label, []) for part in _parts(value)]
    return Wording(" ".join(plain_text(_without_formulas(content)) for content in contents), tuple(said))


def _parts(value: str) -> list[str]:
    """A value, and where it is a code with parts the one above it: 2.1 lies in 2."""
    above = _CODE.match(value)
    return [value, above[1]] if above else [value]


def _without_formulas(content: str) -> str:
    """The letters of a formula are no words."""
    return MATH.sub(" ", content) if "<math" in content else content


def _tokens(wording: Wording) -> list[str]:
    return [*_own(wording), *_stems(wording.behind)]


def _own(wording: Wording) -> list[str]:
    return [*_stems(wording.text), *(f"{label} {value}" for label, value in wording.said)]


def is_said(word: str) -> bool:
    """Whether a word, as it is shown, is what metadata says and stands in no text."""
    return " " in word


def _stems(text: str) -> list[str]:
    stems = [word[:STEM] for word in _WORD.findall(text.lower())]
    return [stem for stem in stems if stem not in _common()]


class Words:
    """The words of many items as vectors (TF-IDF), and how each word is written most simply."""

    def __init__(self, wordings: Iterable[Wording]) -> None:
        wordings = list(wordings)
        self._made = vectors(_tokens)
        self.matrix: Any = self._made.fit_transform([*wordings, Wording("none", (("none", "none"),))])[:-1]
        self.names: list[str] = list(self._made.get_feature_names_out())
        self._written: dict[str, str] = {}
        for wording in wordings:
            for word in _WORD.findall(f"{wording.text} {wording.behind}".lower()):
                known = self._written.get(word[:STEM])
                if known is None or len(word) < len(known):
                    self._written[word[:STEM]] = word

    def of(self, wordings: Iterable[Wording]) -> Any:
        """Other texts as vectors of the same words."""
        return self._made.transform(list(wordings))

    def stand_in(self, wording: Wording) -> frozenset[int]:
        """The columns of the words that stand in a text itself."""
        own = set(_own(wording))
        return frozenset(column for name, column in self._made.vocabulary_.items() if name in own)

    def shown(self, column: int) -> str:
        """A word as it is written in the items; what metadata says, as it stands."""
        name = self.names[column]
        return self._written.get(name, name)

"""Exact and near duplicates: equal content by digest, like content by shingles first and by likeness then."""

from __future__ import annotations

import hashlib
import re
from collections import Counter, defaultdict
from collections.abc import Iterable
from dataclasses import dataclass

from rapidfuzz import fuzz

from rogatum.core.items import Item
from rogatum.core.items import parts as parts
from rogatum.core.items.content import comparable

SHINGLE = 4
NEAR = 88.0
_WORD = re.compile(r"\w+")
# A shingle that this many items have says nothing about any two of them.
COMMON = 60


def text_of(item: Item) -> str:
    """What makes an item that item: stem and options, without case, punctuation and order of choices."""
    words = _WORD.findall(comparable(item.stem).casefold())
    options = sorted(" ".join(_WORD.findall(comparable(option).casefold())) for option in parts.options(item))
    return " ".join(words) + " | " + " | ".join(options)


def digest(item: Item) -> str:
    """Equal for items that ask the same thing with the same choices, whatever their order."""
    return hashlib.sha256(text_of(item).encode()).hexdigest()[:32]


@dataclass(frozen=True)
class Likeness:
    """A known item that is like another: `percent` is 100 for an exact duplicate."""

    key: str
    percent: float


class DuplicateIndex:
    """Known items by digest and by shingles of their text; keys are the caller's."""

    def __init__(self, known: Iterable[tuple[str, str]] = ()) -> None:
        self._texts: dict[str, str] = {}
        self._by_shingle: dict[str, list[str]] = defaultdict(list)
        for key, text in known:
            self.add(key, text)

    def add(self, key: str, text: str) -> None:
        self._texts[key] = text
        for shingle in _shingles(text):
            self._by_shingle[shingle].append(key)

    def near(self, text: str, threshold: float = NEAR) -> Likeness | None:
        """The most alike known item at or above the threshold (per cent), or None."""
        votes: Counter[str] = Counter()
        shingles = _shingles(text)
        for shingle in shingles:
            keys = self._by_shingle.get(shingle, ())
            if len(keys) <= COMMON:
                votes.update(keys)
        best: Likeness | None = None
        for key, count in votes.most_common(8):
            if count < len(shingles) * 0.2:
                break
            percent = float(fuzz.ratio(text, self._texts[key]))
            if percent >= threshold and (best is None or percent > best.percent):
                best = Likeness(key, round(percent, 1))
        return best


def _shingles(text: str) -> set[str]:
    words = text.split()
    if len(words) < SHINGLE:
        return {text}
    return {" ".join(words[i : i + SHINGLE]) for i in range(len(words) - SHINGLE + 1)}

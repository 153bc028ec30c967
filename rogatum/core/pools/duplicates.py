"""Near duplicates among many items: found by shingles first and by likeness then."""

from __future__ import annotations

from collections import Counter, defaultdict
from collections.abc import Iterable
from dataclasses import dataclass

from rogatum.core.items.identity import likeness

SHINGLE = 4
NEAR = 88.0
# A shingle that this many items have says nothing about any two of them.
COMMON = 60


@dataclass(frozen=True)
class Likeness:
    """A known item that is like another: `percent` is 100 for an exact duplicate."""

    key: str
    percent: float


class DuplicateIndex:
    """Known items by shingles of their words (`identity.words_of`); keys are the caller's."""

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
            percent = likeness(text, self._texts[key])
            if percent >= threshold and (best is None or percent > best.percent):
                best = Likeness(key, round(percent, 1))
        return best


def _shingles(text: str) -> set[str]:
    words = text.split()
    if len(words) < SHINGLE:
        return {text}
    return {" ".join(words[i : i + SHINGLE]) for i in range(len(words) - SHINGLE + 1)}

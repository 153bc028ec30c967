"""Suggestions for sorting: to which of the pools at hand an item belongs, learned from what lies in them and from their names.

TF-IDF of the items' words and a linear classifier (naive Bayes by complements: it takes pools of very different size as they are,
and is learned anew in milliseconds).
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from typing import Any

import numpy as np
from scipy.sparse import vstack

from rogatum.core.pools.learning import classifier
from rogatum.core.pools.words import Wording, Words

SMOOTHING = 0.3
# A name is a few words that say much: it counts as so many items.
WEIGHT_OF_NAME = 2.0
MOST_REASONS = 4


@dataclass(frozen=True)
class Suggestion:
    """A pool with its share of belief (0 to 1; those of all pools sum to 1), and the words that speak for it most."""

    pool: int
    share: float
    words: tuple[str, ...]


class Sorter:
    """Items as vectors, made once; what is learned of where they lie is learned anew at each step.

    `wordings` are the items by their keys, those to be sorted and those that lie in the pools already.
    """

    def __init__(self, wordings: Mapping[int, Wording]) -> None:
        self._row = {key: row for row, key in enumerate(wordings)}
        self._wordings = dict(wordings)
        self._words = Words(wordings.values())

    def knows(self, key: int) -> bool:
        return key in self._row

    def suggest(self, item: int, lying: Mapping[int, int], names: Mapping[int, Wording]) -> list[Suggestion]:
        """The pools for an item, the likeliest first; none where fewer than two pools are at hand or nothing speaks for any.

        `lying` is the pool of each item that lies in one of the pools at hand, `names` what each of these is called, with what
        is known of its outcomes.
        """
        pools = sorted(names)
        if len(pools) < 2 or item not in self._row:
            return []
        vector = self._words.matrix[self._row[item]]
        model = self._learned(lying, names, pools)
        if model is None or not vector.nnz:
            return []
        shares = model.predict_proba(vector)[0]
        own = self._words.stand_in(self._wordings[item])
        found = [
            Suggestion(int(pool), float(share), self._reasons(model, place, vector, own))
            for place, (pool, share) in enumerate(zip(model.classes_, shares, strict=True))
        ]
        found.sort(key=lambda suggestion: -suggestion.share)
        return found if found[0].words else []

    def _learned(self, lying: Mapping[int, int], names: Mapping[int, Wording], pools: Sequence[int]) -> Any:
        known = [(self._row[key], pool) for key, pool in lying.items() if key in self._row and pool in names]
        called = self._words.of([names[pool] for pool in pools])
        told = vstack([self._words.matrix[[row for row, _ in known]], called]) if known else called
        if not told.nnz:
            return None
        labels = [*(pool for _, pool in known), *pools]
        weights = [1.0] * len(known) + [WEIGHT_OF_NAME] * len(pools)
        return classifier(SMOOTHING).fit(told, np.array(labels), sample_weight=np.array(weights))

    def _reasons(self, model: Any, place: int, vector: Any, own: frozenset[int]) -> tuple[str, ...]:
        """The words that speak for a pool more than for the others on average; those that stand behind an outcome say so."""
        columns = vector.indices
        gains = model.feature_log_prob_[:, columns]
        speaks = (gains[place] - gains.mean(axis=0)) * vector.data
        best = [k for k in np.argsort(-speaks)[:MOST_REASONS] if speaks[k] > 1e-9]
        shown = ((int(columns[k]), self._words.shown(int(columns[k]))) for k in best)
        return tuple(word if column in own else f"{word} (its outcome)" for column, word in shown)

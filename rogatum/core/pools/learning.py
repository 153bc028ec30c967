"""The one place that knows the library for learning. It is loaded when it is first needed: it takes a second and much memory."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from functools import cache
from typing import Any

# ruff: noqa: PLC0415


@cache
def common_words() -> frozenset[str]:
    """Words of English that say nothing of a subject."""
    from sklearn.feature_extraction.text import ENGLISH_STOP_WORDS

    return frozenset(ENGLISH_STOP_WORDS)


def vectors(tokens: Callable[[Any], Sequence[str]]) -> Any:
    """Texts as vectors of their tokens (TF-IDF)."""
    from sklearn.feature_extraction.text import TfidfVectorizer

    return TfidfVectorizer(analyzer=tokens, sublinear_tf=True)


def classifier(smoothing: float) -> Any:
    """Naive Bayes by complements: it takes classes of very different size as they are, and is learned in milliseconds."""
    from sklearn.naive_bayes import ComplementNB

    return ComplementNB(alpha=smoothing)


def reduced(matrix: Any, width: int) -> Any:
    """Vectors along the directions in which they differ most, each of length one."""
    from sklearn.decomposition import TruncatedSVD
    from sklearn.preprocessing import normalize

    return normalize(TruncatedSVD(width, random_state=0).fit_transform(matrix))


def clusters(count: int) -> Any:
    """So many groups of vectors that are near each other; the same ones each time."""
    from sklearn.cluster import KMeans

    return KMeans(count, n_init=6, random_state=0)


def fit_of(vectors_: Any, labels: Any, most: int) -> float:
    """How well vectors fit their groups, from −1 to 1, measured on so many of them."""
    from sklearn.metrics import silhouette_score

    return float(silhouette_score(vectors_, labels, sample_size=min(len(vectors_), most), random_state=0))

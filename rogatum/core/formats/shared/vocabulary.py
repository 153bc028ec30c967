"""Labels of metadata as people and standards write them, and the labels of our model that they mean."""

from __future__ import annotations

import re

from rogatum.core.items import metadata

POINTS = "points"
TYPE = "type"
_LABELS: dict[str, tuple[str, ...]] = {
    POINTS: (
        "points",
        "point",
        "point value",
        "points possible",
        "max points",
        "maximum points",
        "marks",
        "mark",
        "weighting",
        "maximumscore",
        "maximum score",
        "max score",
        "cc weighting",
    ),
    TYPE: ("type", "item type", "itemtype", "question type", "cc profile"),
}
_BY_LABEL = {word: meaning for meaning, words in _LABELS.items() for word in words}
_METADATA = {word: label.name for label in metadata.LABELS for word in label.words}
_BY_LABEL |= _METADATA


def meaning_of(label: str) -> str:
    """The model's label for a source's label; an unknown label is its own meaning."""
    folded = re.sub(r"[\s_]+", " ", label.strip().lower().removeprefix("qmd_")).rstrip(" :")
    known = _BY_LABEL.get(folded) or _within(folded)
    return known or (label.strip().lower() if folded == label.strip().lower() else label.strip())


# What stands behind a label that we know, and says no more than it does.
_BEHIND = frozenset({"level", "number", "rating", "code", "name", "reference", "ref", "value"})


def _within(folded: str) -> str | None:
    """The label of the model that a longer one ends with ("textbook page") or begins with ("difficulty rating"); never points."""
    words = folded.split()
    ends = [" ".join(words[start:]) for start in range(1, len(words))]
    begins = [" ".join(words[:-1])] if len(words) > 1 and words[-1] in _BEHIND else []
    return next((_METADATA[part] for part in (*ends, *begins) if part in _METADATA), None)


def number_in(text: str) -> float | None:
    """The number that a metadata entry states: "2", "2.5", "2 points"."""
    match = re.match(r"\s*+(\d++(?:[.,]\d++)?)\s*+(?:points?|pts?\.?|marks?)?\s*+$", text, re.I)
    return float(match[1].replace(",", ".")) if match else None

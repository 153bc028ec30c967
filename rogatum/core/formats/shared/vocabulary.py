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
_BY_LABEL |= {word: label.name for label in metadata.LABELS for word in label.words}


def meaning_of(label: str) -> str:
    """The model's label for a source's label; an unknown label is its own meaning."""
    folded = re.sub(r"[\s_]+", " ", label.strip().lower().removeprefix("qmd_")).rstrip(" :")
    return _BY_LABEL.get(folded, label.strip().lower() if folded == label.strip().lower() else label.strip())


def number_in(text: str) -> float | None:
    """The number that a metadata entry states: "2", "2.5", "2 points"."""
    match = re.match(r"\s*+(\d++(?:[.,]\d++)?)\s*+(?:points?|pts?\.?|marks?)?\s*+$", text, re.I)
    return float(match[1].replace(",", ".")) if match else None

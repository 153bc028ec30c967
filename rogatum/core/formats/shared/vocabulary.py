"""Labels of metadata as people and standards write them, and the labels of our model that they mean."""

from __future__ import annotations

import re

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
    "difficulty": ("difficulty", "level of difficulty", "levelofdifficulty", "difficulty level"),
    "outcome": (
        "outcome",
        "outcomes",
        "learning outcome",
        "learning outcomes",
        "learning objective",
        "learning objectives",
        "objective",
        "objectives",
        "standard",
        "standards",
    ),
    "page": ("page", "pages", "page number", "page reference", "page ref"),
    "topic": ("topic", "topics", "subject"),
    "level": (
        "bloom",
        "blooms",
        "bloom's",
        "bloom's taxonomy",
        "taxonomy",
        "cognitive level",
        "level of thinking",
        "thinking level",
    ),
}
_BY_LABEL = {label: meaning for meaning, labels in _LABELS.items() for label in labels}


def meaning_of(label: str) -> str:
    """The model's label for a source's label; an unknown label is its own meaning."""
    folded = re.sub(r"[\s_]+", " ", label.strip().lower().removeprefix("qmd_")).rstrip(" :")
    return _BY_LABEL.get(folded, label.strip().lower() if folded == label.strip().lower() else label.strip())


def number_in(text: str) -> float | None:
    """The number that a metadata entry states: "2", "2.5", "2 points"."""
    match = re.match(r"\s*+(\d++(?:[.,]\d++)?)\s*+(?:points?|pts?\.?|marks?)?\s*+$", text, re.I)
    return float(match[1].replace(",", ".")) if match else None

"""The labels of metadata that the model knows: what they are called, and how sources write them. Any other label keeps its name."""

from __future__ import annotations

from dataclasses import dataclass


@dataclass(frozen=True)
class MetadataLabel:
    """`words` are ways to write it anywhere; `short` are those that mean it only as the heading of a column."""

    name: str
    shown: str
    words: tuple[str, ...]
    short: tuple[str, ...] = ()


LABELS: tuple[MetadataLabel, ...] = (
    MetadataLabel("difficulty", "Difficulty", ("difficulty", "level of difficulty", "levelofdifficulty", "difficulty level")),
    MetadataLabel("page", "Page", ("page", "pages", "page number", "page reference", "page ref"), ("ref", "reference")),
    MetadataLabel(
        "outcome",
        "Outcome",
        (
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
        ("lo",),
    ),
    MetadataLabel("topic", "Topic", ("topic", "topics", "subject"), ("theme",)),
    MetadataLabel(
        "level",
        "Level of thinking",
        (
            "bloom",
            "blooms",
            "bloom's",
            "bloom's taxonomy",
            "taxonomy",
            "cognitive level",
            "level of thinking",
            "thinking level",
        ),
        ("bloom's level",),
    ),
    MetadataLabel("tag", "Tags", (), ("tags", "tag", "keywords", "labels")),
    MetadataLabel("hint", "Hint", (), ("hint",)),
)
NAMES: tuple[str, ...] = tuple(label.name for label in LABELS)
# As documents and sheets name them; tags are no line of a document.
SHOWN: dict[str, str] = {label.name: label.shown for label in LABELS if label.name != "tag"}
# Said of an item that cannot be answered on a screen: label and value.
ON_PAPER = ("answered on", "paper")

"""How long an item takes: reading its words, looking at its figures, and answering as its type wants (docs/guide.md, “Time”).

It is a rule of thumb for planning a sitting, and told as one.
"""

from __future__ import annotations

import re
from dataclasses import dataclass

from rogatum.core.items import Item
from rogatum.core.items.content import MATH, media_refs, plain_text
from rogatum.core.items.parts import TRAITS, offered

# Words a minute of a text that one is asked about.
READING_PACE = 150
SECONDS_A_FIGURE, SECONDS_A_TABLE, SECONDS_A_FORMULA = 15, 20, 8
_TABLE = re.compile(r"<table\b")


@dataclass(frozen=True)
class Load:
    """What there is to read: words, pictures, tables, formulas."""

    words: int = 0
    figures: int = 0
    tables: int = 0
    formulas: int = 0

    @property
    def seconds(self) -> float:
        looking = self.figures * SECONDS_A_FIGURE + self.tables * SECONDS_A_TABLE + self.formulas * SECONDS_A_FORMULA
        return self.words / READING_PACE * 60 + looking


def load_of(*contents: str) -> Load:
    """What there is to read in rich content."""
    marked = [content for content in contents if "<" in content]
    return Load(
        words=sum(len(plain_text(content).split()) for content in contents),
        figures=sum(len(media_refs(content)) for content in marked),
        tables=sum(len(_TABLE.findall(content)) for content in marked),
        formulas=sum(len(MATH.findall(content)) for content in marked),
    )


def load_of_item(item: Item) -> Load:
    """What a student reads of an item, without its passage, which others may share."""
    shown = offered(item)
    beside = [*shown.options, *shown.lefts, *(option for options in shown.blanks.values() for option in options)]
    return load_of(item.stem, *(content for _, content in beside))


def seconds_of(item: Item) -> float:
    """Seconds for an item without its passage."""
    traits, shown = TRAITS.of(item), offered(item)
    count = len(shown.lefts or shown.blanks or shown.options) if traits.each else 0
    return round(load_of_item(item).seconds + traits.seconds + traits.each * count, 1)

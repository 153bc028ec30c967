"""Holds an item that was read against the marking of its source, and keeps the original where the two differ."""

from __future__ import annotations

from collections.abc import Callable

from rogatum.core.findings.keys import MARKING_APPROXIMATED
from rogatum.core.formats.shared.base import BankBuilder
from rogatum.core.formats.shared.keys import Prober, SourceMarking, differences, in_words
from rogatum.core.items import Item


def prove(
    item: Item, source: SourceMarking, prober: Prober, builder: BankBuilder, original: Callable[[], str], original_format: str
) -> None:
    """Runs the item's probes through the source's processing; where they mark otherwise, it says so and keeps its original."""
    found = differences(item, source)
    if found:
        builder.markings[item.id] = source.share
        prober.note(MARKING_APPROXIMATED, detail=in_words(found))
        item.original, item.original_format = original(), original_format

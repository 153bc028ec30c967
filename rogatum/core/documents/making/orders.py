"""Orders: entries with their places written before or behind them, or a key that names them all in turn."""

from __future__ import annotations

import re

from rogatum.core import spaces
from rogatum.core.documents import patterns as p
from rogatum.core.documents.keys.values import compared
from rogatum.core.documents.line_content import content_of
from rogatum.core.documents.making.case import Case
from rogatum.core.items import Item, Ordering
from rogatum.core.items.content import plain_text

FEWEST = 3
_STEPS = re.compile(spaces.BEFORE + r"(?:→|⇒|->|=>|>|;|,\s*+then\b|,)\s*+(?:then\s++)?")


def by_places(case: Case) -> Item | None:
    """Entries of which each has its place on a blank or in brackets."""
    choices = case.draft.choices
    places = [lines[0].fill for lines in choices]
    if len(choices) < FEWEST or not all(place.isdigit() for place in places):
        return None
    if sorted(map(int, places)) != list(range(1, len(places) + 1)):
        return None
    ordered = sorted(choices, key=lambda lines: int(lines[0].fill))
    return Ordering(id=case.id, stem=case.stem, sequence=[case.content(content_of(lines)) for lines in ordered])


def by_key(case: Case, stated: bool = False) -> Item | None:
    """Entries that the key names all, in the order that is right."""
    labels = case.labels
    if len(labels) < (2 if stated else FEWEST) or len(set(labels)) != len(labels):
        return None
    order = _order(case)
    asked = stated or case.asks("ordering") or bool(p.ORDER_CUE.search(case.text))
    if sorted(order) != sorted(labels):
        unkeyed = (
            asked and not case.draft.keys and not any(lines[0].marked for lines in case.draft.choices) and case.asks("ordering")
        )
        return Ordering(id=case.id, stem=case.stem) if unkeyed and len(labels) >= FEWEST else None
    if order == sorted(order) and not asked:
        return None
    texts = {lines[0].label: case.content(content_of(lines)) for lines in case.draft.choices}
    return Ordering(id=case.id, stem=case.stem, sequence=[texts[label] for label in order])


def _order(case: Case) -> list[str]:
    if not case.key:
        return []
    named = case.named(case.key)
    if len(named) == len(case.labels):
        return named
    parts = [compared(part) for part in _STEPS.split(case.key)]
    if len(parts) != len(case.labels):
        return []
    texts = {compared(plain_text(case.content(content_of(lines)))): lines[0].label for lines in case.draft.choices}
    return [texts[part] for part in parts] if all(part in texts for part in parts) else []

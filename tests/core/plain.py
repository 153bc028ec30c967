"""What tests of reading say about items: their keys as plain values."""

from __future__ import annotations

import pytest


def key_of(item):
    """The key as plain values, by type."""
    if item.type == "true_false":
        return item.answer
    if item.type == "matching":
        return [f"{pair.left}={pair.right}" for pair in item.pairs]
    if item.type == "numeric":
        return [pytest.approx(answer.bounds()) for answer in item.answers]
    if item.type == "fill_in":
        return [answer.text for answer in item.answers]
    if item.type == "ordering":
        return list(item.sequence)
    if item.type == "cloze":
        return [_key_of_blank(blank) for blank in item.blanks]
    return [choice.content for choice in item.choices if choice.weight > 0] if item.type.startswith("multiple") else None


def _key_of_blank(blank):
    if blank.kind == "choice":
        return [choice.content for choice in blank.choices if choice.weight > 0]
    if blank.kind == "numeric":
        return [pytest.approx(answer.bounds()) for answer in blank.answers]
    return [answer.text for answer in blank.answers]

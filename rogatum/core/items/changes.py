"""Changes of an item as a whole: its content, its type. Each returns a new item; what does not fit a type leaves it as it is."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

from rogatum.core.items.key import even_weights
from rogatum.core.items.model import Essay, Item, ItemBase, MultipleChoice, MultipleResponse
from rogatum.core.items.walking import with_content


def map_content(item: Item, change: Callable[[str], str]) -> Item:
    """The item with every content field changed, and nothing that is not content."""
    changed: Item = with_content(item, change)
    return changed


def common_fields(item: Item) -> dict[str, Any]:
    """The fields that all types share."""
    return {name: getattr(item, name) for name in ItemBase.model_fields}


def as_essay(item: Item) -> Item:
    return Essay(**common_fields(item))


def as_multiple_response(item: Item) -> Item:
    if not isinstance(item, MultipleChoice):
        return item
    return even_weights(MultipleResponse(**common_fields(item), choices=item.choices, shuffle=item.shuffle))

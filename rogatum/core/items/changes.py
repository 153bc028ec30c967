"""Changes of an item as a whole: its content. Each returns a new item; what does not fit a type leaves it as it is."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

from rogatum.core.items.model import Item, ItemBase
from rogatum.core.items.walking import with_content


def map_content(item: Item, change: Callable[[str], str]) -> Item:
    """The item with every content field changed, and nothing that is not content."""
    changed: Item = with_content(item, change)
    return changed


def common_fields(item: Item) -> dict[str, Any]:
    """The fields that all types share."""
    return {name: getattr(item, name) for name in ItemBase.model_fields}

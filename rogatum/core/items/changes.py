"""Changing all content of an item at once, and nothing that is not content."""

from __future__ import annotations

from collections.abc import Callable

from rogatum.core.items import Item

# Fields that hold identifiers, words of the model or plain text, at any depth.
NOT_CONTENT = frozenset("id type kind match text unit reason scoring title metadata stimulus original original_format".split())


def map_content(item: Item, change: Callable[[str], str]) -> Item:
    """The item with every content field changed."""

    def walk(value: object) -> object:
        if isinstance(value, str):
            return change(value)
        if isinstance(value, list):
            return [walk(part) for part in value]
        if isinstance(value, dict):
            return {key: part if key in NOT_CONTENT else walk(part) for key, part in value.items()}
        return value

    return type(item).model_validate(walk(item.model_dump()))

"""Between rows and the core's items."""

from __future__ import annotations

from typing import Any

from rogatum.core.items import Item as CoreItem
from rogatum.core.items import item_from
from rogatum.core.items.content import plain_text
from rogatum.core.items.identity import identity_of
from rogatum.web.pools.models import Item


def core_item(row: Item) -> CoreItem:
    """The core's item of a row, with the row's number as its id."""
    return item_from(row.body | {"id": str(row.pk)})


def columns_of(item: CoreItem, stimulus: dict[str, Any] | None) -> dict[str, Any]:
    """The columns that mirror an item's body; `stimulus` is the passage that lies with it."""
    return {
        "type": item.type,
        "text": plain_text(item.stem),
        "title": plain_text(item.title)[:300],
        "points": item.points,
        "outcome": "; ".join(item.metadata.get("outcome", []))[:300],
        "difficulty": "; ".join(item.metadata.get("difficulty", []))[:60],
        "digest": identity_of(item, (stimulus or {}).get("content", "")).whole,
        "body": item.model_dump(mode="json"),
    }


def set_body(row: Item, item: CoreItem) -> None:
    for name, value in columns_of(item, row.stimulus).items():
        setattr(row, name, value)

"""Between rows and the core's items."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any

from rogatum.core.items import Item as CoreItem
from rogatum.core.items import item_from
from rogatum.core.pools import columns
from rogatum.web.courses.recorded import follows_from
from rogatum.web.pools.models import Item

# The columns of a row that follow from its body.
MIRRORED = (
    "type",
    "text",
    "title",
    "points",
    "outcome",
    "difficulty",
    "picture",
    "formula",
    "feedback",
    "findings",
    "advice",
    "seconds",
    "words",
    "key_place",
    "digest",
    "body",
)


def core_item(row: Item) -> CoreItem:
    """The core's item of a row, with the row's number as its id."""
    return item_from(row.body | {"id": str(row.pk)})


def passage_of(stimulus: dict[str, Any] | None) -> str:
    """The content of the passage that lies with a row."""
    return str((stimulus or {}).get("content", ""))


def parts_of(column: str, said: str) -> list[str]:
    """The values that a column with several of them holds."""
    return [value for part in said.split(";") if (value := part.strip())] if column in ("outcome", "difficulty") else said.split()


def columns_of(item: CoreItem, stimulus: dict[str, Any] | None) -> dict[str, Any]:
    """The columns that mirror an item's body; `stimulus` is the passage that lies with it."""
    return columns.columns_of(item, passage_of(stimulus))


@follows_from("item")
def set_columns(rows: Sequence[Item]) -> Sequence[str]:
    """Sets the columns of rows that follow from their bodies; returns the names of these."""
    for row in rows:
        set_body(row, item_from(row.body))
    return MIRRORED


def set_body(row: Item, item: CoreItem) -> None:
    for name, value in columns_of(item, row.stimulus).items():
        setattr(row, name, value)

"""Repairs: changes to one item that a finding offers; the same repair can be applied to all items that have the finding."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass

from rogatum.core.items import ITEM, Item, MultipleChoice, MultipleResponse
from rogatum.core.items.changes import as_essay, as_multiple_response
from rogatum.core.items.content import media_refs, plain_text
from rogatum.core.items.key import even_weights


@dataclass(frozen=True)
class Repair:
    """`label` says what happens to what; `change` returns a new item."""

    name: str
    label: str
    change: Callable[[Item], Item]


def apply_repair(item: Item, name: str) -> Item:
    """The item after a repair; unchanged where the repair does not fit its type. Raises KeyError for an unknown name."""
    return REPAIRS[name].change(item)


def _points_to_1(item: Item) -> Item:
    return item.model_copy(update={"points": 1.0})


def _drop_empty_choices(item: Item) -> Item:
    if not isinstance(item, MultipleChoice | MultipleResponse):
        return item
    kept = [c for c in item.choices if plain_text(c.content) or media_refs(c.content)]
    return item.model_copy(update={"choices": kept})


def _mended(text: str) -> str:
    """Text that was decoded by the wrong table, put right where it comes out whole."""
    for table in ("cp1252", "latin-1"):
        try:
            return text.encode(table).decode("utf-8")
        except (UnicodeEncodeError, UnicodeDecodeError):
            continue
    return text


def _mend_encoding(item: Item) -> Item:
    def walk(value: object) -> object:
        if isinstance(value, str):
            return _mended(value)
        if isinstance(value, list):
            return [walk(part) for part in value]
        if isinstance(value, dict):
            return {key: walk(part) for key, part in value.items()}
        return value

    data = item.model_dump()
    return ITEM.validate_python({key: value if key in ("id", "type") else walk(value) for key, value in data.items()})


REPAIRS: dict[str, Repair] = {
    repair.name: repair
    for repair in (
        Repair("points-to-1", "Set points to 1", _points_to_1),
        Repair("to-essay", "Make it an essay", as_essay),
        Repair("to-multiple-response", "Make it a multiple response", as_multiple_response),
        Repair("even-weights", "Share the points evenly", even_weights),
        Repair("drop-empty-choices", "Remove empty choices", _drop_empty_choices),
        Repair("mend-encoding", "Mend the letters", _mend_encoding),
    )
}

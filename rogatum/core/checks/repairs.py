"""Repairs: changes to one item that a finding offers; the same repair can be applied to all items that have the finding."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass

from rogatum.core.items import ITEM, Item, ItemType, MultipleChoice, MultipleResponse, parts
from rogatum.core.items.content import media_refs, plain_text
from rogatum.core.items.key import even_weights, set_key
from rogatum.core.items.parts import TRAITS
from rogatum.core.items.retyping import as_type

# The repair that leaves one choice of a single-choice item right is called by the choice's position: “only-2”.
ONLY = "only-"
MOST_CHOICES = 1000


@dataclass(frozen=True)
class Repair:
    """`label` says what happens to what; `change` returns a new item, of `type` where that is what it does."""

    name: str
    label: str
    change: Callable[[Item], Item]
    type: ItemType | None = None


def repair_named(name: str) -> Repair | None:
    """The repair of this name, or None."""
    number = name.removeprefix(ONLY)
    if name.startswith(ONLY) and number.isascii() and number.isdecimal() and 0 < int(number[:6]) <= MOST_CHOICES:
        index = int(number) - 1
        return Repair(name, f"Only {parts.letter(index)}", lambda item: _only(item, index))
    return REPAIRS.get(name)


def apply_repair(item: Item, name: str) -> Item:
    """The item after a repair; unchanged where the repair does not fit it. Raises KeyError for an unknown name."""
    repair = repair_named(name)
    if repair is None:
        raise KeyError(name)
    return repair.change(item)


def _only(item: Item, index: int) -> Item:
    choices = parts.choices(item)
    return set_key(item, [choices[index].id]) if index < len(choices) else item


def _retype(wanted: ItemType) -> Repair:
    return Repair(f"to-{TRAITS[wanted].label.replace(' ', '-')}", f"Make it {_with_article(wanted)}", _retyping(wanted), wanted)


def _retyping(wanted: ItemType) -> Callable[[Item], Item]:
    return lambda item: as_type(item, wanted).item


def _with_article(wanted: ItemType) -> str:
    label = TRAITS[wanted].label
    return f"{'an' if label[0] in 'aeiou' else 'a'} {label}{' item' if wanted == 'numeric' else ''}"


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
        *(_retype(wanted) for wanted in ("multiple_choice", "multiple_response", "fill_in", "numeric", "essay")),
        Repair("to-information", "Make it plain text, nothing to answer", _retyping("information"), "information"),
        Repair("even-weights", "Share the points evenly", even_weights),
        Repair("drop-empty-choices", "Remove empty choices", _drop_empty_choices),
        Repair("mend-encoding", "Mend the letters", _mend_encoding),
    )
}

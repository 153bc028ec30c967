"""Changes of an item as a whole: its content. Each returns a new item; what does not fit a type leaves it as it is."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

from rogatum.core.items.content import blanks_of
from rogatum.core.items.model import Cloze, Item, ItemBase, Matching, TextBlank
from rogatum.core.items.walking import with_content


def map_content(item: Item, change: Callable[[str], str]) -> Item:
    """The item with every content field changed, and nothing that is not content."""
    changed: Item = with_content(item, change)
    return changed


def common_fields(item: Item) -> dict[str, Any]:
    """The fields that all types share."""
    return {name: getattr(item, name) for name in ItemBase.model_fields}


def with_blanks_of_stem(item: Cloze) -> Cloze:
    """A cloze whose blanks are those of its stem, in its order: new ones accept nothing yet, and those gone from it go.

    Blanks that stay keep how their shares stand to one another; a new one gets as much as they have on average.
    """
    held = {blank.id: blank for blank in item.blanks}
    named = list(dict.fromkeys(blanks_of(item.stem)))
    staying = [held[name].share for name in named if name in held]
    usual = sum(staying) / len(staying) if staying and sum(staying) > 0 else 1.0
    shares = {name: held[name].share if name in held else usual for name in named}
    whole = sum(shares.values()) or 1.0
    blanks = [held.get(name, TextBlank(id=name)).model_copy(update={"share": round(shares[name] / whole, 6)}) for name in named]
    return item.model_copy(update={"blanks": blanks})


def with_shares(item: Matching, own: bool) -> Matching:
    """A matching whose pairs have a share of their own, even ones where they had none, or none, so that all earn the same."""
    even = round(1 / len(item.pairs), 6) if item.pairs else None
    shares = [(pair.share or even) if own else None for pair in item.pairs]
    return item.model_copy(
        update={"pairs": [pair.model_copy(update={"share": share}) for pair, share in zip(item.pairs, shares, strict=True)]}
    )

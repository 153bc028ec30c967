"""What lists and filters ask of an item, found once: what is in it, and where its key stands."""

from __future__ import annotations

from pydantic import BaseModel, Field

from rogatum.core.checks.advice import KeyPlace, key_place
from rogatum.core.items import Item, parts
from rogatum.core.items.content import MATH, media_refs


class Traits(BaseModel):
    """`has` holds “picture”, “formula”, “feedback”; `key` is a key's place as (of, at, truth)."""

    has: list[str] = Field(default_factory=list)
    key: tuple[int, int, bool] | None = None

    def place(self) -> KeyPlace | None:
        return KeyPlace(*self.key) if self.key else None


def key_letter(item: Item) -> str:
    """The letter of the key where one of several choices is right; empty for any other item."""
    place = key_place(item)
    return "" if place is None or place.truth else parts.letter(place.at)


def traits_of(item: Item) -> Traits:
    contents = parts.content_fields(item)
    found = {
        "picture": any(media_refs(content) for content in contents if "<" in content),
        "formula": any(MATH.search(content) for content in contents if "<math" in content),
        "feedback": bool(parts.feedback(item)),
    }
    return Traits(has=[name for name, there in found.items() if there], key=key_place(item))

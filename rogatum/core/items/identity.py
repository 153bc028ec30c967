"""When two items are the same. Duplicates, checks, the ledger and stored readings all ask here.

*The same* is what asks the same thing with the same choices, pictures and passage, in whatever order, and has the same key. *The
same but for the key* asks the same and takes another answer for right. *Near* is what reads alike.
"""

from __future__ import annotations

import hashlib
import re
from collections.abc import Callable
from dataclasses import dataclass

from rapidfuzz import fuzz

from rogatum.core.items import parts
from rogatum.core.items.content import comparable, media_refs
from rogatum.core.items.model import Bank, Item

_WORD = re.compile(r"\w+")
# Raised and lowered letters tell formulas apart that read the same without them: 10² is not 102.
_RAISED = re.compile(r"<(sup|sub)>")
_SIGNS = {"sup": "^", "sub": "_"}


@dataclass(frozen=True)
class Identity:
    """What an item asks, and what it takes for right, each as a hash."""

    asked: str
    key: str

    @property
    def whole(self) -> str:
        return _hash(self.asked, self.key)


def identity_of(item: Item, passage: str = "", picture: Callable[[str], str] = str) -> Identity:
    """The identity of an item with the content of its passage; `picture` gives what tells pictures apart for a ref (their hash)."""
    options = parts.options(item)
    offered = sorted(_text(option, picture) for option in options)
    pictures = sorted(picture(ref) for content in (item.stem, *options) for ref in media_refs(content))
    return Identity(
        _hash(_text(item.stem, picture), *offered, "pictures", *pictures, "passage", _text(passage, picture)),
        _hash(*_key(item, picture)),
    )


def identities(bank: Bank) -> dict[str, Identity]:
    """The identity of each item of a bank, by its id."""
    passages = {stimulus.id: stimulus.content for stimulus in bank.stimuli}
    hashes = {entry.ref: entry.sha256 for entry in bank.media}
    return {
        item.id: identity_of(item, passages.get(item.stimulus or "", ""), lambda ref: hashes.get(ref, ref)) for item in bank.items
    }


def _key(item: Item, picture: Callable[[str], str]) -> list[str]:
    """The key with what it accepts; choices that are pictures alone are told by these."""
    right = [_text(choice.content, picture) for choice in parts.choices(item) if choice.weight > 0]
    return sorted(right) or parts.key(item)


def _text(content: str, picture: Callable[[str], str]) -> str:
    """Content as what it says: case, kinds of quotes and spaces do not count, signs do, and so does which picture it has."""
    if "<su" in content:
        content = _RAISED.sub(lambda match: _SIGNS[match[1]] + match[0], content)
    said = comparable(content).casefold().rstrip(" .:")
    refs = media_refs(content)
    return " ".join([said, *map(picture, refs)]) if refs else said


def _hash(*parts_: str) -> str:
    return hashlib.sha256("\x00".join(parts_).encode("utf-8", "surrogatepass")).hexdigest()[:32]


def words_of(item: Item) -> str:
    """What nearness is measured on: the words of stem and options, without case, signs and the order of choices."""
    offered = sorted(_words(option) for option in parts.options(item))
    return " | ".join([_words(item.stem), *offered])


def _words(content: str) -> str:
    return " ".join(_WORD.findall(comparable(content).casefold()))


def likeness(a: str, b: str) -> float:
    """How alike two texts read, from 0 to 100; texts that are empty are like nothing."""
    return float(fuzz.ratio(a, b)) if a and b else 0.0

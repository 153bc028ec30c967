"""Items of one reading that stand twice, and tests that stand in two languages."""

from __future__ import annotations

import re
from collections import Counter
from collections.abc import Sequence

from pydantic import BaseModel

from rogatum.core.items import Item, parts
from rogatum.core.items.content import plain_text
from rogatum.core.items.identity import identity_of

_WORD = re.compile(r"[^\W\d_]+")
# Words that questions of a language have and those of the others have not, or seldom.
_TELLING: dict[str, frozenset[str]] = {
    "English": frozenset(
        "the of and which what is are that does how by with from this these when where why has have not it".split()
    ),
    "German": frozenset(
        "der die das und welche welcher welches was ist sind ein eine einer nicht wie mit von den dem des im wird".split()
    ),
    "French": frozenset(
        "le les du et quel quelle quels est sont un une des dans qui que pour pas avec sur au aux ce cette".split()
    ),
    "Spanish": frozenset("el los las y cuál cuáles qué es son una unos del en que para no con por se lo al este esta".split()),
    "Italian": frozenset("il gli le e quale quali che è sono una uno del della nel per non con di si dei delle".split()),
    "Portuguese": frozenset("o os as e qual quais que é são uma um do da dos das no na para não com em se ao".split()),
    "Dutch": frozenset("de het en welke wat is zijn een niet hoe met van die dat voor op wordt worden in door".split()),
}
FEWEST, SHARE = 2, 0.15


class Doubled(BaseModel):
    """Items that ask the same, by position; and whether their keys are the same."""

    positions: list[int]
    same_key: bool


class Spoken(BaseModel):
    """Items in one language, by position."""

    language: str
    positions: list[int]


def doubled(items: Sequence[tuple[int, Item]]) -> list[Doubled]:
    """The items that stand more than once."""
    found: dict[str, list[tuple[int, str]]] = {}
    for position, item in items:
        if plain_text(item.stem):
            known = identity_of(item)
            found.setdefault(known.asked, []).append((position, known.key))
    return [
        Doubled(positions=[position for position, _ in group], same_key=len({key for _, key in group}) == 1)
        for group in found.values()
        if len(group) > 1
    ]


def languages(items: Sequence[tuple[int, Item]]) -> list[Spoken]:
    """The items by language, where a good part of them is in a second one; none where all are in one."""
    spoken: dict[str, list[int]] = {}
    for position, item in items:
        language = language_of(item)
        if language:
            spoken.setdefault(language, []).append(position)
    told = sum(map(len, spoken.values()))
    of_note = {name: held for name, held in spoken.items() if len(held) >= FEWEST and len(held) >= SHARE * told}
    if len(of_note) < 2:
        return []
    return [Spoken(language=name, positions=held) for name, held in sorted(of_note.items(), key=lambda entry: -len(entry[1]))]


def language_of(item: Item) -> str:
    """The language of an item, by words that are of one alone; empty where too few of them tell."""
    text = " ".join([plain_text(item.stem), *(plain_text(option) for option in parts.options(item))])
    words = [word.lower() for word in _WORD.findall(text)]
    told = Counter({name: sum(word in known for word in words) for name, known in _TELLING.items()})
    (first, most), (_, second) = told.most_common(2)
    return first if most >= 2 and most > second else ""

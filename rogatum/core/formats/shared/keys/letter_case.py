"""Patterns that overlook case: the patterns of XML Schema, which QTI uses, have no switch for it, so each letter stands in both."""

from __future__ import annotations

import re

_ESCAPE = re.compile(r"\\[pP]\{[^}]*\}|\\.", re.S)
_PAIR = re.compile(r"\[(\w)(\w)\]")
_CLASS = re.compile(r"\[[^\[\]\\]*\]")
_DOUBLED = re.compile(r"(\w)-(\w)(\w)-(\w)|(\w)(\w)")
_QUANTITY = re.compile(r"\{[\d,]*\}")
_RANGE = re.compile(r"([^\W\d_])-([^\W\d_])")


def any_case(pattern: str) -> str:
    """The pattern with each letter in both cases."""
    made, at, in_class = "", 0, False
    while at < len(pattern):
        known = _ESCAPE.match(pattern, at) or (None if in_class else _QUANTITY.match(pattern, at))
        piece = known[0] if known else pattern[at]
        reach = _RANGE.match(pattern, at) if in_class and known is None else None
        if reach is not None:
            piece = reach[0]
            made += piece + _other_range(reach)
        elif known is not None:
            made += piece
        elif in_class:
            made += piece + _other(piece)
        else:
            made += f"[{piece}{_other(piece)}]" if _other(piece) else piece
        in_class = (in_class or piece == "[") and piece != "]"
        at += len(piece)
    return made


def without_case(pattern: str) -> str | None:
    """The pattern that `any_case` made this one of, or None where it is another."""
    plain = _PAIR.sub(lambda pair: pair[1] if pair[2] == _other(pair[1]) else pair[0], pattern)
    plain = _CLASS.sub(lambda found: _halved(found[0]), plain)
    if plain == pattern:
        return None
    return plain if any_case(plain) == pattern else None


def _halved(letters: str) -> str:
    """A class of letters without those that stand there for the other case."""
    made, at = "", 0
    while at < len(letters):
        found = _DOUBLED.match(letters, at)
        if found and found[1] and (_other(found[1]), _other(found[2])) == (found[3], found[4]):
            made, at = f"{made}{found[1]}-{found[2]}", found.end()
            continue
        made += letters[at]
        at += 2 if found and found[5] and _other(found[5]) == found[6] else 1
    return made


def own_case(pattern: str) -> str:
    """A pattern without what makes it overlook case: that is a property of an item here, and no part of its patterns."""
    return pattern.removeprefix("(?i)") if pattern.startswith("(?i)") else without_case(pattern) or pattern


def _other(letter: str) -> str:
    """The letter in its other case; nothing where it has none of one letter."""
    swapped = letter.swapcase()
    return swapped if swapped != letter and len(swapped) == 1 and swapped.swapcase() == letter else ""


def _other_range(reach: re.Match[str]) -> str:
    first, last = _other(reach[1]), _other(reach[2])
    return f"{first}-{last}" if first and last else ""

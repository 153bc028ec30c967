"""Markdown without what its readers try in vain: brackets that nothing closes, code that nothing ends, quotes within quotes.

Such a reader takes back what it tried and tries again, and its time doubles with each. What can be no markup is escaped, block by
block, and only where there is so much of it that no person wrote it as markup.
"""

from __future__ import annotations

import re
from collections import Counter

# So many in one block are no slip of the pen; so deep nothing lies in anything.
MANY, DEEPEST = 8, 4
MOST_QUOTES = 12
# A backslash before a bracket would begin a formula.
_WRITTEN = str.maketrans({"[": "&#91;", "]": "&#93;", "<": "&lt;"})
_TICKS = re.compile(r"(?<!\\)`+")
_QUOTES = re.compile(r"^[ \t]{0,3}>(?:[ \t]{0,3}>)*")


def tamed(text: str) -> str:
    """The text with what can be no markup escaped."""
    return "\n\n".join(_block(block) for block in text.split("\n\n"))


def _block(block: str) -> str:
    if ">" * MOST_QUOTES in block or block.count(">") > MOST_QUOTES:
        block = "\n".join(map(_quoted, block.split("\n")))
    if block.count("`") > MANY:
        block = _without_open_code(block)
    if block.count("[") > MANY:
        block = _without_open_brackets(block)
    return block


def _quoted(line: str) -> str:
    marks = _QUOTES.match(line)
    if marks is None or marks[0].count(">") <= MOST_QUOTES:
        return line
    return "> " * MOST_QUOTES + line[marks.end() :]


def _without_open_code(block: str) -> str:
    lengths = Counter(len(run[0]) for run in _TICKS.finditer(block))
    alone = {length for length, count in lengths.items() if count == 1}
    if len(alone) <= MANY and len(lengths) <= 2 * MANY:
        return block
    return _TICKS.sub(lambda run: "&#96;" * len(run[0]), block)


def _without_open_brackets(block: str) -> str:
    """Escapes all brackets where many are not closed, lie too deep, or begin a link whose address does not end before the next."""
    places = _brackets(block)
    if len(places) <= MANY:
        return block
    return block.translate(_WRITTEN)


def _brackets(block: str) -> set[int]:
    stack: list[int] = []
    found: set[int] = set()
    for place, sign in enumerate(block):
        if sign not in "[]" or (place and block[place - 1] == "\\"):
            continue
        if sign == "[":
            stack.append(place)
        elif stack:
            opened = stack.pop()
            if len(stack) >= DEEPEST or _address_is_open(block, place):
                found |= {opened, place}
        else:
            found.add(place)
    return found.union(stack)


def _address_is_open(block: str, closed: int) -> bool:
    """Whether an address begins behind a bracket, and does not end before another begins."""
    if block[closed + 1 : closed + 2] != "(":
        return False
    following = block.find("](", closed + 2)
    return block.find(")", closed + 2, len(block) if following < 0 else following) < 0

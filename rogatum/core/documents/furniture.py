"""What a page, a mail or a copy put around a test: page numbers, running heads, quoting signs. It is set aside, and listed."""

from __future__ import annotations

import re
from collections.abc import Sequence
from itertools import groupby

from rogatum.core.documents import patterns as p
from rogatum.core.documents.lines import Line

_QUOTED = re.compile(r"^\s?(?:>\s?)+")
_PAGE_HEAD = re.compile(
    r"^(?:.{0,60}?[\s,|·–—-])?(?:page|seite|página|p\.|pg\.?)\s{0,2}\d{1,3}(?:\s*(?:of|/|von|de)\s*\d{1,3})?\W*$", re.I
)
_BARE_PAGE = re.compile(r"^\s*\d{1,3}\s*$")
LEAST_QUOTED, LEAST_STRUCK = 0.6, 3


def unquoted(lines: Sequence[Line]) -> list[Line]:
    """The lines without the signs that a mail program put before those that it quotes."""
    filled = [line for line in lines if not line.blank and not line.paragraph]
    if sum(line.text.lstrip().startswith(">") for line in filled) < max(3, LEAST_QUOTED * len(filled)):
        return list(lines)
    found = []
    for line in lines:
        match = _QUOTED.match(line.text)
        part = line.cut(match.end(), len(line.text)) if match else line
        part.name = line.name
        found.append(part)
    return found


def furniture(lines: Sequence[Line]) -> set[int]:
    """The positions of lines that belong to the page: by what they say, or as numbers alone that count on through the document."""
    found: set[int] = set()
    numbers: list[int] = []
    for index, line in enumerate(lines):
        text = line.text.strip("\f ")
        if not text or line.grid is not None or not text.strip("_ "):
            continue
        if p.PAGE_FURNITURE.match(text) or (_ends_in_number(text) and _PAGE_HEAD.match(text)):
            if not p.LABEL_WORD.match(text):
                found.add(index)
        elif text[0].isdigit() and _BARE_PAGE.match(text) and not line.paragraph and _is_apart(lines, index):
            numbers.append(index)
    pages = [int(lines[index].text) for index in numbers]
    if pages and pages == list(range(pages[0], pages[0] + len(pages))):
        found.update(numbers)
    return found


def _ends_in_number(text: str) -> bool:
    """Whether the last word of a text ends in a digit."""
    return next((sign.isdigit() for sign in reversed(text) if sign.isalnum() or sign == "_"), False)


def withdrawn(lines: Sequence[Line]) -> set[int]:
    """The positions of lines that are struck out together, more than a key strikes out: a question that was taken back."""
    filled = [index for index, line in enumerate(lines) if not line.blank]
    runs = (list(run) for struck, run in groupby(filled, lambda index: "strike" in lines[index].marks()) if struck)
    return {index for run in runs if len(run) >= LEAST_STRUCK for index in run}


def _is_apart(lines: Sequence[Line], index: int) -> bool:
    """Whether a line stands alone between gaps."""
    after = lines[index + 1] if index + 1 < len(lines) else None
    return lines[index].after_blank and (after is None or after.blank)

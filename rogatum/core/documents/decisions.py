"""Roles that a person gives to lines by hand. A line is known by its text, so that a decision stays when other lines change."""

from __future__ import annotations

from collections import Counter
from collections.abc import Iterable, Iterator
from hashlib import blake2b
from typing import Literal

from rogatum.core.documents.lines import Line

Decidable = Literal["stem", "choice", "key", "more", "heading", "aside"]


def name_lines(lines: Iterable[Line]) -> None:
    """Names each line by its text, and by its turn among lines of the same text."""
    seen: Counter[str] = Counter()
    for line in _all_lines(lines):
        text = line.text.strip()
        if text:
            seen[text] += 1
            line.name = blake2b(f"{text}\0{seen[text]}".encode("utf-8", "replace"), digest_size=6).hexdigest()


def _all_lines(lines: Iterable[Line]) -> Iterator[Line]:
    for line in lines:
        yield line
        for row in line.grid or []:
            for cell in row:
                yield from _all_lines(cell)

"""A key letter in brackets behind a stem: “The finest is (C)”. It is one only where most questions of a document have it."""

from __future__ import annotations

import re
from collections.abc import Sequence

from rogatum.core import spaces
from rogatum.core.documents.lines import Line

SHARE = 0.5
_END_KEY = re.compile(spaces.BEFORE + r"[(\[](?P<key>[A-Ja-jTF](?:(?:\s*+[,;&]\s*+)?[A-Ja-j])*+|[ivx]{1,4}|True|False)[)\]]\s*+$")


def key_at_end(line: Line) -> tuple[str, int] | None:
    """A key letter in brackets at the end of a stem, and where it begins."""
    match = _END_KEY.search(line.value)
    return (match["key"], line.start + match.start()) if match else None


def ends_with_keys(stems: Sequence[Line]) -> bool:
    """Whether most stems of items with choices end with a key letter in brackets."""
    return bool(stems) and sum(key_at_end(stem) is not None for stem in stems) >= max(1, SHARE * len(stems))

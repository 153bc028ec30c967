"""Patterns that come from sources: answers that are regular expressions.

They run in an engine whose time is in proportion to the text, whatever the pattern says (RE2). What that engine
does not know (looking around, references back, counts above 1,000) cannot be marked, and checks say so.
"""

from __future__ import annotations

from functools import lru_cache
from typing import Any

import re2

MOST_MEMORY = 8 << 20
LONGEST = 2_000


@lru_cache(maxsize=512)
def _compiled(pattern: str, case_sensitive: bool) -> Any | None:
    options = re2.Options()
    options.log_errors = False
    options.max_mem = MOST_MEMORY
    options.case_sensitive = case_sensitive
    try:
        return re2.compile(pattern, options) if len(pattern) <= LONGEST else None
    except (re2.error, UnicodeEncodeError):
        return None


def is_usable(pattern: str) -> bool:
    """Whether answers can be marked by the pattern."""
    return _compiled(pattern, True) is not None


def meets(pattern: str, text: str, case_sensitive: bool = True) -> bool:
    """Whether the whole text is what the pattern accepts; never for a pattern that cannot be used."""
    compiled = _compiled(pattern, case_sensitive)
    try:
        return compiled is not None and compiled.fullmatch(text) is not None
    except UnicodeEncodeError:
        return False

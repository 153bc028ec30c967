"""Names of pools from a pattern, for all pools of a source at once."""

from __future__ import annotations

import re
from collections.abc import Sequence

DEFAULT_PATTERN = "{chapter}"
FIELDS = ("course", "chapter", "purpose", "source", "number")
_CHAPTER = re.compile(r"(?:chapter|ch|unit|week|module|lesson|part)[\s._-]*0*(\d+(?:\.\d+)*)", re.I)


def unknown_fields(pattern: str) -> list[str]:
    """What stands in braces and is no field of a pattern."""
    return [name for name in re.findall(r"\{([^{}]*)\}", pattern) if name not in FIELDS]


def name_pools(
    paths: Sequence[Sequence[str]], pattern: str, course: str = "", purpose: str = "", source: str = ""
) -> list[list[str]]:
    """The path of each pool with its first name made by the pattern; the names below it stay.

    Fields: {course}, {chapter} (the pool's own first name), {number} (the chapter's number in it), {purpose}, {source}.
    A field without a value leaves no double spaces or dangling separators behind.
    """
    return [[_filled(pattern, path, course, purpose, source), *path[1:]] if path else [source] for path in paths]


def _filled(pattern: str, path: Sequence[str], course: str, purpose: str, source: str) -> str:
    number = _CHAPTER.search(path[0])
    values = {
        "course": course,
        "chapter": path[0],
        "purpose": purpose,
        "source": source,
        "number": number[1] if number else "",
    }
    name = re.sub(r"\{(\w+)\}", lambda m: values.get(m[1], m[0]), pattern)
    name = re.sub(r"\s+", " ", name)
    return name.strip(" ,;:·/–-") or path[0]

"""Names of pools from a pattern, for all pools of a source at once."""

from __future__ import annotations

import re
from collections.abc import Iterable, Mapping, Sequence

DEFAULT_PATTERN = "{chapter}"
FIELDS = ("course", "chapter", "purpose", "source", "number")
_IN_BRACES = re.compile(r"\{(\w+)\}")
_CHAPTER = re.compile(r"(?:chapter|ch|unit|week|module|lesson|part)[\s._-]*0*(\d+(?:\.\d+)*)", re.I)


def unknown_fields(pattern: str) -> list[str]:
    """What stands in braces and is no field of a pattern."""
    return [name for name in re.findall(r"\{([^{}]*)\}", pattern) if name not in FIELDS]


def chapter_level(paths: Iterable[Sequence[str]]) -> int:
    """At which level the pools of a source are its chapters, from 0.

    It is the first level where all are called so (“Chapter 3”), else the first where they differ: what they all lie in is how the
    source was sorted over there.
    """
    named = [path for path in paths if path]
    least = min(map(len, named), default=1)
    levels = [[path[level] for path in named] for level in range(least)]
    called_so = (level for level, names in enumerate(levels) if all(map(_CHAPTER.search, names)))
    differ = (level for level, names in enumerate(levels) if len(set(names)) > 1)
    return next(called_so, next(differ, least - 1))


def name_pools(
    paths: Sequence[Sequence[str]], pattern: str, course: str = "", purpose: str = "", source: str = "", level: int = 0
) -> list[list[str]]:
    """The path of each pool with the name of its chapter made by the pattern; the names above and below it stay.

    Fields: {course}, {chapter} (the name at the `level` of chapters), {number} (the chapter's number in it), {purpose}, {source}.
    A field without a value leaves no double spaces or dangling separators behind.
    """

    def named(path: Sequence[str]) -> list[str]:
        values = _values(path[level], course, purpose, source)
        return [*path[:level], _filled(pattern, values) or path[level], *path[level + 1 :]]

    return [named(path) if path else [source] for path in paths]


def empty_fields(
    paths: Iterable[Sequence[str]], pattern: str, course: str = "", purpose: str = "", source: str = "", level: int = 0
) -> dict[str, list[str]]:
    """The fields of a pattern that have no value, each with the chapters that go without."""
    found: dict[str, list[str]] = {}
    for chapter in dict.fromkeys(path[level] for path in paths if path):
        values = _values(chapter, course, purpose, source)
        for name in dict.fromkeys(_IN_BRACES.findall(pattern)):
            if not values.get(name, name):
                found.setdefault(name, []).append(chapter)
    return found


def _values(chapter: str, course: str, purpose: str, source: str) -> dict[str, str]:
    number = _CHAPTER.search(chapter)
    found = {"course": course, "chapter": chapter, "purpose": purpose, "source": source, "number": number[1] if number else ""}
    return {name: value.strip() for name, value in found.items()}


def _filled(pattern: str, values: Mapping[str, str]) -> str:
    name = _IN_BRACES.sub(lambda match: values.get(match[1], match[0]), pattern)
    return re.sub(r"\s+", " ", name).strip(" ,;:·/–-")

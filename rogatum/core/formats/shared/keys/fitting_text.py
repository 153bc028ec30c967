"""A text that fits a pattern: what a regular expression accepts, made from its own parts."""

from __future__ import annotations

import re
from collections.abc import Callable
from re import _parser as re_parser  # type: ignore[attr-defined]
from typing import Any

from rogatum.core.answer_patterns import is_usable, meets


def text_that_fits(pattern: str) -> str | None:
    """A text that a regular expression accepts as a whole, or None where none is found."""
    if not is_usable(pattern):
        return None
    try:
        parsed = re_parser.parse(pattern.removeprefix("^").removesuffix("$"))
        made = "".join(map(_piece, parsed))
        return made if meets(pattern, made) else None
    except (re.error, OverflowError, RecursionError, KeyError, ValueError):
        return None


def _piece(node: tuple[object, object]) -> str:
    """The shortest text for one node of a parsed pattern."""
    kind, value = str(node[0]), node[1]
    return _PIECES[kind](value)


def _of_set(value: list[tuple[object, object]]) -> str:
    kind, first = str(value[0][0]), value[0][1]
    if kind == "NEGATE":
        return next(c for c in "az09 -é" if not any(_holds(entry, c) for entry in value[1:]))
    return chr(first[0]) if isinstance(first, tuple) else _piece(value[0])


def _holds(entry: tuple[object, object], character: str) -> bool:
    kind, value = str(entry[0]), entry[1]
    if isinstance(value, tuple):
        return bool(value[0] <= ord(character) <= value[1])
    return value == ord(character) if kind == "LITERAL" else character == _CLASSES.get(str(value))


_CLASSES = {
    "CATEGORY_DIGIT": "1",
    "CATEGORY_SPACE": " ",
    "CATEGORY_WORD": "a",
    "CATEGORY_NOT_DIGIT": "a",
    "CATEGORY_NOT_SPACE": "a",
}
_PIECES: dict[str, Callable[[Any], str]] = {
    "LITERAL": chr,
    "ANY": lambda _value: "a",
    "AT": lambda _value: "",
    "IN": _of_set,
    "NOT_LITERAL": lambda value: "a" if value != ord("a") else "b",
    "CATEGORY": lambda value: _CLASSES[str(value)],
    "BRANCH": lambda value: "".join(map(_piece, value[1][0])),
    "SUBPATTERN": lambda value: "".join(map(_piece, value[3])),
    "MAX_REPEAT": lambda value: "".join(map(_piece, value[2])) * (value[0] or (1 if value[1] else 0)),
    "MIN_REPEAT": lambda value: "".join(map(_piece, value[2])) * value[0],
}

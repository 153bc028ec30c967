"""Bounds of all inputs, in one place: what is out of bounds is refused with its place before anything else sees it.

`In` is the base of every body; the types below are those of numbers and names in paths, queries and bodies. A test sees that no
endpoint takes a number, a text or a body that has none of them.
"""

from __future__ import annotations

import math
import re
from typing import Annotated, Any, ClassVar

from ninja import Schema
from pydantic import Field, StringConstraints, model_validator
from pydantic_core import PydanticCustomError

LARGEST_NUMBER = 2**63 - 1  # what a column holds
DEEPEST = 40
LONGEST_LIST = 200_000
# Whole sources, and all that is said in one body beside them: what takes a second or two to look at.
LONGEST_TEXT, MOST_TEXT = 20_000_000, 1_000_000
# Objects within a body: choices and pairs, each of which is looked at.
MOST_PARTS = 20_000
MOST_IDS = 20_000

Id = Annotated[int, Field(ge=1, le=LARGEST_NUMBER)]
Offset = Annotated[int, Field(ge=0, le=10_000_000)]
Limit = Annotated[int, Field(ge=1, le=1000)]
Count = Annotated[int, Field(ge=0, le=1_000_000)]
Position = Annotated[int, Field(ge=0, le=1_000_000)]
Points = Annotated[float, Field(ge=0, le=10_000, allow_inf_nan=False)]
Pick = Annotated[int, Field(ge=1, le=10_000)]
Name = Annotated[str, StringConstraints(max_length=300)]
Words = Annotated[str, StringConstraints(max_length=1000)]
Text = Annotated[str, StringConstraints(max_length=LONGEST_TEXT)]
# What is looked at while it is typed: longer texts are pasted and read in the usual way.
ShortText = Annotated[str, StringConstraints(max_length=400_000)]
Version = Annotated[str, StringConstraints(max_length=64)]
Ids = Annotated[list[Id], Field(max_length=MOST_IDS)]
Positions = Annotated[list[Position], Field(max_length=LONGEST_LIST)]

# Characters that no text has: NUL and halves of characters. The database, XML and JSON each fail on some of them.
_NO_TEXT = re.compile("[\x00\ud800-\udfff]")


def _refuse(what: str, place: str) -> PydanticCustomError:
    return PydanticCustomError("bounds", what, {"place": place})  # type: ignore[arg-type]


class _Bounds:
    """What one input may hold in all, as it is gone through."""

    def __init__(self, most_text: int) -> None:
        self.text_left, self.parts_left = most_text, MOST_PARTS

    def check(self, value: Any, place: str, depth: int) -> None:
        if depth > DEEPEST:
            raise _refuse("This lies too deep", place)
        if isinstance(value, str):
            self._check_text(value, place)
        elif isinstance(value, bool) or value is None:
            return
        elif isinstance(value, int):
            if abs(value) > LARGEST_NUMBER:
                raise _refuse("This number is too large", place)
        elif isinstance(value, float):
            if not math.isfinite(value):
                raise _refuse("This is no number", place)
        elif isinstance(value, dict):
            self._count_part(place)
            named = ((f"{place}.{name}" if place else str(name), (name, part)) for name, part in value.items())
            self._check_each(named, len(value), place, depth)
        elif isinstance(value, list):
            self._check_each(((f"{place}[{n}]", (part,)) for n, part in enumerate(value)), len(value), place, depth)

    def _check_each(self, parts: Any, count: int, place: str, depth: int) -> None:
        if count > LONGEST_LIST:
            raise _refuse("This list is too long", place)
        for where, values in parts:
            for part in values:
                self.check(part, where[:200], depth + 1)

    def _count_part(self, place: str) -> None:
        self.parts_left -= 1
        if self.parts_left < 0:
            raise _refuse("These are too many parts at once", place)

    def _check_text(self, text: str, place: str) -> None:
        self.text_left -= len(text)
        if self.text_left < 0:
            raise _refuse("This text is too long", place)
        if _NO_TEXT.search(text):
            raise _refuse("This text has characters that are none", place)


def check_value(value: Any, most_text: int = MOST_TEXT) -> None:
    """Raises PydanticCustomError, with the place, for what no input may hold, at any depth."""
    _Bounds(most_text).check(value, "", 0)


class In(Schema):
    """The base of what comes in as a body. What takes whole sources says so by `most_text`, the characters of all its texts."""

    most_text: ClassVar[int] = MOST_TEXT

    @model_validator(mode="before")
    @classmethod
    def _within_bounds(cls, value: Any) -> Any:
        raw = getattr(value, "_obj", value)  # the framework wraps what it hands over
        if isinstance(raw, dict | list):
            check_value(raw, cls.most_text)
        return value

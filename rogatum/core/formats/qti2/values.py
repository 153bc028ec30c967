"""Values of QTI 2.x and 3.0 (information model, “Basic types” and “Expressions”): a cardinality, a base type, and the values."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass

Scalar = str | float | int | bool | tuple[str, str] | tuple[float, float]


@dataclass(frozen=True)
class Value:
    """`items` holds one value for single, several for multiple and ordered. NULL is None, never an empty Value."""

    base: str
    cardinality: str
    items: tuple[Scalar, ...]

    @property
    def one(self) -> Scalar:
        return self.items[0]


NULL: Value | None = None


def single(base: str, value: Scalar) -> Value:
    return Value(base, "single", (value,))


def boolean(value: bool) -> Value:
    return single("boolean", value)


def number(value: float) -> Value:
    return single("float", value)


def container(base: str, cardinality: str, items: list[Scalar]) -> Value | None:
    return Value(base, cardinality, tuple(items)) if items else NULL


def scalar(base: str, text: str) -> Scalar | None:
    """A value from its text; None where the text is none of that type."""
    text = text.strip() if base != "string" else text
    try:
        return _PARSERS[base](text) if base in _PARSERS else text
    except (ValueError, IndexError, KeyError, OverflowError):
        return None


def _pair(text: str) -> tuple[str, str]:
    first, second = text.split()
    return first, second


def _unordered(text: str) -> tuple[str, str]:
    first, second = sorted(text.split())
    return first, second


def _point(text: str) -> tuple[float, float]:
    x, y = text.split()
    return float(x), float(y)


_BOOLEANS = {"true": True, "1": True, "false": False, "0": False}
_PARSERS: dict[str, Callable[[str], Scalar]] = {
    "boolean": lambda text: _BOOLEANS[text.lower()],
    "integer": lambda text: int(float(text)),
    "float": lambda text: float(text.replace(",", ".")),
    "duration": float,
    "pair": _unordered,
    "directedPair": _pair,
    "point": _point,
}
NUMERIC = frozenset({"integer", "float", "duration"})


def value_of(base: str, cardinality: str, texts: list[str]) -> Value | None:
    """A value of a declared type from texts; what does not parse is left out, and nothing left is NULL."""
    found = [parsed for text in texts if (parsed := scalar(base, text)) is not None and text != ""]
    if not found:
        return NULL
    return Value(base, cardinality, tuple(found[:1] if cardinality == "single" else found))


def as_float(value: Value | None) -> float | None:
    """A single number; None for NULL and for what is no number."""
    if value is None or not value.items:
        return None
    one = value.one
    if isinstance(one, bool) or not isinstance(one, int | float):
        if isinstance(one, str):
            parsed = scalar("float", one)
            return float(parsed) if isinstance(parsed, float) else None
        return None
    return float(one)


def truth(value: Value | None) -> bool:
    """Whether a condition holds; NULL does not."""
    return value is not None and value.one is True

"""Numbers as the formats write them."""

from __future__ import annotations

_MOST_DIGITS = 6


def number(value: float) -> str:
    """A number without needless digits: 2, 0.5, 33.3333."""
    return f"{value:.6f}".rstrip("0").rstrip(".") if value != int(value) else str(int(value))


def picked(text: str) -> int | None:
    """How many a selection takes: a whole number above zero in plain digits; None for anything else."""
    return int(text) if text.isascii() and text.isdigit() and len(text) <= _MOST_DIGITS and int(text) else None


def exact_number(value: float) -> str:
    """A number with all of its digits."""
    return repr(int(value)) if value == int(value) and abs(value) < 1e15 else repr(value)

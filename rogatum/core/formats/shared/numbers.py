"""Numbers as the formats write them."""

from __future__ import annotations

from rogatum.core.items import NumericAnswer

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


def number_key(answer: NumericAnswer) -> str:
    """The numbers that an answer accepts, as documents and sheets say it and read it back."""
    value, tolerance = answer.value, answer.tolerance
    if value is not None and answer.figures is not None:
        kind = "significant figures" if answer.rounding == "significant" else "decimals"
        return f"{exact_number(value)} to {answer.figures} {kind}"
    if value is not None and answer.include_min and answer.include_max:
        return f"{exact_number(value)} ± {exact_number(tolerance)}" if tolerance else exact_number(value)
    low, high = answer.bounds()
    least = f"{'' if answer.include_min else 'more than '}{exact_number(low)}" if low != float("-inf") else ""
    most = f"{'' if answer.include_max else 'less than '}{exact_number(high)}" if high != float("inf") else ""
    if least and most:
        return f"{least} to {most}"
    open_end = " or more" if least else " or less"
    return f"{least or most}{open_end if answer.include_min and answer.include_max else ''}"

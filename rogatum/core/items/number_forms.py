"""The two forms of a number that is accepted, a value with its tolerance and a range: turned, the same numbers stay right."""

from __future__ import annotations

import math
from decimal import Decimal

from rogatum.core.errors import NoSuchForm
from rogatum.core.items.model import NumericAnswer


def turned(answer: NumericAnswer) -> NumericAnswer:
    """A value as the range that its tolerance makes, a range as its middle with half its width.

    What it earns and its feedback stay. Raises NoSuchForm for a range that no value stands for: one that is open, or without a
    bound of its own.
    """
    return _as_range(answer) if answer.value is not None else _as_value(answer)


def _as_range(answer: NumericAnswer) -> NumericAnswer:
    value, spread = answer.value or 0.0, answer.tolerance or 0.0
    exact = (_exact(value) - _exact(spread), _exact(value) + _exact(spread))
    low, high = answer.bounds() if answer.figures is not None else map(float, exact)
    return _made(answer, min=low, max=high, include_min=answer.include_min, include_max=answer.include_max)


def _as_value(answer: NumericAnswer) -> NumericAnswer:
    if answer.min is None or answer.max is None:
        raise NoSuchForm("A range that is open at one end has no middle.")
    if not (answer.include_min and answer.include_max):
        raise NoSuchForm("A bound that does not count has no place in a value with a tolerance.")
    low, high = sorted((_exact(answer.min), _exact(answer.max)))
    return _made(answer, value=float((low + high) / 2), tolerance=float((high - low) / 2))


def _made(answer: NumericAnswer, **form: float | bool) -> NumericAnswer:
    return NumericAnswer.model_validate({**form, "weight": answer.weight, "feedback": answer.feedback})


def _exact(number: float) -> Decimal:
    """By the digits that a person sees: 0.3 less 0.1 is 0.2."""
    if not math.isfinite(number):
        raise NoSuchForm("A number without end has neither form.")
    return Decimal(repr(number))

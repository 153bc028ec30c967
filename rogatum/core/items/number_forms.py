"""The two forms of a number that is accepted, a value with its tolerance and a range: turned, the same numbers stay right."""

from __future__ import annotations

import math

from rogatum.core.errors import NoSuchForm
from rogatum.core.items.model import NumericAnswer, added


def turned(answer: NumericAnswer) -> NumericAnswer:
    """A value as the range that its tolerance makes, a range as its middle with half its width.

    What it earns and its feedback stay. Raises NoSuchForm for a range that no value stands for: one that is open at an end, or has
    a bound that does not count.
    """
    return _as_range(answer) if answer.value is not None else _as_value(answer)


def _as_range(answer: NumericAnswer) -> NumericAnswer:
    low, high = answer.bounds()
    if not (math.isfinite(low) and math.isfinite(high)):
        raise NoSuchForm("A number without end has no bounds.")
    return _made(answer, min=low, max=high, include_min=answer.include_min, include_max=answer.include_max)


def _as_value(answer: NumericAnswer) -> NumericAnswer:
    low, high = sorted(answer.bounds())
    if not (math.isfinite(low) and math.isfinite(high)):
        raise NoSuchForm("A range that is open at one end has no middle.")
    if not (answer.include_min and answer.include_max):
        raise NoSuchForm("A bound that does not count has no place in a value with a tolerance.")
    return _made(answer, value=added(low, high) / 2, tolerance=added(high, -low) / 2)


def _made(answer: NumericAnswer, **form: float | bool) -> NumericAnswer:
    return NumericAnswer.model_validate({**form, "weight": answer.weight, "feedback": answer.feedback})

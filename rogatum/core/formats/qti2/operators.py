"""The operators of QTI 2.x and 3.0: from the values of the parts and the element's attributes to a value (NULL is None)."""

from __future__ import annotations

import math
import statistics
from collections.abc import Callable

from lxml import etree

from rogatum.core.formats.qti2.declarations import float_of
from rogatum.core.formats.qti2.values import NUMERIC, Value, as_float, boolean, container, number, single, truth
from rogatum.core.items import rounding_interval
from rogatum.core.items.model import Rounding

Operator = Callable[[list[Value | None], etree._Element], Value | None]


def _numbers(values: list[Value | None]) -> list[float] | None:
    """All numbers of all values; None as soon as one value is NULL or no number."""
    found: list[float] = []
    for value in values:
        if value is None or (value.base not in NUMERIC and value.base != "string"):
            return None
        for item in value.items:
            one = as_float(single(value.base, item))
            if one is None:
                return None
            found.append(one)
    return found


def _arithmetic(work: Callable[[list[float]], float]) -> Operator:
    def run(values: list[Value | None], _element: etree._Element) -> Value | None:
        numbers = _numbers(values)
        if not numbers:
            return None
        try:
            result = work(numbers)
        except (ArithmeticError, ValueError, IndexError):
            return None
        return number(result) if math.isfinite(result) else None

    return run


def _comparison(holds: Callable[[float, float], bool]) -> Operator:
    def run(values: list[Value | None], _element: etree._Element) -> Value | None:
        numbers = _numbers(values)
        return boolean(holds(*numbers)) if numbers and len(numbers) == 2 else None

    return run


def _and(values: list[Value | None], _element: etree._Element) -> Value | None:
    if any(value is not None and value.one is False for value in values):
        return boolean(False)
    return None if any(value is None for value in values) else boolean(True)


def _or(values: list[Value | None], _element: etree._Element) -> Value | None:
    if any(truth(value) for value in values):
        return boolean(True)
    return None if any(value is None for value in values) else boolean(False)


def _not(values: list[Value | None], _element: etree._Element) -> Value | None:
    return None if not values or values[0] is None else boolean(not truth(values[0]))


def _any_n(values: list[Value | None], element: etree._Element) -> Value | None:
    count = sum(truth(value) for value in values)
    unknown = sum(value is None for value in values)
    low, high = float_of(element.get("min")) or 0, float_of(element.get("max"))
    high = len(values) if high is None else high
    if low <= count and count + unknown <= high:
        return boolean(True)
    return boolean(False) if count + unknown < low or count > high else None


def equals(a: Value | None, b: Value | None) -> bool:
    """`match`: the same values, in order for ordered containers, as a bag for multiple ones."""
    if a is None or b is None:
        return False
    left, right = _comparable(a), _comparable(b)
    if "multiple" in (a.cardinality, b.cardinality):
        return sorted(map(repr, left)) == sorted(map(repr, right))
    return left == right


def _comparable(value: Value) -> list[object]:
    if value.base == "string":
        return [" ".join(str(item).split()) for item in value.items]
    if value.base == "pair":
        return [tuple(sorted(item)) if isinstance(item, tuple) else item for item in value.items]
    return [float(item) if isinstance(item, int | float) and not isinstance(item, bool) else item for item in value.items]


def _match(values: list[Value | None], _element: etree._Element) -> Value | None:
    if len(values) != 2 or values[0] is None or values[1] is None:
        return None
    return boolean(equals(values[0], values[1]))


def equal_bounds(element: etree._Element, value: float) -> list[float]:
    """The bounds around a value beyond which `equal`, `equalRounded` or what rounds a number finds it different."""
    if element.tag == "truncate":
        return [value - 1, value, value + 1]
    if element.tag == "round":
        return [value - 0.5, value + 0.5]
    if element.tag in ("equalRounded", "roundTo"):
        return list(rounding_interval(value, *_figures(element))[1:])
    mode = element.get("toleranceMode", "exact")
    if mode == "exact":
        return []
    spread = [float_of(part) or 0.0 for part in element.get("tolerance", "").split()] or [0.0]
    below, above = spread[0], spread[-1]
    if mode == "relative":
        below, above = abs(value) * below / 100, abs(value) * above / 100
    return [value - below, value + above]


def _equal(values: list[Value | None], element: etree._Element) -> Value | None:
    numbers = _numbers(values)
    if not numbers or len(numbers) != 2:
        return None
    a, b = numbers
    # The value is the second part; where the response is the second, the two change places.
    if len(element) == 2 and element[0].tag in ("correct", "baseValue") and element[1].tag not in ("correct", "baseValue"):
        a, b = b, a
    bounds = equal_bounds(element, b)
    if not bounds:
        return boolean(a == b)
    low, high = bounds
    slack = 1e-9 * max(1.0, abs(b))
    above = a >= low - slack if element.get("includeLowerBound", "true") in ("true", "1") else a > low + slack
    below = a <= high + slack if element.get("includeUpperBound", "true") in ("true", "1") else a < high - slack
    return boolean(above and below)


def _figures(element: etree._Element) -> tuple[int, Rounding]:
    """How many figures of which kind a number is rounded to (`roundingMode`, by default significant figures)."""
    figures = int(min(15, max(0, float_of(element.get("figures")) or 0)))
    return figures, "decimal" if element.get("roundingMode") == "decimalPlaces" else "significant"


def _rounded(value: float, element: etree._Element) -> float:
    return rounding_interval(value, *_figures(element))[0]


def _equal_rounded(values: list[Value | None], element: etree._Element) -> Value | None:
    numbers = _numbers(values)
    if not numbers or len(numbers) != 2:
        return None
    return boolean(math.isclose(_rounded(numbers[0], element), _rounded(numbers[1], element), rel_tol=1e-12))


def _round_to(values: list[Value | None], element: etree._Element) -> Value | None:
    numbers = _numbers(values)
    return number(_rounded(numbers[0], element)) if numbers else None


def _string_match(values: list[Value | None], element: etree._Element) -> Value | None:
    if len(values) != 2 or values[0] is None or values[1] is None:
        return None
    a, b = _texts(values[0], element), _texts(values[1], element)
    partly = (element.get("substring") or "false").lower() in ("true", "1")
    return boolean(b in a if partly else a == b)


def _texts(value: Value, element: etree._Element) -> str:
    text = " ".join(str(value.one).split())
    return text if (element.get("caseSensitive") or "true").lower() in ("true", "1") else text.casefold()


def _substring(values: list[Value | None], element: etree._Element) -> Value | None:
    if len(values) != 2 or values[0] is None or values[1] is None:
        return None
    return boolean(_texts(values[0], element) in _texts(values[1], element))


def _member(values: list[Value | None], _element: etree._Element) -> Value | None:
    if len(values) != 2 or values[0] is None or values[1] is None:
        return None
    return boolean(any(equals(values[0], single(values[1].base, item)) for item in values[1].items))


def _contains(values: list[Value | None], _element: etree._Element) -> Value | None:
    if len(values) != 2 or values[0] is None or values[1] is None:
        return None
    whole, part = _comparable(values[0]), _comparable(values[1])
    if values[0].cardinality == "ordered":
        return boolean(any(whole[i : i + len(part)] == part for i in range(len(whole) - len(part) + 1)))
    for item in part:
        if item not in whole:
            return boolean(False)
        whole.remove(item)
    return boolean(True)


def _delete(values: list[Value | None], _element: etree._Element) -> Value | None:
    if len(values) != 2 or values[1] is None:
        return None
    whole = values[1]
    left = [item for item in whole.items if not equals(values[0], single(whole.base, item))]
    return container(whole.base, whole.cardinality, left)


def _gathered(cardinality: str) -> Operator:
    def run(values: list[Value | None], _element: etree._Element) -> Value | None:
        present = [value for value in values if value is not None]
        base = present[0].base if present else "identifier"
        return container(base, cardinality, [item for value in present for item in value.items])

    return run


def _index(values: list[Value | None], element: etree._Element) -> Value | None:
    n = int(float_of(element.get("n")) or 0)
    if not values or values[0] is None or not 1 <= n <= len(values[0].items):
        return None
    return single(values[0].base, values[0].items[n - 1])


def _size(values: list[Value | None], _element: etree._Element) -> Value | None:
    return single("integer", len(values[0].items) if values and values[0] is not None else 0)


def _is_null(values: list[Value | None], _element: etree._Element) -> Value | None:
    empty = not values or values[0] is None or (values[0].base == "string" and not str(values[0].one).strip())
    return boolean(empty)


def _repeat(values: list[Value | None], element: etree._Element) -> Value | None:
    times = min(int(float_of(element.get("numberRepeats")) or 0), 100)
    return _gathered("ordered")(values * times, element)


def _to_integer(work: Callable[[float], int]) -> Operator:
    def run(values: list[Value | None], _element: etree._Element) -> Value | None:
        numbers = _numbers(values)
        return single("integer", work(numbers[0])) if numbers and math.isfinite(numbers[0]) else None

    return run


_MATH: dict[str, Callable[..., float]] = {
    **{name: getattr(math, name) for name in ("sin", "cos", "tan", "asin", "acos", "atan", "atan2", "sinh", "cosh", "tanh", "exp")},
    "sec": lambda x: 1 / math.cos(x),
    "csc": lambda x: 1 / math.sin(x),
    "cot": lambda x: 1 / math.tan(x),
    "log": math.log10,
    "ln": math.log,
    "abs": abs,
    "floor": math.floor,
    "ceil": math.ceil,
    "signum": lambda x: float((x > 0) - (x < 0)),
    "toRadians": math.radians,
    "toDegrees": math.degrees,
}
_STATISTICS: dict[str, Callable[[list[float]], float]] = {
    "mean": statistics.fmean,
    "sampleVariance": statistics.variance,
    "sampleSD": statistics.stdev,
    "popVariance": statistics.pvariance,
    "popSD": statistics.pstdev,
}


def _math(values: list[Value | None], element: etree._Element) -> Value | None:
    work = _MATH.get(element.get("name", ""))
    return None if work is None else _arithmetic(lambda numbers: work(*numbers))(values, element)


def _stats(values: list[Value | None], element: etree._Element) -> Value | None:
    work = _STATISTICS.get(element.get("name", ""))
    return None if work is None else _arithmetic(work)(values, element)


def _divided(numbers: list[float]) -> float:
    return numbers[0] / numbers[1]


OPERATORS: dict[str, Operator] = {
    "and": _and,
    "or": _or,
    "not": _not,
    "anyN": _any_n,
    "match": _match,
    "equal": _equal,
    "equalRounded": _equal_rounded,
    "stringMatch": _string_match,
    "substring": _substring,
    "member": _member,
    "contains": _contains,
    "delete": _delete,
    "multiple": _gathered("multiple"),
    "ordered": _gathered("ordered"),
    "index": _index,
    "containerSize": _size,
    "isNull": _is_null,
    "repeat": _repeat,
    "fieldValue": lambda _values, _element: None,
    "lt": _comparison(lambda a, b: a < b),
    "lte": _comparison(lambda a, b: a <= b),
    "gt": _comparison(lambda a, b: a > b),
    "gte": _comparison(lambda a, b: a >= b),
    "durationLT": _comparison(lambda a, b: a < b),
    "durationGTE": _comparison(lambda a, b: a >= b),
    "sum": _arithmetic(sum),
    "product": _arithmetic(math.prod),
    "subtract": _arithmetic(lambda n: n[0] - n[1]),
    "divide": _arithmetic(_divided),
    "power": _arithmetic(lambda n: math.pow(n[0], n[1])),
    "integerDivide": _arithmetic(lambda n: float(math.floor(n[0] / n[1]))),
    "integerModulus": _arithmetic(lambda n: n[0] - n[1] * math.floor(n[0] / n[1])),
    "max": _arithmetic(max),
    "min": _arithmetic(min),
    "gcd": _arithmetic(lambda n: math.gcd(*map(int, n))),
    "lcm": _arithmetic(lambda n: math.lcm(*map(int, n))),
    "integerToFloat": _arithmetic(lambda n: n[0]),
    "truncate": _to_integer(math.trunc),
    "round": _to_integer(lambda value: math.floor(value + 0.5)),
    "roundTo": _round_to,
    "mathOperator": _math,
    "statsOperator": _stats,
}

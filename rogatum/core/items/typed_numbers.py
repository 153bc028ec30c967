"""Numbers as people write them for a key: with tolerances and units, as ranges, rounded, with a comma or a point."""

from __future__ import annotations

import re
from dataclasses import dataclass

from rogatum.core.items.model import NumericAnswer

_THOUSANDS = r"[1-9]\d{0,2}(?:,\d{3})+(?:\.\d+)?(?![\d,])"
_POWER = r"(?:\s?[x×·*]\s?10\s?\^\s?[-−+]?\d+|[eE][-−+]?\d+)"
_PLAIN = rf"[-−+]?(?:{_THOUSANDS}|\d+(?:[.,]\d+)?){_POWER}?"
# A comma before three digits may part thousands or decimals.
_DOUBTFUL = re.compile(r"(?<![\d.,])[1-9]\d{0,2},\d{3}(?![\d.,]*\d)")
_SUPERSCRIPTS = str.maketrans("⁰¹²³⁴⁵⁶⁷⁸⁹⁻", "0123456789-")
_TOLERANT = re.compile(
    rf"^({_PLAIN})\s*+(?P<unit1>[^\d\s±(+,](?:[^±(\s,]|\s++(?=[^±(\s,]))*?)?\s*+[,;]?\s*+\(?\s*+(?:±|\+\s?/\s?[-−–]|\+[-−–]|tolerance:?|within|tol\.?:?)\s*+({_PLAIN})\s*+"
    r"(?P<unit2>(?:[^\d)][^)]*)?)\)?$",
    re.I,
)
_RANGE = re.compile(
    rf"^(?:between\s+|from\s+)?({_PLAIN})\s*+(?P<unit1>(?!(?:to|and)\b)[^\W\d_][^\d\s]{{0,8}}\s++)?(?:to|and|\.\.|…|–|—|-(?=\s*\d))\s*({_PLAIN})\s*(?P<unit>[^\d].*)?$",
    re.I,
)
_ACCEPTED = re.compile(
    r"^(?>.*?(?:accept(?:able|ed)?|allow(?:ed)?|range))(?:\s+(?:range|values?|answers?))?\s*+:?\s*+(?P<range>.+?)[)\]]?$", re.I
)
_LONE = re.compile(rf"^({_PLAIN})\s*(?![/x×·*]\s*\d)(?P<unit>(?!of\b)[A-Za-z%°µΩ‰/³²·€£$][A-Za-z0-9%°µΩ/³²·^⁻¹\-−.* ]{{0,18}})?$")
# Ranges whose bounds do not count or are open, and values that are rounded, in words as the program writes them.
_BOUNDED = re.compile(rf"^(more than\s+)?({_PLAIN})\s+to\s+(less than\s+)?({_PLAIN})(?:\s+(?P<unit>[^\d\s].{{0,18}}))?$", re.I)
_ONE_SIDED = re.compile(rf"^({_PLAIN})\s+or\s+(more|less)(?:\s+(?P<unit>[^\d\s].{{0,18}}))?$", re.I)
_BEYOND = re.compile(rf"^(more|less)\s+than\s+({_PLAIN})$", re.I)
_ROUNDED = re.compile(
    rf"^({_PLAIN})\s+to\s+(\d{{1,2}})\s+(significant\s+figures?|decimals?(?:\s+places?)?)(?:\s+(?P<unit>[^\d\s].{{0,18}}))?$",
    re.I,
)


@dataclass(frozen=True)
class NumberKey:
    answer: NumericAnswer
    unit: str | None


def number_of(text: str) -> NumberKey | None:
    """A numeric key: "25", "25 ± 0.5", "80 (± 1)", "24.5 to 25.5", "1.4 g/cm³", "1,250", "6.02 x 10^23"; None when it is none."""
    text = re.sub(r"(?<=10)[⁻⁰¹²³⁴⁵⁶⁷⁸⁹]+", lambda power: f"^{power[0].translate(_SUPERSCRIPTS)}", text)
    bare = text.strip().rstrip(".") if not re.search(r"\d\.$", text.strip()) else text.strip()[:-1]
    worded = _in_words(bare)
    if worded is not None:
        return worded
    accepted = _ACCEPTED.match(bare)
    if accepted and (stated := _RANGE.match(accepted["range"])):
        low, high = sorted((_value(stated[1]), _value(stated[3])))
        before = _LONE.match(bare[: accepted.start("range")].split("(")[0].strip())
        return NumberKey(NumericAnswer(min=low, max=high), _unit(stated["unit"] or (before["unit"] if before else None)))
    tolerant = _TOLERANT.match(bare)
    if tolerant:
        answer = NumericAnswer(value=_value(tolerant[1]), tolerance=abs(_value(tolerant[3])))
        return NumberKey(answer, _unit(tolerant["unit1"] or tolerant["unit2"]))
    between = _RANGE.match(bare)
    if between:
        low, high = sorted((_value(between[1]), _value(between[3])))
        return NumberKey(NumericAnswer(min=low, max=high), _unit(between["unit"] or between["unit1"]))
    lone = _LONE.match(bare)
    if lone:
        return NumberKey(NumericAnswer(value=_value(lone[1]), tolerance=0.0), _unit(lone["unit"]))
    return None


def _in_words(text: str) -> NumberKey | None:
    """A range whose bounds do not count or are open, or a value that is rounded: "more than 3 to 5", "3 or more"."""
    if rounded := _ROUNDED.match(text):
        figures, decimal = int(rounded[2]), rounded[3].lower().startswith("decimal")
        answer = NumericAnswer(value=_value(rounded[1]), figures=min(figures, 15), rounding="decimal" if decimal else "significant")
        return NumberKey(answer, _unit(rounded["unit"]))
    if (bounded := _BOUNDED.match(text)) and (bounded[1] or bounded[3]):
        low, high = _value(bounded[2]), _value(bounded[4])
        return NumberKey(
            NumericAnswer(min=low, max=high, include_min=not bounded[1], include_max=not bounded[3]), _unit(bounded["unit"])
        )
    if open_end := _ONE_SIDED.match(text):
        value, unit = _value(open_end[1]), _unit(open_end["unit"])
        return NumberKey(NumericAnswer(min=value) if open_end[2].lower() == "more" else NumericAnswer(max=value), unit)
    return None


def beyond(text: str) -> NumberKey | None:
    """A range that is open on one side and does not hold its bound: "more than 3"; too like a phrase to be looked for anywhere."""
    found = _BEYOND.match(text.strip())
    if found is None:
        return None
    value, more = _value(found[2]), found[1].lower() == "more"
    answer = NumericAnswer(min=value, include_min=False) if more else NumericAnswer(max=value, include_max=False)
    return NumberKey(answer, None)


def doubtful_number(text: str) -> str | None:
    """The part of a numeric key that may be read in two ways: "1,250" is 1250 to some people and 1.25 to others."""
    match = _DOUBTFUL.search(text)
    return match[0] if match else None


def _value(text: str) -> float:
    plain = re.sub(r"\s?[x×·*]\s?10\s?\^\s?", "e", text.replace("−", "-"))
    grouped = re.match(rf"[-+]?{_THOUSANDS}", plain)
    return float(plain.replace(",", "" if grouped else "."))


def _unit(text: str | None) -> str | None:
    return (text or "").strip() or None

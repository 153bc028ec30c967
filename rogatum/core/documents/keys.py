"""Keys as people write them: letters, words, numbers with tolerances, lists at the end of a test."""

from __future__ import annotations

import re
from dataclasses import dataclass

from rogatum.core import spaces
from rogatum.core.items import NumericAnswer

_THOUSANDS = r"[1-9]\d{0,2}(?:,\d{3})+(?:\.\d+)?(?![\d,])"
_POWER = r"(?:\s?[x×·*]\s?10\s?\^\s?[-−+]?\d+|[eE][-−+]?\d+)"
_PLAIN = rf"[-−+]?(?:{_THOUSANDS}|\d+(?:[.,]\d+)?){_POWER}?"
# A comma before three digits may part thousands or decimals.
_DOUBTFUL = re.compile(r"(?<![\d.,])[1-9]\d{0,2},\d{3}(?![\d.,]*\d)")
_SUPERSCRIPTS = str.maketrans("⁰¹²³⁴⁵⁶⁷⁸⁹⁻", "0123456789-")
_TOLERANT = re.compile(
    rf"^({_PLAIN})\s*+(?P<unit1>[^\d\s±(+](?:[^±(\s]|\s++(?=[^±(\s]))*?)?\s*+\(?\s*+(?:±|\+/-|\+-|tolerance:?|within)\s*+({_PLAIN})\s*+"
    r"(?P<unit2>(?:[^\d)][^)]*)?)\)?$",
    re.I,
)
_RANGE = re.compile(rf"^(?:between\s+)?({_PLAIN})\s*(?:to|and|\.\.|–|—|-(?=\s*\d))\s*({_PLAIN})\s*(?P<unit>[^\d].*)?$", re.I)
_ACCEPTED = re.compile(
    r"^(?>.*?(?:accept(?:able|ed)?|allow(?:ed)?|range))(?:\s+(?:range|values?|answers?))?\s*+:?\s*+(?P<range>.+?)[)\]]?$", re.I
)
_LONE = re.compile(rf"^({_PLAIN})\s*(?![/x×·*]\s*\d)(?P<unit>[A-Za-z%°µΩ‰/³²·][A-Za-z0-9%°µΩ/³²·^⁻¹\-−.* ]{{0,18}})?$")
_LETTERS = re.compile(r"^\(?([ivx]{2,4}|[A-Za-z])\)?(?:\s*+(?:[,;&+/]|\band\b)\s*+\(?([ivx]{2,4}|[A-Za-z])\)?)*+[.)]?$")


def letters_of(text: str) -> list[str]:
    """The choice labels that a key names: "C", "a, b and d", "(b)", "BD"; empty when it names none."""
    bare = text.strip()
    bare = bare[1:-1] if re.match(r"^\[[^\[\]]+\]$", bare) else bare
    if _LETTERS.match(bare):
        parts = re.split(spaces.BEFORE + r"(?:[,;&+/]|\band\b)\s*+", bare.rstrip("."))
        return [part.strip("() .").lower() for part in parts if part.strip("() .")]
    if re.match(r"^[A-H]{2,6}$", bare):
        return [letter.lower() for letter in bare]
    # "b. earthworms": the letter, then the choice's own text.
    with_text = re.match(r"^\(?([A-Za-z])[.):]\s+\S", bare)
    return [with_text[1].lower()] if with_text else []


def is_short_key(text: str) -> bool:
    """Whether a text is nothing but letters of choices, True or False, or a number."""
    return bool(letters_of(text)) or truth_of(text) is not None or bool(re.fullmatch(r"\(?\d{1,2}\)?[.)]?", text.strip()))


_TRUTHS = dict.fromkeys(("true", "t", "wahr", "richtig", "vrai", "verdadero"), True) | dict.fromkeys(
    ("false", "f", "falsch", "faux", "falso"), False
)


def truth_of(text: str) -> bool | None:
    """True or False as a key says it: "T", "true.", "F"."""
    word = re.sub(r"[.\s]", "", text).lower()
    return _TRUTHS.get(word)


@dataclass(frozen=True)
class NumberKey:
    answer: NumericAnswer
    unit: str | None


def number_of(text: str) -> NumberKey | None:
    """A numeric key: "25", "25 ± 0.5", "80 (± 1)", "24.5 to 25.5", "1.4 g/cm³", "1,250", "6.02 x 10^23"; None when it is none."""
    text = re.sub(r"(?<=10)[⁻⁰¹²³⁴⁵⁶⁷⁸⁹]+", lambda power: f"^{power[0].translate(_SUPERSCRIPTS)}", text)
    bare = text.strip().rstrip(".") if not re.search(r"\d\.$", text.strip()) else text.strip()[:-1]
    accepted = _ACCEPTED.match(bare)
    if accepted and (stated := _RANGE.match(accepted["range"])):
        low, high = sorted((_value(stated[1]), _value(stated[2])))
        return NumberKey(NumericAnswer(min=low, max=high), _unit(stated["unit"]))
    tolerant = _TOLERANT.match(bare)
    if tolerant:
        answer = NumericAnswer(value=_value(tolerant[1]), tolerance=abs(_value(tolerant[3])))
        return NumberKey(answer, _unit(tolerant["unit1"] or tolerant["unit2"]))
    between = _RANGE.match(bare)
    if between:
        low, high = sorted((_value(between[1]), _value(between[2])))
        return NumberKey(NumericAnswer(min=low, max=high), _unit(between["unit"]))
    lone = _LONE.match(bare)
    if lone:
        return NumberKey(NumericAnswer(value=_value(lone[1]), tolerance=0.0), _unit(lone["unit"]))
    return None


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


def texts_of(text: str) -> list[str]:
    """Several accepted answers: parted by semicolons, slashes or "or"."""
    parts = re.split(rf"{spaces.BEFORE};\s*+|{spaces.SOME_BEFORE}(?:/|or)\s++", text.strip())
    return [part.strip().strip('“”"') for part in parts if part.strip()]

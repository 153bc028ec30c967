"""Keys as people write them: labels of choices, words, numbers with tolerances, orders, pairs, several answers."""

from __future__ import annotations

import re
import unicodedata
from collections.abc import Collection, Sequence
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
_LONE = re.compile(rf"^({_PLAIN})\s*(?![/x×·*]\s*\d)(?P<unit>[A-Za-z%°µΩ‰/³²·€£$][A-Za-z0-9%°µΩ/³²·^⁻¹\-−.* ]{{0,18}})?$")
# Ranges whose bounds do not count or are open, and values that are rounded, in words as the program writes them.
_BOUNDED = re.compile(rf"^(more than\s+)?({_PLAIN})\s+to\s+(less than\s+)?({_PLAIN})(?:\s+(?P<unit>[^\d\s].{{0,18}}))?$", re.I)
_ONE_SIDED = re.compile(rf"^({_PLAIN})\s+or\s+(more|less)(?:\s+(?P<unit>[^\d\s].{{0,18}}))?$", re.I)
_BEYOND = re.compile(rf"^(more|less)\s+than\s+({_PLAIN})$", re.I)
_ROUNDED = re.compile(
    rf"^({_PLAIN})\s+to\s+(\d{{1,2}})\s+(significant\s+figures?|decimals?(?:\s+places?)?)(?:\s+(?P<unit>[^\d\s].{{0,18}}))?$",
    re.I,
)
_LABEL_PARTS = re.compile(r"[^\W_]+")
_BETWEEN_LABELS = re.compile(r"^(?:[\s,;&+/.()\[\]<>→⇒–—=-]|\b(?:and|then|und|et|y|e|en|or)\b)*+$", re.I)
_ONE = r"(?:[A-Za-z]|[ivx]{1,4}|\d{1,2})"
_WITH_TEXT = re.compile(
    rf"^\(?(?P<labels>{_ONE}(?:(?:\s?[,;&]\s?|\s(?:and|und|et)\s){_ONE}){{0,9}})(?:[.):\]]|\s[-–—=])[.)]?\s*(?=\S)"
)
_FIRST_LABELS = frozenset("abcdefghij")


def letters_of(text: str) -> list[str]:
    """The letters that a key consists of, where nothing is known of the choices: "C", "a, b and d", "(b)", "BD"; else none."""
    return labels_in(text, _FIRST_LABELS) or labels_in(text, frozenset(("i", "ii", "iii", "iv", "v", "vi")))


def labels_in(text: str, labels: Collection[str]) -> list[str]:
    """The labels of choices that a key consists of, in its order: "C, A, B", "c → a", "BD", "b. earthworms"; else none."""
    bare = text.strip()
    words = _LABEL_PARTS.findall(bare)
    if not words:
        return []
    found = [word.casefold() for word in words if word.casefold() not in ("and", "then", "und", "et", "or")]
    if found and all(word in labels for word in found) and _is_between(bare, words):
        return found
    if len(words) == 1 and len(words[0]) > 1 and re.fullmatch(r"[^\w]*\w+[^\w]*", bare):
        letters = list(words[0].casefold())
        told = words[0].isupper() or letters == sorted(letters) or len(letters) == len(labels)
        if all(letter in labels for letter in letters) and len(set(letters)) == len(letters) and told:
            return letters
    with_text = _WITH_TEXT.match(bare)
    named = [word.casefold() for word in _LABEL_PARTS.findall(with_text["labels"])] if with_text else []
    named = [word for word in named if word not in ("and", "und", "et")]
    return named if all(word in labels for word in named) else []


def _is_between(text: str, words: Sequence[str]) -> bool:
    """Whether nothing but signs and “and” or “then” stands between the words of a text."""
    at = 0
    for word in words:
        place = text.index(word, at)
        if not _BETWEEN_LABELS.match(text[at:place]):
            return False
        at = place + len(word)
    return bool(_BETWEEN_LABELS.match(text[at:]))


def is_short_key(text: str) -> bool:
    """Whether a text is nothing but letters of choices, True or False, or a number."""
    return bool(letters_of(text)) or truth_of(text) is not None or bool(re.fullmatch(r"\(?\d{1,2}\)?[.)]?", text.strip()))


_TRUTHS = dict.fromkeys(
    ("true", "t", "wahr", "richtig", "vrai", "verdadero", "vero", "correct", "right", "yes"), True
) | dict.fromkeys(("false", "f", "falsch", "faux", "falso", "incorrect", "wrong", "no"), False)
_PLAIN_TRUTHS = frozenset(("true", "t", "false", "f", "wahr", "falsch", "vrai", "faux", "verdadero", "falso", "vero", "richtig"))


def are_truths(words: Sequence[str]) -> bool:
    """Whether two texts are a truth and its opposite, in any words: “correct” and “incorrect”, but not “yes” and “no”."""
    if len(words) != 2:
        return False
    found = [truth_of(word, any_word=True) for word in words]
    plain = not any(_bare_word(word) in ("yes", "no") for word in words)
    return plain and None not in found and found[0] != found[1]


def _bare_word(text: str) -> str:
    return _AROUND_WORD.sub("", text).lower()


_AROUND_WORD = re.compile(r"[.\s()\[\]_]+")


def truth_of(text: str, any_word: bool = False) -> bool | None:
    """True or False as a key says it: "T", "true.", "F"; with `any_word` also as "yes" or "wrong"."""
    word = _bare_word(text)
    return _TRUTHS.get(word) if any_word or word in _PLAIN_TRUTHS else None


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


_SEVERAL = (rf"{spaces.BEFORE};\s*+", rf"{spaces.BEFORE}\|\s*+", rf"{spaces.SOME_BEFORE}/\s++", rf"{spaces.SOME_BEFORE}or\s++")
_SLASH = re.compile(r"(?<=[^\W\d_])/(?=[^\W\d_])")


def compared(text: str) -> str:
    """A text as keys and choices are compared: without case, spaces and a last stop."""
    return " ".join(unicodedata.normalize("NFKC", text).casefold().split()).rstrip(".")


def texts_of(text: str) -> list[str]:
    """Several accepted answers: parted by semicolons, bars, slashes or "or"."""
    parts = re.split("|".join(_SEVERAL), text.strip())
    if len(parts) == 1 and _SLASH.search(text) and not any(len(part) < 3 for part in _SLASH.split(text)[:1]):
        parts = _SLASH.split(text.strip())
    return [part.strip().strip('“”"') for part in parts if part.strip()]


def pairs_in(text: str) -> dict[str, str]:
    """The letters that a key pairs with numbers, “1-C, 2-A”; empty where it says anything else, or one alone."""
    pairs = entries_in(text)
    return pairs if len(pairs) > 1 and all(map(letters_of, pairs.values())) else {}


def entries_in(text: str) -> dict[str, str]:
    """What a key says for each of several numbers: “1-C, 2-A”, “1. C  2. A”, “1C 2A”, “(1) water (2) oxygen”; in its order."""
    found: dict[str, str] = {}
    matches = list(_NUMBERED.finditer(text))
    expected = 1
    chain = []
    for match in matches:
        if int(match["n"]) == expected:
            chain.append(match)
            expected += 1
    if not chain or chain[0].start() > 0:
        return {}
    for match, after in zip(chain, [*chain[1:], None], strict=True):
        value = text[match.end() : after.start() if after else len(text)].strip().rstrip(",;|").strip()
        found[match["n"]] = value
    return found if all(found.values()) else {}


_NUMBERED = re.compile(
    r"(?:^|(?<=[\s,;|]))[(\[]?(?P<n>\d{1,2})(?:[.)\]:]+|\s?[-–—=→>]+\s?|\s(?:with|and|to|is)\s|(?=[A-Ja-j](?![^\W_])))\s*(?=\S)"
)

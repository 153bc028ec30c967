"""Keys as people write them: labels of choices, words, numbers with tolerances, orders, pairs, several answers."""

from __future__ import annotations

import re
import unicodedata
from collections.abc import Collection, Sequence

from rogatum.core import spaces

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

"""Rules on choices: what gives the key away, what makes them hard to tell apart."""

from __future__ import annotations

import re
from collections.abc import Iterator
from itertools import combinations, pairwise

from rogatum.core.checks.advice.reading import Seen, words_of
from rogatum.core.finding import FindingKind
from rogatum.core.findings.advice import (
    ABSOLUTE_WORD,
    ALL_OF_THE_ABOVE,
    ARTICLE_CUE,
    CHOICE_NAMES_CHOICE,
    CHOICES_OVERLAP,
    CHOICES_UNORDERED,
    KEY_LONGEST,
    NONE_OF_THE_ABOVE,
    NUMBER_CUE,
    WORD_SHARED,
)
from rogatum.core.items import MultipleChoice, MultipleResponse
from rogatum.core.items.parts import letter
from rogatum.core.items.typed_numbers import NumberKey, number_of

Noted = tuple[FindingKind, dict[str, object]]
LONGER, MORE_CHARACTERS, FEWEST = 1.75, 25, 3

_BLANK = r"(?:[\s_.…]{0,30})"
_ARTICLE = re.compile(rf"(?:^|\s)(an?)\s?{_BLANK}:?$", re.I)
_VERB = re.compile(rf"(?:^|\s)(is|was|has|are|were|have)\s?{_BLANK}:?$", re.I)
# Words that begin with a vowel as they are said, or do not, against their letter.
_SAID_AS_VOWEL = re.compile(r"(?:hour|honest|heir|honou?r|[fhlmnrsx](?=[-.\d]|$))", re.I)
_SAID_AS_CONSONANT = re.compile(r"(?:uni(?!n|m)|use|us[aeu]|eu|one\b|once|ubiq|util|u(?=[-.]|$))", re.I)
_ABSOLUTE = re.compile(
    r"\b(always|never|completely|absolutely|entirely|impossible|under no circumstances|in all cases|without exception)\b", re.I
)
_ABOVE = r"(?: (?:of )?(?:the|these))? (?:above|these|choices|answers|options)(?: (?:is|are) (?:correct|true|right))?\W{0,3}"
_ALL = re.compile(rf"\W{{0,3}}(?:all|any|each){_ABOVE}", re.I)
_NONE = re.compile(rf"\W{{0,3}}(?:none|neither){_ABOVE}", re.I)
# “A and C”, “both 1 and 2 only”; and a choice that speaks of those above it, or of the first.
_LABEL = r"\(?[a-h1-6]\)?"
_LABELS = re.compile(
    rf"\W{{0,3}}(?:(?:both|either|neither|only|all of) )?{_LABEL}(?:, ?{_LABEL}){{0,4}},? ?(?:and|or|nor|&) ?{_LABEL}"
    r"(?: only| are (?:correct|true))?\W{0,3}",
    re.I,
)
_PLACES = re.compile(
    r"\babove\b|\b(?:first|last|previous|next|preceding|following) (?:two |three )?(?:choice|answer|option)s?\b", re.I
)
_COMMON = frozenset(
    "which about their there these those other between within under after before during would could should through because where "
    "when while always never often usually mostly likely correct following statement example called known named given describe "
    "describes using being does have with from into than then that this what most more less least greater greatest smaller larger "
    "increase increases decrease decreases number amount value level type types kind kinds part parts process".split()
)


def key_longest(seen: Seen) -> Iterator[Noted]:
    """Guidelines 24 (choices about equal in length) and 28d (no conspicuous key)."""
    if (
        seen.key is None
        or len(seen.choices) < FEWEST
        or seen.has_formulas
        or seen.shows
        or any(map(str.isdigit, seen.choices[seen.key]))
    ):
        return
    lengths = [len(choice) for choice in seen.choices]
    longest = max(length for n, length in enumerate(lengths) if n != seen.key)
    own = lengths[seen.key]
    if own >= LONGER * longest and own >= longest + MORE_CHARACTERS:
        yield KEY_LONGEST, {"key": own, "next": longest}


def _has_digits(text: str) -> bool:
    return any(map(str.isdigit, text))


def article_cue(seen: Seen) -> Iterator[Noted]:
    """Guideline 28c (no grammatical inconsistencies that give the key away)."""
    match = _ARTICLE.search(seen.stem)
    if match is None or seen.key is None:
        return
    article = match[1].lower()
    fits = [_takes(choice) == article for choice in seen.choices]
    if any(_takes(choice) is None for choice in seen.choices) or not fits[seen.key] or all(fits):
        return
    misfits = ", ".join(letter(n) for n, fit in enumerate(fits) if not fit)
    yield ARTICLE_CUE, {"article": article, "misfits": misfits}


def _takes(choice: str) -> str | None:
    """The article that a word takes; None for what takes none."""
    word = choice.strip("“\"'( ")
    if not word[:1].isalpha() or re.match(r"(?:an?|the|this|its)\b", word, re.I):
        return None
    if _SAID_AS_VOWEL.match(word):
        return "an"
    if _SAID_AS_CONSONANT.match(word):
        return "a"
    return "an" if word[0].lower() in "aeiou" else "a"


def number_cue(seen: Seen) -> Iterator[Noted]:
    """Guideline 28c: the verb before the choices is in the number of the key alone."""
    match = _VERB.search(seen.stem)
    if match is None or seen.key is None or len(seen.choices) < FEWEST:
        return
    plural = match[1].lower() in ("are", "were", "have")
    numbers = [_is_plural(choice) for choice in seen.choices]
    others = [number for n, number in enumerate(numbers) if n != seen.key]
    if None not in numbers and numbers[seen.key] is plural and all(number is not plural for number in others):
        yield NUMBER_CUE, {"verb": match[1]}


def _is_plural(choice: str) -> bool | None:
    """Whether a choice is one word, or an article with one, in the plural; None where that cannot be told."""
    words = words_of(choice)
    if not words or len(words) > 2 or (len(words) == 2 and words[0] not in ("a", "an", "the")):
        return None
    if words[0] in ("a", "an") and len(words) == 2:
        return False
    return words[-1].endswith("s") and not words[-1].endswith(("ss", "us", "is"))


def word_shared(seen: Seen) -> Iterator[Noted]:
    """Guideline 28b (no clang associations: a word of the stem that comes back in the key alone)."""
    if seen.key is None or len(seen.choices) < FEWEST:
        return
    others = {word for n, choice in enumerate(seen.choices) if n != seen.key for word in words_of(choice)}
    stem, key = set(seen.words), words_of(seen.choices[seen.key])
    for word in key:
        telling = len(word) >= 6 and word not in _COMMON and word in stem
        if telling and not any(_same_root(word, other) for other in others):
            yield WORD_SHARED, {"word": word}
            return


def _same_root(one: str, other: str) -> bool:
    return one[:4] == other[:4]


def absolute_word(seen: Seen) -> Iterator[Noted]:
    """Guideline 28a (specific determiners such as always and never), in wrong choices where the key has none."""
    if not seen.right or any(_ABSOLUTE.search(seen.choices[n]) for n in seen.right):
        return
    for n in seen.wrong:
        match = _ABSOLUTE.search(seen.choices[n])
        if match:
            yield ABSOLUTE_WORD, {"word": match[1].lower(), "what": f"choice {letter(n)}"}
            return


def all_or_none_of_the_above(seen: Seen) -> Iterator[Noted]:
    """Guidelines 25 (none of the above with care) and 26 (no all of the above)."""
    for n, choice in enumerate(seen.choices):
        for pattern, kind in ((_ALL, ALL_OF_THE_ABOVE), (_NONE, NONE_OF_THE_ABOVE)):
            if len(choice) < 60 and pattern.fullmatch(choice):
                yield kind, {"label": letter(n), "text": choice}


def _numbers(seen: Seen) -> list[NumberKey]:
    """The choices as numbers or ranges in one unit; none where any is something else."""
    found = [number_of(choice) for choice in seen.choices]
    numbers = [number for number in found if number is not None]
    one_unit = len({number.unit for number in numbers}) == 1
    return numbers if len(numbers) == len(found) >= FEWEST and one_unit else []


def choices_overlap(seen: Seen) -> Iterator[Noted]:
    """Guideline 22 (choices independent, not overlapping): ranges of numbers that share some."""
    if not isinstance(seen.item, MultipleChoice):
        return
    bounds = [number.answer.bounds() for number in _numbers(seen)]
    for one, other in combinations(range(len(bounds)), 2):
        (low, high), (least, most) = bounds[one], bounds[other]
        shared = min(high, most) - max(low, least)
        if low < high and least < most and shared > 0:
            yield (
                CHOICES_OVERLAP,
                {
                    "first": letter(one),
                    "second": letter(other),
                    "text": f"{seen.choices[one][:40]} and {seen.choices[other][:40]}",
                },
            )
            return


def choices_unordered(seen: Seen) -> Iterator[Noted]:
    """Guideline 21 (choices in logical or numerical order); not where they are shuffled anyway."""
    item = seen.item
    if not isinstance(item, MultipleChoice | MultipleResponse) or item.shuffle:
        return
    values = [number.answer.value for number in _numbers(seen) if number.answer.value is not None]
    if len(values) < max(FEWEST, len(seen.choices)) or len(set(values)) < len(values):
        return
    rising = [one < other for one, other in pairwise(values)]
    if any(rising) and not all(rising):
        yield CHOICES_UNORDERED, {}


def choice_names_choice(seen: Seen) -> Iterator[Noted]:
    """Guidelines 21 and 22: a choice that names others by letter or place, where the order is not kept."""
    if not getattr(seen.item, "shuffle", None) or any(len(choice) == 1 for choice in seen.choices):
        return
    for n, choice in enumerate(seen.choices):
        if len(choice) < 120 and (_LABELS.fullmatch(choice) or _PLACES.search(choice)):
            yield CHOICE_NAMES_CHOICE, {"label": letter(n), "text": choice[:80]}
            return

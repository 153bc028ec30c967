"""Lines with a label: “Answer: b”, “Pg = 12 | LVL: easy”. A label is known by its word, or by coming back item after item."""

from __future__ import annotations

import re
from collections import Counter
from collections.abc import Callable, Iterable, Sequence
from dataclasses import dataclass
from functools import cached_property
from itertools import islice

from rogatum.core.documents import patterns as p
from rogatum.core.documents.code import code_lines
from rogatum.core.documents.keys.values import is_short_key, pairs_in
from rogatum.core.documents.lines import Line

FEWEST, FEWEST_UNSIGNED, FEWEST_ALIKE, MOST_PARTS = 2, 3, 4, 24
_SIGNED = re.compile(r"[:=：]|\s[-–]\s")
_NAME = r"(?P<name>[^\W\d_]++\.?+(?:[ '’/-][^\W\d_]++\.?+){0,4}+(?:[ ]?\((?:s|es|[^\W\d_]{1,12})\))?+)"
_FIELD = re.compile(
    rf"\s*+[*_]{{0,2}}+{_NAME}[*_]{{0,2}}+"
    r"(?P<sep>[ \xa0]{0,2}+(?:[=-]>|:=|[:=：](?:[ ]?[-–](?=\s))?)|\|(?=\S)|—(?=\S)|[ \xa0]{1,3}+[-–—→|»~](?=\s)|(?=\s|$))"
    r"[*_]{0,2}+\s*+"
)
_PARTS = re.compile(r"(?<![\s|;¦•·])\s*+[|;¦•·]\s*+|(?<!\s)\s++|(?<=[^\s,])\s*+,\s++")
# No word for a key is shorter than three letters: most lines begin with a number or a letter.
_WORD_OF_KEY = rf"(?=[^\W\d_]{{3}})(?:{p.words_for('key')})"
_KEY_WORD = re.compile(rf"\s*+(?:(?P<name>{_WORD_OF_KEY})\.?+[ \xa0]++(?=\S)|(?P<alone>{_WORD_OF_KEY})\.?+\s*+$)", re.I)
_KEY_LABEL = re.compile(rf"\s*+[*_]*+{_WORD_OF_KEY}[*_]*+(?:\s*+[:=]|\.(?=\s)|\s++[-–](?=\s))", re.I)
# “Answer all questions” tells no key.
_TO_ALL = re.compile(
    r"(?:all|each|every|any|both|the\s+following|(?:the\s+|these\s+)?questions?|in\s+(?:complete|full|one|the))\b", re.I
)
_ANSWER, _SECOND = re.compile(r"\s*+A\s?:\s"), re.compile(r"\s*+[(\[]?[Bb]\s?[.:)\]]")
# What stands behind a label that is known nowhere.
_STRICT = (":", "=", "：", "-", "–")
_SIGNS = (":", "=", "：", "-", "–", "—", "→", "»", "~")
# “Best answer”, “Keyed response”: whatever stands before these, the key follows.
_KEY_NOUNS = frozenset(("answer", "answers", "choice", "response", "key", "solution"))
_LONG_MEANINGS = frozenset(("feedback", "model", "rubric", "correct", "incorrect"))


@dataclass(frozen=True, slots=True)
class Field:
    """A label with its value: `typed` is the label as it stands, `at` where it begins, `start` to `end` the value."""

    meaning: str
    typed: str
    at: int
    start: int
    end: int


def plain_name(name: str) -> str:
    """A label's word as it is looked up: without stops and case."""
    return " ".join(name.replace(".", " ").replace("’", "'").casefold().split())


def is_known(name: str) -> bool:
    """Whether a label's word means the same in every document."""
    return plain_name(name) in p.MEANING


def _several(holds: Callable[[str], object], lines: Iterable[Line], fewest: int) -> bool:
    """Whether something holds of several lines; no more are looked at than tell."""
    return len(list(islice(filter(holds, (line.text for line in lines)), fewest))) == fewest


def _begins_with_key_word(text: str) -> bool:
    """Whether a word for a key begins a line, without a sign behind it, and something follows."""
    match = _KEY_WORD.match(text)
    return match is not None and match["name"] is not None


class FieldWords:
    """The labels of one document: those that are known anywhere, and those that only come back in this one."""

    def __init__(self, lines: Sequence[Line] = ()) -> None:
        self._found: dict[str, list[Field]] = {}
        code = code_lines(lines)
        self.own = _recurrent(line for index, line in enumerate(lines) if index not in code)
        self.in_pairs = are_pairs(lines)
        if self.in_pairs:
            self.own |= {"a": "key", "q": ""}
        elif _several(_ANSWER.match, lines, FEWEST_ALIKE) and not _several(_SECOND.match, lines, 1):
            # “A:” without a “B:” is no choice.
            self.own["a"] = "key"
        self.key_lines = frozenset() if _several(_KEY_LABEL.match, lines, FEWEST) else _key_skeletons(lines)
        # What stands before a letter there tells other keys too: “Resp: B”, “Resp: false”.
        self.key_starts = tuple(before for before, _, behind in (name.partition("\0") for name in self.key_lines) if not behind)
        self.unsigned = _several(_begins_with_key_word, lines, FEWEST_UNSIGNED)

    @cached_property
    def keys_below(self) -> bool:
        """Whether labels of keys stand above what they say, as most of them do then; else one without a value has none."""
        fields = [(text, one) for text, found in self._found.items() for one in found if one.meaning == "key"]
        return sum(one.start >= len(text.rstrip()) for text, one in fields) * 2 >= len(fields)

    def meaning(self, name: str) -> str:
        plain = plain_name(name)
        known = p.MEANING.get(plain) or ("key" if plain.rpartition(" ")[2] in _KEY_NOUNS else "")
        return known or self.own.get(plain, "")

    def of(self, text: str) -> list[Field]:
        """The fields that a line consists of; none where it begins otherwise."""
        found = self._found.get(text)
        if found is None:
            found = self._found[text] = self._of(text)
        return found

    def key_in(self, text: str) -> Field | None:
        """The first field of a line that tells a key."""
        for one in self.of(text):
            if one.meaning == "key":
                return one
        return None

    def _of(self, text: str) -> list[Field]:
        first = self._at(text, 0)
        if first is None:
            return []
        found = [first]
        if first.meaning in _LONG_MEANINGS:
            return found
        for cut in _PARTS.finditer(text, first.start):
            before = found[-1]
            later = self._at(text, cut.end()) if cut.end() > before.start else None
            if later is None or not text[cut.end() : later.start].rstrip().endswith(_SIGNS) and text[later.start - 1] != "|":
                continue
            # A sentence ends before the next label.
            said = before.meaning == "key" and before.typed.endswith((" is", " are"))
            end = cut.start() - (said and text[: cut.start()].endswith("."))
            found[-1] = Field(before.meaning, before.typed, before.at, before.start, end)
            found.append(later)
            if later.meaning in _LONG_MEANINGS:
                break
        return found

    def _at(self, text: str, start: int) -> Field | None:
        if start == 0 and self.key_lines and (told := self._told_by_shape(text)):
            return told
        match = _FIELD.match(text, start)
        if match is None:
            return self._sentence(text, start) or self._without_sign(text, start)
        name, value = match["name"], text[match.end() :].strip()
        meaning = self.meaning(name)
        if not match["sep"]:
            return self._sentence(text, start) or self._without_sign(text, start)
        if not meaning:
            return self._sentence(text, start)
        if match["sep"].strip() in ("-", "–", "—") and meaning not in ("key", "points") and len(value) > 60:
            return None
        return Field(meaning, name, match.start("name"), match.end(), len(text.rstrip()))

    def _told_by_shape(self, text: str) -> Field | None:
        """A line that is like many others but for the letter that it names, or that begins as these do."""
        begun = text.strip().casefold()
        for before in self.key_starts:
            if begun.startswith(before) and before[-1:].isalpha() <= begun[len(before) : len(before) + 1].isspace():
                at = len(text) - len(text.lstrip())
                return Field("key", text[at : at + len(before)], at, at + len(before), len(text.rstrip()))
        for match in _LONE_LABEL.finditer(text[:MOST_KEY_LINE]):
            if _skeleton(text, *match.span()) in self.key_lines:
                return Field("key", "", 0, match.start("label"), match.end("label"))
        return None

    def _without_sign(self, text: str, start: int) -> Field | None:
        """“Ans. b”, “Answer B”: a word for the key, and nothing but a key behind it; anything where the document does so often."""
        match = _KEY_WORD.match(text, start)
        if match is None or _TO_ALL.match(text, match.end()):
            return None
        rest = text[match.end() :].strip()
        name = match["name"] or match["alone"]
        at = match.start("name") if match["name"] else match.start("alone")
        short = is_short_key(rest) or pairs_in(rest)
        if rest and not short and not (self.unsigned and start == 0) and not text[at + len(name) :].startswith("."):
            return None
        return Field("key", name, at, match.end(), len(text.rstrip()))

    @staticmethod
    def _sentence(text: str, start: int) -> Field | None:
        """“The correct answer is B.”, or an arrow to a letter."""
        arrow = p.KEY_ARROW.match(text, start)
        if arrow:
            return Field("key", "", arrow.start(), arrow.start("rest"), arrow.end("rest"))
        match = p.KEY_SENTENCE.match(text, start)
        return Field("key", match["words"], match.start("words"), match.start("rest"), match.end("rest")) if match else None


_LONE_LABEL = re.compile(r"(?<![^\W_])(?P<label>[A-Ja-j]|[ivx]{1,4})(?![^\W_])")
# One that no word follows, in a text that is read from its end.
_LAST_LABEL = re.compile(r"[\W\d_]*+" + _LONE_LABEL.pattern)
MOST_KEY_LINE = 40


def _skeleton(text: str, start: int, end: int) -> str:
    """A text without the label that stands from `start` to `end`."""
    return f"{text[:start].strip().casefold()}\0{text[end:].strip().casefold()}"


def _key_skeletons(lines: Iterable[Line]) -> frozenset[str]:
    """The shapes of short lines that stand again and again in a document with another letter in each: they tell the key.

    Lines that only a label fills, or that words follow it, are choices or questions.
    """
    counts: Counter[str] = Counter()
    letters: dict[str, set[str]] = {}
    for line in lines:
        text = line.text.strip()
        if not 1 < len(text) <= MOST_KEY_LINE or line.grid is not None:
            continue
        match = _LAST_LABEL.match(text[::-1])
        if match is None or len(match["label"]) == len(text):
            continue
        start, end = len(text) - match.end("label"), len(text) - match.start("label")
        name = _skeleton(text, start, end)
        counts[name] += 1
        letters.setdefault(name, set()).add(text[start:end].casefold())
    return frozenset(
        name for name, count in counts.items() if count >= FEWEST_ALIKE and 2 <= len(letters[name]) < count and _tells(name)
    )


def _tells(skeleton: str) -> bool:
    """Whether a shape is none of a label that only stands alone, as “b.” above its text."""
    before, _, behind = skeleton.partition("\0")
    words = re.search(r"[^\W\d_]{2,}", before)
    if words:
        return p.MEANING.get(plain_name(re.sub(r"(?<![\W_])[\W_]++$", "", before)), "key") == "key"
    return len(before.strip("([{<*")) > 0 and not re.search(r"\d", before)


def are_pairs(lines: Iterable[Line]) -> bool:
    """Whether questions begin with “Q:” and answers with “A:”."""
    texts = [line.text for line in lines if line.text.lstrip()[:1] in ("Q", "A")]
    pairs = (sum(bool(p.QUESTION_OF_PAIR.match(text)) for text in texts), sum(bool(p.ANSWER_OF_PAIR.match(text)) for text in texts))
    return min(pairs) >= FEWEST


def _ends_with_label(plain: str) -> bool:
    """Whether a word, or the last words of several, are a label that is known: “in the soil Diff”."""
    words = plain.split()
    return any(" ".join(words[at:]) in p.MEANING for at in range(len(words)))


def _recurrent(lines: Iterable[Line]) -> dict[str, str]:
    """Words that stand before a colon on several lines and are known nowhere: labels of this document, by their own names."""
    counts: Counter[str] = Counter()
    typed: dict[str, str] = {}
    for line in lines:
        if not _SIGNED.search(line.text):
            continue
        # An indented line begins once.
        first = len(line.text) - len(line.text.lstrip())
        for part in [first, *(cut.end() for cut in _PARTS.finditer(line.text, first))][:MOST_PARTS]:
            match = _FIELD.match(line.text, part)
            if match is None or match["sep"].strip(" \xa0")[:1] not in _STRICT:
                continue
            plain = plain_name(match["name"])
            if (
                (len(plain) == 1 or len(plain.split()[-1]) > 1)
                and not _ends_with_label(plain)
                and plain not in p.NO_LABELS
                and not p.TRUE_FALSE_CUE.search(plain)
                and len(match["name"]) <= 24
                and line.text[match.end() :].strip()
            ):
                counts[plain] += 1
                typed.setdefault(plain, match["name"])
    # One letter that comes back alone is a label; several are those of a list.
    letters = [plain for plain in counts if len(plain) == 1]
    listed = letters if len(letters) > 1 or letters == ["a"] else []
    return {plain: typed[plain].rstrip(".") for plain, count in counts.items() if count >= FEWEST and plain not in listed}

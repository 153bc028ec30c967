"""What may stand at the start of a line: a blank, a sign, a number or a letter with its signs. Candidates, not decisions.

One number may be read in several systems (“C.” is a letter and the Roman 100); which of them it is shows in the series that it
belongs to (see `numbering`).
"""

from __future__ import annotations

import re
from collections.abc import Sequence
from dataclasses import dataclass
from functools import lru_cache
from typing import Literal

from rogatum.core.documents.lines import OBJECT

System = Literal["n", "c.n", "a", "A", "i", "I", "•"]
LETTERS: tuple[System, ...] = ("a", "A")
NUMBERS: tuple[System, ...] = ("n", "c.n")

ON_SIGNS = "*✓✔√☑☒✗✘►▶◉⦿🗹"
OFF_SIGNS = "☐□○◯"
BULLETS = "•‣·▪■●◦∙➢➤–—-o"
_ROMAN_VALUES = {"i": 1, "v": 5, "x": 10, "l": 50, "c": 100}

# A word before a number or a letter; a Roman numeral with its stop is none.
_WORDS = (
    r"[#§№]",  # #1 §1
    r"[Qq]\.?[ \xa0]?[-–#]?[ \xa0]?(?=\d)",  # Q1 q. 1 Q#1 Q-1
    r"[^\W\d_]{1,12}+\.?[ \xa0]?(?:(?:no|nr|num|number)\.?[ \xa0]?|[#№°º][ \xa0]?)(?=\d)",  # Question no. 1, n° 1
    r"[^\W\d_]{2,12}+[-–](?=\d)",  # Item-1
    r"[^\W\d_](?=\d)",  # T1
    r"(?!(?:[IVXLC]++|[ivxlc]++)[.):])[^\W\d_]{2,12}+\.?[ \xa0]?#?(?=\d|[ \xa0]?[IVXLC]{1,6}\b)",  # Question 1, No. 1, Part IV
    r"[^\W\d_]{3,12}+[ \xa0](?=[A-Z]\b)",  # Option A
    r"[^\W\d_]{3,12}+[ \xa0](?=[a-z][.):\]])",  # opt a)
)
# What counts: the systems, each told by its signs.
_TOKENS = (
    r"\d{1,3}(?:\.\d{1,3}){1,2}(?![\d,])",  # 2.1 2.1.3
    r"\d{1,3}(?![\d,])",  # 12
    r"[1-9]\d{3}(?=[.):])",  # 1000.
    r"[IVXLC]{1,6}(?![^\W_])",  # IV
    r"[ivxlc]{1,5}(?![^\W_])",  # iv
    r"[A-Za-z](?![^\W_])",  # b
)
# What stands behind it: nothing at last.
_CLOSERS = (
    r"[ \xa0]?\.?\)[.:]?",  # ) .) ).
    r"\.[-–—:]",  # .-
    r"[ \xa0][-–—][.:)](?=\s)",  # -.
    r"[ \xa0]?[.:\]}>/›»«|º°ª][:.)/]?",  # . : ] / ›
    r"[ \xa0][-–—=](?=[\s*✓✔]|$)",  # -
    r"(?<=[A-Za-z])[-–—](?=\s)",  # A-
    r"(?<=[A-Za-z])[ \xa0]?[^\w\s,;!?\"'“”‘’«»$\\%&+*/=<>()\[\]{}-]{1,2}(?=\s)",  # · ~, behind a letter
    r"",
)
_LABEL = re.compile(
    r"(?P<before>[\[({<](?=[^\W\d_]{1,12}[. \xa0]?[ \xa0]?\d))?"
    rf"(?P<word>(?:{'|'.join(_WORDS)}))?+[ \xa0]?+(?P<open>(?:[(\[{{<«»§][ \xa0]?)?)(?P<token>{'|'.join(_TOKENS)})"
    r"(?:[ \xa0](?:of|von|de|sur)[ \xa0]\d{1,3}(?!\w))?"
    rf"(?P<close>{'|'.join(_CLOSERS)})"
    rf"(?:(?=\s|$)|(?<=[)\]}}>])|(?<=[ \xa0][-–—=])(?=[*✓✔])|(?<=[.:])(?=[A-Z“\"'‘¿({OBJECT}_*]))\s*+"
)
_BLANK = re.compile(
    r"(?P<open>[(\[]?)_++[ \xa0]?+(?:(?P<fill>[A-Za-z]{1,5}|\d{1,2}|[A-Za-z](?:,[ ]?[A-Za-z]){1,5}|✓|[xX])[ \xa0]?+_++)?[)\]]?\s*+"
)
_TRUTHS = re.compile(r"[*]?(?:T|True|TRUE)[*]?(?:\s*+[/|]\s*+|\s++)[*]?(?:F|False|FALSE)[*]?\s++", re.I)
# A key before a number, without a blank.
_LEAD = re.compile(
    r"[(\[]?(?P<fill>[A-JTFa-j]|True|False|TRUE|FALSE)[)\]]?\s++(?=(?:[#§]\s?)?\(?\d{1,3}[.)](?!\d)|[#§]\s?\d|[IVXL]{1,5}[.)]\s)"
)
_FIRST_OF_LEAD = frozenset("([ABCDEFGHIJTFabcdefghij")
# Signs that mark a choice as right, and those of one that is not marked.
_ON = (rf"[{re.escape(ON_SIGNS)}]++", r"\[[ ]?[xX✓✔*][ ]?\]", r"\([ ]?[xX✓✔*][ ]?\)", r"-+>", r"=+>", r"[→⇒]", r"=(?=[ \xa0])")
_OFF = (rf"[{OFF_SIGNS}]", r"\[\s{0,3}\]", r"\(\s{1,3}\)", r"\(\)")
_SIGN = re.compile(rf"(?P<on>{'|'.join(_ON)})|(?P<off>{'|'.join(_OFF)})")
_FIRST_OF_SIGN = frozenset(f"{ON_SIGNS}{OFF_SIGNS}[(-=→⇒")
# Any sign that is no letter, bracket or quotation mark, before a space; some before the text itself too.
_BULLET = re.compile(
    rf"(?:--|»»|\*\*|[{re.escape(BULLETS)}])(?=\s)|[^\w\s\"'“”‘’«„(\[{{<$_\\.,;:!?…{OBJECT}/](?=\s)|[•‣▪■●◦∙➢➤](?=\S)|[-–](?=[^\W\d_])"
)


@dataclass(frozen=True, slots=True)
class Label:
    """A number or letter before a text: `shape` is what all of its series share, as “Q{n}.” or “({a})”.

    `value` counts from 1; `chapter` is what stands before the last part of 2.1; `start` and `end` bound it in its line.
    """

    shape: str
    system: System
    value: int
    token: str
    start: int
    end: int
    chapter: str = ""

    @property
    def bare(self) -> bool:
        """Whether no sign tells it from a word of the text."""
        return self.shape in ("{n}", "{a}", "{A}", "{i}", "{I}", "{c.n}")


@dataclass(frozen=True, slots=True)
class Head:
    """The start of a line: where a blank, options to circle, a sign and labels stand, each of which may be absent.

    `fill` is what is written on the blank; `on` that the sign marks something as right, `off` that it is one without a mark,
    `odd` that it is not a known one; `text` is where the text begins when all of it is taken off.
    """

    blank: bool = False
    fill: str = ""
    truths: tuple[int, int] | None = None
    on: bool = False
    off: bool = False
    bullet: str = ""
    labels: tuple[Label, ...] = ()
    text: int = 0
    before_sign: int = 0
    odd: bool = False


def roman_value(text: str) -> int | None:
    """The value of a Roman numeral up to 399, or None where it is none that is written so."""
    total, before = 0, 0
    for sign in reversed(text.lower()):
        value = _ROMAN_VALUES.get(sign)
        if value is None:
            return None
        total += -value if value < before else value
        before = max(before, value)
    return total if roman(total) == text.lower() else None


_ROMAN_SIGNS = tuple(
    zip((1000, 900, 500, 400, 100, 90, 50, 40, 10, 9, 5, 4, 1), "m cm d cd c xc l xl x ix v iv i".split(), strict=True)
)


def roman(number: int) -> str:
    """A number as a small Roman numeral."""
    found = ""
    for value, sign in _ROMAN_SIGNS:
        while number >= value:
            found, number = found + sign, number - value
    return found


def letter(position: int) -> str:
    """The letter of the choice at a position (from 1)."""
    return chr(ord("a") + position - 1) if position <= 26 else f"c{position}"


@lru_cache(maxsize=1024)
def _readings(token: str) -> Sequence[tuple[System, int, str]]:
    """The systems that a token may be read in, as (system, value, chapter)."""
    if token[0].isdigit():
        chapter, _, last = token.rpartition(".")
        return [("c.n" if chapter else "n", int(last), chapter)]
    found: list[tuple[System, int, str]] = []
    upper = token.isupper()
    if len(token) == 1:
        found.append(("A" if upper else "a", ord(token.lower()) - ord("a") + 1, ""))
    if token.lower() in _ROMANS:
        found.append(("I" if upper else "i", _ROMANS[token.lower()], ""))
    return found


_ROMANS = {roman(number): number for number in range(1, 60)} | {"c": 100}


def labels_at(text: str, at: int, auto: int = 0) -> tuple[Label, ...]:
    """The labels that may stand at a place of a text; `auto` is the depth of the automatic list that it is of, 0 for none."""
    match = _LABEL.match(text, at)
    if match is None:
        return ()
    word, token = (match["word"] or "").strip(" \xa0").casefold(), match["token"]
    if word and token[0].isalpha() and token.islower() and not match["close"].strip():
        return ()
    if match["open"] and not match["close"].strip():
        return ()
    if not word and not match["open"] and not match["close"].strip() and token[0].isalpha() and not _is_wide(match):
        return ()
    before, behind = f"{word}{match['before'] or ''}{match['open'].strip()}", match["close"].strip()
    if auto:
        before = f"auto{auto} {before}"
    start, end = match.span()
    return tuple(
        [
            Label(f"{before}{{{system}}}{behind}", system, value, token, start, end, chapter)
            for system, value, chapter in _readings(token)
        ]
    )


def _is_wide(match: re.Match[str]) -> bool:
    """A bare letter may be a label before a gap, or one of the first: “A loam is” begins a sentence, as its series shows."""
    return match.end() - match.end("token") >= 2 or match["token"] in "ABCDEFGHabcdefgh"


def head_of(text: str, auto: int = 0) -> Head:
    """The candidates at the start of a line; `auto` is the depth of the automatic list whose label begins the text."""
    at = len(text) - len(text.lstrip())
    if at == len(text):
        return Head(text=at)
    first = text[at]
    if first.isalpha() and not _may_begin(text, at):
        return Head(text=at, before_sign=at)
    blank, fill, truths = False, "", None
    if first in "_([":
        match = _BLANK.match(text, at)
        if match and (match["fill"] or match.end() - match.start() >= 3):
            blank, fill, at = True, match["fill"] or "", match.end()
    elif first in "TtFf*":
        options = _TRUTHS.match(text, at)
        if options:
            truths, at = (options.start(), options.end()), options.end()
    lead = _LEAD.match(text, at) if first in _FIRST_OF_LEAD and not (blank or truths) else None
    if lead:
        blank, fill, at = True, lead["fill"], lead.end()
    before_sign = at
    on, off, at = _sign(text, at)
    bullet, odd = "", False
    labels = labels_at(text, at, auto)
    if not labels:
        found = _BULLET.match(text, at)
        if found:
            bullet, at = found[0], found.end()
            at += len(text[at:]) - len(text[at:].lstrip())
            behind = tuple(label for label in labels_at(text, at) if not label.bare and not label.shape[0].isalpha())
            if behind and not auto and not _SIGN.match(text, at):
                # A sign before a label tells it from the others.
                labels, on, odd = behind, True, True
    elif on or off:
        labels = tuple(label for label in labels if not label.bare and not label.shape[0].isalpha())
    end = labels[0].end if labels else at
    if (labels or bullet) and not (on or off):
        on, off, end = _sign(text, end)
    return Head(blank, fill, truths, on, off, bullet, labels, end, before_sign, odd)


def _may_begin(text: str, at: int) -> bool:
    """Whether a word at a line's start may be one before a number, or be a label itself: a quick look for the common case."""
    end = at + 1
    limit = min(len(text), at + 15)
    while end < limit and text[end].isalpha():
        end += 1
    if end - at <= 6 and (end == len(text) or not text[end].isalnum()):
        return True
    return end < len(text) and text[end] in " .\xa0#0123456789" and end - at <= 13


def _sign(text: str, at: int) -> tuple[bool, bool, int]:
    match = _SIGN.match(text, at) if text[at : at + 1] in _FIRST_OF_SIGN else None
    if match is None:
        return False, False, at
    end = match.end()
    end += len(text[end:]) - len(text[end:].lstrip())
    return bool(match["on"]), bool(match["off"]), end

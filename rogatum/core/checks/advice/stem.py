"""Rules on stems: whether they ask, ask once, ask plainly, and can be answered from what is there."""

from __future__ import annotations

import re
from collections.abc import Iterator

from rogatum.core.checks.advice.reading import Seen, has_english
from rogatum.core.finding import FindingKind
from rogatum.core.findings.advice import (
    ABSOLUTE_WORD,
    BLANK_FIRST,
    FIGURE_ABSENT,
    FOR_PAPER,
    NEGATIVE_STEM,
    NO_QUESTION,
    REFERS_TO_ITEM,
    REFERS_TO_PAGE,
    TWO_QUESTIONS,
)
from rogatum.core.items import TrueFalse
from rogatum.core.items.content import media_refs

Noted = tuple[FindingKind, dict[str, object]]
FEWEST_WORDS = 3

# What is asked is negative: not a clause within the question, nor a condition of it.
_VERB = r"(?:is|are|was|were|does|do|did|would|could|can|should|has|have|will)"
_CLAUSE = r"(?!\b(?:that|if|when|who|because|where|though|since)\b)"
_NEGATIVE = re.compile(
    rf"\b(?:[Ww]hich|[Ww]hat|[Ww]ho|[Ww]here)\b(?:{_CLAUSE}[^,;]){{0,90}}?\b{_VERB} (not)\b|\b(except)(?: for)?[\s:_.…?]{{0,20}}$"
)
_EMPHASIS = re.compile(r"<(strong|em|u)>(?:(?!</?\1>).){0,200}?\b(?:not|except)\b", re.I | re.S)
_BLANK_FIRST = re.compile(r'\s{0,9}(?:<p>\s{0,9})?(?:<span data-blank="[^"]*">|_{3})')
_MORE_BLANKS = re.compile(r"<span data-blank=|_{3,}+")
_ITEM = re.compile(
    r"\b(?:(?:see|from|in|to|of|using|use) (?:the )?(?:question|problem|item|exercise)s? \d{1,3}\b"
    r"|(?:previous|preceding|last|next) (?:question|item|problem|exercise)s?\b"
    r"|(?:question|item|problem|exercise)s? above\b|your (?:previous )?answer to (?:question|item|part)\b)",
    re.I,
)
_PAGE = re.compile(
    r"\b(?:(?:on|see|from) (?:pages?|pp?\.) ?\d{1,4}|(?:see|in|from|of|to) (?:the |your )?(?:textbook|course book)\b"
    r"|(?:in|from|see) chapter \d{1,2}\b)",
    re.I,
)
_DRAWN = r"(?:figure|graph|diagram|chart|map|photograph|illustration|drawing|picture)"
_FIGURE = re.compile(
    rf"\b(?:(?:in|on|from|using|see|of|at|by|to) (?:the |this )?(?:{_DRAWN}|fig\.|table)"
    r" (?:\d{1,3}|above|below|shown|to the (?:left|right))"
    rf"|(?:the|this) {_DRAWN} (?:above|below|shown|shows)"
    r"|(?:shown|pictured|illustrated) (?:below|above|here|at (?:left|right)))\b",
    re.I,
)
# At the start of a sentence or behind a joining word: what one is told to do, not what somebody does.
_TOLD = r"(?:^|[.!?:;] |\b(?:and|then|or|please) )"
_NOT_DRAWN = r"(?! (?:a )?(?:conclusions?|attention|distinctions?|o[nf]|from|upon)\b)"
_PAPER = re.compile(
    rf"{_TOLD}((?:draw|sketch|shade)\b{_NOT_DRAWN}[^.?!]{{0,60}}"
    r"|prove that\b[^.?!]{0,40}|plot (?:the|a|your|these)\b[^.?!]{0,40}"
    r"|label (?:the|its|each|all|a) [^.?!]{0,30}(?:diagram|drawing|figure|map|sketch)\b|show (?:all )?(?:of )?your work\b"
    r"|construct (?:a|the) (?:graph|diagram|triangle|drawing)\b)"
    r"|\b(on graph paper|(?:on|use) (?:a|another|the back of the) (?:separate )?sheet of paper|in the space (?:provided|below)"
    r"|(?:a labell?ed|with a|using a) (?:drawing|sketch)\b)",
    re.I,
)
_ABSOLUTE = re.compile(r"\b(always|never|under no circumstances|in all cases|without exception|completely|absolutely)\b", re.I)
# Words that a sentence goes on after.
_OPEN = frozenset(
    "is are was were be means has have had by of in on at to from with for the a an when where because than if and".split()
)
_QUESTION = re.compile(r"\?(?=\s|$|[”\")])")


def negative_stem(seen: Seen) -> Iterator[Noted]:
    """Guideline 17 (stems worded positively; else the negative in capitals and bold)."""
    match = _NEGATIVE.search(seen.asks)
    if match and not _EMPHASIS.search(seen.item.stem):
        yield NEGATIVE_STEM, {"word": next(word for word in match.groups() if word)}


def absolute_statement(seen: Seen) -> Iterator[Noted]:
    """Guideline 28a, of statements: one that holds without exception is false, and this one is."""
    match = _ABSOLUTE.search(seen.stem)
    if match and isinstance(seen.item, TrueFalse) and seen.item.answer is False:
        yield ABSOLUTE_WORD, {"word": match[1].lower(), "what": "the statement"}


def blank_first(seen: Seen) -> Iterator[Noted]:
    """Guideline 14 (directions in the stem clear): a blank before one knows what is asked."""
    if _BLANK_FIRST.match(seen.item.stem) and len(_MORE_BLANKS.findall(seen.item.stem)) == 1:
        yield BLANK_FIRST, {}


def two_questions(seen: Seen) -> Iterator[Noted]:
    """Guideline 1 (one specific content and one mental behaviour). The same question in a second language is no second one."""
    asked = _QUESTION.split(seen.stem)[:-1]
    if len(asked) > 1 and all(has_english(text) for text in asked):
        yield TWO_QUESTIONS, {}


def no_question(seen: Seen) -> Iterator[Noted]:
    """Guideline 15 (the central idea in the stem, not in the choices): few words that ask nothing and go on nowhere."""
    asks = "?" in seen.stem or _MORE_BLANKS.search(seen.item.stem) or media_refs(seen.item.stem) or seen.passage
    open_end = bool(seen.words) and (seen.words[-1] in _OPEN or seen.words[-1].endswith("s"))
    if not asks and not open_end and 0 < len(seen.words) <= FEWEST_WORDS and not re.search(r"[\d=+<]", seen.stem):
        yield NO_QUESTION, {"text": seen.stem[:60]}


def refers_to_item(seen: Seen) -> Iterator[Noted]:
    """Guideline 4 (content independent of other items)."""
    yield from _named(seen, _ITEM, REFERS_TO_ITEM)


def refers_to_page(seen: Seen) -> Iterator[Noted]:
    """Guideline 14 (directions clear in the stem itself)."""
    yield from _named(seen, _PAGE, REFERS_TO_PAGE)


def figure_absent(seen: Seen) -> Iterator[Noted]:
    """Guideline 14: what the stem speaks of is there."""
    if not seen.shows:
        yield from _named(seen, _FIGURE, FIGURE_ABSENT)


def for_paper(seen: Seen) -> Iterator[Noted]:
    """What cannot be given on a screen: a drawing, a proof set out by hand, a sheet of paper."""
    match = _PAPER.search(seen.stem)
    if match:
        yield FOR_PAPER, {"text": next(part for part in match.groups() if part)[:80].strip()}


def _named(seen: Seen, pattern: re.Pattern[str], kind: FindingKind) -> Iterator[Noted]:
    match = pattern.search(seen.stem)
    if match:
        yield kind, {"text": match[0].strip()[:80]}

"""Advice on the writing of items, apart from findings about reading: nothing of it is an error, and each kind can be put off.

The guidelines are those of Haladyna, Downing and Rodriguez (2002), “A Review of Multiple-Choice Item-Writing Guidelines for
Classroom Assessment”, Applied Measurement in Education 15(3), by the numbers of their table 1.
"""

from __future__ import annotations

from rogatum.core.finding import FindingKind
from rogatum.core.findings.catalogue import finding_kind

# What each kind is called, for those who choose which to put off.
ADVICE_WORDS: dict[str, str] = {}


def _advice(code: str, words: str, why: str, fix: str) -> FindingKind:
    ADVICE_WORDS[code] = words
    return finding_kind(code, "advice", why, fix, by="advice")


KEY_LONGEST = _advice(
    "key-longest",
    "The key is the longest choice",
    "The key is the longest choice by far: {key} characters, the next {next}.",
    "Shorten the key, or say as much in the others (guidelines 24 and 28d).",
)
ARTICLE_CUE = _advice(
    "article-cue",
    "a or an fits the key alone",
    "“{article}” before the choices fits the key and not {misfits}.",
    "Write “a(n)”, or put the article into the choices (guideline 28c).",
)
NUMBER_CUE = _advice(
    "number-cue",
    "Singular or plural fits the key alone",
    "“{verb}” before the choices fits the key alone.",
    "Word the choices all in the singular or all in the plural (guideline 28c).",
)
WORD_SHARED = _advice(
    "word-shared",
    "A word of the stem comes back in the key",
    "“{word}” stands in the stem and in the key, and in no other choice.",
    "Use it in another choice, or in none (guideline 28b).",
)
ABSOLUTE_WORD = _advice(
    "absolute-word",
    "Always, never and the like",
    "“{word}” gives {what} away: what is so without exception is seldom right.",
    "Say it without that word (guideline 28a).",
)
NEGATIVE_STEM = _advice(
    "negative-stem",
    "A negative that does not stand out",
    "The stem asks for what is not so, and “{word}” does not stand out.",
    "Ask for what is so; else set the word in capitals and bold (guideline 17).",
)
ALL_OF_THE_ABOVE = _advice(
    "all-of-the-above",
    "All of the above",
    "Choice {label} is “{text}”.",
    "Leave it out: who knows two right choices has the key, and who knows a wrong one is rid of it (guideline 26).",
)
NONE_OF_THE_ABOVE = _advice(
    "none-of-the-above",
    "None of the above",
    "Choice {label} is “{text}”.",
    "Use it with care: as the key it does not show what a student knows (guideline 25).",
)
CHOICES_OVERLAP = _advice(
    "choices-overlap",
    "Choices that overlap",
    "Choices {first} and {second} overlap: {text}.",
    "Let each value lie in one of them (guideline 22).",
)
CHOICES_UNORDERED = _advice(
    "choices-unordered",
    "Numbers not in order",
    "The choices are numbers and do not stand in order of size.",
    "Put them in order (guideline 21).",
)
BLANK_FIRST = _advice(
    "blank-first",
    "A blank at the start",
    "The stem begins with its blank.",
    "Put the blank towards the end, so that one knows what is asked before it (guideline 14).",
)
TWO_QUESTIONS = _advice(
    "two-questions",
    "Two questions in one",
    "The stem asks two questions.",
    "Ask one, or make two items of it (guideline 1).",
)
NO_QUESTION = _advice(
    "no-question",
    "A stem that asks nothing",
    "The stem asks nothing: “{text}”.",
    "Put the question into the stem, so that it can be answered without the choices (guideline 15).",
)
REFERS_TO_ITEM = _advice(
    "refers-to-item",
    "Refers to another item",
    "It refers to another item: “{text}”.",
    "Say what is needed here: items are drawn and shuffled (guideline 4).",
)
REFERS_TO_PAGE = _advice(
    "refers-to-page",
    "Refers to a page or chapter",
    "It refers to a page or chapter: “{text}”.",
    "Say what is needed here: who takes the quiz may not have the book (guideline 14).",
)
FIGURE_ABSENT = _advice(
    "figure-absent",
    "A figure that is not there",
    "It speaks of “{text}”, and there is no picture or table.",
    "Add it, or say what it shows (guideline 14).",
)
FOR_PAPER = _advice(
    "for-paper",
    "Asks for what needs paper",
    "It asks for what cannot be given on a screen: “{text}”.",
    "Reword it, leave it out, or mark it as for paper (no guideline of theirs, but of quizzes on a screen).",
)
CHOICE_NAMES_CHOICE = _advice(
    "choice-names-choice",
    "A choice that names others",
    "Choice {label} speaks of others by letter or place, and the choices are shuffled: “{text}”.",
    "Turn shuffling off for this item, or reword the choice (guidelines 21 and 22).",
)
KEYS_UNBALANCED = _advice(
    "keys-unbalanced",
    "Keys crowd at one place",
    "Of {of} items with {choices} choices, {count} have {label} as the key; so far from even by chance: {chance}.",
    "Move some keys (guideline 20).",
)
TRUTHS_UNBALANCED = _advice(
    "truths-unbalanced",
    "Too many true, or false",
    "Of {of} statements, {count} are {label}; so far from even by chance: {chance}.",
    "Turn some of them round (guideline 20).",
)
KEYS_RUN = _advice(
    "keys-run",
    "A run of the same key",
    "{count} keys in a row are {label}, from item {first} on; a run so long by chance: {chance}.",
    "Move some keys (guideline 20).",
)

"""The habits of a document in words: how questions are numbered, choices labelled, what was set aside; and what else may be."""

from __future__ import annotations

import re
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Literal

from rogatum.core.documents.choice_lists import BARE, SIGNED, ChoiceList
from rogatum.core.documents.numbering import MIXED, Numbering

About = Literal["numbering", "lettering", "aside"]
NO_NUMBERS = "none"
MOST_OTHERS = 6
_EXAMPLES = {"{n}": "1", "{c.n}": "1.1", "{a}": "a", "{A}": "A", "{i}": "i", "{I}": "I"}


@dataclass(frozen=True)
class Habit:
    """What was found about one thing, as a value and in words, and the other values that may be said instead."""

    about: About
    found: str
    words: str
    others: tuple[tuple[str, str], ...] = ()


def shape_in_words(shape: str) -> str:
    """A shape as people would write it: “Q1:”, “(a)”, “a dot, a dash or a box”."""
    if shape == MIXED:
        return "several shapes"
    if shape in (SIGNED, BARE, NO_NUMBERS):
        return "a dot, a dash or a box" if shape == SIGNED else "nothing before them"
    automatic = re.match(r"auto\d ", shape)
    bare = shape[automatic.end() :] if automatic else shape
    # The space behind a word is no part of a shape.
    bare = re.sub(r"(?<=[^\W\d_]{2})(?=\{)", " ", bare)
    for sign, example in _EXAMPLES.items():
        bare = bare.replace(sign, example)
    bare = bare[:1].upper() + bare[1:] if len(bare) > 2 and bare[:1].isalpha() else bare
    return f"{bare} (numbered by the program)" if automatic else bare


def habits_told(
    shape: str,
    usual: str,
    numberings: Sequence[Numbering],
    lists: Sequence[Sequence[ChoiceList]],
    counts: tuple[int, int],
    aside: int,
) -> list[Habit]:
    """`counts` are how many questions there are, and how many have choices; `aside` how many lines were set aside."""
    questions, listed = counts
    found = [
        Habit(
            "numbering",
            shape or NO_NUMBERS,
            f"{questions} questions, numbered as {shape_in_words(shape)}" if shape else f"{questions} questions without numbers",
            _choices([numbering.shape for numbering in numberings], shape, NO_NUMBERS),
        )
    ]
    if listed:
        shapes = list(dict.fromkeys(one.shape for of_item in lists for one in of_item))
        words = (
            f"{listed} with choices, labelled as {shape_in_words(usual)}"
            if usual != BARE
            else f"{listed} with choices that have no label"
        )
        found.append(Habit("lettering", usual, words, _choices(shapes, usual, BARE)))
    if aside:
        words = "1 line of the page was set aside" if aside == 1 else f"{aside} lines of the page were set aside"
        found.append(Habit("aside", "", words, (("read", "read them too"),)))
    return found


def _choices(shapes: Sequence[str], found: str, nothing: str) -> tuple[tuple[str, str], ...]:
    values = [shape for shape in shapes if shape != found][:MOST_OTHERS]
    values += [nothing] if nothing != found and nothing not in values and found else []
    return tuple((value, shape_in_words(value)) for value in values)

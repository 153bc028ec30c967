"""A reading of the whole: what numbers questions, where they begin, how choices are labelled; and what it gives."""

from __future__ import annotations

from dataclasses import dataclass, field

from rogatum.core.documents import patterns as p
from rogatum.core.documents.choice_lists import BARE, ChoiceList, Mark, lists_in, marks_between, shared_pools, usual_shape
from rogatum.core.documents.document import Document
from rogatum.core.documents.fields import FieldWords
from rogatum.core.documents.habits_told import Habit
from rogatum.core.documents.lines import Line
from rogatum.core.documents.numbering import Start
from rogatum.core.documents.weighing import Regularity, regularity_of

LONGEST_CHOICE = 300


@dataclass(frozen=True)
class Reading:
    """What is taken to hold for the whole document: what numbers questions, where they begin, and how choices are labelled."""

    starts: list[Start]
    shape: str = ""
    usual: str = ""
    lists: list[list[ChoiceList]] = field(default_factory=list)
    shared: dict[int, list[Mark]] = field(default_factory=dict)
    regular: Regularity = field(default_factory=Regularity)

    @property
    def numbered(self) -> bool:
        return bool(self.shape)


def reading_of(doc: Document, starts: list[Start], shape: str, words: FieldWords, labelled: str = "") -> Reading:
    """The reading that follows from where questions begin; `labelled` is the shape of choices, where a person says so."""
    ends = [start.index for start in starts[1:]] + [len(doc)][: len(starts)]
    marks = [marks_between(doc, start, end) for start, end in zip(starts, ends, strict=True)]
    lists = [lists_in(doc, own, start, end) for own, start, end in zip(marks, starts, ends, strict=True)]
    bare = sum(not found and _has_rows(doc, words, start.index, end) for found, start, end in zip(lists, starts, ends, strict=True))
    others = [[found for found in of_item if found.shape != shape] for of_item in lists]
    usual = labelled or usual_shape(others)
    listed = sum(any(found.shape == usual for found in of_item) for of_item in lists)
    if not labelled:
        usual = BARE if bare > listed else usual or BARE
    elif labelled != BARE:
        # A person says how choices are labelled: other lists are none.
        lists = [[found for found in of_item if found.shape == labelled] or of_item for of_item in lists]
    return Reading(starts, shape, usual, lists, shared_pools(starts, marks), regularity_of(others))


def _has_rows(doc: Document, words: FieldWords, start: int, end: int) -> bool:
    """Whether several lines without any label stand below a first one, before its key or its end."""
    rows = 0
    for index in range(start + 1, end):
        line = doc.lines[index]
        if line.blank:
            continue
        if line.heading or not may_be_row(line) or words.of(line.text):
            break
        rows += 1
    return rows > 1


def may_be_row(line: Line) -> bool:
    """Whether a line without a label may be a choice: it says something, and not that a part of the test begins."""
    return len(line.text) <= LONGEST_CHOICE and any(map(str.isalnum, line.text)) and not p.names_a_part(line.text)


@dataclass
class Block:
    """A question as it was placed: its number as its lines say it, and how many choices it has."""

    number: str
    choices: int = 0


@dataclass
class Placed:
    """All lines of a document in their roles, and the numbers of the questions in order, by position."""

    lines: list[Line] = field(default_factory=list)
    blocks: list[Block] = field(default_factory=list)
    numbered: bool = True
    habits: list[Habit] = field(default_factory=list)

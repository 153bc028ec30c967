"""A reading carried through: each line of a document gets its place in a question, or between questions."""

from __future__ import annotations

from rogatum.core.documents.between import place_between
from rogatum.core.documents.document import Document
from rogatum.core.documents.fields import FieldWords
from rogatum.core.documents.question import QuestionPlacer
from rogatum.core.documents.readings import Placed, Reading


def place(doc: Document, reading: Reading, words: FieldWords) -> Placed:
    """Gives each line its role under a reading."""
    result = Placed()
    starts = reading.starts
    first = starts[0].index if starts else len(doc)
    result.lines += place_between(doc, list(range(first)), words, top=True, bottom=not starts)
    ends = [start.index for start in starts[1:]] + [len(doc)][: len(starts)]
    for position, (start, end) in enumerate(zip(starts, ends, strict=True)):
        placer = QuestionPlacer(doc, reading, words, position, start, end)
        lines, tail = placer.place()
        result.lines += lines
        result.blocks.append(placer.block)
        result.lines += place_between(doc, tail, words, bottom=end == len(doc))
    return result

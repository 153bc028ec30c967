"""How a document is read: what its lines may be, the readings of the whole that follow, and the likeliest of them."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field

from rogatum.core.documents import patterns as p
from rogatum.core.documents.decisions import name_lines
from rogatum.core.documents.document import Document, heads_of
from rogatum.core.documents.fields import FieldWords
from rogatum.core.documents.furniture import furniture, unquoted, withdrawn
from rogatum.core.documents.habits_told import NO_NUMBERS, habits_told
from rogatum.core.documents.keys.entries import Entry
from rogatum.core.documents.keys.lists import key_lists, numbers_of, read_list
from rogatum.core.documents.keys.values import is_short_key
from rogatum.core.documents.labels import Head, labels_at
from rogatum.core.documents.lines import OBJECT, Line, Piece, line_of
from rogatum.core.documents.numbering import Numbering, Start, numberings
from rogatum.core.documents.placing import place
from rogatum.core.documents.readings import Placed, Reading, reading_of
from rogatum.core.documents.tables import opened
from rogatum.core.documents.unnumbered import starts_without_numbers
from rogatum.core.errors import UnreadableSource


@dataclass(frozen=True)
class Said:
    """What a person says of a document: roles by the names of lines, how questions are numbered, how choices are labelled.

    `numbering` and `lettering` are shapes (see `labels`), or “none”; `aside` “read” where nothing of the page is set aside.
    """

    roles: Mapping[str, str] = field(default_factory=dict)
    numbering: str = ""
    lettering: str = ""
    aside: str = ""


# Below this share of sure questions a numbering may be none.
ENOUGH = 0.6
# And below this one it is, where as many questions are found without it.
LEAST = 0.3


# A paragraph is looked at as a whole, in many ways.
LONGEST_LINE = 200_000


def _refuse_long(lines: Sequence[Line]) -> None:
    longest = max((len(line.text) for line in lines), default=0)
    if longest > LONGEST_LINE:
        raise UnreadableSource(
            f"This is a document with a paragraph of {longest:,} characters",
            f"A paragraph may have {LONGEST_LINE:,}.",
            "Begin a new paragraph for each question.",
        )


def read_lines(lines: Sequence[Line], said: Said | None = None) -> Placed:
    """The lines of a document in their roles, under the likeliest reading, and the habits that it was read by."""
    said = said or Said()
    _refuse_long(lines)
    named = list(lines)
    name_lines(named)
    kept, aside = _prepared(named, said.aside != "read")
    roles = {index: said.roles[line.name] for index, line in enumerate(kept) if line.name in said.roles} if said.roles else {}
    beside = [line for line in kept if line.file]
    lists, body, roles, heads = _without_lists([line for line in kept if not line.file], roles)
    lists += _lists_beside(beside, body, heads)
    doc = Document(body, roles, heads)
    words = FieldWords(body)
    found = numberings(doc, words, said.numbering)
    reading = _likeliest(doc, words, found, said)
    placed = place(doc, reading, words)
    placed.numbered = reading.numbered
    listed = sum(block.choices > 0 for block in placed.blocks)
    placed.habits = habits_told(reading.shape, reading.usual, found, reading.lists, (len(placed.blocks), listed), len(aside))
    placed.lines = _in_order([*placed.lines, *aside, *lists])
    return placed


def _prepared(lines: list[Line], page: bool) -> tuple[list[Line], list[Line]]:
    """The lines to be read, with tables opened that lay a test out; and those that belong to the page, if they are set aside."""
    found: list[Line] = []
    for line in unquoted(lines):
        inner = opened(line) if line.grid is not None else []
        found += inner or _parted(_object_behind_label(line))
    gaps = any(line.blank for line in found)
    blank = True
    for order, line in enumerate(found):
        line.order = order
        line.after_blank = blank or (line.paragraph and not gaps)
        blank = line.blank
    aside = furniture(found) | withdrawn(found) if page else set()
    kept = [line for index, line in enumerate(found) if index not in aside]
    return kept, [found[index].placed("aside") for index in sorted(aside)]


def _parted(line: Line) -> list[Line]:
    """A line behind whose text a key stands is two: “Clay is fine. (T/F) Answer: T”."""
    signed = ":" in line.text or "=" in line.text
    match = p.KEY_ON_LINE.search(line.text) if signed and line.grid is None else None
    before = line.text[: match.start()].strip() if match else ""
    # “Best answer: c” is a label of two words.
    if match is None or not before or p.LABEL.match(line.text) or (len(before.split()) < 3 and before.replace(" ", "").isalpha()):
        return [line]
    if not is_short_key(match["key"]):
        return [line]
    first, key = line.cut(0, match.start()), line.cut(match.end(), len(line.text.rstrip().rstrip(")]")))
    first.auto = line.auto
    key.paragraph = False
    return [first, key]


def _object_behind_label(line: Line) -> Line:
    """A line that a picture begins and a number follows, with the number first."""
    if not line.text.startswith(OBJECT) or line.grid is not None:
        return line
    label = next(iter(labels_at(line.text, len(line.text) - len(line.text.lstrip(OBJECT + " ")))), None)
    if label is None or label.bare:
        return line
    before, number, rest = line.cut(0, label.start), line.cut(label.start, label.end), line.cut(label.end, len(line.text))
    part = line_of(line.number, [*number.pieces, Piece(" "), *before.pieces, *rest.pieces], depth=line.depth, where=line.where)
    part.name, part.paragraph, part.after_blank = line.name, line.paragraph, line.after_blank
    return part


def _without_lists(lines: list[Line], said: Mapping[int, str]) -> tuple[list[Line], list[Line], dict[int, str], list[Head]]:
    """The lists of keys, as lines with their entries; the other lines, what was said of them, and what they may begin with."""
    heads = heads_of(lines)
    found = {index: entries for index, entries in key_lists(lines, numbers_of(heads)).items() if index not in said}
    lists: list[Line] = []
    body: list[Line] = []
    kept_said: dict[int, str] = {}
    kept_heads: list[Head] = []
    for index, line in enumerate(lines):
        if index in found:
            lists += _of_list(line, found[index])
        else:
            if index in said:
                kept_said[len(body)] = said[index]
            body.append(line)
            kept_heads.append(heads[index])
    return lists, body, kept_said, kept_heads


def _of_list(line: Line, entries: tuple[Entry, ...]) -> list[Line]:
    """A line of a list, with its entries; a table gives a line for each."""
    if line.grid is None:
        part = line.placed("key list")
        part.entries = entries
        return [part]
    found = []
    # The cells of a table were numbered before the table itself.
    for at, (number, key) in enumerate(entries, line.number - len(entries) + 1):
        part = Line(at, f"{number}. {key}", "key list", where=line.where, paragraph=True)
        part.entries, part.order = ((number, key),), line.order
        found.append(part)
    return found


def _lists_beside(lines: list[Line], body: list[Line], heads: Sequence[Head]) -> list[Line]:
    """The keys that stand in a document of their own."""
    if not lines:
        return []
    found = read_list(lines, range(len(lines)), body, numbers_of(heads))
    return [part for index, line in enumerate(lines) for part in _of_list(line, found.entries.get(index, ()))]


def _likeliest(doc: Document, words: FieldWords, found: list[Numbering], said: Said) -> Reading:
    """The reading that weighs most, or the one that a person names."""
    best = next((numbering for numbering in found if numbering.shape == said.numbering), found[0] if found else None)
    if said.numbering == NO_NUMBERS:
        best = None
    weak = best is None or (best.weight < ENOUGH * len(best.starts) and not said.numbering)
    loose = starts_without_numbers(doc, words) if weak else []
    few = best is None or best.weight < LEAST * len(best.starts)
    if loose and (best is None or len(loose) > (1 if few else 2) * len(best.starts)):
        return reading_of(doc, loose, "", words, said.lettering)
    begun = {index for index, role in doc.said.items() if role == "stem"}
    starts = _with_said(doc, best.starts if best else loose, begun)
    return reading_of(doc, starts, best.shape if best else "", words, said.lettering)


def _with_said(doc: Document, starts: list[Start], said: set[int]) -> list[Start]:
    """The questions that begin where a person says so are put among those that were found."""
    missing = said - {start.index for start in starts}
    added = [Start(index, next(iter(doc.heads[index].labels), None)) for index in missing]
    return sorted([*starts, *added], key=lambda start: start.index)


def _in_order(lines: list[Line]) -> list[Line]:
    return sorted(lines, key=lambda line: line.order)

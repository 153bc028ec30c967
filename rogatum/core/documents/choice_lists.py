"""The list of choices within a question: the series of letters, numbers or signs that it most likely is."""

from __future__ import annotations

import re
from collections import Counter, defaultdict
from collections.abc import Sequence
from dataclasses import dataclass, replace
from functools import cached_property

from rogatum.core.documents.document import Document, cells_of
from rogatum.core.documents.labels import LETTERS, Head, Label, head_of, labels_at
from rogatum.core.documents.numbering import Start

# The shape of choices that have a sign or a bullet and no label, and of those that have nothing at all.
SIGNED, BARE, RANKED = "•", "none", "rank"
RANK_BEHIND = re.compile(r"(?<!\s)\s*+[(\[](?P<n>\d{1,2})[)\]]\s*+$")
FEWEST, FEWEST_ON_ONE_LINE, FEWEST_BARE = 2, 3, 3
_CHOICE_WORD = re.compile(r"auto|(?:option|choice|answer|antwort|réponse|opción|respuesta|opzione|alternative)\b")
LIKING = {"a": 4, "A": 4, "i": 3, "•": 3, "n": 1, "I": 1, "c.n": 0}
_WITHIN = re.compile(r"(?<=\s)(?=[*✓✔]?\(?(?:[A-Za-z]|[ivx]{1,4})[.):\]])")


@dataclass(frozen=True, slots=True)
class Mark:
    """Where something that may be a choice begins: its line, its place in it, what stands there, and where its text begins."""

    index: int
    at: int
    head: Head
    label: Label | None = None

    @property
    def text(self) -> int:
        return self.at + self.head.text


@dataclass(frozen=True)
class ChoiceList:
    """Marks of one shape that count from 1 on."""

    shape: str
    marks: tuple[Mark, ...]

    @cached_property
    def first(self) -> Mark:
        return min(self.marks, key=lambda mark: (mark.index, mark.at))

    @property
    def last_index(self) -> int:
        return max(mark.index for mark in self.marks)

    @property
    def system(self) -> str:
        return self.marks[0].label.system if self.marks[0].label else "•"


def unlabelled(head: Head) -> Head:
    """What stands before a choice that has no label: a sign at most; a number that begins it is its text."""
    return head if head.on or head.off or head.bullet else Head(text=head.before_sign)


def marks_between(doc: Document, start: Start, end: int) -> list[Mark]:
    """What may be a choice in the lines of a question, which end before `end`; its own number is none."""
    found = _marks_of(doc, start.index, start.text, within=True)
    for index in range(start.index + 1, end):
        found += _marks_of(doc, index, 0, within=False)
    return found


def _marks_of(doc: Document, index: int, start: int, within: bool) -> list[Mark]:
    """What begins a line, and what begins behind each of its wide gaps; `within`: its start belongs to the stem."""
    line, head = doc.lines[index], doc.heads[index]
    found = [] if within or line.blank or not _may_list(head) else [Mark(index, 0, head)]
    if "  " in line.text[start:].strip() or "\xa0" in line.text:
        offset = start if within or line.blank else head.text
        others = [Mark(index, at, head_of(line.text[at:])) for at in cells_of(line.text, offset)[1:]]
        found += [mark for mark in others if _may_list(mark.head)]
    return found


def _may_list(head: Head) -> bool:
    return bool(head.labels or head.bullet or head.on or head.off)


def lists_in(doc: Document, marks: Sequence[Mark], start: Start, end: int) -> list[ChoiceList]:
    """All lists of a question, whose lines end before `end`, by its marks."""
    by_shape: dict[str, list[Mark]] = defaultdict(list)
    signed: list[Mark] = []
    for mark in marks:
        for label in mark.head.labels:
            lettered = label.system in (*LETTERS, "i") and not label.shape.endswith("}")
            if label.shape[0].isalpha() and not lettered and not _CHOICE_WORD.match(label.shape):
                continue
            by_shape[label.shape].append(Mark(mark.index, mark.at, mark.head, label))
        if not mark.head.labels:
            signed.append(mark)
    found = [run for shape, some in by_shape.items() for run in _runs(shape, some)]
    found += _signed_runs(doc, signed)
    if not any(run.system in LETTERS for run in found):
        found += _on_one_line(doc, start.index, end, start.text)
    return found


def _runs(shape: str, marks: Sequence[Mark]) -> list[ChoiceList]:
    groups: list[list[Mark]] = []
    for mark in marks:
        if mark.label and mark.label.value == 1:
            groups.append([])
        if groups:
            groups[-1].append(mark)
    found = []
    for group in groups:
        run = _counting(group)
        bare = shape in ("{a}", "{A}", "{n}", "{i}", "{I}")
        if len(run) >= (FEWEST_BARE if bare else FEWEST):
            found.append(ChoiceList(shape, tuple(run)))
    return found


def _counting(group: Sequence[Mark]) -> list[Mark]:
    """The marks that count on from 1, whatever their order on the page; one may be missing."""
    by_value: dict[int, Mark] = {}
    for mark in group:
        if mark.label:
            by_value.setdefault(mark.label.value, mark)
    run: list[Mark] = []
    value, skipped = 1, False
    while value in by_value or (not skipped and run and value + 1 in by_value):
        if value not in by_value:
            skipped = True
            value += 1
            continue
        run.append(by_value[value])
        value += 1
    return run


def _signed_runs(doc: Document, marks: Sequence[Mark]) -> list[ChoiceList]:
    """Runs of lines with bullets or boxes; within one, bullets are of one kind, or of two where one tells the right choices."""
    runs: list[list[Mark]] = []
    for mark in marks:
        near = bool(runs) and not any(doc.heads[i].labels for i in range(runs[-1][-1].index + 1, mark.index))
        if near and _kin(runs[-1][0], mark):
            runs[-1].append(mark)
        else:
            runs.append([mark])
    return [ChoiceList(SIGNED, tuple(run)) for run in runs if len(run) >= FEWEST]


def _kin(one: Mark, other: Mark) -> bool:
    return one.head.bullet == other.head.bullet or not (one.head.bullet and other.head.bullet)


def _on_one_line(doc: Document, first: int, after: int, start: int) -> list[ChoiceList]:
    """Choices that run on in one line, with no more than a space between them."""
    found = []
    for index in range(first, after):
        text = doc.lines[index].text
        begin = start if index == first else 0
        if not _WITHIN.search(text, begin):
            continue
        marks: dict[str, list[Mark]] = defaultdict(list)
        places = [match.start() for match in _WITHIN.finditer(text, begin)]
        opening = len(text) - len(text.lstrip())
        if index != first:
            places.insert(0, opening)
        for at in dict.fromkeys(places):
            for label in labels_at(text, at + (text[at : at + 1] in "*✓✔")):
                marks[label.shape].append(Mark(index, at, head_of(text[at:]), label))
        for shape, some in marks.items():
            found += [run for run in _runs(shape, some) if len(run.marks) >= FEWEST_ON_ONE_LINE]
    return found


def ranked(doc: Document, first: int, after: int) -> ChoiceList | None:
    """Entries that each have their place in an order written on a blank, in brackets, or behind them; None where there are none."""
    rows: list[tuple[Mark, int]] = []
    kind = ""
    for index in range(first + 1, after):
        line, head = doc.lines[index], doc.heads[index]
        if line.blank:
            continue
        place, how = _rank(line.text, head)
        if rows and how != kind:
            break
        if place:
            kind = how
            rows.append((Mark(index, 0, head), place))
    places = [place for _, place in rows]
    if len(rows) < FEWEST_ON_ONE_LINE or sorted(places) != list(range(1, len(rows) + 1)) or places == sorted(places):
        return None
    heads = [(mark, place, mark.head.text if _numbers(mark.head) else mark.head.before_sign) for mark, place in rows]
    return ChoiceList(
        RANKED, tuple(Mark(mark.index, mark.at, replace(mark.head, fill=str(place), text=at)) for mark, place, at in heads)
    )


def _numbers(head: Head) -> bool:
    return not head.blank and any(label.system == "n" for label in head.labels)


def _rank(text: str, head: Head) -> tuple[int, str]:
    """The place that an entry has in an order, and how it is written; 0 where there is none."""
    if head.blank and head.fill.isdigit():
        return int(head.fill), "blank"
    label = next((label for label in head.labels if label.system == "n"), None)
    if label is not None:
        return label.value, label.shape
    behind = RANK_BEHIND.search(text)
    return (int(behind["n"]), "behind") if behind else (0, "")


def usual_shape(lists: Sequence[Sequence[ChoiceList]]) -> str:
    """The shape that most questions list their choices in, by the last list of each; empty where none has any."""
    counts: Counter[str] = Counter()
    for of_item in lists:
        if of_item:
            counts[max(of_item, key=lambda found: (found.last_index, LIKING[found.system])).shape] += 1
    return max(counts, key=lambda shape: (counts[shape], shape)) if counts else ""


def shared_pools(starts: Sequence[Start], marks: Sequence[Sequence[Mark]]) -> dict[int, list[Mark]]:
    """Letters that count on from question to question, one in each: a list of answers that all of them share, by position.

    `marks` are those of each question. The last of the questions may have the rest of the letters.
    """
    found: dict[int, list[Mark]] = {}
    run: list[tuple[int, list[Mark]]] = []
    for position, (start, own) in enumerate(zip(starts, marks, strict=True)):
        numbered = own if start.label else ()
        letters = _letters_of(numbered, run[-1][1][-1].label if run else None)
        if not letters and run:
            run, letters = [], _letters_of(numbered, None)
        if letters and (run or len(letters) == 1):
            run.append((position, letters))
        if len(run) >= FEWEST:
            found.update(run)
        if len(letters) != 1:
            run = []
    return found


def _letters_of(marks: Sequence[Mark], before: Label | None) -> list[Mark]:
    """The letters of a question that go on from one before it, or begin with A."""
    found: list[Mark] = []
    for mark in marks:
        if before is None and len(found) > 1:
            # A list of its own.
            break
        last = found[-1].label if found else before
        value, shape = (last.value + 1, last.shape) if last else (1, "")
        fit = (label for label in mark.head.labels if label.system in LETTERS and label.value == value)
        label = next((label for label in fit if shape in ("", label.shape)), None)
        if label is not None:
            found.append(Mark(mark.index, mark.at, mark.head, label))
    return found

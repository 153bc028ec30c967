"""Which lines begin questions: the series of numbers that goes through the document, weighed by what lies between its numbers."""

from __future__ import annotations

import re
from collections import defaultdict
from collections.abc import Callable, Iterable, Sequence
from dataclasses import dataclass
from itertools import accumulate, pairwise

from rogatum.core.documents import patterns as p
from rogatum.core.documents.document import Document
from rogatum.core.documents.fields import FieldWords
from rogatum.core.documents.keys.values import pairs_in
from rogatum.core.documents.labels import LETTERS, NUMBERS, Label

WIDEST_GAP = 5
LONGEST_HEADING = 90
SURE, WITHIN = 0.8, 0.6
# Numbers in any shape, which weigh less than those in one; and they have to be several.
MIXED, AS_MIXED, FEWEST_MIXED = "mixed", 0.8, 3
_NO_ITEMS = re.compile(
    r"(?:part|section|chapter|unit|module|lesson|week|teil|kapitel|parte|partie|page|test|quiz|exam|figure|table|version|room)\b"
)
_COLUMN = re.compile(r"^\W*(?:column|list|spalte|columna|colonne)\b", re.I)
MANY_ANEW, SHARE_ANEW, SHORT_RUN, SHARE_HEADED, MOST_RUNS = 3, 0.15, 5, 0.8, 3
Step = Callable[[int, int], bool]


@dataclass(frozen=True, slots=True)
class Start:
    """Where a question begins: the position of its line, and the label before it; none where it has no number."""

    index: int
    label: Label | None = None

    @property
    def text(self) -> int:
        """Where its text begins on its line."""
        return self.label.end if self.label else 0


@dataclass(frozen=True)
class Numbering:
    """A reading of a document's numbers: the shape that numbers questions, and where they begin."""

    shape: str
    starts: list[Start]
    weight: float = 0.0


def numberings(doc: Document, words: FieldWords, said: str = "") -> list[Numbering]:
    """All readings of the numbers, the likeliest first; empty where nothing numbers questions. `said` is a shape that is kept."""
    by_shape: dict[str, list[Start]] = defaultdict(list)
    paired = _paired(doc, words)
    for index, head in enumerate(doc.heads):
        if index in paired or doc.said.get(index, "stem") != "stem":
            continue
        for label in head.labels:
            if not _NO_ITEMS.match(label.shape) and not p.TYPE_HEADING.match(doc.lines[index].text[label.end :]):
                by_shape[label.shape].append(Start(index, label))
    spread = _spread(by_shape)
    breaks = _counter(doc, lambda index: _looks_like_heading(doc, words, index))
    parts = _counter(doc, lambda index: _is_part(doc, words, index))
    _drop_choices(by_shape, spread)
    by_shape[MIXED] = _of_any_shape(doc, paired)
    spread[MIXED] = 0

    def read(shapes: Iterable[str]) -> list[Numbering]:
        chains = ((shape, chain(by_shape[shape], breaks, parts, len(doc))) for shape in shapes if by_shape[shape])
        counted = ((shape, _with_slips(starts, by_shape)) for shape, starts in chains if _can_number(shape, starts))
        return [Numbering(shape, starts, _weight(doc, words, shape, starts)) for shape, starts in counted]

    # Numbers that begin anew again and again count steps within questions; where no others number these, they are many short tests.
    steps = [shape for shape, starts in by_shape.items() if _begins_anew(shape, starts, spread[shape], breaks)]
    found = read(shape for shape in by_shape if shape not in steps)
    if not any(one.weight > 0 for one in found):
        found += read(shape for shape in steps if _label(by_shape[shape][0]).system in NUMBERS)
    likely = [one for one in found if one.weight > 0 and not any(_is_within(one, other) for other in found)]
    found = [one for one in found if one in likely or one.shape == said]
    return sorted(found, key=lambda numbering: -numbering.weight)


def _drop_choices(by_shape: dict[str, list[Start]], spread: dict[str, int]) -> None:
    """Takes out letters and small Roman numbers that begin anew again and again, where no numbers stand around them."""
    if any(_label(starts[0]).system in NUMBERS and len(starts) > 1 for starts in by_shape.values()):
        return
    for shape, starts in list(by_shape.items()):
        again = spread[shape] >= MANY_ANEW and spread[shape] >= SHARE_ANEW * len(starts)
        if _label(starts[0]).system in (*LETTERS, "i") and again:
            del by_shape[shape]


def _paired(doc: Document, words: FieldWords) -> set[int]:
    """The numbered lines that a key of their own question pairs with letters: “1-C, 2-D” below 1, 2 and A to D."""
    found: set[int] = set()
    for index, line in enumerate(doc.lines):
        key = words.key_in(line.text)
        pairs = pairs_in(line.text[key.start : key.end]) if key else {}
        if pairs:
            found |= _lefts_above(doc, words, index, list(pairs))
    return found


def _lefts_above(doc: Document, words: FieldWords, key: int, numbers: list[str]) -> set[int]:
    """The lines with these numbers in turn, where the number of their question stands above them."""
    wanted = list(numbers)
    found: set[int] = set()
    for index in range(key - 1, -1, -1):
        if words.key_in(doc.lines[index].text):
            break
        label = next((label for label in doc.heads[index].labels if label.system == "n"), None)
        if label is None:
            continue
        if not wanted:
            return found
        if str(label.value) != wanted.pop():
            break
        found.add(index)
    return set()


def _of_any_shape(doc: Document, paired: set[int]) -> list[Start]:
    """The numbers that begin lines, whatever their signs: in what several people wrote, each question may look otherwise."""
    found = []
    for index, head in enumerate(doc.heads):
        label = next((label for label in head.labels if label.system == "n" and not label.bare), None)
        if label and index not in paired and doc.said.get(index, "stem") == "stem" and not _NO_ITEMS.match(label.shape):
            found.append(Start(index, label))
    return found


def _is_within(inner: Numbering, outer: Numbering) -> bool:
    """Whether numbers begin anew in most questions of another reading, which are questions for sure: they are its choices."""
    sure = len(outer.starts) > 1 and outer.weight >= SURE * len(outer.starts)
    if inner is outer or not sure or _label(outer.starts[0]).value == _label(outer.starts[-1]).value:
        return False
    firsts = [start.index for start in inner.starts if _label(start).value == 1]
    ends = [start.index for start in outer.starts[1:]] + [inner.starts[-1].index + 1]
    held = sum(any(start.index <= first < end for first in firsts) for start, end in zip(outer.starts, ends, strict=True))
    return held >= WITHIN * len(outer.starts) and inner.weight < SURE * len(inner.starts)


def _spread(by_shape: dict[str, list[Start]]) -> dict[str, int]:
    """How often each shape begins anew at 1."""
    return {shape: sum(1 for start in starts if start.label and start.label.value == 1) for shape, starts in by_shape.items()}


def _begins_anew(shape: str, starts: Sequence[Start], runs: int, breaks: Step) -> bool:
    """Whether numbers begin anew for so few each time that they count something else than questions."""
    return bool(starts) and runs > MOST_RUNS * max(1, _longest(starts)) and not _by_sections(shape, starts, breaks)


def _can_number(shape: str, starts: Sequence[Start]) -> bool:
    """Whether a series can number questions: signs of any kind are of several, and no word before a number stands but once."""
    if shape == MIXED and len({_label(start).shape for start in starts}) < FEWEST_MIXED:
        return False
    # A word before a number, once: “Figure 4 shows …”.
    once = len(starts) == 1 and shape[0].isalpha() and _label(starts[0]).value > 1
    return bool(starts) and not once


def _by_sections(shape: str, occurrences: Sequence[Start], breaks: Step) -> bool:
    """Whether numbers that often begin anew do so below headings; a word before each tells it by itself."""
    if shape[:1].isalpha() and shape != MIXED:
        return True
    if _label(occurrences[0]).system not in NUMBERS:
        return False
    anew = [(a, b) for a, b in pairwise(occurrences) if _label(b).value == 1]
    headed = sum(breaks(a.index, b.index) for a, b in anew)
    return headed >= SHARE_HEADED * len(anew)


def _longest(starts: Sequence[Start]) -> int:
    return max((start.label.value for start in starts if start.label), default=0)


def _counter(doc: Document, holds: Callable[[int], bool]) -> Step:
    """Whether something holds of a line between two others. No line is looked at before that is asked: many series never do."""
    counts: list[int] = []

    def between(first: int, last: int) -> bool:
        if not counts:
            counts.extend(accumulate(map(holds, range(len(doc))), initial=0))
        return counts[last] > counts[first + 1]

    return between


def _is_part(doc: Document, words: FieldWords, index: int) -> bool:
    """Whether a line is a choice with a letter, a sign or a bullet, or a key."""
    head = doc.heads[index]
    lettered = any(label.system in (*LETTERS, "i") and not label.bare for label in head.labels)
    return lettered or head.on or head.off or bool(head.bullet) or words.key_in(doc.lines[index].text) is not None


def _looks_like_heading(doc: Document, words: FieldWords, index: int) -> bool:
    line, head = doc.lines[index], doc.heads[index]
    text = line.text.strip()
    if not text or head.blank or head.bullet or len(text) > LONGEST_HEADING or text.endswith(("?", ",")) or _COLUMN.match(text):
        return False
    if line.heading:
        return True
    # A line with a label of its own names no part by its first word.
    labelled = any(not label.bare and not label.shape[0].isalpha() for label in head.labels)
    if labelled and not _heads_a_section(doc, index):
        return False
    if p.names_a_part(text, head.text - (len(line.text) - len(line.text.lstrip())) if labelled else 0):
        return True
    if not (line.after_blank or line.paragraph) or words.of(text):
        return False
    above = next((i for i in range(index - 1, -1, -1) if not doc.lines[i].blank), None)
    done = above is not None and _ends_a_question(doc, words, above)
    shown = bool(line.marks() & {"bold", "underline"}) or text.isupper()
    return shown or (done and not text.endswith((".", ":")))


def _ends_a_question(doc: Document, words: FieldWords, index: int) -> bool:
    """Whether a line is a choice, a label, or what else stands last in a question."""
    head = doc.heads[index]
    return bool(head.labels or head.bullet or head.on or head.off) or bool(words.of(doc.lines[index].text))


def _heads_a_section(doc: Document, index: int) -> bool:
    """Whether a line with a letter or a Roman numeral names a part of the test: below it numbers begin anew."""
    head, text = doc.heads[index], doc.lines[index].text.strip()
    if any(label.system not in ("A", "I") for label in head.labels) or text.endswith((".", "?", ":")):
        return False
    if p.TYPE_HEADING.match(text[head.text - (len(doc.lines[index].text) - len(doc.lines[index].text.lstrip())) :]):
        return True
    above = next((i for i in range(index - 1, -1, -1) if not doc.lines[i].blank), None)
    before = {(label.shape, label.value + 1) for label in doc.heads[above].labels} if above is not None else set()
    if any((label.shape, label.value) in before for label in head.labels):
        return False
    below = next((i for i in range(index + 1, len(doc)) if not doc.lines[i].blank), None)
    return below is not None and any(label.value == 1 and label.system in NUMBERS for label in doc.heads[below].labels)


def chain(occurrences: Sequence[Start], breaks: Step, parts: Step, end: int) -> list[Start]:
    """The numbers of one shape that count on through the document; runs from 1 within a question are left out.

    `breaks` says whether a heading stands between two lines, `parts` whether choices or keys do.
    """
    if _jump_evenly(occurrences):
        return list(occurrences)
    ends = [start.index for start in occurrences[1:]] + [end]

    def asked(position: int) -> bool:
        return parts(occurrences[position].index, ends[position])

    last_of = {_label(start).value: place for place, start in enumerate(occurrences)}
    starts: list[Start] = []
    position = 0
    while position < len(occurrences):
        if starts:
            step = _next(occurrences, position, starts, breaks, asked)
        else:
            value = _label(occurrences[position]).value
            begins = value == 1 or last_of.get(value + 1, -1) > position or _has_successor(occurrences, position)
            after = _label(occurrences[position + 1]).value if position + 1 < len(occurrences) else None
            # “I. Choose the best answer” above “I. Clay is …” names a part.
            named = value == after and not asked(position) and asked(position + 1)
            step = 1 if (begins and not named) or len(occurrences) == 1 else -1
        if step > 0:
            starts.append(occurrences[position])
        position += abs(step)
    return starts


def _jump_evenly(occurrences: Sequence[Start]) -> bool:
    """Whether the numbers go up by the same step, which is wider than a gap: 10, 20, 30."""
    values = [_label(start).value for start in occurrences]
    steps = {b - a for a, b in zip(values, values[1:], strict=False)}
    return len(values) > 2 and len(steps) == 1 and min(steps) > WIDEST_GAP


def _next(occurrences: Sequence[Start], position: int, starts: list[Start], breaks: Step, asked: Callable[[int], bool]) -> int:
    """How far to go on from a position: forwards when it begins a question, the same backwards when it does not."""
    here = occurrences[position]
    label = _label(here)
    last = starts[-1]
    before = _label(last)
    if label.value == before.value + 1:
        return 1
    broken = breaks(last.index, here.index)
    if label.chapter != before.chapter:
        return 1 if label.value == 1 or broken else -1
    if label.value == 1:
        own = asked(position) and (position == 0 or asked(position - 1))
        return 1 if broken and own else _restart(occurrences, position, before.value, broken or own)
    if before.value < label.value <= before.value + WIDEST_GAP:
        soon = any(_label(other).value == before.value + 1 for other in occurrences[position + 1 : position + 3])
        return -1 if soon else 1
    if label.value == before.value:
        follower = occurrences[position + 1] if position + 1 < len(occurrences) else None
        return 1 if follower is None or asked(position) or _label(follower).value == label.value + 1 else -1
    return 1 if broken and _has_successor(occurrences, position) else -1


def _restart(occurrences: Sequence[Start], position: int, before: int, broken: bool) -> int:
    end = position
    while end + 1 < len(occurrences) and _label(occurrences[end + 1]).value == _label(occurrences[end]).value + 1:
        end += 1
    after = _label(occurrences[end + 1]).value if end + 1 < len(occurrences) else 0
    last = _label(occurrences[end]).value
    if after == before + 1 or (not broken and before < after <= before + 2):
        return position - end - 1
    if broken:
        return 1
    if last > before:
        # The run goes on as the series does: what is below its next number is within the question.
        return -before
    return position - end - 1


def _has_successor(occurrences: Sequence[Start], position: int) -> bool:
    value = _label(occurrences[position]).value
    return any(value < _label(other).value <= value + 2 for other in occurrences[position + 1 : position + 3])


def _label(start: Start) -> Label:
    assert start.label is not None
    return start.label


def _with_slips(starts: list[Start], by_shape: dict[str, list[Start]]) -> list[Start]:
    """The series with the numbers that are missing in it and stand at their place with another sign: “5)” among “4.” and “6.”."""
    system = _label(starts[0]).system
    if system not in NUMBERS:
        return starts
    word = _label(starts[0]).shape.split("{")[0].strip("([<")
    others = [
        start
        for shape, found in by_shape.items()
        if shape != _label(starts[0]).shape and shape.split("{")[0].strip("([<") == word
        for start in found
        if _label(start).system == system and not _label(start).bare
    ]
    added = []
    for a, b in pairwise(starts):
        before, after = _label(a).value, _label(b).value
        if after not in (1, 2, before + 2) or after == before + 1:
            continue
        # One is missing before the next, before numbers begin anew, or where they do.
        wanted = 1 if after == 2 else before + 1
        between = [start for start in others if a.index < start.index < b.index]
        hit = [start for start in between if _label(start).value == wanted]
        if len(hit) == 1 and not any(_label(start).value < wanted for start in between):
            added += hit
    if _label(starts[0]).value == 2:
        added += [start for start in others if start.index < starts[0].index and _label(start).value == 1][-1:]
    last = starts[-1]
    added += [start for start in others if start.index > last.index and _label(start).value == _label(last).value + 1 > 3][:1]
    return sorted([*starts, *added], key=lambda start: start.index)


def _weight(doc: Document, words: FieldWords, shape: str, starts: list[Start]) -> float:
    """How like questions the stretches between the numbers are: one list of choices or one key in each, and a text before it."""
    weight, exact, any_told = 0.0, 0, False
    # Letters number questions only where something is listed below most of them; else they are choices.
    floor = 0.3 if _label(starts[0]).system in (*NUMBERS, "I") else -0.3
    ends = [start.index for start in starts[1:]] + [len(doc)]
    for start, end in zip(starts, ends, strict=True):
        lists: dict[str, int] = defaultdict(int)
        keyed = 0
        for index in range(start.index, end):
            for label in doc.heads[index].labels:
                if label.shape != shape and label.value in (1, 2) and index > start.index:
                    lists[label.shape] += 1 if label.value == 1 else 0
            if doc.heads[index].bullet:
                lists["•"] = 1
            if (doc.heads[index].on or doc.heads[index].off) and not doc.heads[index].labels:
                lists["☐"] = 1
            if index > start.index and p.mark_behind(doc.lines[index].text):
                lists["✓"] = 1
            if index > start.index and words.key_in(doc.lines[index].text):
                keyed += 1
        most = max(lists.values(), default=0)
        first = doc.heads[start.index]
        told = most == 1 or keyed == 1 or first.truths is not None or bool(first.fill)
        exact += keyed == 1 and most == 1
        any_told = any_told or told
        weight += floor + 0.7 * told - (0.8 if most > 2 or keyed > 2 else 0)
    label = _label(starts[0])
    runs = sum(_label(start).value == 1 for start in starts)
    told_by_itself = label.system == "c.n" or (shape[:1].isalpha() and shape != MIXED)
    if runs > 2 and len(starts) < SHORT_RUN * runs and not told_by_itself:
        # What begins anew so soon is listed within questions, if there is a longer series; all the more with nothing below it.
        weight *= 0.75 if any_told else 0.5
    if shape == MIXED:
        return AS_MIXED * weight
    if label.system in LETTERS and len(starts) > 1 and exact >= 0.9 * len(starts):
        # One key in each: what is numbered within is what they choose from.
        weight = 4.0 * len(starts)
    if label.bare:
        weight *= 0.5 if label.system != "c.n" else 0.8
    if label.system not in NUMBERS and not label.shape.split("{")[0].strip("(["):
        weight *= 0.8
    return weight - 0.4 * _parts_before(doc, words, starts[0].index)


def _parts_before(doc: Document, words: FieldWords, first: int) -> int:
    """How many choices with letters and keys stand before a first question, which are then of none."""
    found = 0
    for index in range(first):
        labels = doc.heads[index].labels
        lettered = bool(labels) and labels[0].system not in NUMBERS and not doc.lines[index].heading
        found += lettered or words.key_in(doc.lines[index].text) is not None
    return found

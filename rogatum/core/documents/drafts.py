"""Drafts: items as their lines say them, in the section that they stand in, before their types are decided."""

from __future__ import annotations

import re
from dataclasses import dataclass, field

from rogatum.core import spaces
from rogatum.core.documents import patterns as p
from rogatum.core.documents.lines import Line, joined_text
from rogatum.core.finding import Finding, FindingKind
from rogatum.core.findings.items import ANSWER_LINE, LINE_OUTSIDE


@dataclass
class Section:
    """What headings and directions say of the questions below them: type, points each or in all, and their own text."""

    type: str = ""
    points_each: float | None = None
    # What its heading says, which holds for all directions below it.
    headed_each: float | None = None
    points_all: float | None = None
    directions: list[Line] = field(default_factory=list)
    pool: list[list[Line]] = field(default_factory=list)
    number: int = 0
    one_only: bool = False
    bracketed: bool = False
    heading: list[Line] = field(default_factory=list)

    def learn(self, text: str) -> None:
        """Takes in what a heading or a direction says."""
        self.one_only = self.one_only or bool(p.ONE_CUE.search(text))
        for name, pattern in p.SECTION_TYPES:
            if pattern.search(text):
                self.type = name
                break
        worth = p.WORTH_EACH.search(text) or p.POINTS_EACH.search(text)
        if worth is None:
            return
        value = float(worth["n"].replace(",", "."))
        if worth.re is p.WORTH_EACH or worth["each"]:
            self.points_each = value
        else:
            self.points_all = value


@dataclass
class Passage:
    """A passage or figure for the questions from `first` to `last`, within one section."""

    first: int
    last: int
    section: int
    lines: list[Line] = field(default_factory=list)


@dataclass
class Draft:
    """An item as its lines say it, before its type is decided."""

    number: int
    name: str
    first: Line
    last: Line
    section: Section
    stem: list[Line] = field(default_factory=list)
    choices: list[list[Line]] = field(default_factory=list)
    truths: list[Line] = field(default_factory=list)
    lefts: list[list[Line]] = field(default_factory=list)
    keys: list[str] = field(default_factory=list)
    labels: dict[str, list[Line]] = field(default_factory=dict)
    points: float | None = None
    path: list[str] = field(default_factory=list)
    stimulus: str | None = None

    @property
    def where(self) -> str:
        return self.first.where or f"line {self.first.number}"

    @property
    def text(self) -> str:
        """The stem as plain text."""
        return joined_text(self.stem)

    def label(self, name: str) -> str:
        return joined_text(self.labels.get(name, []))


@dataclass
class Drafted:
    """All drafts of a document, its passages, and the lines that belong to none."""

    title: str = ""
    drafts: list[Draft] = field(default_factory=list)
    passages: list[Passage] = field(default_factory=list)
    # Each with the number of drafts that stood before it.
    findings: list[tuple[Finding, int]] = field(default_factory=list)
    unclaimed: list[Line] = field(default_factory=list)
    claimed: int = 0
    # Lines of choices for the questions of their section, with it and the number of drafts that stood before each.
    pooled: list[tuple[Line, Section, int]] = field(default_factory=list)

    def leave_out(self, line: Line, before: int, kind: FindingKind = LINE_OUTSIDE) -> None:
        """Says of a line that it belongs to no question; `before` is the number of drafts that stood before it."""
        self.unclaimed.append(line)
        self.findings.append((kind.at(line.where or f"line {line.number}", text=line.shown.strip()[:80]), before))


def make_drafts(lines: list[Line]) -> Drafted:
    """Gathers lines with roles into drafts."""
    drafter = _Drafter()
    for line in lines:
        if line.role != "blank":
            drafter.take(line)
    return drafter.drafted


class _Drafter:
    def __init__(self) -> None:
        self.drafted = Drafted()
        self.path: list[tuple[int, str]] = []
        self.section = Section()
        self.seen: set[int] = set()

    def take(self, line: Line) -> None:
        drafted = self.drafted
        if line.role in ("outside", "aside"):
            if line.role == "outside":
                drafted.leave_out(line, len(drafted.drafts), ANSWER_LINE if p.NEAR_KEY.match(line.text) else LINE_OUTSIDE)
            else:
                drafted.unclaimed.append(line)
            return
        # Choices side by side share a line; it counts once.
        drafted.claimed += line.number not in self.seen
        self.seen.add(line.number)
        if line.role == "title":
            drafted.title = drafted.title or line.value
            self.section.learn(line.value)
        elif line.role == "heading":
            self._heading(line)
        elif line.role == "direction":
            self._direction(line)
        elif line.role == "use":
            first, last = map(int, line.label.split("-"))
            drafted.passages.append(Passage(first, last, self.section.number, [line]))
        elif line.role == "passage" and drafted.passages:
            drafted.passages[-1].lines.append(line)
        elif line.role == "stem":
            drafted.drafts.append(self._started(line))
        elif line.role == "choice" and line.item is None:
            drafted.pooled.append((line, self.section, len(drafted.drafts)))
            self.section.pool.append([line])
        elif line.item is not None and drafted.drafts:
            drafted.drafts[-1].last = line
            _added(drafted.drafts[-1], line)

    def _heading(self, line: Line) -> None:
        text = line.value
        if not p.TYPE_HEADING.match(text):
            self.path = [entry for entry in self.path if entry[0] < line.level] + [(line.level, _without_points(text))]
            self.drafted.title = self.drafted.title or _without_points(text)
        self.section = Section(number=self.section.number + 1, heading=[line])
        self.section.learn(text)
        self.section.headed_each = self.section.points_each

    def _direction(self, line: Line) -> None:
        if self.section.directions and self.drafted.drafts and self.drafted.drafts[-1].section is self.section:
            # A direction after questions begins a section of its own.
            each = self.section.headed_each
            self.section = Section(number=self.section.number + 1, points_each=each, headed_each=each)
        self.section.directions.append(line)
        self.section.learn(line.value)

    def _started(self, line: Line) -> Draft:
        number = int(line.label.rpartition(".")[2])
        draft = Draft(number, line.label, line, line, self.section, path=[name for _, name in self.path])
        take_brackets(draft, line)
        if line.value:
            draft.stem.append(line)
        if line.fill:
            draft.keys.append(line.fill)
        return draft


_POINTS_IN_BRACKETS = re.compile(
    spaces.BEFORE + r"[(\[](?=[^()\[\]]*+[)\]])[^()\[\]]*\b" + p.POINT_WORDS + r"(?!\w)[^()\[\]]*[)\]]", re.I
)


def _without_points(text: str) -> str:
    """A heading without points and directions: “Part I (2 marks each). Choose the best answer.”"""
    text = _POINTS_IN_BRACKETS.sub("", text).strip()
    sentences = re.split(r"(?<=[.:])\s+", text)
    kept = sentences
    while len(kept) > 1 and p.DIRECTION.match(kept[-1]):
        kept = kept[:-1]
    return " ".join(kept).rstrip(".:") if kept is not sentences else text


_BRACKET = re.compile(spaces.BEFORE + r"[(\[](?P<inner>[^()\[\]]{1,60})[)\]]\s*+$")
_POINTS = re.compile(rf"\s*+(?:worth\s++)?(\d+(?:[.,]\d+)?)\s*+(?:{p.POINT_WORDS}|p\.?)\s*+(?:each)?\s*+$", re.I)
_KEY = re.compile(r"\s*+(?:correct\s)?(?:answers?|ans|key)\s?[:=.]?\s(?P<key>\S.*?)\s*+$", re.I)
_POINTS_FIRST = re.compile(rf"\s*+[(\[](\d+(?:[.,]\d+)?)\s*+{p.POINT_WORDS}[)\]]\s*+", re.I)


def take_brackets(draft: Draft, line: Line) -> None:
    """Takes points in brackets at the start or the end of a stem, and a key in brackets at its end."""
    first = _POINTS_FIRST.match(line.text, line.start)
    end = len(line.text.rstrip()) if line.end is None else line.end
    if first and first.end() < end:
        draft.points = float(first[1].replace(",", "."))
        line.keep(first.end(), end)
    while match := _BRACKET.search(line.text[line.start : line.end]):
        points, key = _POINTS.match(match["inner"]), _KEY.match(match["inner"])
        if points:
            draft.points = float(points[1].replace(",", "."))
        elif key:
            draft.keys.append(key["key"])
        else:
            return
        line.keep(line.start, line.start + match.start())


_OPEN = re.compile(spaces.SOME_BEFORE + r"[(\[](?P<inner>[^()\[\]]{1,20})$")


def take_wrapped_points(draft: Draft) -> None:
    """Takes points in brackets that a line end divides: “(2” above “marks)”."""
    if len(draft.stem) < 2:
        return
    above, last = draft.stem[-2:]
    opened = _OPEN.search(above.text[above.start : above.end])
    points = _POINTS.match(f"{opened['inner']} {last.value[:-1]}") if opened and last.value.endswith((")", "]")) else None
    if opened and points:
        draft.points = float(points[1].replace(",", "."))
        above.keep(above.start, above.start + opened.start())
        draft.stem.pop()


def _added(draft: Draft, line: Line) -> None:
    if line.role == "choice":
        # Feedback that stands between choices is that of the choice above it.
        if draft.choices and draft.labels.get("feedback"):
            draft.labels[f"feedback:{draft.choices[-1][0].label}"] = draft.labels.pop("feedback")
        draft.choices.append([line])
    elif line.role == "left":
        draft.lefts.append([line])
    elif line.role == "truth":
        draft.truths.append(line)
    elif line.role == "key":
        draft.keys.append(line.spoken)
    elif line.role == "points":
        match = re.match(r"\s*(\d+(?:[.,]\d+)?)", line.value)
        draft.points = float(match[1].replace(",", ".")) if match else draft.points
    elif line.role in ("feedback", "label"):
        draft.labels.setdefault(line.label, []).append(line)
    elif line.role == "more":
        _continued(draft, line)


def _continued(draft: Draft, line: Line) -> None:
    if line.label == "left" and draft.lefts:
        draft.lefts[-1].append(line)
    elif line.label == "choice" and draft.choices:
        draft.choices[-1].append(line)
    elif line.label == "key" and draft.keys:
        draft.keys[-1] += " " + line.value
    elif line.label in draft.labels:
        draft.labels[line.label].append(line)
    else:
        take_brackets(draft, line)
        if line.value:
            draft.stem.append(line)

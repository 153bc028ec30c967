"""Matchings within one question: pairs told by a key, or by the lines that hold both sides."""

from __future__ import annotations

import re
from collections.abc import Callable
from dataclasses import dataclass, field

from rogatum.core.documents import patterns as p
from rogatum.core.documents.drafts import Draft
from rogatum.core.documents.key_lists import entries_of
from rogatum.core.documents.line_content import content_of
from rogatum.core.documents.lines import Line
from rogatum.core.items import Pair

Content = Callable[[str], str]
# What may stand between a left and a right; a tab may not, for columns need not pair what they put side by side.
SIGNS = ("->", "→", "=>", "⇒", " = ", " – ", " — ", " - ")
_GAP = re.compile(r"\s{3,}|\t")
_SIDE = re.compile(r"\s*+_*+\s*+(?:(?P<number>\d{1,2})|\(?(?P<letter>[A-Za-z]))[.)]\s*(?=\S)")
_LABEL = re.compile(r"^\s*\(?(?:\d{1,2}|[A-Za-z])[.)]\s+")


@dataclass
class Paired:
    """A matching: the lines of its stem, its pairs, and rights that no left has."""

    stem: list[Line]
    pairs: list[Pair]
    distractors: list[str] = field(default_factory=list)


def pairs_by_key(draft: Draft, key: str, content: Content) -> Paired | None:
    """Numbered lefts and lettered rights, with a key that pairs them: “1-c, 2-a”."""
    entries = [(int(n), k) for n, k in entries_of(key) if n.isdigit()]
    if len(entries) < 2:
        return None
    lefts: dict[int, str] = {}
    rights = {lines[0].label: content(content_of(lines)) for lines in draft.choices}
    stem: list[Line] = []
    for line in draft.stem:
        sides = _sides(line) if line is not draft.first else []
        for label, side in sides:
            if label.isdigit():
                lefts[int(label)] = content(side.content())
            else:
                rights[label.lower()] = content(side.content())
        if not sides:
            stem.append(line)
    pairs = [(lefts.get(number), rights.get(key.lower())) for number, key in entries]
    if any(left is None or right is None for left, right in pairs) or len(pairs) != len(lefts):
        return None
    used = {right for _, right in pairs}
    return Paired(
        stem,
        [Pair(left=str(left), right=str(right)) for left, right in pairs],
        [text for text in rights.values() if text not in used],
    )


def _sides(line: Line) -> list[tuple[str, Line]]:
    """The numbered lefts and lettered rights of a line, side by side or alone, each with its label."""
    found = []
    end = len(line.text) if line.end is None else line.end
    for start, stop in _cells(line.text, line.start, end):
        label = _SIDE.match(line.text, start, stop)
        if label:
            rest = line.cut(label.end(), stop)
            rest.keep(0)
            found.append((label["number"] or label["letter"], rest))
    return found


def _cells(text: str, start: int, end: int) -> list[tuple[int, int]]:
    """The stretches of a text between wide gaps."""
    cells, at = [], start
    for gap in _GAP.finditer(text, start, end):
        cells.append((at, gap.start()))
        at = gap.end()
    return [*cells, (at, end)]


def pairing_sign(draft: Draft) -> str:
    """The sign by which every line below a question that asks to match pairs two sides; empty where none does."""
    lines = _below(draft)
    asked = p.MATCH_CUE.search(draft.stem[0].value) if draft.stem else None
    if asked is None or len(lines) < 2:
        return ""
    return next((sign for sign in SIGNS if all(len(line.value.split(sign)) == 2 for line in lines)), "")


def pairs_by_line(draft: Draft, sign: str, content: Content) -> Paired:
    """The lines below a question as pairs: “clay – the finest particle”."""
    pairs = []
    for line in _below(draft):
        start = line.start if line.role == "choice" else (label.end() if (label := _LABEL.match(line.text)) else line.start)
        at = line.text.index(sign, start)
        left, right = line.cut(start, at), line.cut(at + len(sign), len(line.text) if line.end is None else line.end)
        pairs.append(Pair(left=content(left.content()), right=content(right.content())))
    return Paired(draft.stem[:1], pairs)


def _below(draft: Draft) -> list[Line]:
    """The lines below the first line of a question, be they its choices or the rest of its stem."""
    if draft.choices:
        return [lines[0] for lines in draft.choices] if len(draft.stem) == 1 and all(len(c) == 1 for c in draft.choices) else []
    return draft.stem[1:]

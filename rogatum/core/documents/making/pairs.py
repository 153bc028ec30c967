"""Matchings: numbers beside letters with a key that pairs them, letters on blanks, lines that hold both sides."""

from __future__ import annotations

import re

from rogatum.core.documents import patterns as p
from rogatum.core.documents.keys.values import entries_in, labels_in
from rogatum.core.documents.line_content import content_of
from rogatum.core.documents.lines import Line
from rogatum.core.documents.making.case import Case
from rogatum.core.findings.items import TYPE_GUESSED
from rogatum.core.findings.keys import KEY_UNKNOWN
from rogatum.core.items import Item, Matching, Pair

# What may stand between a left and a right; a tab may not, for columns need not pair what they put side by side.
SIGNS = (" -> ", " → ", " => ", " ⇒ ", "→", "->", " = ", " – ", " — ", " - ", " : ")
_LABEL = re.compile(r"^\s*\(?(?:\d{1,2}|[A-Za-z])[.)]\s+")


def by_labels(case: Case) -> Item | None:
    """Numbered lefts and lettered rights; the key pairs them, or each left has its letter on a blank."""
    draft = case.draft
    if len(draft.lefts) < 2 or len(draft.choices) < 2:
        return None
    rights = {lines[0].label: case.content(content_of(lines)) for lines in draft.choices}
    lefts = {lines[0].label: case.content(content_of(lines)) for lines in draft.lefts}
    filled = {lines[0].label: lines[0].fill for lines in draft.lefts if lines[0].fill}
    said = filled or _said(case.key, lefts, rights)
    item = Matching(id=case.id, stem=case.stem)
    used: set[str] = set()
    for number, left in lefts.items():
        named = labels_in(said.get(number, ""), rights)
        if len(named) != 1:
            if said or draft.keys:
                case.note(KEY_UNKNOWN, key=said.get(number) or f"nothing for {number}")
            continue
        used.add(named[0])
        item.pairs.append(Pair(left=left, right=rights[named[0]]))
    item.distractors = [right for label, right in rights.items() if label not in used] if item.pairs else []
    return item


def _said(key: str, lefts: dict[str, str], rights: dict[str, str]) -> dict[str, str]:
    """What the key says for each number; a bare row of letters is for the numbers in turn."""
    entries = entries_in(key)
    if entries:
        return entries
    named = labels_in(key, rights)
    return dict(zip(lefts, named, strict=True)) if len(named) == len(lefts) else {}


def by_lines(case: Case) -> Item | None:
    """Each line below the stem pairs two sides: “clay – the finest particle”."""
    draft = case.draft
    if draft.keys or draft.lefts or case.marked([lines[0] for lines in draft.choices]):
        return None
    lines = _below(case)
    sign = _sign(case, lines)
    if not sign:
        return None
    case.note(TYPE_GUESSED, detail=f"each line below it pairs a left and a right by “{sign.strip()}”.")
    pairs = [_pair(case, line, sign) for line in lines]
    if not draft.choices:
        case.stem_lines = case.stem_lines[:1]
    return Matching(id=case.id, stem=case.stem, pairs=pairs)


def _sign(case: Case, lines: list[Line]) -> str:
    """The sign by which every line pairs two sides; an arrow says so by itself, others where the stem asks to match."""
    if len(lines) < 2:
        return ""
    asked = case.asks("matching") or bool(p.MATCH_CUE.search(case.stem_lines[0].value if case.stem_lines else ""))
    signs = SIGNS if asked else SIGNS[:6]
    return next((sign for sign in signs if all(len(line.value.split(sign)) == 2 for line in lines)), "")


def _pair(case: Case, line: Line, sign: str) -> Pair:
    start = line.start if line.role == "choice" else (label.end() if (label := _LABEL.match(line.text)) else line.start)
    at = line.text.index(sign, start)
    left, right = line.cut(start, at), line.cut(at + len(sign), len(line.text) if line.end is None else line.end)
    for side in (left, right):
        side.keep(0)
    return Pair(left=case.content(left.content()), right=case.content(right.content()))


def _below(case: Case) -> list[Line]:
    """The lines below the first line of a question, be they its choices or the rest of its stem."""
    choices = case.draft.choices
    if choices:
        return [lines[0] for lines in choices] if len(case.stem_lines) == 1 and all(len(lines) == 1 for lines in choices) else []
    return case.stem_lines[1:]

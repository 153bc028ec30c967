"""A sign or a word that is known nowhere and stands behind one choice of most questions: it marks the right one."""

from __future__ import annotations

import re
from collections import Counter
from collections.abc import Sequence

from rogatum.core.documents.drafts import Draft
from rogatum.core.documents.lines import Line

MOST, FEWEST = 0.6, 3
# What may stand behind a choice and mark it: something in brackets, a sign, a word behind a dash.
_SUFFIX = re.compile(
    r"(?<!\s)\s*(?P<mark>[(\[{<][^()\[\]{}<>\d]{1,12}[)\]}>]|[^\w\s.,;:?)%°\"'’”\]…]{1,3}|[—–-]{1,3}\s?[^\W\d_]{2,10})\s*$"
)


def signed(lines: Sequence[Line]) -> list[Line]:
    """The choices that a sign of their own calls right. Where all have it and no label, it is a bullet."""
    found = [line for line in lines if line.marked]
    bullets = len(found) == len(lines) and (not any(line.token for line in lines) or all(line.odd for line in lines))
    return [] if bullets else found


def marks_behind(drafts: Sequence[Draft]) -> None:
    """Marks the choices that a sign or a word behind them tells from all others."""
    asked = [draft for draft in drafts if len(draft.choices) > 1 and not draft.keys]
    if any(signed([lines[0] for lines in draft.choices]) for draft in asked):
        return
    counts: Counter[str] = Counter()
    for draft in asked:
        behind = Counter(mark for lines in draft.choices if (mark := _mark_behind(lines[-1])))
        counts.update(mark for mark, count in behind.items() if count < len(draft.choices))
    mark, count = max(counts.items(), key=lambda entry: entry[1], default=("", 0))
    if count < max(FEWEST, MOST * len(asked)):
        return
    for draft in asked:
        for lines in draft.choices:
            last = lines[-1]
            match = _SUFFIX.search(last.text[: last.end], last.start)
            if match and match["mark"] == mark:
                lines[0].marked = True
                last.keep(last.start, match.start())


def _mark_behind(line: Line) -> str:
    match = _SUFFIX.search(line.text[: line.end], line.start)
    return match["mark"] if match else ""

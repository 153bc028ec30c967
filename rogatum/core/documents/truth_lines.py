"""True and False to be circled, ticked or struck out: on a line of their own, before a statement, or behind it."""

from __future__ import annotations

import re
from dataclasses import dataclass

from rogatum.core import spaces
from rogatum.core.documents.labels import head_of
from rogatum.core.documents.lines import Line

_WORDS = r"(?:true|false|t|f|wahr|falsch|richtig|vrai|faux|verdadero|falso|vero|yes|no)"
_ONE = rf"(?:[(\[]?[a-bA-B][.)\]]\s?)?(?:[☐□○◯☑☒✓✔*]\s?|[(\[][ xX✓*]?[)\]]\s?|_+\s?)?{_WORDS}[*✓✔]?"
_ALONE = re.compile(rf"^\s*+(?P<t>{_ONE})\.?(?:\s*[/|,]\s*|\s+or\s+|\s+)(?P<f>{_ONE})[.\s]*$", re.I)
_BEHIND = re.compile(
    rf"(?:{spaces.SOME_BEFORE}(?<=\s\s)|(?<=[.!?)])\s)(?P<t>true|t)(?:\s?[/|]\s?|\s+)(?P<f>false|f)\s*"
    r"(?P<worth>[(\[][^()\[\]]{1,20}[)\]]\s*)?$",
    re.I,
)
_WORD = re.compile(rf"{_WORDS}(?=[*✓✔]?$)", re.I)


@dataclass(frozen=True)
class Truths:
    """Two truths on a line: where they begin, the stretch of each, and of what stands behind them."""

    line: Line
    at: int
    spans: tuple[tuple[int, int], tuple[int, int]]
    # What stands in brackets behind them.
    rest: tuple[int, int] | None = None

    @classmethod
    def of(cls, line: Line, start: int, end: int) -> Truths:
        """Those between two places, which a statement follows."""
        match = re.match(r"[*]?(\w+)[*]?\W+[*]?(\w+)", line.text[start:end])
        assert match is not None
        return cls(line, start, ((start + match.start(1), start + match.end(1)), (start + match.start(2), start + match.end(2))))

    def placed(self, item: int) -> list[Line]:
        found = []
        for begin, end in self.spans:
            head = head_of(self.line.text[begin:end])
            word = _WORD.search(self.line.text[begin:end])
            first, last = (begin + word.start(), begin + word.end()) if word else (begin, end)
            part = self.line.placed("truth", first, last, "truth", item)
            around = self.line.text[max(0, begin - 1) : first] + self.line.text[last : end + 1]
            part.marked = head.on or "*" in around or "✓" in around or "✔" in around
            found.append(part)
        return found


def truths_in(line: Line) -> Truths | None:
    """The truths that a line consists of."""
    match = _ALONE.match(line.text)
    if match is None or _kind(match["t"]) == _kind(match["f"]):
        return None
    return Truths(line, 0, (match.span("t"), match.span("f")))


def truths_at_end(line: Line, start: int) -> Truths | None:
    """The truths behind a statement, parted from it by a gap."""
    match = _BEHIND.search(line.text, start)
    if match is None or not line.text[start : match.start()].strip():
        return None
    return Truths(line, match.start(), (match.span("t"), match.span("f")), match.span("worth") if match["worth"] else None)


def _kind(text: str) -> bool:
    word = _WORD.search(text)
    return bool(word and word[0].lower() in ("true", "t", "wahr", "richtig", "vrai", "verdadero", "vero", "yes"))

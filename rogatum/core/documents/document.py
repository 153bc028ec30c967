"""A document as its lines with what each may begin with, and what its line ends and gaps mean."""

from __future__ import annotations

import re
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field
from functools import cached_property

from rogatum.core.documents.code import code_lines
from rogatum.core.documents.labels import Head, head_of
from rogatum.core.documents.lines import Line

NARROWEST, WIDEST = 48, 90
_GAP = re.compile(r"(?<!\s)\s{2,}+(?=\S)")


@dataclass
class Document:
    """`lines` are those that are read, without what was set aside; `said` are roles given by hand, by position."""

    lines: list[Line]
    said: Mapping[int, str] = field(default_factory=dict)
    heads: list[Head] = field(default_factory=list)

    def __post_init__(self) -> None:
        self.heads = self.heads or heads_of(self.lines)
        self.indents = [len(line.text) - len(line.text.lstrip()) for line in self.lines]

    def __len__(self) -> int:
        return len(self.lines)

    @cached_property
    def width(self) -> int:
        """Where the lines of a text were broken by hand or by a program; 0 where they were not."""
        lengths = [len(line.text) for line in self.lines if not line.paragraph]
        longest = max(lengths, default=0)
        full = sum(length > longest - 14 for length in lengths)
        return longest if NARROWEST <= longest <= WIDEST and full > 2 else 0

    @cached_property
    def code(self) -> frozenset[int]:
        """The positions of lines that are program code."""
        return code_lines(self.lines)

    def runs_on(self, index: int) -> bool:
        """Whether a line can only be the rest of the one above, whose last word filled the line."""
        above, line = self.lines[index - 1], self.lines[index]
        if line.after_blank or index == 0:
            return False
        first = line.text.split(maxsplit=1)
        return bool(self.width and first and len(above.text) + 1 + len(first[0]) > self.width)


def heads_of(lines: Sequence[Line]) -> list[Head]:
    """What each line may begin with."""
    return [head_of(line.text, line.depth if line.auto else 0) for line in lines]


def cells_of(text: str, start: int = 0) -> list[int]:
    """Where the stretches of a text begin that wide gaps part; the first is the start itself."""
    return [start, *(match.end() for match in _GAP.finditer(text, start))]

"""Lines of a program within a question: they begin no question, name no label, and are no headings."""

from __future__ import annotations

import re
from collections.abc import Sequence

from rogatum.core.documents.lines import Line

FEWEST = 2
# What only a program says, and what one may say beside such a line.
_SURE = re.compile(
    r"\s*+(?:(?:if|elif|else if|while|for|def|class|function|switch|try|with)\b[^?]*[:{]"  # if x > 3:
    r"|\}?\s*+else\s*+[:{]?"  # else:
    r"|return\b[^.?]*;?"  # return 80 * n
    r"|[A-Za-z_][\w.]*\([^()]*(?:\([^()]*\)[^()]*)*\);?"  # print(t)
    r"|[A-Za-z_]\w*\s*[-+*/]?=\s*[^=]*;"  # int x = 3;
    r"|\})\s*+$"
)
_LIKE = re.compile(r"\s*+(?:[A-Za-z_]\w*(?:\[[^\[\]]*\])?\s*(?:[-+*/:]?=|<-)\s*\S.*|import\s\S+|#\s?include\b.*|\{)\s*+$")
_LAST = (":", ")", ";", "{", "}", "else")


def code_lines(lines: Sequence[Line]) -> frozenset[int]:
    """The positions of lines that are program code: several in turn, of which one can be nothing else."""
    sure = {index for index, line in enumerate(lines) if _is_sure(line.text) and line.grid is None}
    found: set[int] = set()
    run: list[int] = []
    for index, line in enumerate([*lines, None] if sure else []):
        if line is not None and line.blank:
            continue
        if line is not None and line.grid is None and (index in sure or _LIKE.match(line.text)):
            run.append(index)
            continue
        if len(run) >= FEWEST and sure.intersection(run):
            found.update(run)
        run = []
    return frozenset(found)


def _is_sure(text: str) -> bool:
    if text.rstrip().endswith(_LAST):
        return _SURE.match(text) is not None
    return "return" in text and text.lstrip().startswith("return ")

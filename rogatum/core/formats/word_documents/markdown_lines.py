"""Markdown as people write tests in it: their own numbers, gaps and columns stay, which a list or a paragraph would lose."""

from __future__ import annotations

import re

from rogatum.core.documents.line_content import CODE_SIGN
from rogatum.core.formats.word_documents.stand_ins import GAP, TAB, with_spaces

_FENCE = re.compile(r"^\s{0,3}(?:```|~~~)")
_LABEL = re.compile(r"^(?P<open>\(?)(?P<token>\d{1,9}|[A-Za-z]|[ivxlcIVXLC]{2,6}|#)(?P<close>[.)])(?=\s|$)")
_BULLET = re.compile(r"^[-+*](?=\s+\S)")
_TABLE = re.compile(r"^\s*\||^\s*:?-{3,}:?\s*\||^\s*[-=]{3,}(?:\s+[-=]{3,})+\s*$|^\s*\+[-=+]+\+")
_RULE = re.compile(r"^\s{0,3}(?:(?:-\s*){3,}|(?:\*\s*){3,}|(?:_\s*){3,})$")
_CODE_INDENT = 4
_LONE_STAR = re.compile(r"(?<![\\*])\*(?!\*)")


def prepared(text: str) -> str:
    """The text with labels, bullets, gaps and runs of spaces written so that they are kept as they stand."""
    found: list[str] = []
    fenced = False
    lines = text.replace("\r\n", "\n").split("\n")
    for index, line in enumerate(lines):
        if _FENCE.match(line):
            fenced = not fenced
            found.append(line)
        elif fenced:
            found.append(line)
        elif not line.strip():
            between = 0 < index < len(lines) - 1 and not _is_indented_code(lines, index + 1)
            found += ["", GAP, ""] if between and found and found[-1] else [""]
        else:
            found.append(_line(line, after_gap=index > 0 and not lines[index - 1].strip()))
    return "\n".join(found)


def _is_indented_code(lines: list[str], index: int) -> bool:
    """Whether a line can only be code: indented, and no choice."""
    line = lines[index].expandtabs(_CODE_INDENT)
    bare = line.lstrip()
    return len(line) - len(bare) >= _CODE_INDENT and bool(bare) and not (_LABEL.match(bare) or _BULLET.match(bare))


def _line(line: str, after_gap: bool) -> str:
    if _TABLE.match(line) or _RULE.match(line):
        return line
    bare = line.lstrip()
    wide = line.expandtabs(_CODE_INDENT)
    indent = len(wide) - len(wide.lstrip())
    label, bullet = _LABEL.match(bare), _BULLET.match(bare)
    if (
        after_gap
        and indent >= _CODE_INDENT
        and not label
        and not bullet
        and CODE_SIGN.search(bare)
        and not bare.rstrip().endswith(("?", "."))
    ):
        return line
    if label:
        bare = f"{label['open']}{label['token']}\\{label['close']}{bare[label.end() :]}"
    elif bullet:
        bare = f"\\{bare}"
    if len(_LONE_STAR.findall(bare)) % 2:
        # A star without another one on its line marks something; it begins no emphasis that ends lines below.
        bare = _LONE_STAR.sub(r"\\*", bare)
    tail = "  " if bare.endswith("  ") else ""
    return with_spaces(bare.rstrip().replace("\t", TAB)) + tail

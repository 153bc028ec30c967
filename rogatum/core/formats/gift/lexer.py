"""GIFT's lexer: blocks with their lines, escapes, and the parts of a question, each with its span."""

from __future__ import annotations

import re
from collections.abc import Iterator
from dataclasses import dataclass, field

ESCAPED = "~=#{}:\\"
_CATEGORY = re.compile(r"^\s*+\$CATEGORY:\s*+(.*)$", re.I)
_ESCAPE = re.compile(r"\\([~=#{}:\\])|\\n")
_TEX_SPAN = re.compile(
    r"\\\\?\((?:(?!\\\\?[()]).)*+\\\\?\)|\\\\?\[(?:\\\\\[[^\]\\]*+\]|(?!\\\\?[\[\]]).)*+\\\\?\]|\$\$.*?\$\$", re.S
)


@dataclass
class Block:
    """A run of lines: a question or a category, with the comments above it. Lines count from 1."""

    first: int
    text: str
    comments: list[tuple[int, str]] = field(default_factory=list)
    category: bool = False
    # No blank line parts it from the block above.
    close_by: bool = False

    @property
    def last(self) -> int:
        return self.first + self.text.count("\n")


def blocks(text: str) -> Iterator[Block]:
    """The blocks of a file. A blank line ends a question, except between braces that are closed later."""
    lines = text.split("\n")
    pending: list[str] = []
    comments: list[tuple[int, str]] = []
    first = depth = 0
    close_by = False

    def flush() -> Iterator[Block]:
        nonlocal pending, comments, depth, close_by
        if pending:
            yield Block(first, "\n".join(pending), comments, close_by=close_by)
            comments = []
        pending, depth, close_by = [], 0, False

    for number, line in enumerate(lines, 1):
        if line.lstrip().startswith("//"):
            comments.append((number, line.strip()[2:].strip()))
            if pending:
                pending.append("")
            continue
        category = _CATEGORY.match(line)
        if category:
            yield from flush()
            yield Block(number, category[1].strip(), comments, category=True)
            comments = []
            continue
        if not line.strip() and not (depth > 0 and _closes_later(lines, number)):
            yield from flush()
            continue
        if pending and depth <= 0 and _begins_another(pending, lines, number):
            yield from flush()
            close_by = True
        if not pending:
            first = number
        pending.append(line)
        depth += brace_balance(line)
    yield from flush()
    if comments:
        yield Block(len(lines), "", comments)


def _begins_another(pending: list[str], lines: list[str], number: int) -> bool:
    """Whether a line begins a question although no blank line stands before it: by its title, or by braces of its own."""
    before = next((line.rstrip() for line in reversed(pending) if line.strip()), "")
    if not before.endswith("}") or before.endswith("\\}"):
        return False
    line = lines[number - 1]
    if line.lstrip().startswith("::"):
        return True
    return bool(re.match(r"\s*[\[\"“(]?[A-Z0-9]", line)) and _opens_before_blank(lines, number - 1)


def _opens_before_blank(lines: list[str], start: int) -> bool:
    for line in lines[start : start + 40]:
        if not line.strip():
            return False
        if any(line[position] == "{" for position in unescaped(line, "{")):
            return True
    return False


def _closes_later(lines: list[str], start: int) -> bool:
    """Whether an open brace is closed before the next question begins."""
    for line in lines[start : start + 60]:
        if line.lstrip().startswith(("::", "$CATEGORY")):
            return False
        for position in unescaped(line, "{}"):
            return line[position] == "}"
    return False


def unescaped(text: str, signs: str) -> Iterator[int]:
    """The positions of the unescaped signs."""
    position = 0
    while position < len(text):
        if text[position] == "\\":
            position += 2
            continue
        if text[position] in signs:
            yield position
        position += 1


def brace_balance(text: str) -> int:
    return sum(1 if text[position] == "{" else -1 for position in unescaped(text, "{}"))


def plain(text: str) -> str:
    """Text with the escapes undone. Within TeX, `\\n` before a letter is a command like \\nu and not a line break."""
    formulas = [match.span() for match in _TEX_SPAN.finditer(text)]

    def replaced(match: re.Match[str]) -> str:
        if match[1]:
            return match[1]
        after = text[match.end() : match.end() + 1]
        inside = any(start <= match.start() < end for start, end in formulas)
        return match[0] if inside and after.isalpha() else "\n"

    return _ESCAPE.sub(replaced, text)


@dataclass(frozen=True)
class Answer:
    """One answer of a question: its sign (= or ~), weight in per cent or None, text, and feedback, all still escaped."""

    sign: str
    percent: float | None
    text: str
    feedback: str


_PERCENT = re.compile(r"^\s*%(-?[\d.,]+)%")


def split_answers(body: str) -> tuple[list[Answer], str, str]:
    """The answers within braces, what stands before the first, and the general feedback (after ####)."""
    body, general = split_general(body)
    starts = list(unescaped(body, "=~"))
    head = body[: starts[0]] if starts else body
    answers = [_answer(body[a:b]) for a, b in zip(starts, [*starts[1:], len(body)], strict=False)]
    return answers, head, general


def split_general(body: str) -> tuple[str, str]:
    """A body parted from its general feedback, which begins with ####."""
    for position in unescaped(body, "#"):
        if body.startswith("####", position):
            return body[:position], body[position + 4 :]
    return body, ""


def _answer(text: str) -> Answer:
    sign, rest = text[0], text[1:]
    percent = _PERCENT.match(rest)
    if percent:
        rest = rest[percent.end() :]
    hash_at = next(unescaped(rest, "#"), None)
    answer, feedback = (rest, "") if hash_at is None else (rest[:hash_at], rest[hash_at + 1 :])
    number = float(percent[1].replace(",", ".")) if percent else None
    return Answer(sign, number, answer.strip(), feedback.strip())

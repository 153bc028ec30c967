"""Lists of keys at the end of a test, in any layout: one key a line, runs, grids, by part."""

from __future__ import annotations

import re

from rogatum.core.documents import patterns as p
from rogatum.core.documents.lines import Line

_PART = re.compile(
    r"^\s*(?:(?:part|section)\s+[\dA-Z]+|multiple\s+choice|true\s*+/?\s*+(?:or\s+)?false|matching|short\s+answers?|completion)\b[^:\d]*[:.]?",
    re.I,
)


def key_list_lines(lines: list[Line]) -> frozenset[int]:
    """The positions of the lines of key lists: behind a heading that says so, anywhere, and at the end of the document."""
    found: set[int] = set()
    start = _tail_start(lines)
    if start is not None:
        found.update(range(start, len(lines)))
    for index, line in enumerate(lines):
        if index in found:
            continue
        labelled = p.LABEL.match(line.text)
        if p.KEY_HEADING.match(line.text):
            run = _run_of_keys(lines, index + 1)
            if len(run) > 1 or (run and _entries(lines[run[0]].text) > 1):
                found.update([index, *run])
        elif labelled and _names_a_list(labelled["label"]) and _entries(line.text) > 1 and is_key_line(line.text):
            found.add(index)
    return frozenset(found)


def _names_a_list(label: str) -> bool:
    """“Answers:” and “Key:” may stand before a list; “Answer:” is that of one question."""
    return p.MEANING[label.lower()] == "key" and label.lower() in ("answers", "answer key", "key", "correct answers")


def _entries(text: str) -> int:
    return len(list(p.KEY_ENTRY.finditer(bare_keys(text))))


def _run_of_keys(lines: list[Line], start: int) -> list[int]:
    """The key lines from a position on, to the first other line."""
    found = []
    for index in range(start, len(lines)):
        if lines[index].blank:
            continue
        if not is_key_line(lines[index].text):
            break
        found.append(index)
    return found


def _tail_start(lines: list[Line]) -> int | None:
    """Where the list at the end begins: behind its heading, or at trailing lines that hold nothing but keys."""
    for index in range(len(lines) - 1, -1, -1):
        if p.KEY_HEADING.match(lines[index].text) and _all_keys([line.text for line in lines[index + 1 :] if not line.blank]):
            return index
    tail = [(i, line.text) for i, line in enumerate(lines) if not line.blank]
    start = None
    for index, text in reversed(tail):
        if not is_key_line(text):
            break
        start = index
    keys = sum(_entries(lines[i].text) for i, _ in tail if start is not None and i >= start)
    return start if start is not None and keys >= 2 else None


def bare_keys(text: str) -> str:
    """A line of a key list without the name of its part or the word before the keys."""
    labelled = p.LABEL.match(text)
    if labelled and p.MEANING[labelled["label"].lower()] == "key":
        text = labelled["rest"]
    return _PART.sub("", text)


def is_key_line(text: str) -> bool:
    """Whether a line is nothing but numbers with their keys: "1-A, 2-D", "3. b", "Part A: 1. b 2. d"."""
    bare = bare_keys(text)
    entries = list(p.KEY_ENTRY.finditer(bare))
    return bool(entries) and not re.search(r"[^\s,;|.()\[\]]", p.KEY_ENTRY.sub("", bare))


def is_text_key_line(text: str) -> bool:
    """Whether a line of a list is a number with an answer in words: "13. table", "Part D: 13. table"."""
    return bool(re.match(r"^\s*\d{1,3}\s*[.):\-–—=]\s*\S.{0,60}$", bare_keys(text)))


def _all_keys(texts: list[str]) -> bool:
    sure = sum(map(is_key_line, texts))
    worded = sum(is_key_line(text) or is_text_key_line(text) or bool(p.NAMED_HEADING.match(text)) for text in texts)
    return bool(texts) and (sure >= 0.6 * len(texts) or worded >= 0.9 * len(texts))


def key_entries(text: str) -> list[tuple[int, str]]:
    """The entries of a line of a key list, as (number, key)."""
    bare = bare_keys(text)
    if is_key_line(text):
        return [(int(match["number"]), match["key"]) for match in p.KEY_ENTRY.finditer(bare)]
    match = re.match(r"^\s*(\d{1,3})\s*[.):\-–—=]\s*(\S.*)$", bare)
    return [(int(match[1]), match[2].strip())] if match else []

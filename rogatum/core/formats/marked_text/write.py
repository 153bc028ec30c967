"""Writes marked text that a person can read and its reader reads back: one line per part, keys by asterisk or answer line."""

from __future__ import annotations

from rogatum.core.finding import Finding
from rogatum.core.formats.shared import document_writing as parts
from rogatum.core.formats.shared.base import TEACHERS_COPY, WriteOptions, Written
from rogatum.core.formats.shared.papers import papers_of
from rogatum.core.items import Bank, Item
from rogatum.core.items.content import plain_text
from rogatum.core.items.parts import letter
from rogatum.core.sources import MediaBox

# What stands before an item. A title of a part would be read as text of the question before it.
_LINES = ("note", "instructions")


def write_marked_text(bank: Bank, _media: MediaBox, options: WriteOptions = TEACHERS_COPY) -> Written:
    """The bank as one text file in UTF-8, numbered through."""
    findings: list[Finding] = []
    (paper,) = papers_of(bank, options, parts.is_held)
    blocks = ["\n".join(filter(None, [paper.title, paper.facts]))] if paper.title and (paper.facts or not bank.pools) else []
    keys: list[str] = []
    for entry in parts.entries(paper.bank, "Marked text", findings):
        blocks += [f"{'#' * (level + 1)} {name}" for level, name in entry.headings]
        blocks += [line_text(line.content) for line in paper.before.get(entry.item.id, []) if line.kind in _LINES]
        if entry.passage:
            blocks.append(f"{entry.use}\n\n{line_text(entry.passage.content)}")
        own = _teachers_lines if options.copy == "teacher" else _students_lines
        blocks.append("\n".join(own(entry)))
        if key := parts.key_letters(entry.item) or parts.key_text(entry.item):
            keys.append(f"{entry.number}. {key}")
    if options.copy == "key list" and keys:
        blocks.append("\n".join(["Answer key", *keys]))
    return Written(("\n\n".join(blocks) + "\n").encode(), ".txt", findings, paper.sets())


def line_text(content: str) -> str:
    """Content as one line of text, formulas as TeX."""
    return plain_text(content, math=lambda tex: f"\\({tex}\\)")


def _teachers_lines(entry: parts.Entry) -> list[str]:
    item = entry.item
    lines = _asked(entry, "", marked=True)
    if key := parts.key_text(item):
        lines.append(f"Answer: {key}")
    labels = parts.head_labels(item) + parts.essay_labels(item) + parts.feedback_labels(item)
    return lines + [f"{label}: {line_text(text)}" for label, text in labels]


def _students_lines(entry: parts.Entry) -> list[str]:
    return _asked(entry, parts.points_behind(entry.item), marked=False)


def _asked(entry: parts.Entry, points: str, marked: bool) -> list[str]:
    """What is asked, with the right choices marked or not."""
    item: Item = entry.item
    lines = [f"{entry.number}. {line_text(item.stem)}{points}"]
    lines += [f"{n}. {line_text(left)}" for n, left in enumerate(parts.lefts_of(item), 1)]
    for position, (right, content) in enumerate(parts.choices_of(item)):
        lines.append(f"{'*' if right and marked else ''}{letter(position).lower()}. {line_text(content)}")
    return lines

"""Writes marked text that a person can read and its reader reads back: one line per part, keys by asterisk or answer line."""

from __future__ import annotations

from rogatum.core.content import plain_text
from rogatum.core.findings import LEFT_OUT, Finding
from rogatum.core.formats import document_parts as parts
from rogatum.core.formats.base import Written
from rogatum.core.items import Bank, Item
from rogatum.core.sources import MediaBox
from rogatum.core.type_words import TYPE_LABELS


def write_marked_text(bank: Bank, _media: MediaBox) -> Written:
    """The bank as one text file in UTF-8, numbered through."""
    findings: list[Finding] = []
    paths, current = bank.pool_paths(), None
    blocks = [bank.title] if bank.title and not bank.pools else []
    number = 0
    for item in bank.items:
        if item.type not in parts.HELD:
            findings.append(LEFT_OUT.at("", item.id, detail=f"Marked text has no {TYPE_LABELS[item.type]} items."))
            continue
        path = paths.get(item.id, ())
        if path != current and path:
            shared = parts.shared_names(current or (), path)
            blocks += [f"{'#' * (level + 1)} {name}" for level, name in enumerate(path) if level >= shared]
            current = path
        number += 1
        blocks.append("\n".join([f"{number}. {text_of(item.stem)}", *_lines(item)]))
    return Written(("\n\n".join(blocks) + "\n").encode(), ".txt", findings)


def text_of(content: str) -> str:
    """Content as one line of text, formulas as TeX."""
    return plain_text(content, math=lambda tex: f"\\({tex}\\)")


def _lines(item: Item) -> list[str]:
    lines = [f"{label}: {text_of(text)}" for label, text in parts.head_labels(item)]
    for index, (right, content) in enumerate(parts.choices_of(item)):
        lines.append(f"{'*' if right else ''}{chr(ord('a') + index)}. {text_of(content)}")
    if key := parts.key_text(item):
        lines.append(f"Answer: {key}")
    return lines + [f"{label}: {text_of(text)}" for label, text in parts.essay_labels(item) + parts.feedback_labels(item)]

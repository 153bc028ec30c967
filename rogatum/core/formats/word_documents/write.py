"""Writes documents by pandoc from one page of HTML: real numbering, choices as a list within it, key and labels below."""

from __future__ import annotations

import re
from collections.abc import Callable

from rogatum.core.content import blocks_of, escape, media_refs
from rogatum.core.findings import LEFT_OUT, Finding
from rogatum.core.formats import document_parts as parts
from rogatum.core.formats import pandoc
from rogatum.core.formats.base import Written
from rogatum.core.items import Bank, Item
from rogatum.core.sources import MediaBox
from rogatum.core.type_words import TYPE_LABELS

_SUFFIXES = {"docx": ".docx", "odt": ".odt", "rtf": ".rtf", "html": ".html", "markdown": ".md"}
_TEX = re.compile(r'<math\b[^>]*>.*?<annotation encoding="application/x-tex">(.*?)</annotation>.*?</math>', re.S)
_BLOCK = re.compile(r"^<(?:p|table|ul|ol|pre|blockquote)\b")


def document_writer(kind: str) -> Callable[[Bank, MediaBox], Written]:
    """The writer of one kind of document: the teacher's copy, with key, points and feedback."""
    return lambda bank, media: _Document(bank, kind).written(media)


def test_page(bank: Bank, findings: list[Finding], label: str) -> str:
    """The bank as HTML; items that a document cannot hold become findings."""
    paths, current = bank.pool_paths(), None
    page = [f"<h1>{escape(bank.title)}</h1>"] if bank.title and not bank.pools else []
    number = 0
    for item in bank.items:
        if item.type not in parts.HELD:
            findings.append(LEFT_OUT.at("", item.id, detail=f"A {label} has no {TYPE_LABELS[item.type]} items."))
            continue
        path = paths.get(item.id, ())
        if path != current and path:
            shared = parts.shared_names(current or (), path)
            page += [_heading(level, name) for level, name in enumerate(path) if level >= shared]
            current = path
        number += 1
        page.append(_item(item, number))
    return "\n".join(page)


def _heading(level: int, name: str) -> str:
    tag = f"h{min(level + 1, 6)}"
    return f"<{tag}>{escape(name)}</{tag}>"


def _item(item: Item, number: int) -> str:
    """An item: its number is a list's, and so are the letters. What follows a first paragraph stands outside of the list."""
    choices = parts.choices_of(item)
    first, *rest = list(blocks_of(_with_tex(item.stem))) or [""]
    html = f'<ol start="{number}"><li>{_block(first)}</li></ol>{"".join(map(_block, rest))}'
    if choices:
        html += f'<ol type="A">{"".join(f"<li>{_blocks(content)}</li>" for _, content in choices)}</ol>'
    key = parts.key_letters(item) if choices else parts.key_text(item)
    labels = [("Answer", escape(key))] if key else []
    labels += parts.essay_labels(item) + parts.head_labels(item) + parts.feedback_labels(item)
    shown = "".join(_labelled(label, content) for label, content in labels)
    return html + (f"<blockquote>{shown}</blockquote>" if shown else "")


def _block(block: str) -> str:
    return block if _BLOCK.match(block) else f"<p>{block}</p>"


def _blocks(content: str) -> str:
    return "".join(map(_block, blocks_of(_with_tex(content))))


def _labelled(label: str, content: str) -> str:
    first, *rest = list(blocks_of(_with_tex(content))) or [""]
    inner = re.sub(r"^<p>(.*)</p>$", r"\1", first, flags=re.S)
    if _BLOCK.match(inner):
        return f"<p>{label}:</p>{first}{''.join(rest)}"
    return f"<p>{label}: {inner}</p>" + "".join(map(_block, rest))


def _with_tex(content: str) -> str:
    """Formulas as TeX between brackets, which pandoc reads as it stands."""
    return _TEX.sub(lambda match: f"\\({match[1]}\\)", content)


class _Document:
    def __init__(self, bank: Bank, kind: str) -> None:
        self.bank, self.kind = bank, kind
        self.findings: list[Finding] = []

    def written(self, media: MediaBox) -> Written:
        page = test_page(self.bank, self.findings, "document")
        files = {}
        for ref in sorted({ref for ref in media_refs(page) if ref in media}):
            with media.open(ref) as stream:
                files[ref] = stream.read()
        data = pandoc.written(page, self.kind, f"export{_SUFFIXES[self.kind]}", files)
        return Written(data, _SUFFIXES[self.kind], self.findings)

"""Writes documents by pandoc from one page of HTML: real numbering, choices as a list of their own, key and labels below."""

from __future__ import annotations

import re

from rogatum.core.finding import Finding
from rogatum.core.formats.shared import document_writing as parts
from rogatum.core.formats.shared import pandoc
from rogatum.core.formats.shared.base import TEACHERS_COPY, Copy, WriteOptions, Writer, Written
from rogatum.core.formats.shared.papers import Line, Paper, papers_of
from rogatum.core.items import Bank
from rogatum.core.items.by_type import ByType
from rogatum.core.items.content import MATH, TEX, blocks_of, escape, media_refs
from rogatum.core.sources import MediaBox

_SUFFIXES = {"docx": ".docx", "odt": ".odt", "rtf": ".rtf", "html": ".html", "markdown": ".md"}
_BLANK = re.compile(r'<span data-blank="[^"]*">\s*</span>')
_BLOCK = re.compile(r"^<(?:p|table|ul|ol|pre|blockquote)\b")


def document_writer(kind: str) -> Writer:
    """The writer of one kind of document."""

    def write(bank: Bank, media: MediaBox, options: WriteOptions = TEACHERS_COPY) -> Written:
        findings: list[Finding] = []
        (paper,) = papers_of(bank, options, parts.is_held)
        page = test_page(paper, findings, "A document", options)
        files: dict[str, tuple[str, bytes]] = {}
        for ref in sorted({ref for ref in media_refs(page) if ref in media}):
            with media.open(ref) as stream:
                files[ref] = media.entry(ref).type, stream.read()
        data = pandoc.written(page, kind, f"export{_SUFFIXES[kind]}", files)
        return Written(data, _SUFFIXES[kind], findings, paper.sets())

    return write


def _line(line: Line, copy: Copy) -> str:
    """What stands before an item. A bold line is read as a heading of pools, which a teacher's copy has of its own."""
    if line.kind == "page":
        return ""
    strength = "strong" if line.kind == "title" and copy != "teacher" else "em"
    return f"<p><{strength}>{_inline(line.content)}</{strength}></p>"


def test_page(paper: Paper, findings: list[Finding], label: str, options: WriteOptions = TEACHERS_COPY) -> str:
    """A paper as HTML; items that a document cannot hold become findings."""
    bank = paper.bank
    page = [f"<p><strong>{escape(paper.title)}</strong></p>"] if paper.title and (paper.facts or not bank.pools) else []
    page += [f"<p>{escape(paper.facts)}</p>"] if paper.facts else []
    keys: list[str] = []
    for entry in parts.entries(bank, label, findings):
        page += [_heading(level, name) for level, name in entry.headings]
        page += [_line(line, options.copy) for line in paper.before.get(entry.item.id, [])]
        if entry.passage:
            page.append(f"<p>{entry.use}</p>{_blocks(entry.passage.content)}")
        page.append(_teachers_item(entry) if options.copy == "teacher" else _students_item(entry))
        if key := parts.key_letters(entry.item) or parts.key_text(entry.item):
            keys.append(f"<p>{entry.number}. {escape(key)}</p>")
    if options.copy == "key list" and keys:
        page += ["<h2>Answer key</h2>", *keys]
    return "\n".join(page)


def _heading(level: int, name: str) -> str:
    tag = f"h{min(level + 1, 6)}"
    return f"<{tag}>{escape(name)}</{tag}>"


def _teachers_item(entry: parts.Entry) -> str:
    item = entry.item
    key = parts.key_letters(item) or parts.key_text(item)
    labels = [("Answer", escape(key))] if key else []
    labels += parts.essay_labels(item) + parts.head_labels(item) + parts.feedback_labels(item)
    shown = "".join(_labelled(label, content) for label, content in labels)
    return _asked(entry, "") + (f"<blockquote>{shown}</blockquote>" if shown else "")


# Where a student writes, by type: as many lines as an answer of this kind takes.
_LINES_TO_WRITE_ON: ByType[int] = ByType(
    "how many lines a student needs to write an answer on",
    {
        "multiple_choice": 0,
        "multiple_response": 0,
        "true_false": 0,
        "fill_in": 1,
        "numeric": 1,
        "cloze": 0,
        "matching": 0,
        "ordering": 0,
        "essay": 8,
        "information": 0,
        "preserved": 0,
    },
)
_LINE = "_" * 60
# What is said to be true or false is marked here.
_TRUTH = "<p>☐ True&#160;&#160;&#160;☐ False</p>"


def _students_item(entry: parts.Entry) -> str:
    lines = f"<p>{_LINE}</p>" * _LINES_TO_WRITE_ON.of(entry.item) or (_TRUTH if entry.item.type == "true_false" else "")
    return _asked(entry, parts.points_behind(entry.item)) + lines


def _asked(entry: parts.Entry, points: str) -> str:
    """What is asked: its number is a list's, and so are the letters. What follows a first paragraph stands outside of the list."""
    first, *rest = list(blocks_of(_with_tex(_BLANK.sub("_____", entry.item.stem)))) or [""]
    if not rest and not _BLOCK.match(first):
        first += points
    elif points:
        rest.append(points.strip())
    html = f'<ol start="{entry.number}"><li>{_block(first)}</li></ol>{"".join(map(_block, rest))}'
    html += "".join(f"<p>{n}. {_inline(left)}</p>" for n, left in enumerate(parts.lefts_of(entry.item), 1))
    if choices := parts.choices_of(entry.item):
        html += f'<ol type="A">{"".join(f"<li>{_blocks(content)}</li>" for _, content in choices)}</ol>'
    return html


def _inline(content: str) -> str:
    """Content within a paragraph that begins with a number."""
    return re.sub(r"^<p>(.*?)</p>", r"\1", _with_tex(content), flags=re.S)


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

    def as_tex(formula: re.Match[str]) -> str:
        tex = TEX.search(formula[0])
        return f"\\({tex[1]}\\)" if tex else formula[0]

    return MATH.sub(as_tex, content)

"""Pandoc's tree of a document as lines: automatic labels as the word processor shows them, emphasis, pictures, formulas, tables."""

from __future__ import annotations

import html
import re
from collections.abc import Iterable, Iterator
from dataclasses import replace
from typing import Any

from rogatum.core.documents import OBJECT, Line, Piece, line_of
from rogatum.core.documents import patterns as p
from rogatum.core.formats.word_documents.numerals import numeral
from rogatum.core.formats.word_documents.stand_ins import BLANK_TEXT, GAP, LABEL, SHORTEST_BLANK, shown
from rogatum.core.items.content import escape, formula_from_tex

Node = dict[str, Any]
NO_MARKS: frozenset[str] = frozenset()
_EMPHASIS = {
    "Strong": "bold",
    "Emph": "italic",
    "Underline": "underline",
    "Strikeout": "strike",
    "Superscript": "sup",
    "Subscript": "sub",
}
_QUOTES = {"DoubleQuote": ("“", "”"), "SingleQuote": ("‘", "’")}
_DELIMITERS = {"OneParen": "{})", "TwoParens": "({})"}
_NOT_MARKED = re.compile(r"^(?:|transparent|none|inherit|initial|auto|white|#?fff(?:fff)?|rgba?\(255,\s*255,\s*255.*\))$", re.I)
_INK = re.compile(
    r"^(?:|black|inherit|initial|auto|windowtext|#?0{3}(?:0{3})?|#?[0-3][0-9a-f][0-3][0-9a-f][0-3][0-9a-f]|rgba?\(0,\s*0,\s*0.*\))$",
    re.I,
)
_SYSTEMS = {"LowerAlpha": "a", "UpperAlpha": "A", "LowerRoman": "i", "UpperRoman": "I"}


# Tables that lie deeper in others are read as what their cells hold.
MOST_WITHIN = 3


class LineMaker:
    """Makes lines of blocks. `strike_marks`: striking out stands for a colour (see `odt_marks`); `soft_lines`: line ends count."""

    def __init__(self, strike_marks: bool = False, soft_lines: bool = False, within: int = 0) -> None:
        self.lines: list[Line] = []
        self.strike_marks, self.soft_lines = strike_marks, soft_lines
        # How many tables it makes lines within: each is looked at as a whole and by its cells.
        self.within = within
        self.number = 0
        self.notes: list[str] = []

    def blocks(self, blocks: Iterable[Node], depth: int = 0, label: str = "") -> None:
        """Adds the lines of blocks; `label` goes before the first of them."""
        for block in blocks:
            maker = _BLOCKS.get(block["t"])
            if maker is not None:
                maker(self, block.get("c"), depth, label)
                label = ""
        if label:
            self._add([Piece(label)], depth)

    def _add(self, pieces: list[Piece], depth: int, **more: Any) -> None:
        if not any(piece.text.strip() for piece in pieces):
            return
        self.number += 1
        self.lines.append(line_of(self.number, pieces, depth=depth, **more))

    def _paragraph(self, inlines: list[Node], depth: int, label: str, **more: Any) -> None:
        """A paragraph; what follows a line break is a line of its own that runs on."""
        rows = self._rows(inlines)
        if len(rows) == 1 and "".join(piece.text for piece in rows[0]) == GAP:
            self._gap()
            return
        typed = LABEL.match(rows[0][0].text) if rows[0] else None
        if typed:
            depth, label = int(typed["depth"]), typed["label"]
            rows[0][0] = replace(rows[0][0], text=rows[0][0].text[typed.end() :])
        for position, pieces in enumerate(rows):
            if pieces:
                pieces[0] = replace(pieces[0], text=pieces[0].text.lstrip())
            if position == 0 and label:
                pieces.insert(0, Piece(f"{label} "))
            before = len(self.lines)
            self._add(pieces, depth, **more)
            if len(self.lines) > before:
                self.lines[-1].paragraph = position == 0
                self.lines[-1].auto = position == 0 and bool(label) and label[-1:].isascii()

    def _gap(self) -> None:
        """An empty paragraph: a line without text, of which one is enough."""
        if self.lines and not self.lines[-1].blank:
            self.number += 1
            self.lines.append(Line(self.number, ""))

    def _rows(self, inlines: list[Node]) -> list[list[Piece]]:
        rows: list[list[Piece]] = [[]]
        for piece in self._pieces(inlines, NO_MARKS):
            if piece.text == "\n":
                rows.append([])
            else:
                rows[-1].append(piece)
        return rows

    # Inlines

    def _pieces(self, inlines: list[Node], marks: frozenset[str]) -> Iterator[Piece]:
        for inline in inlines:
            yield from self._inline(inline["t"], inline.get("c"), marks)

    def _inline(self, tag: str, content: Any, marks: frozenset[str]) -> Iterator[Piece]:
        if tag == "Str":
            yield Piece(shown(content), marks)
        elif tag == "LineBreak" or (tag == "SoftBreak" and self.soft_lines):
            yield Piece("\n")
        elif tag in ("Space", "SoftBreak"):
            yield Piece(" ", marks)
        elif tag in _EMPHASIS:
            mark = "mark" if tag == "Strikeout" and self.strike_marks else _EMPHASIS[tag]
            pieces = list(self._pieces(content, marks | {mark}))
            inner = "".join(piece.text for piece in pieces)
            if tag == "Underline" and len(inner) >= SHORTEST_BLANK and not inner.strip():
                pieces = [Piece(BLANK_TEXT, marks)]
            yield from pieces
        elif tag == "Quoted":
            opened, closed = _QUOTES[content[0]["t"]]
            yield Piece(opened, marks)
            yield from self._pieces(content[1], marks)
            yield Piece(closed, marks)
        elif tag == "Code":
            yield Piece(content[1], marks | {"code"})
        elif tag == "Math":
            tex = content[1].strip().replace("\\_", "_").replace("\\ ", " ")
            formula = formula_from_tex(tex, display=content[0]["t"] == "DisplayMath")
            yield Piece(OBJECT, NO_MARKS, formula or escape(f"\\({tex}\\)"))
        elif tag == "Image":
            yield Piece(OBJECT, NO_MARKS, self._image(content))
        elif tag == "Link":
            yield from self._link(content, marks)
        elif tag in ("Span", "Cite", "SmallCaps"):
            inner = content if tag == "SmallCaps" else content[1]
            yield from self._pieces(inner, marks | (_marks_of(content[0]) if tag == "Span" else NO_MARKS))
        elif tag == "Note":
            part = LineMaker(self.strike_marks, within=self.within + 1)
            part.blocks(content)
            self.notes.append(" ".join(line.text for line in part.lines))
        elif tag == "RawInline" and content[0] == "html" and re.match(r"<br\b", content[1], re.I):
            yield Piece("\n")

    def _image(self, content: Any) -> str:
        attributes, (source, title) = content[0], content[2]
        alt: list[Node] = content[1]
        text = "".join(piece.text for piece in self._pieces(alt, NO_MARKS)).strip() or str(title)
        sizes = dict(attributes[2])
        size = "".join(f' {name}="{pixels}"' for name in ("width", "height") if (pixels := _pixels(sizes.get(name, ""))))
        return f'<img src="{html.escape(source)}" alt="{html.escape(text)}"{size}/>'

    def _link(self, content: Any, marks: frozenset[str]) -> Iterator[Piece]:
        # The text of a link counts; where it leads is kept only where it is an address on the web.
        inlines: list[Node] = content[1]
        target = str(content[2][0])
        if target.startswith(("http:", "https:")):
            text = "".join(piece.text for piece in self._pieces(inlines, marks))
            yield Piece(text, marks)
        else:
            yield from self._pieces(inlines, marks)

    # Blocks

    def paragraph(self, content: Any, depth: int, label: str) -> None:
        self._paragraph(content, depth, label)

    def header(self, content: Any, depth: int, label: str) -> None:
        level, _, inlines = content
        self._paragraph(inlines, depth, label, heading=True, level=level)

    def ordered(self, content: Any, depth: int, label: str) -> None:
        (start, style, delimiter), items = content
        if label:
            self._add([Piece(label)], depth)
        for position, blocks in enumerate(items):
            shown = _DELIMITERS.get(delimiter["t"], "{}.").format(numeral(start + position, _SYSTEMS.get(style["t"], "1")))
            self.blocks(blocks, depth + 1, shown)

    def bullets(self, content: Any, depth: int, label: str) -> None:
        if label:
            self._add([Piece(label)], depth)
        for blocks in content:
            text = self._first_text(blocks)
            self.blocks(blocks, depth + 1, "" if re.match(r"^[☐☑☒✓✔□■]", text) else "•")

    def _first_text(self, blocks: list[Node]) -> str:
        if not blocks or blocks[0]["t"] not in ("Para", "Plain"):
            return ""
        first = blocks[0]
        return "".join(piece.text for piece in self._pieces(first["c"], NO_MARKS)).strip()

    def definitions(self, content: Any, depth: int, label: str) -> None:
        for term, definitions in content:
            self._paragraph(term, depth, label)
            label = ""
            for blocks in definitions:
                self.blocks(blocks, depth)

    def quote(self, content: Any, depth: int, label: str) -> None:
        # Word processors indent choices; an indent alone is no quotation.
        self.blocks(content, depth, label)

    def division(self, content: Any, depth: int, label: str) -> None:
        self.blocks(content[1], depth, label)

    def figure(self, content: Any, depth: int, label: str) -> None:
        _, caption, blocks = content
        self.blocks(blocks, depth, label)
        self.blocks(caption[1] or [], depth)

    def line_block(self, content: Any, depth: int, label: str) -> None:
        for inlines in content:
            self._paragraph(inlines, depth, label)
            label = ""

    def code(self, content: Any, depth: int, label: str) -> None:
        if label:
            self._add([Piece(label)], depth)
        if any(p.CHOICE.match(row) or p.STEM.match(row) for row in content[1].split("\n")):
            # Indented text of a test, which a mark-up took for code.
            for row in content[1].split("\n"):
                self._add([Piece(row)], depth)
            return
        self._add([Piece(OBJECT, NO_MARKS, f"<pre>{escape(content[1])}</pre>")], depth)

    def rule(self, _content: Any, _depth: int, _label: str) -> None:
        return

    # Tables

    def table(self, content: Any, depth: int, label: str) -> None:
        if label:
            self._add([Piece(label)], depth)
        if self.within >= MOST_WITHIN:
            for row in _rows_of(content):
                for cell in row:
                    self.blocks(cell, depth)
            return
        html = self._table_html(content)
        grid = [[self._cell(cell, depth) for cell in row] for row in _rows_of(content)]
        self._add([Piece(OBJECT, NO_MARKS, html)], depth, grid=grid)

    def _cell(self, blocks: list[Node], depth: int) -> list[Line]:
        """The lines of a cell, numbered as those of the document are."""
        part = LineMaker(self.strike_marks, self.soft_lines, self.within + 1)
        part.number = self.number
        part.blocks(blocks, depth)
        self.number = part.number
        self.notes += part.notes
        return part.lines

    def _cell_text(self, blocks: list[Node]) -> str:
        part = LineMaker(self.strike_marks, within=self.within + 1)
        part.blocks(blocks)
        return "\n".join(line.text for line in part.lines)

    def _table_html(self, content: Any) -> str:
        _, caption, _, head, bodies, foot = content
        parts = []
        title = self._cell_text(caption[1] or [])
        if title:
            parts.append(f"<caption>{escape(title)}</caption>")
        heads = [self._row_html(row, "th") for row in head[1]]
        if any(re.sub(r"<[^<>]+>", "", row).strip() for row in heads):
            parts.append(f"<thead>{''.join(heads)}</thead>")
        rows = [row for body in bodies for row in [*body[2], *body[3]]] + list(foot[1])
        parts.append(f"<tbody>{''.join(self._row_html(row, 'td') for row in rows)}</tbody>")
        return f"<table>{''.join(parts)}</table>"

    def _row_html(self, row: Any, tag: str) -> str:
        cells = []
        for _, _, rowspan, colspan, blocks in row[1]:
            spans = "".join(f' {name}="{n}"' for name, n in (("rowspan", rowspan), ("colspan", colspan)) if n > 1)
            part = LineMaker(self.strike_marks, within=self.within + 1)
            part.blocks(blocks)
            inner = [line.content() for line in part.lines]
            cells.append(f"<{tag}{spans}>{inner[0] if len(inner) == 1 else ''.join(f'<p>{i}</p>' for i in inner)}</{tag}>")
        return f"<tr>{''.join(cells)}</tr>"


def _marks_of(attributes: Any) -> frozenset[str]:
    """The emphasis of a span, by its class or its style."""
    _, classes, pairs = attributes
    style = next((value for key, value in pairs if key == "style"), "").lower()
    styles = {k.strip(): v.strip() for k, _, v in (entry.partition(":") for entry in style.split(";"))}
    found = set()
    background = styles.get("background-color", styles.get("background", ""))
    if "mark" in classes or "highlight" in " ".join(classes) or not _NOT_MARKED.match(background):
        found.add("mark")
    if not _INK.match(styles.get("color", "")):
        found.add("mark")
    weight = styles.get("font-weight", "")
    if weight.startswith("bold") or (weight.isdigit() and int(weight) >= 600):
        found.add("bold")
    if "italic" in styles.get("font-style", ""):
        found.add("italic")
    if "underline" in classes or "underline" in styles.get("text-decoration", ""):
        found.add("underline")
    return frozenset(found)


def _pixels(size: str) -> str:
    """A size as whole pixels: "2.08in", "300px", "5cm"; empty for per cent and for none."""
    match = re.match(r"^([\d.]+)(in|px|cm|mm|pt)?$", size)
    scale = {"in": 96, "px": 1, "cm": 96 / 2.54, "mm": 96 / 25.4, "pt": 96 / 72, None: 1}
    return str(round(float(match[1]) * scale[match[2]])) if match else ""


def _rows_of(content: Any) -> list[list[list[Node]]]:
    _, _, _, head, bodies, foot = content
    rows = [*head[1], *(row for body in bodies for row in [*body[2], *body[3]]), *foot[1]]
    return [[cell[4] for cell in row[1]] for row in rows]


_BLOCKS = {
    "Para": LineMaker.paragraph,
    "Plain": LineMaker.paragraph,
    "Header": LineMaker.header,
    "OrderedList": LineMaker.ordered,
    "BulletList": LineMaker.bullets,
    "DefinitionList": LineMaker.definitions,
    "BlockQuote": LineMaker.quote,
    "Div": LineMaker.division,
    "Figure": LineMaker.figure,
    "LineBlock": LineMaker.line_block,
    "CodeBlock": LineMaker.code,
    "Table": LineMaker.table,
    "HorizontalRule": LineMaker.rule,
}

"""Writes a paper test by Typst: numbered questions with room for answers, passages once, and the key on a page of its own."""

from __future__ import annotations

import tempfile
from collections.abc import Callable
from pathlib import Path

import typst

from rogatum.core.content import blanks_of
from rogatum.core.findings import LEFT_OUT, Finding
from rogatum.core.formats import document_parts as parts
from rogatum.core.formats.base import Written
from rogatum.core.formats.print.markup import escaped, markup, prepare_formulas
from rogatum.core.item_parts import contents as all_contents
from rogatum.core.items import Bank, ChoiceBlank, Cloze, FillIn, Item, Matching, NumericBlank, Ordering, TrueFalse
from rogatum.core.quizzes.draws import shuffled
from rogatum.core.quizzes.marking import rights
from rogatum.core.sources import MediaBox

PRELUDE = """
#set document(title: TITLE, date: none)
#set page(paper: "a4", margin: 22mm, numbering: "1 / 1")
#set text(font: ("Libertinus Serif",), size: 11pt)
#set par(leading: 0.62em)
#let blank() = box(width: 32mm, stroke: (bottom: 0.5pt))
#let figure-of(name, width) = block(image(name, width: width))
#let question(number, points, body) = block(breakable: false, width: 100%, above: 1.6em,
  grid(columns: (9mm, 1fr, auto), column-gutter: 2mm, strong(number), body, text(size: 9pt, points)))
#let choice(letter, body) = grid(columns: (7mm, 1fr), inset: (y: 2pt), letter, body)
#let lines(count) = for _ in range(count) { block(above: 7mm, line(length: 100%, stroke: 0.4pt)) }
"""
PRINTABLE = frozenset({"image/png", "image/jpeg", "image/gif", "image/svg+xml", "image/webp"})
ESSAY_LINES = 12
NAME_LINE = "#v(2mm) Name #box(width: 70mm, stroke: (bottom: 0.5pt)) #h(8mm) Date #box(width: 35mm, stroke: (bottom: 0.5pt))"
PASSAGE = "#block(above: 1.8em, inset: (left: 4mm), stroke: (left: 1pt))[{}]"


def write_pdf(bank: Bank, media: MediaBox) -> Written:
    """The bank as a paper test in PDF with a key; kinds that paper cannot hold become findings."""
    with tempfile.TemporaryDirectory() as folder:
        paper = _Paper(bank, media, Path(folder))
        source = Path(folder) / "paper.typ"
        source.write_text(paper.source(), encoding="utf-8")
        data = typst.compile(str(source), root=folder, timestamp=0)
    return Written(bytes(data), ".pdf", paper.findings)


class _Paper:
    def __init__(self, bank: Bank, media: MediaBox, folder: Path) -> None:
        self.bank, self.media, self.folder = bank, media, folder
        self.findings: list[Finding] = []
        self.pictures: dict[str, str] = {}
        self.keys: list[str] = []

    def source(self) -> str:
        contents = [content for item in self.bank.items for content in all_contents(item)]
        prepare_formulas([*contents, *(stimulus.content for stimulus in self.bank.stimuli)])
        title = self.bank.title or "Test"
        page = [PRELUDE.replace("TITLE", _string(title)), f"#text(size: 16pt, weight: 600)[{escaped(title)}]"]
        page.append(
            "#v(2mm) Name #box(width: 70mm, stroke: (bottom: 0.5pt)) #h(8mm) Date #box(width: 35mm, stroke: (bottom: 0.5pt))"
        )
        stimuli = {stimulus.id: stimulus for stimulus in self.bank.stimuli}
        shown: set[str] = set()
        number = 0
        for item in self.bank.items:
            body = _BODIES.get(item.type)
            if body is None:
                self.findings.append(LEFT_OUT.at("", item.id, detail="A kind that is only preserved cannot be printed."))
                continue
            if item.stimulus in stimuli and item.stimulus not in shown:
                shown.add(item.stimulus)
                page.append(PASSAGE.format(self.text(stimuli[item.stimulus].content)))
            if item.type != "information":
                number += 1
            points = f"{item.points:g} {'point' if item.points == 1 else 'points'}" if item.points else ""
            shown_number = "" if item.type == "information" else f"{number}."
            inner = f"{self.text(item.stem)}\n\n{body(self, item)}"
            page.append(f"#question({_string(shown_number)}, {_string(points)}, [{inner}])")
            if key := _key(self, item):
                self.keys.append(f"#grid(columns: (9mm, 1fr), strong({_string(shown_number)}), [{key}])")
        page += ["#pagebreak()", f"#text(size: 14pt, weight: 600)[{escaped('Key: ' + title)}]", "#v(3mm)", *self.keys]
        return "\n\n".join(page)

    def text(self, content: str) -> str:
        return markup(content, self.picture)

    def picture(self, ref: str) -> str:
        """The file of a picture beside the source, made when it is first named."""
        if ref not in self.media or self.media.entry(ref).type not in PRINTABLE:
            return ""
        if ref not in self.pictures:
            name = f"picture{len(self.pictures) + 1}{Path(ref).suffix.lower()}"
            with self.media.open(ref) as stream:
                (self.folder / name).write_bytes(stream.read())
            self.pictures[ref] = name
        return self.pictures[ref]

    def options(self, contents: list[str]) -> str:
        return "".join(f"#choice([{_letter(n)}.], [{self.text(content)}])\n" for n, content in enumerate(contents))


def _string(text: str) -> str:
    return '"' + text.replace("\\", "\\\\").replace('"', '\\"').replace("\n", " ") + '"'


def _letter(position: int) -> str:
    return chr(ord("A") + position) if position < 26 else str(position + 1)


def _choices(paper: _Paper, item: Item) -> str:
    return paper.options([content for _, content in parts.choices_of(item)])


def _matching(paper: _Paper, item: Item) -> str:
    assert isinstance(item, Matching)
    lefts = "".join(f"#blank() #h(2mm) {paper.text(pair.left)} \\\n" for pair in item.pairs)
    return f"#grid(columns: (1fr, 1fr), column-gutter: 6mm, [{lefts}], [{paper.options(_mixed(item))}])"


def _mixed(item: Matching) -> list[str]:
    """The rights in an order that does not give the answer away, and is the same each time."""
    return shuffled(rights(item), item.id)


def _ordering(paper: _Paper, item: Item) -> str:
    assert isinstance(item, Ordering)
    return paper.options(shuffled(item.sequence, item.id)) + "Order: #blank()"


def _cloze(paper: _Paper, item: Item) -> str:
    assert isinstance(item, Cloze)
    banks = [
        f"({n}) {' / '.join(paper.text(choice.content) for choice in blank.choices)}"
        for n, blank in enumerate(item.blanks, 1)
        if isinstance(blank, ChoiceBlank)
    ]
    return " \\\n".join(banks)


_BODIES: dict[str, Callable[[_Paper, Item], str]] = {
    "multiple_choice": _choices,
    "multiple_response": _choices,
    "true_false": lambda _paper, _item: "#choice([○], [True])#choice([○], [False])",
    "fill_in": lambda _paper, item: "" if "___" in item.stem or blanks_of(item.stem) else "#blank()",
    "numeric": lambda _paper, item: "" if "___" in item.stem else "#blank()",
    "cloze": _cloze,
    "matching": _matching,
    "ordering": _ordering,
    "essay": lambda _paper, _item: f"#lines({ESSAY_LINES})",
    "information": lambda _paper, _item: "",
}


def _key(paper: _Paper, item: Item) -> str:
    """The key of an item as it stands on the key's page."""
    if letters := parts.key_letters(item):
        return escaped(letters)
    if isinstance(item, Matching):
        mixed = _mixed(item)
        return escaped(", ".join(f"{n}{_letter(mixed.index(pair.right))}" for n, pair in enumerate(item.pairs, 1)))
    if isinstance(item, Ordering):
        shown = shuffled(item.sequence, item.id)
        return escaped(", ".join(_letter(shown.index(entry)) for entry in item.sequence))
    if isinstance(item, Cloze):
        return "; ".join(_blank_key(paper, item, n) for n in range(len(item.blanks)))
    if isinstance(item, TrueFalse | FillIn) or item.type == "numeric":
        return escaped(parts.key_text(item))
    return "".join(paper.text(text) for _, text in parts.essay_labels(item))


def _blank_key(paper: _Paper, item: Cloze, position: int) -> str:
    blank = item.blanks[position]
    if isinstance(blank, ChoiceBlank):
        return next((paper.text(choice.content) for choice in blank.choices if choice.weight == 1), "")
    if isinstance(blank, NumericBlank):
        return escaped(" or ".join("{:g} to {:g}".format(*answer.bounds()) for answer in blank.answers))
    return escaped(" or ".join(answer.text for answer in blank.answers))

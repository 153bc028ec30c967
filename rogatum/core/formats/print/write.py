"""Writes a paper test by Typst: numbered questions with room for answers, passages once, and the key on a page of its own."""

from __future__ import annotations

import tempfile
from collections.abc import Callable
from pathlib import Path
from typing import Any

import typst

from rogatum.core.finding import Finding
from rogatum.core.findings.sources import LEFT_OUT
from rogatum.core.formats.print.carries import CARRIES
from rogatum.core.formats.print.markup import escaped, markup, prepare_formulas
from rogatum.core.formats.shared import document_writing as parts
from rogatum.core.formats.shared.base import TEACHERS_COPY, WriteOptions, Written
from rogatum.core.formats.shared.papers import Paper, papers_of
from rogatum.core.items import Bank, ChoiceBlank, Cloze, Item, Matching, NumericBlank
from rogatum.core.items.by_type import ByType
from rogatum.core.items.content import blanks_of
from rogatum.core.items.parts import content_fields as all_contents
from rogatum.core.items.parts import letter
from rogatum.core.sources import MediaBox

PRELUDE = """
#set document(title: TITLE, date: none)
#set page(paper: "a4", margin: 22mm)
#set text(font: ("Libertinus Serif",), size: 11pt)
#set par(leading: 0.62em)
#let blank() = box(width: 32mm, stroke: (bottom: 0.5pt))
#let figure-of(name, width) = block(image(name, width: width))
#let question(number, points, body) = block(breakable: false, width: 100%, above: 1.6em,
  grid(columns: (9mm, 1fr, auto), column-gutter: 2mm, strong(number), body, text(size: 9pt, points)))
#let choice(letter, body) = grid(columns: (7mm, 1fr), inset: (y: 2pt), letter, body)
#let lines(count) = for _ in range(count) { block(above: 7mm, line(length: 100%, stroke: 0.4pt)) }
"""
# The pictures that can be set, and what a file of each is called.
PRINTABLE = {"image/png": ".png", "image/jpeg": ".jpg", "image/gif": ".gif", "image/svg+xml": ".svg", "image/webp": ".webp"}
ESSAY_LINES = 12
NAME_LINE = "#v(2mm) Name #box(width: 70mm, stroke: (bottom: 0.5pt)) #h(8mm) Date #box(width: 35mm, stroke: (bottom: 0.5pt))"
# What stands before an item, by its kind.
_LINES = {
    "page": "#pagebreak(weak: true){}",
    "title": "#block(above: 2em)[#text(size: 13pt, weight: 600)[{}]]",
    "note": "#block(above: 1.2em)[#text(size: 10pt)[{}]]",
    "instructions": "#block(above: 1.2em)[#emph[{}]]",
}
PASSAGE = "#block(above: 1.8em, inset: (left: 4mm), stroke: (left: 1pt))[{}]"


def write_pdf(bank: Bank, media: MediaBox, options: WriteOptions = TEACHERS_COPY) -> Written:
    """The bank as a paper test in PDF, each version with its key; kinds that paper cannot hold become findings."""
    contents = [content for item in bank.items for content in all_contents(item)]
    prepare_formulas([*contents, *(stimulus.content for stimulus in bank.stimuli)])
    papers = papers_of(bank, options, _is_held)
    with tempfile.TemporaryDirectory() as folder:
        pictures = Pictures(media, Path(folder))
        sheets = [Sheet(paper, pictures) for paper in papers]
        page = [PRELUDE.replace("TITLE", quoted(papers[0].title or "Test")), *(sheet.source() for sheet in sheets)]
        if options.copy == "teacher":
            page += [sheet.key_page() for sheet in sheets]
        source = Path(folder) / "paper.typ"
        source.write_text("\n\n".join(page), encoding="utf-8")
        data = typst.compile(str(source), root=folder, timestamp=0)
    findings = {finding.item: finding for sheet in sheets for finding in sheet.findings}
    return Written(bytes(data), ".pdf", list(findings.values()), [quiz for paper in papers for quiz in paper.sets()])


def _is_held(item: Item) -> bool:
    return item.type in CARRIES.types


class Pictures:
    """The pictures of a bank as files beside the source, each made when it is first named."""

    def __init__(self, media: MediaBox, folder: Path) -> None:
        self.media, self.folder = media, folder
        self.made: dict[str, str] = {}

    def file_of(self, ref: str) -> str:
        if ref not in self.media or self.media.entry(ref).type not in PRINTABLE:
            return ""
        if ref not in self.made:
            name = f"picture{len(self.made) + 1}{PRINTABLE[self.media.entry(ref).type]}"
            with self.media.open(ref) as stream:
                (self.folder / name).write_bytes(stream.read())
            self.made[ref] = name
        return self.made[ref]


class Sheet:
    """One version of a test as it is set; its key is known when its source was made."""

    def __init__(self, paper: Paper, pictures: Pictures) -> None:
        self.paper, self.bank, self.title, self.pictures = paper, paper.bank, paper.full_title, pictures
        self.findings: list[Finding] = []
        self.keys: list[str] = []

    def source(self) -> str:
        page = [_new_page(self.title), f"#text(size: 16pt, weight: 600)[{escaped(self.title)}]", NAME_LINE]
        if self.paper.facts:
            page.append(f"#v(1mm) {escaped(self.paper.facts)}")
        stimuli = {stimulus.id: stimulus for stimulus in self.bank.stimuli}
        shown: set[str] = set()
        number = 0
        for item in self.bank.items:
            if not _is_held(item):
                self.findings.append(LEFT_OUT.at("", item.id, detail="A kind that is only preserved cannot be printed."))
                continue
            page += [_LINES[line.kind].format(self.text(line.content)) for line in self.paper.before.get(item.id, [])]
            if item.stimulus in stimuli and item.stimulus not in shown:
                shown.add(item.stimulus)
                page.append(PASSAGE.format(self.text(stimuli[item.stimulus].content)))
            if item.type != "information":
                number += 1
            points = f"{item.points:g} {'point' if item.points == 1 else 'points'}" if item.points else ""
            shown_number = "" if item.type == "information" else f"{number}."
            inner = f"{self.text(item.stem)}\n\n{_BODIES.of(item)(self, item)}"
            page.append(f"#question({quoted(shown_number)}, {quoted(points)}, [{inner}])")
            if key := _key(self, item):
                self.keys.append(f"#grid(columns: (9mm, 1fr), strong({quoted(shown_number)}), [{key}])")
        return "\n\n".join(page)

    def key_page(self) -> str:
        title = f"Key: {self.title}"
        return "\n\n".join([_new_page(title), f"#text(size: 14pt, weight: 600)[{escaped(title)}]", "#v(3mm)", *self.keys])

    def room(self, item: Item) -> str:
        """The room for an answer; none for a kind that paper cannot hold."""
        return _BODIES.of(item)(self, item) if _is_held(item) else ""

    def text(self, content: str) -> str:
        return markup(content, self.pictures.file_of)

    def options(self, contents: list[str]) -> str:
        return "".join(f"#choice([{letter(n)}.], [{self.text(content)}])\n" for n, content in enumerate(contents))


def _new_page(title: str) -> str:
    """A page that begins a paper of its own; loose sheets are told by their foot."""
    foot = f"context align(center, text(size: 9pt)[{escaped(title)} · #counter(page).display()])"
    return f"#set page(footer: {foot})\n#counter(page).update(1)"


def quoted(text: str) -> str:
    """A text as a string of Typst."""
    return '"' + text.replace("\\", "\\\\").replace('"', '\\"').replace("\n", " ") + '"'


def _choices(sheet: Sheet, item: Item) -> str:
    return sheet.options([content for _, content in parts.choices_of(item)])


def _matching(sheet: Sheet, item: Matching) -> str:
    lefts = "".join(f"#blank() #h(2mm) {n}. {sheet.text(pair.left)} \\\n" for n, pair in enumerate(item.pairs, 1))
    return f"#grid(columns: (1fr, 1fr), column-gutter: 6mm, [{lefts}], [{_choices(sheet, item)}])"


def _ordering(sheet: Sheet, item: Item) -> str:
    return _choices(sheet, item) + "Order: #blank()"


def _cloze(sheet: Sheet, item: Cloze) -> str:
    banks = [
        f"({n}) {' / '.join(sheet.text(choice.content) for choice in blank.choices)}"
        for n, blank in enumerate(item.blanks, 1)
        if isinstance(blank, ChoiceBlank)
    ]
    return " \\\n".join(banks)


_BODIES: ByType[Callable[[Sheet, Any], str]] = ByType(
    "the room for an answer on paper",
    {
        "multiple_choice": _choices,
        "multiple_response": _choices,
        "true_false": lambda _sheet, _item: "#choice([○], [True])#choice([○], [False])",
        "fill_in": lambda _sheet, item: "" if "___" in item.stem or blanks_of(item.stem) else "#blank()",
        "numeric": lambda _sheet, item: "" if "___" in item.stem else "#blank()",
        "cloze": _cloze,
        "matching": _matching,
        "ordering": _ordering,
        "essay": lambda _sheet, _item: f"#lines({ESSAY_LINES})",
        "information": lambda _sheet, _item: "",
    },
    CARRIES.types,
)


def _key(sheet: Sheet, item: Item) -> str:
    """The key of an item as it stands on the key's page."""
    if letters := parts.key_letters(item):
        return escaped(letters)
    if isinstance(item, Cloze):
        return "; ".join(_blank_key(sheet, item, n) for n in range(len(item.blanks)))
    if key := parts.key_text(item):
        return escaped(key)
    return "".join(sheet.text(text) for _, text in parts.essay_labels(item))


def _blank_key(sheet: Sheet, item: Cloze, position: int) -> str:
    blank = item.blanks[position]
    if isinstance(blank, ChoiceBlank):
        return next((sheet.text(choice.content) for choice in blank.choices if choice.weight == 1), "")
    if isinstance(blank, NumericBlank):
        return escaped(" or ".join("{:g} to {:g}".format(*answer.bounds()) for answer in blank.answers))
    return escaped(" or ".join(answer.text for answer in blank.answers))

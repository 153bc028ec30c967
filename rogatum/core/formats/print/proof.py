"""Sets a reading as pages to proof-read: each item with its number and place, its key where asked, findings as footnotes."""

from __future__ import annotations

import tempfile
from collections import defaultdict
from pathlib import Path

import typst

from rogatum.core.finding import Finding
from rogatum.core.formats.print.markup import escaped, prepare_formulas
from rogatum.core.formats.print.write import PRELUDE, Pictures, Sheet, quoted
from rogatum.core.formats.shared.papers import Paper
from rogatum.core.items import Bank, Item, parts
from rogatum.core.items.key import key_words
from rogatum.core.items.parts import TRAITS
from rogatum.core.sources import MediaBox

PROOF = """
#set page(footer: context align(center, text(size: 9pt)[TITLE · #counter(page).display()]))
#let proof-item(number, place, kind, body) = block(breakable: true, width: 100%, above: 1.5em,
  grid(columns: (10mm, 1fr, 32mm), column-gutter: 3mm, strong(number), body, text(size: 8pt, fill: luma(90))[#kind \\ #place]))
#set block(spacing: 0.5em)
#let proof-choice(letter, right, body) = grid(columns: (5mm, 6mm, 1fr), inset: (y: 1pt), letter, right, body)
"""


def write_proof(bank: Bank, media: MediaBox, with_key: bool) -> bytes:
    """The bank as pages in PDF; `bank.findings` are set as footnotes of their items, those of the whole before all items."""
    contents = [content for item in bank.items for content in parts.content_fields(item)]
    prepare_formulas([*contents, *(stimulus.content for stimulus in bank.stimuli)])
    title = bank.title or "Proof"
    page = [PRELUDE.replace("TITLE", quoted(title)), PROOF.replace("TITLE", escaped(title))]
    page.append(f"#text(size: 16pt, weight: 600)[{escaped(title)}]")
    with tempfile.TemporaryDirectory() as folder:
        page += _Proof(bank, Sheet(Paper(bank, title), Pictures(media, Path(folder))), with_key).entries()
        source = Path(folder) / "proof.typ"
        source.write_text("\n\n".join(page), encoding="utf-8")
        return bytes(typst.compile(str(source), root=folder, timestamp=0))


class _Proof:
    """The entries of one proof, in order."""

    def __init__(self, bank: Bank, sheet: Sheet, with_key: bool) -> None:
        self.bank, self.sheet, self.with_key = bank, sheet, with_key
        self.notes: dict[str | None, list[Finding]] = defaultdict(list)
        for finding in bank.findings:
            self.notes[finding.item].append(finding)
        self.passages = {stimulus.id: stimulus.content for stimulus in bank.stimuli}
        self.shown: set[str] = set()

    def entries(self) -> list[str]:
        whole = [f"#text(size: 9pt)[{escaped(finding.message)}]" for finding in self.notes[None]]
        return whole + [entry for number, item in enumerate(self.bank.items, 1) for entry in self._entry(number, item)]

    def _entry(self, number: int, item: Item) -> list[str]:
        found = []
        if item.stimulus in self.passages and item.stimulus not in self.shown:
            self.shown.add(item.stimulus)
            found.append(f"#block(inset: (left: 4mm), stroke: (left: 1pt))[{self.sheet.text(self.passages[item.stimulus])}]")
        place = self.bank.places.get(item.id)
        points = "" if item.points is None else f", {item.points:g} {'point' if item.points == 1 else 'points'}"
        kind = escaped(f"{TRAITS.of(item).label}{points}")
        where = escaped(place.where if place else "")
        return [*found, f"#proof-item({quoted(str(number))}, [{where}], [{kind}], [{self._body(item)}])"]

    def _body(self, item: Item) -> str:
        notes = "".join(f"#footnote[{escaped(finding.message)} {escaped(finding.fix)}]" for finding in self.notes[item.id])
        lines = [f"{self.sheet.text(item.stem)}{notes}", self._answers(item)]
        if self.with_key:
            lines += [f"#text(size: 9.5pt)[{escaped(words)} {self.sheet.text(text)}]" for words, text in _feedback(item)]
        return "\n\n".join(line for line in lines if line)

    def _answers(self, item: Item) -> str:
        if choices := parts.choices(item):
            return "".join(self._choice(n, choice.content, choice.weight > 0) for n, choice in enumerate(choices))
        body = self.sheet.room(item)
        key = key_words(item)
        return "\n\n".join(part for part in (body, f"*Key:* {escaped(key)}" if self.with_key and key else "") if part)

    def _choice(self, number: int, content: str, right: bool) -> str:
        mark = "✓" if right and self.with_key else ""
        return f"#proof-choice([{parts.letter(number)}], [{mark}], [{self.sheet.text(content)}])\n"


def _feedback(item: Item) -> list[tuple[str, str]]:
    return [(f"{slot[:1].upper()}{slot[1:]}:", text) for slot, text in parts.feedback(item).items()]

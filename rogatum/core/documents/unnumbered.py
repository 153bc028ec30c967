"""Where questions begin that have no numbers: behind what ends the one before, its choices, its key, its labels."""

from __future__ import annotations

from collections import Counter
from collections.abc import Set

from rogatum.core.documents import patterns as p
from rogatum.core.documents.document import Document
from rogatum.core.documents.fields import FieldWords
from rogatum.core.documents.labels import Label
from rogatum.core.documents.lines import OBJECT
from rogatum.core.documents.numbering import Start
from rogatum.core.documents.truth_lines import truths_at_end, truths_in

FEWEST, USUAL = 2, 0.4


def starts_without_numbers(doc: Document, words: FieldWords) -> list[Start]:
    """The positions of the first lines of questions, by what their lines are."""
    if words.in_pairs:
        pairs = [(index, p.QUESTION_OF_PAIR.match(line.text)) for index, line in enumerate(doc.lines)]
        found = [(index, match) for index, match in pairs if match]
        return [Start(index, Label("q:", "n", n, "", 0, match.start("rest"))) for n, (index, match) in enumerate(found, 1)]
    kinds = _kinds(doc, words)
    starts = _by_parts(doc, kinds)
    if len(starts) >= FEWEST or any(kind in "cf" for kind in kinds):
        return starts
    return _by_blocks(kinds)


def _kinds(doc: Document, words: FieldWords) -> str:
    """A letter for each line: c a choice, f a label, t a text, q one with truths behind it, h a heading, and a space for a gap."""
    shapes: Counter[str] = Counter()
    place = 0
    for head in doc.heads:
        for label in head.labels:
            if not label.bare and label.value in (1, 2):
                shapes[label.shape] += 1
        place = place + 1 if head.bullet or head.on or head.off else 0
        shapes["•"] += place in (1, 2)
    most = max(shapes.values(), default=0)
    usual = {shape for shape, count in shapes.items() if count > 1 and count >= USUAL * most}
    found, last = "", ""
    for index, (line, head) in enumerate(zip(doc.lines, doc.heads, strict=True)):
        below = found[-1:] == "c" and not doc.lines[index - 1].text[doc.heads[index - 1].text :].strip()
        # “I.” is a letter too: behind what is no choice only the first ones begin a list.
        listed = any(label.shape in usual and (label.value <= 2 or last in "cf") for label in head.labels)
        if line.blank:
            found += " "
            continue
        if index in doc.code:
            found += "t"
        elif line.heading or p.names_a_part(line.text, head.text):
            found += "h"
        elif truths_at_end(line, 0):
            found += "q"
        elif below or listed or head.bullet or head.on or head.off or truths_in(line):
            found += "c"
        elif words.of(line.text):
            found += "f"
        else:
            found += "t"
        last = found[-1]
    return found


def _by_parts(doc: Document, kinds: str) -> list[Start]:
    """Texts behind which a choice or a label comes before the next text that stands apart."""
    starts: list[Start] = []
    texts: list[int] = []
    done = False
    empty = {index for index, line in enumerate(doc.lines) if not any(map(str.isalnum, line.text))}
    held = doc.code | _behind(doc, doc.code, empty) | _statements(doc, kinds) | empty
    for index, kind in enumerate(kinds):
        if kind == "t":
            apart = doc.lines[index].after_blank and index not in held
            if done or (texts and apart and not _is_stem_end(doc, texts) and not _is_shown(doc, texts[-1], index)):
                texts = []
            if done and index and kinds[index - 1] == "c" and doc.runs_on(index):
                continue
            done = False
            texts.append(index)
        elif kind == "h":
            texts, done = [], False
        elif kind == "q":
            starts.append(Start(index))
            texts, done = [], True
        elif kind in "cf" and texts and not done:
            starts.append(Start(_first_of_stem(doc, texts, held)))
            done = True
    return starts


def _behind(doc: Document, code: Set[int], empty: Set[int]) -> set[int]:
    """The lines behind program code, past gaps and fences: what is asked about it."""
    found: set[int] = set()
    for index in code:
        after = index + 1
        while after < len(doc) and after in empty:
            after += 1
        found.add(after)
    return found


def _statements(doc: Document, kinds: str) -> set[int]:
    """The lines of texts that count from 1 on, and the text behind them: what a question asks about, not where one begins."""
    found: set[int] = set()
    run: list[int] = []
    for index, kind in enumerate(kinds):
        values = [label.value for label in doc.heads[index].labels if not label.bare]
        if kind == "t" and len(run) + 1 in values:
            run.append(index)
            continue
        if len(run) >= FEWEST and kind == "t":
            found.update(run, (index,))
        run = [index] if kind == "t" and 1 in values else []
    return found


def _is_shown(doc: Document, *indices: int) -> bool:
    """Whether one of the lines is a table, or an object that stands alone: a picture, code."""
    return any(doc.lines[index].grid is not None or doc.lines[index].text.strip() == OBJECT for index in indices)


def _is_stem_end(doc: Document, texts: list[int]) -> bool:
    return doc.lines[texts[-1]].text.rstrip().endswith(("?", ":", "_"))


def _first_of_stem(doc: Document, texts: list[int], held: Set[int]) -> int:
    """The first line of a stem among the lines above its choices: directions and headings are none of it.

    `held` are lines that go on with what stands above them.
    """
    if not doc.lines[texts[0]].paragraph:
        return texts[0]
    for place in range(len(texts) - 1, 0, -1):
        above = doc.lines[texts[place - 1]]
        text = above.text.strip()
        if not doc.lines[texts[place]].paragraph:
            # The rest of a paragraph.
            continue
        if above.grid is not None or OBJECT in text or texts[place] in held:
            continue
        shown = bool(above.marks() & {"bold", "underline", "italic"})
        if shown or p.DIRECTION.match(text) or not text.endswith((".", "?", ":", ",")) or p.PAGE_FURNITURE.match(text):
            return texts[place]
    return texts[0]


def _by_blocks(kinds: str) -> list[Start]:
    """The first lines of blocks that gaps part, where most have several lines."""
    blocks: list[list[int]] = [[]]
    for index, kind in enumerate(kinds):
        if kind == " " and blocks[-1]:
            blocks.append([])
        elif kind == "t":
            blocks[-1].append(index)
    asked = [block for block in blocks if len(block) >= 3]
    full = [block for block in blocks if block]
    return [Start(block[0]) for block in asked] if len(asked) >= FEWEST and len(asked) >= 0.6 * len(full) else []

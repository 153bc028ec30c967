"""Tables by what stands in their cells: those that lay a test out, those that hold it row by row, and those of data."""

from __future__ import annotations

import re
from collections import defaultdict
from collections.abc import Sequence

from rogatum.core.documents import patterns as p
from rogatum.core.documents.fields import plain_name
from rogatum.core.documents.labels import LETTERS, Label, head_of, labels_at
from rogatum.core.documents.lines import Line, Piece, line_of

Grid = list[list[list[Line]]]
_LONE_KEY = re.compile(r"[A-Ha-h]|True|False|T|F", re.I)
_STEM_HEADING = re.compile(r"^(?:questions?|stem|item|text|problem|prompt|statement)\b", re.I)
_KEY_HEADING = re.compile(r"^(?:key|(?:correct\s+|right\s+)?answer|correct|solution)\b", re.I)
_NUMBER_HEADING = re.compile(r"^(?:#|no\.?|nr\.?|number|item|q|question\s+(?:no|number).*)$", re.I)
_CHOICE_HEADING = re.compile(r"^(?:choice|option|answer)?\s*([A-Ha-h])$", re.I)


def texts_of(grid: Grid) -> list[list[str]]:
    return [["\n".join(line.text for line in cell).strip() for cell in row] for row in grid]


def opened(table: Line) -> list[Line]:
    """The lines of a table that lays a test out or holds it row by row; none where it is one of data."""
    grid = table.grid or []
    texts = texts_of(grid)
    return _card(grid, texts) or _records(grid, texts) or (_laid_out(grid, texts) if _is_layout(texts) else [])


def _with_label(label: str, lines: Sequence[Line]) -> list[Line]:
    """Lines of a cell, with what stands in the cell before them as the label of the first."""
    if not label or not lines:
        return list(lines)
    first = lines[0]
    pieces = [Piece(f"{label} "), *(first.pieces or [Piece(first.text)])]
    head = line_of(first.number, pieces, depth=first.depth, where=first.where)
    return [head, *lines[1:]]


def _records(grid: Grid, texts: list[list[str]]) -> list[Line]:
    """The questions of a table that holds one in each row, below headings that say so."""
    heads = texts[0] if texts else []
    choices = {c: match[1].upper() for c, head in enumerate(heads) if (match := _CHOICE_HEADING.match(head))}
    number = next((c for c, head in enumerate(heads) if _NUMBER_HEADING.match(head)), None)
    stem = next((c for c, head in enumerate(heads) if _STEM_HEADING.match(head) and c != number), None)
    key = next(
        (c for c, head in enumerate(heads) if _KEY_HEADING.match(head) and c not in choices and c not in (stem, number)), None
    )
    if stem is None or len(texts) < 2 or (len(choices) < 2 and (key is None or number is None)):
        return []
    lines: list[Line] = []
    for count, (row, said) in enumerate(zip(grid[1:], texts[1:], strict=True), 1):
        if stem >= len(row) or not said[stem]:
            continue
        given = said[number].rstrip(".)") if number is not None and number < len(said) else ""
        bare = re.sub(r"\W", "", given)
        lines += _with_label(f"{given if bare.isalnum() else count}.", row[stem])
        for c, name in choices.items():
            if c < len(row) and said[c]:
                lines += _with_label(f"{name}.", row[c])
        if key is not None and key < len(row) and said[key]:
            lines += row[key] if p.LABEL_WORD.match(said[key]) else _with_label("Answer:", row[key])
        lines += [
            line
            for c, cell in enumerate(row)
            if c not in (stem, number, key, *choices) and said[c]
            for line in _with_label(f"{heads[c]}:", cell)
        ]
    return lines


def _card(grid: Grid, texts: list[list[str]]) -> list[Line]:
    """The question of a table that names in each row what stands beside it: the stem, choices by letter, the key, labels."""
    rows = [(row, said) for row, said in zip(grid, texts, strict=True) if any(said)]
    if len(rows) < 3 or any(len(said) != 2 for _, said in rows):
        return []
    names = [said[0].strip(" :") for _, said in rows]
    stem = next((n for n, name in enumerate(names) if _STEM_HEADING.match(name) and len(name) < 16), None)
    known = sum(bool(_CHOICE_HEADING.match(name) or _KEY_HEADING.match(name) or plain_name(name) in p.MEANING) for name in names)
    if stem is None or known < len(rows) - 2:
        return []
    lines = list(rows[stem][0][1])
    for place, (row, said) in enumerate(rows):
        choice = _CHOICE_HEADING.match(names[place])
        if place != stem and said[1]:
            lines += _with_label(f"{choice[1].upper()}." if choice else f"{names[place]}:", row[1])
    return lines


def _cell_label(text: str) -> bool:
    """Whether a cell holds nothing but a number or a letter."""
    return bool(re.fullmatch(r"[*✓✔☒☐]?\s?[(\[]?(?:\d{1,3}|[A-Za-z]|[ivx]{1,4})[.)\]:]?", text.strip()))


def _value(text: str) -> int:
    found = labels_at(f"{re.sub(r'[^0-9A-Za-z]', '', text)}.", 0)
    return found[0].value if found else 0


def _first_label(text: str) -> Label | None:
    return next((label for label in head_of(text).labels if not label.shape[0].isalpha()), None)


def _is_layout(texts: list[list[str]]) -> bool:
    """Whether many cells begin like questions, choices or sides that are matched. Cells of data have no such labels."""
    cells = [text for row in texts for text in row if text]
    if not cells:
        return False
    heads = [head_of(text) for text in cells]
    boxes = sum(head.on or head.off or bool(head.bullet) for head in heads)
    if _numbered_rows(texts) or _lettered_rows(texts) or boxes == len(cells):
        return True
    # “i.” is a letter, too: each way to read a label may make the series.
    labelled = [[label for label in head_of(cell).labels if _may_be_of_test(label)] for cell in cells]
    values: dict[str, list[int]] = defaultdict(list)
    for label in (label for own in labelled for label in own):
        values[label.shape].append(label.value)
    series = any(sorted(set(some))[:2] == [1, 2] or len(some) > 2 for some in values.values())
    others = [cell for cell in cells if p.LABEL_WORD.match(cell)]
    return series and sum(map(bool, labelled)) + len(others) >= max(2, 0.5 * len(cells))


def _may_be_of_test(label: Label) -> bool:
    """Whether a label may be one of a question or a choice: “Option A:” is, “Pier 1:” is the name of a row."""
    return not label.bare and (label.system in LETTERS or not label.shape[0].isalpha())


def _numbered_rows(texts: list[list[str]]) -> bool:
    """Whether numbers that count on stand in a column of their own, with choices below what is beside them."""
    first = [row[0].rstrip(".)") for row in texts if row]
    numbers = [int(cell) for cell in first if re.fullmatch(r"\d{1,3}", cell)]
    counted = len(numbers) > 1 and numbers == list(range(numbers[0], numbers[0] + len(numbers)))
    beside = [row[1] for row in texts if len(row) > 1 and row[1]]
    return counted and all(re.fullmatch(r"\d{0,3}", cell) for cell in first) and any(p.CHOICE.match(cell) for cell in beside)


def _lettered_rows(texts: list[list[str]]) -> bool:
    """Whether a table of two columns is a list of choices: labels from A or 1 on, and words beside them."""
    rows = [row for row in texts if any(row)]
    if len(rows) < 2 or any(len(row) != 2 or not row[1] for row in rows):
        return False
    if not all(_cell_label(row[0]) for row in rows):
        return False
    values = [_value(row[0]) for row in rows]
    bare = all(row[0].isalnum() for row in rows)
    measured = bare and all(re.search(r"\d", row[1]) for row in rows)
    return values == list(range(1, len(rows) + 1)) and not measured


def _by_column(texts: list[list[str]]) -> bool:
    """Whether columns are lists of their own: numbers beside letters, or letters that run down."""
    columns = [[row[c] for row in texts if c < len(row) and row[c]] for c in range(max(map(len, texts)))]
    firsts = [[label for text in column if (label := _first_label(text))] for column in columns]
    if (
        not firsts
        or not firsts[0]
        or sum(label.end == len(text) for label, text in zip(firsts[0], columns[0], strict=False)) > len(columns[0]) / 2
    ):
        return False
    kinds = [
        "n" if column and sum(label.system in ("n", "c.n") for label in column) >= len(column) / 2 else "a" if column else ""
        for column in firsts
    ]
    if kinds[0] == "n" and "a" in kinds[1:]:
        return not any("\n" in text for text in columns[0])
    down = [label.value for label in firsts[0] if label.system in ("a", "A")]
    return len(down) > 1 and down == list(range(1, len(down) + 1))


def _laid_out(grid: Grid, texts: list[list[str]]) -> list[Line]:
    """The cells of a table one after another: column by column where a column is a list of its own."""
    if len(texts) > 2 and not any(_first_label(text) for text in texts[0]) and _is_head(grid[0], texts[0]):
        grid, texts = grid[1:], texts[1:]
    width = max(map(len, texts))
    cells = [(r, c) for r in range(len(texts)) for c in range(len(texts[r]))]
    if width > 1 and _by_column(texts):
        cells.sort(key=lambda place: (place[1], place[0]))
    lines: list[Line] = []
    pending = ""
    marked: frozenset[str] = frozenset()
    for r, c in cells:
        text = texts[r][c]
        # A number or a letter in a cell of its own belongs to the text beside it.
        beside = texts[r][c + 1] if c + 1 < len(texts[r]) else ""
        if _cell_label(text) and beside and not (pending and _cell_label(beside)):
            if pending:
                lines += _with_label(pending, [line_of(grid[r][c][0].number, [], where=grid[r][c][0].where)])
            pending = text if not text[-1:].isalnum() else f"{text}."
            marked = grid[r][c][0].marks() if grid[r][c] else frozenset()
            continue
        numbered = texts[r][0].rstrip(".)").isdigit()
        if c > 1 and c == len(texts[r]) - 1 and numbered and not pending and _LONE_KEY.fullmatch(text):
            lines += _with_label("Answer:", grid[r][c])
            continue
        lines += _with_marked_label(pending, marked, grid[r][c])
        pending, marked = "", frozenset()
    return lines


def _is_head(row: list[list[Line]], texts: list[str]) -> bool:
    """Whether a row names the columns: it is in bold, or says so."""
    bold = all("bold" in line.marks() for cell in row for line in cell)
    return bold or any(re.match(r"(?:column|list|spalte|columna|colonne|term|definition|match)\b", text, re.I) for text in texts)


def _with_marked_label(label: str, marks: frozenset[str], lines: Sequence[Line]) -> list[Line]:
    found = _with_label(label, lines)
    if label and found and marks:
        pieces = found[0].pieces
        pieces[0] = Piece(pieces[0].text, marks)
    return found

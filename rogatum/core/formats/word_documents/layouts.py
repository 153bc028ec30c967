"""Tables by what stands in their cells: those that lay a test out, those that hold it row by row, and those of data."""

from __future__ import annotations

import re

from rogatum.core.documents import patterns as p

BARE_LABEL = re.compile(r"[(*✓]?\s?(?:\d{1,3}|[A-Ha-h])[.)]?")
LONE_KEY = re.compile(r"[A-Ha-h]|True|False|T|F", re.I)
_STEM_HEADING = re.compile(r"^(?:questions?|stem|item|text|problem)\b", re.I)
_KEY_HEADING = re.compile(r"^(?:key|(?:correct\s+)?answer|correct|solution)\b", re.I)
_NUMBER_HEADING = re.compile(r"^(?:#|no\.?|nr\.?|number|item|question\s+(?:no|number).*)$", re.I)
_CHOICE_HEADING = re.compile(r"^(?:choice|option|answer)?\s*([A-Ha-h])$", re.I)


def is_layout(texts: list[list[str]]) -> bool:
    """Whether a table lays out a test: many cells begin like questions, choices or keys. One of data has no such labels."""
    cells = [text.strip() for row in texts for text in row if text.strip()]
    if not cells:
        return False
    if key_grid(texts) or _numbered_rows(texts) or _lettered_rows(texts):
        return True
    labelled = sum(
        1 for cell in cells if p.STEM.match(cell) or p.CHOICE.match(cell) or re.fullmatch(r"(?:\d{1,3}|[A-Ha-h])[.)]", cell)
    )
    return labelled >= max(2, 0.5 * len(cells))


def by_column(texts: list[list[str]]) -> bool:
    """Whether columns are lists of their own: stems beside choices, or letters that run down."""
    columns = [[row[c].strip() for row in texts if c < len(row) and row[c].strip()] for c in range(max(map(len, texts)))]
    if sum(bool(BARE_LABEL.fullmatch(text)) for text in columns[0]) > len(columns[0]) / 2:
        return False
    kinds = []
    for column in columns:
        stems = sum(bool(p.STEM.match(text)) for text in column)
        kinds.append("stem" if stems >= 0.5 * max(1, len(column)) else "choice")
    if "stem" in kinds and "choice" in kinds[kinds.index("stem") + 1 :]:
        first = [text for text in columns[0] if not p.STEM.match(text)]
        inner = any("\n" in text for text in columns[0])
        return len(first) < len(columns[0]) / 2 and not inner
    down = [match["l1"] or match["l2"] or match["l3"] or "" for text in columns[0] if (match := p.CHOICE.match(text))]
    return len(down) > 1 and [letter.lower() for letter in down] == [chr(97 + n) for n in range(len(down))]


def key_grid(texts: list[list[str]]) -> list[tuple[str, str]]:
    """A grid of numbers with their keys: rows of numbers above rows of letters, or pairs side by side."""
    key = re.compile(r"^(?:[A-Ha-h]|T|F|True|False)$", re.I)
    number = re.compile(r"^\d{1,3}[.)]?$")
    rows = [[cell.strip() for cell in row] for row in texts]
    found: list[tuple[str, str]] = []
    for above, below in zip(rows[::2], rows[1::2], strict=False):
        pairs = [(n, k) for n, k in zip(above, below, strict=False) if number.match(n) and key.match(k)]
        if len(pairs) >= 2 and len(pairs) >= len([cell for cell in above if cell]) - 1:
            found += pairs
    if not found:
        beside = [(row[i], row[i + 1]) for row in rows for i in range(0, len(row) - 1, 2)]
        pairs = [(n, k) for n, k in beside if number.match(n) and key.match(k)]
        full = [pair for pair in beside if any(pair)]
        found = pairs if len(pairs) >= 2 and len(pairs) >= 0.7 * len(full) else []
    return [(n.rstrip(".)"), k) for n, k in found]


def _numbered_rows(texts: list[list[str]]) -> bool:
    """Whether numbers that count on stand in a column of their own, with choices below what is beside them."""
    first = [row[0].strip().rstrip(".)") for row in texts if row]
    numbers = [int(cell) for cell in first if re.fullmatch(r"\d{1,3}", cell)]
    counted = len(numbers) > 1 and numbers == list(range(numbers[0], numbers[0] + len(numbers)))
    beside = [row[1].strip() for row in texts if len(row) > 1 and row[1].strip()]
    return counted and all(re.fullmatch(r"\d{0,3}", cell) for cell in first) and any(p.CHOICE.match(cell) for cell in beside)


def _lettered_rows(texts: list[list[str]]) -> bool:
    """Whether a table of two columns is a list of choices: letters from A on, and words beside them."""
    rows = [[cell.strip() for cell in row] for row in texts if any(cell.strip() for cell in row)]
    if len(rows) < 2 or any(len(row) != 2 or not row[1] for row in rows):
        return False
    letters = [row[0].rstrip(".)").lstrip("(*✓ ").lower() for row in rows]
    measured = all(re.search(r"\d", row[1]) for row in rows)
    return letters == [chr(ord("a") + n) for n in range(len(rows))] and not measured


def records(texts: list[list[str]]) -> list[str]:
    """The lines of a table that holds a question in each row, below headings that say so; else none."""
    heads = [cell.strip() for cell in texts[0]] if texts else []
    choices = {c: match[1].upper() for c, head in enumerate(heads) if (match := _CHOICE_HEADING.match(head))}
    stem = next((c for c, head in enumerate(heads) if _STEM_HEADING.match(head) and not _NUMBER_HEADING.match(head)), None)
    if stem is None or len(choices) < 2 or len(texts) < 2:
        return []
    key = next((c for c, head in enumerate(heads) if _KEY_HEADING.match(head) and c not in choices), None)
    number = next((c for c, head in enumerate(heads) if _NUMBER_HEADING.match(head) and c != stem), None)
    lines: list[str] = []
    for count, row in enumerate((row for row in texts[1:] if stem < len(row) and row[stem].strip()), 1):
        given = row[number].strip().rstrip(".)") if number is not None and number < len(row) else ""
        lines.append(f"{given if given.isdigit() else count}. {_flat(row[stem])}")
        lines += [f"{letter}. {_flat(row[c])}" for c, letter in choices.items() if c < len(row) and row[c].strip()]
        if key is not None and key < len(row) and row[key].strip():
            lines.append(f"Answer: {_flat(row[key])}")
    return lines


def _flat(text: str) -> str:
    return " ".join(text.split())

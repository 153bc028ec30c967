"""What one line, or a table, of a list of keys says: numbers, each with its key."""

from __future__ import annotations

import re
from collections.abc import Collection, Sequence
from itertools import pairwise

from rogatum.core.documents.document import cells_of
from rogatum.core.documents.keys.values import is_short_key
from rogatum.core.documents.labels import roman, roman_value
from rogatum.core.documents.lines import Line

Entry = tuple[str, str]
SHARE, FEWEST, WIDEST_GAP = 0.6, 2, 9
# More than this between two numbers is no key, and need not be looked at whole.
LONGEST_KEY = 80
_NUMBER = r"(?P<n>\d{1,3}(?:\.\d{1,3})?(?![\d])|[IVXLC]{1,6}(?![^\W_]))"
_START = re.compile(
    rf"(?<![^\s,;|/])(?:^(?![IVXLC]++[.):=])[^\W\d_]{{2,12}}+\.?[ \xa0])?+[(\[#]?{_NUMBER}"
    r"(?P<sep>[ \xa0]?[.)\]:=]++(?!\d)|[ \xa0]?[-–—→>]++[ \xa0]?(?=\S)|[ \xa0]++(?=\S)|(?=[A-Ja-j](?![^\W_])))[ \xa0]?+(?=\S)"
)
_GROUP = re.compile(
    r"\s*+[(\[]?(?P<a>\d{1,3}(?:\.\d{1,3})?|[IVXLC]{1,6})\s?(?:[-–—]|to)\s?(?P<b>\d{1,3}(?:\.\d{1,3})?|[IVXLC]{1,6})[)\]]?\s?[.:)=]?\s++(?P<keys>[A-Ja-jTt](?:[\s,;]{0,2}[A-Ja-jTt]){1,30})\s*+$"
)
_NUMBERS_ONLY = re.compile(
    r"\s*+(?:\d{1,3}(?:\.\d{1,3})?|[IVXLC]{1,6})[.)]?(?:\s++(?:\d{1,3}(?:\.\d{1,3})?|[IVXLC]{1,6})[.)]?)++\s*+$"
)
_PART = re.compile(
    r"^\s*(?![IVXLC]++[.):])(?:(?:part|section)\s+[\dA-Z]+|[^\W\d_]+(?: [^\W\d_]+){0,3})\s*[:.–-]\s+(?=[(\[#]?\d)", re.I
)


def number_name(token: str) -> str:
    """A number as items are looked up by: “4” for 4 and IV, “2.3” as it is."""
    if token[0].isdigit():
        return ".".join(str(int(part)) for part in token.split("."))
    return str(roman_value(token) or token)


def first_number(text: str) -> str | None:
    match = _START.match(_bare(text).lstrip())
    return number_name(match["n"]) if match else None


def _bare(text: str) -> str:
    """A line of a list without the word or the name of a part before its first number."""
    match = _PART.match(text)
    return text[match.end() :] if match else text


def entries_of(text: str, following: str | None = None, numbers: Collection[str] = ()) -> list[Entry]:
    """The entries of a line; `following` is the number that the next line begins with, where that is known.

    `numbers` are those that questions have, as they stand: “1-8: BCA” may leave out those that there are not.

    “7. 1-C, 2-D” is one entry when the next line begins with 8, and “1. C 2. A” two when it begins with 3.
    """
    text = _bare(text)
    group = _GROUP.match(text)
    if group:
        keys = re.findall(r"[A-Za-z]", group["keys"])
        chapter, dot, first = number_name(group["a"]).rpartition(".")
        last = number_name(group["b"]).rpartition(".")[2]
        names = [f"{chapter}{dot}{n}" for n in range(int(first), int(last) + 1)] if first.isdigit() and last.isdigit() else []
        typed = names if group["a"][0].isdigit() else [roman(int(name)).upper() for name in names]
        there = names if len(names) == len(keys) else [name for name, token in zip(names, typed, strict=True) if token in numbers]
        return list(zip(there, keys, strict=True)) if len(there) == len(keys) else []
    if "|" in text and (rows := _of_cells([cell.strip() for cell in text.strip(" |").split("|")])):
        return rows
    starts = cells_of(text)
    cells = [text[a:b].strip() for a, b in zip(starts, [*starts[1:], len(text)], strict=True)]
    nested = _START.match(cells[0]) if len(cells) > 1 else None
    if nested and (inner := _START.match(cells[0], nested.end())) and inner.start() == nested.end() and inner["n"] == "1":
        # The key of one question, which pairs numbers of its own.
        return [(nested["n"], text.strip()[nested.end() :].strip())]
    if len(cells) > 1 and (rows := _of_cells(cells)):
        return rows
    if len(cells) > 1 and all(_START.match(cell) for cell in cells):
        return [entry for cell in cells for entry in entries_of(cell, following)]
    return _of_run(text.strip(), following)


def _of_cells(cells: list[str]) -> list[Entry]:
    """The entries of a row of a table: a number and its key, once with a page behind it, or several times side by side."""
    numbers = cells[::2]
    if len(cells) % 2 == 0 and all(map(_is_number, numbers)) and not any(map(_is_number, cells[1::2])):
        return [(number.strip(".)("), key) for number, key in zip(numbers, cells[1::2], strict=True)]
    if len(cells) in (2, 3) and _is_number(cells[0]) and (len(cells) == 2 or cells[2].strip("p. ").isdigit()):
        return [(cells[0].strip(".)("), cells[1])]
    return []


def _of_run(text: str, following: str | None) -> list[Entry]:
    matches = list(_START.finditer(text))
    if not matches or matches[0].start() > 0:
        return []
    chain = [matches[0]]
    for match in matches[1:]:
        between = text[chain[-1].end() : min(match.start(), chain[-1].end() + LONGEST_KEY)].strip(" ,;|")
        if match["sep"].strip() == matches[0]["sep"].strip() and _goes_on(chain[-1]["n"], match["n"], between):
            chain.append(match)
    if len(chain) > 1 and following is not None and _follows(chain[0]["n"], following):
        chain = chain[:1]
    ends = [match.start() for match in chain[1:]] + [len(text)]
    entries = [(match["n"], text[match.end() : end].strip().rstrip(",;|").strip()) for match, end in zip(chain, ends, strict=True)]
    if not matches[0]["sep"].strip() and not all(is_short_key(key) or len(key) <= 12 for _, key in entries):
        return []
    return [(number, key) for number, key in entries if key]


def _follows(before: str, after: str) -> bool:
    a, _, one = number_name(before).rpartition(".")
    b, _, two = number_name(after).rpartition(".")
    return a == b and one.isdigit() and two.isdigit() and int(two) == int(one) + 1


def _goes_on(before: str, after: str, key: str) -> bool:
    """Whether a number is the next of a list, or a later one behind a key that can be nothing else: “3. D  5. C”."""
    if _follows(before, after):
        return True
    a, b = number_name(before), number_name(after)
    later = a.isdigit() and b.isdigit() and int(a) < int(b) <= int(a) + WIDEST_GAP
    return later and is_short_key(key) and not key[0].isdigit()


def columns_of(texts: Sequence[str]) -> list[int]:
    """For each line how many numbers that count on begin there, with as many keys below them; 0 where none do.

    A table that was read column by column.
    """
    size = len(texts)
    ends, keys = list(range(size)), [0] * (size + 1)
    for at in reversed(range(size)):
        if is_short_key(texts[at]) and not texts[at][0].isdigit():
            keys[at] = keys[at + 1] + 1
        if _is_number(texts[at]):
            goes_on = at + 1 < size and _is_number(texts[at + 1]) and _follows(bare_number(texts[at]), bare_number(texts[at + 1]))
            ends[at] = ends[at + 1] if goes_on else at + 1
    counts = [end - at for at, end in enumerate(ends)]
    return [count if count >= FEWEST and keys[end] >= count else 0 for count, end in zip(counts, ends, strict=True)]


def bare_number(number: str) -> str:
    return number.strip(".)")


def of_rows(above: str, below: str) -> list[Entry]:
    """A row of numbers over a row of keys."""
    if not _NUMBERS_ONLY.match(above):
        return []
    numbers, keys = above.split(), below.split()
    # “5. 7” over “6. T” are two entries.
    short = all(is_short_key(key) and not key.strip("(")[:1].isdigit() for key in keys)
    if len({number[0].isdigit() for number in numbers}) > 1 or len(numbers) != len(keys) or not short:
        return []
    return [(number.rstrip(".)"), key) for number, key in zip(numbers, keys, strict=True)]


def of_grid(grid: list[list[list[Line]]]) -> list[Entry]:
    """The entries of a table: a row of numbers over a row of keys, or a number and its key in each row, several side by side."""
    rows = [[" ".join(line.text.strip() for line in cell) for cell in row] for row in grid]
    found: list[Entry] = []
    down = [row[0] for row in rows if row and _is_number(row[0])]
    by_row = len(down) > FEWEST and _count_on(down)
    for above, below in zip(rows[::2], rows[1::2], strict=False) if not by_row else ():
        under = [(n, k) for n, k in zip(above, below, strict=False) if _is_number(n) and k]
        # Numbers below numbers are keys where those count on and these do not.
        digits = _count_on([n for n, _ in under]) and not _count_on([k for _, k in under])
        pairs = [(n, k) for n, k in under if digits or not k.isdigit()]
        if len(pairs) >= FEWEST and len(pairs) >= sum(map(bool, above)) - 1:
            found += pairs
    if found:
        return [(number.strip(".)("), key) for number, key in found]
    head = next((row for row in rows if any(row)), [])
    columns = [c for c in range(len(head)) if _numbers_rows([row[c] for row in rows[1:] if len(row) > c and row[c]])]
    columns = [c for c in columns if c + 1 < len(head) and not _is_page_column(head, c)]
    if not columns or len(columns) * 2 > max(map(len, rows), default=0) + (len(columns) == 1):
        return []
    pairs = [(row[c], row[c + 1]) for c in columns for row in rows if len(row) > c + 1 and _is_number(row[c]) and row[c + 1]]
    shorts = sum(len(key) <= 60 for _, key in pairs)
    return [(number.strip(".)("), key) for number, key in pairs] if pairs and shorts >= 0.8 * len(pairs) else []


def _count_on(texts: Sequence[str]) -> bool:
    names = [text.strip("(#[.)] ") for text in texts]
    return all(map(_is_number, texts)) and all(_follows(one, other) for one, other in pairwise(names))


def _numbers_rows(cells: list[str]) -> bool:
    """Whether most cells of a column are numbers that count up."""
    names = [number_name(cell.strip(" .)(#[]")) for cell in cells if _is_number(cell)]
    values = [tuple(map(int, name.split("."))) for name in names if name[0].isdigit()]
    rising = sum(a < b for a, b in zip(values, values[1:], strict=False))
    return bool(cells) and len(values) >= SHARE * len(cells) and rising >= SHARE * (len(values) - 1)


def _is_page_column(head: list[str], column: int) -> bool:
    return bool(re.match(r"p(?:ages?|g|\.)", head[column].strip(), re.I))


def _is_number(text: str) -> bool:
    return bool(re.fullmatch(r"[(\[#]?(?:\d{1,3}(?:\.\d{1,3})?|[IVXLC]{1,6})[.)\]]?", text.strip()))

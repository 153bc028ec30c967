"""Lists of keys, in any layout: one key a line, runs, columns, groups, grids, tables; at the end of a test or of a part."""

from __future__ import annotations

import re
from collections.abc import Collection, Mapping, Sequence
from dataclasses import dataclass, field
from itertools import pairwise

from rogatum.core.documents import patterns as p
from rogatum.core.documents.document import cells_of
from rogatum.core.documents.keys.values import is_short_key
from rogatum.core.documents.labels import LETTERS, Head, head_of, roman, roman_value
from rogatum.core.documents.lines import Line

Entry = tuple[str, str]
SHARE, FEWEST, LONGEST_HEADING, MOST_HEADINGS, LONGEST_KEY, MOST_TITLES, WIDEST_GAP, MOST_PAIRS = 0.6, 2, 70, 8, 600, 2, 9, 6
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
_PAGE = re.compile(r"(?<!\s)\s*+[(\[][^()\[\]]{0,12}\d{1,4}[)\]]\s*+$")
_PART_ALONE = re.compile(r"(?:part|section|teil|parte|partie)\s+[\dA-Z]+\b", re.I)
_PART = re.compile(
    r"^\s*(?![IVXLC]++[.):])(?:(?:part|section)\s+[\dA-Z]+|[^\W\d_]+(?: [^\W\d_]+){0,3})\s*[:.–-]\s+(?=[(\[#]?\d)", re.I
)


@dataclass(frozen=True)
class Numbers:
    """The numbers that lines begin with: where each stands first, by its name; and all of them as they are typed."""

    first: Mapping[str, int] = field(default_factory=dict)
    typed: Collection[str] = ()

    def count(self) -> int:
        """How many there are: in digits, where any are, for C is a choice more often than a hundred."""
        return sum(token[0].isdigit() for token in self.typed) or len(self.typed)


@dataclass
class KeyList:
    """The lines of a list by position, each with its entries, and the lines between them that name a part of the test."""

    entries: dict[int, tuple[Entry, ...]] = field(default_factory=dict)
    parts: dict[int, str] = field(default_factory=dict)
    others: list[int] = field(default_factory=list)

    @property
    def positions(self) -> set[int]:
        return {*self.entries, *self.parts}

    def count(self) -> int:
        return sum(map(len, self.entries.values()))


def number_name(token: str) -> str:
    """A number as items are looked up by: “4” for 4 and IV, “2.3” as it is."""
    if token[0].isdigit():
        return ".".join(str(int(part)) for part in token.split("."))
    return str(roman_value(token) or token)


def numbers_of(heads: Sequence[Head]) -> Numbers:
    """The numbers of lines, by what they may begin with."""
    first: dict[str, int] = {}
    typed: set[str] = set()
    for index, head in enumerate(heads):
        for label in head.labels:
            if label.system != "a":
                first.setdefault(number_name(label.token), index)
                if not label.bare:
                    typed.add(label.token)
    return Numbers(first, typed)


def key_lists(lines: Sequence[Line], numbers: Numbers) -> dict[int, tuple[Entry, ...]]:
    """The lines of lists of keys with what they say; `numbers` are those of the lines.

    A line without entries is a heading of the list, or names a part of the test.
    """
    headings = [index for index, line in enumerate(lines) if is_key_heading(line.text)]
    found = _at_the_end(lines, headings, numbers)
    first = min(found, default=len(lines))
    for index in headings:
        if index in found or index >= first:
            continue
        run = _run_below(lines, index + 1, first, numbers)
        if run.count() >= FEWEST:
            found[index] = ()
            found.update(run.entries)
            found.update(dict.fromkeys(run.parts, ()))
    return found


def is_key_heading(text: str) -> bool:
    """Whether a line announces a list of keys."""
    return len(text) <= LONGEST_HEADING and bool(p.KEY_HEADING.match(text))


def _at_the_end(lines: Sequence[Line], headings: Sequence[int], numbers: Numbers) -> dict[int, tuple[Entry, ...]]:
    """The list that a heading near the end announces; or the last lines, where they are nothing but keys."""
    for index in headings[: -MOST_HEADINGS - 1 : -1]:
        found = read_list(lines, range(index + 1, len(lines)), lines[:index], numbers)
        if _is_key_of_one(lines, index, found, numbers):
            continue
        if _holds(found, numbers, index) or _begins_with(lines, index, found):
            return {index: (), **found.entries, **dict.fromkeys([*found.parts, *found.others], ())}
    return _without_heading(lines, numbers)


def _is_key_of_one(lines: Sequence[Line], heading: int, found: KeyList, numbers: Numbers) -> bool:
    """Whether “Answers:” is the label of the last question's key, as others have theirs, and not the heading of a list."""
    if not p.LABEL_WORD.match(lines[heading].text):
        return False
    keyed = [index for index, line in enumerate(lines) if _says_key(line.text)]
    below = sum(index > heading for index in keyed)
    if below:
        # A list is not followed by a key of one question.
        return True
    return len(keyed) >= FEWEST and (len(keyed) >= found.count() or found.count() < 0.8 * numbers.count())


def _says_key(text: str) -> bool:
    """Whether a line is the key of one question, with its label or as a sentence."""
    match = p.LABEL.match(text) if ":" in text else None
    if match and p.MEANING[match["label"].lower()] == "key":
        return any(map(str.isalnum, match["rest"]))
    return p.KEY_SENTENCE.match(text) is not None


def _begins_with(lines: Sequence[Line], heading: int, found: KeyList) -> bool:
    """Whether a document begins with the heading of a list and holds little else."""
    before = sum(not line.blank for line in lines[:heading])
    tabled = all(lines[index].grid is not None for index in found.entries) and found.count() > 1
    return before <= 2 and (tabled or len(found.entries) > 1) and len(found.others) <= 1


def _holds(found: KeyList, numbers: Numbers, start: int) -> bool:
    """Whether a stretch is a list of keys: most lines are entries, and most entries name a number that stands before it."""
    if not found.entries:
        return False
    known = sum(numbers.first.get(number_name(number), start) < start for entry in found.entries.values() for number, _ in entry)
    return len(found.entries) >= SHARE * (len(found.entries) + len(found.others)) - 3 and known >= SHARE * found.count()


def _without_heading(lines: Sequence[Line], numbers: Numbers) -> dict[int, tuple[Entry, ...]]:
    filled = [index for index, line in enumerate(lines) if not line.blank]
    start = _start_of_tail(lines, filled, numbers)
    found = read_list(lines, filled[start:], lines[: filled[start]] if start < len(filled) else [], numbers)
    said = [number_name(number) for entry in found.entries.values() for number, _ in entry]
    if len(said) >= FEWEST and start <= MOST_TITLES and all(_is_table_of_keys(lines[index]) for index in filled[start:]):
        # A document of its own, without questions.
        return {index: tuple(entry) for index, entry in found.entries.items()}
    if not start or len(said) < FEWEST:
        return {}
    known = sum(numbers.first.get(number, filled[start]) < filled[start] for number in said)
    # A key of one question that pairs numbers looks like a list; it names fewer of the numbers, and others have theirs.
    labelled = p.LABEL_WORD.match(lines[filled[start]].text)
    if labelled and len(said) < max(MOST_PAIRS, numbers.count()) and any(_says_key(line.text) for line in lines[: filled[start]]):
        return {}
    enough = 0.8 if labelled else SHARE
    lines_of_keys = {**found.entries, **dict.fromkeys(found.parts, ())}
    return lines_of_keys if known >= SHARE * len(said) and len(said) >= enough * numbers.count() else {}


def _start_of_tail(lines: Sequence[Line], filled: list[int], numbers: Numbers) -> int:
    """Where the last lines that are nothing but keys begin; keys in words count where numbers of questions come again."""
    start = len(filled)
    while start and (_is_sure(lines[filled[start - 1]]) or _heads_part(lines, filled, start - 1)):
        start -= 1
    again = start
    said = {number_name(number) for index in filled[start:] for number, _ in entries_of(lines[index].text)}
    asking = 0
    while again and (found := entries_of(lines[filled[again - 1]].text)) and len(lines[filled[again - 1]].text) <= LONGEST_KEY:
        names = {number_name(number) for number, _ in found}
        # A number that is said below has its key.
        if names & said or not all(numbers.first.get(name, filled[again - 1]) < filled[again - 1] for name in names):
            break
        again -= 1
        said |= names
        asking += any(key.endswith("?") or "__" in key for _, key in found)
    count = len(filled) - again
    sure = sum(_is_sure(lines[index]) for index in filled[again:])
    # Keys in words are fewer sure ones; then they are of most of the questions, and ask nothing themselves.
    most = bool(sure) and len(said) >= 0.8 * numbers.count() and asking <= 0.1 * count
    return again if sure >= 0.3 * count or most else start


def _heads_part(lines: Sequence[Line], filled: list[int], place: int) -> bool:
    """Whether a line above some keys is a heading of the test that stands again among them."""
    text = lines[filled[place]].text
    head = head_of(text)
    # A choice may stand in several questions.
    lettered = any(label.system in LETTERS for label in head.labels) and not any(label.system == "I" for label in head.labels)
    if place == len(filled) - 1 or len(text) > LONGEST_HEADING or not text.strip()[0].isalpha():
        return False
    if lettered and not p.names_a_part(text, head.text):
        return False
    name = heading_name(text)
    return any(heading_name(lines[index].text) == name for index in filled[:place])


def _is_sure(line: Line) -> bool:
    """Whether a line is nothing but numbers with letters or truths."""
    if line.grid is not None:
        return bool(_of_grid(line.grid))
    entries = entries_of(line.text)
    return bool(entries) and all(is_short_key(key) and not key[0].isdigit() for _, key in entries)


def _is_table_of_keys(line: Line) -> bool:
    """Whether a table says in its head that it holds keys, or holds no others but letters and truths."""
    if line.grid is None:
        return False
    heads = [" ".join(part.text for part in cell) for cell in line.grid[0]]
    keys = [key for _, key in _of_grid(line.grid)]
    return bool(keys) and (any(map(is_key_heading, heads)) or all(is_short_key(key) and not key[0].isdigit() for key in keys))


def _run_below(lines: Sequence[Line], start: int, end: int, numbers: Numbers) -> KeyList:
    """The sure lines below a heading, to the first other one."""
    found: list[int] = []
    for index in range(start, end):
        if lines[index].blank:
            continue
        if not _is_sure(lines[index]):
            break
        found.append(index)
    return read_list(lines, found, lines[: start - 1], numbers)


def read_list(lines: Sequence[Line], positions: Sequence[int], body: Sequence[Line], numbers: Numbers | None = None) -> KeyList:
    """What each line of a list says; `body` is the test before it, whose headings may stand in the list again.

    `numbers` are those that its lines begin with.
    """
    typed = numbers.typed if numbers else ()
    found = KeyList()
    headings: set[str] | None = None
    filled = [index for index in positions if not lines[index].blank]
    texts = [lines[index].text.strip() for index in filled]
    next_numbers, columns = _next_numbers([lines[index].text for index in filled]), _columns(texts)
    skip = owner = -1
    whole = ""
    for place, index in enumerate(filled):
        line = lines[index]
        if index <= skip:
            continue
        if count := columns[place]:
            for at in range(place, place + count):
                found.entries[filled[at]] = ((_name(texts[at]), texts[at + count]),)
            found.entries.update(dict.fromkeys(filled[place + count : place + 2 * count], ()))
            skip = filled[place + 2 * count - 1]
            continue
        if line.grid is not None:
            entries = _of_grid(line.grid)
        elif texts[place][0].isalpha() and heading_name(line.text) in (headings := headings or _headings_of(body)):
            found.parts[index] = line.text
            owner = -1
            continue
        elif place + 1 < len(filled) and (pairs := _of_rows(line.text, lines[filled[place + 1]].text)):
            entries, skip = pairs, filled[place + 1]
            found.entries[skip] = ()
        else:
            following = next_numbers[place]
            entries = entries_of(line.text, following, typed)
        above = filled[place - 1] if place else -1
        if entries:
            found.entries[index] = tuple(entries)
            owner, whole = index, line.text.rstrip()
        elif owner >= 0 and above == index - 1 and (above == owner or above in found.parts) and not line.paragraph:
            # A list, or a key, that a line end divides.
            whole = f"{whole} {line.text.strip()}"
            joined = tuple(entries_of(whole, following, typed))
            if above != owner and len(joined) <= len(found.entries[owner]):
                found.others.append(index)
                continue
            found.entries[owner] = joined or found.entries[owner]
            found.parts[index] = ""
        else:
            found.others.append(index)
    _without_pages(found)
    return found


def _headings_of(body: Sequence[Line]) -> set[str]:
    titles = [line.text for line in body if not line.blank and len(line.text) <= LONGEST_HEADING]
    return {name for text in titles for name in (heading_name(text), _part_name(text))} | {""}


def _next_numbers(texts: Sequence[str]) -> list[str | None]:
    """For each line the number that the next one with a number begins with."""
    found: list[str | None] = []
    number: str | None = None
    for text in reversed(texts):
        found.append(number)
        number = _first_number(text) or number
    return found[::-1]


def heading_name(text: str) -> str:
    """A heading without its points, as it may stand again in the list."""
    return re.sub(r"(?<![\W_])[\W_]*+(?:[(\[,]\s?\d[^()\[\]]*+[)\]]?)?\s*+$", "", text.strip().strip("#* ").casefold())


def _part_name(text: str) -> str:
    """What a heading is called for short: “Part II” for “PART II. TRUE OR FALSE”."""
    match = _PART_ALONE.match(text.strip("#* "))
    return heading_name(match[0]) if match else ""


def _without_pages(found: KeyList) -> None:
    """Takes pages in brackets off the keys, where most have one."""
    all_keys = [key for entries in found.entries.values() for _, key in entries]
    if sum(bool(_PAGE.search(key)) for key in all_keys) < max(2, SHARE * len(all_keys)):
        return
    for index, entries in found.entries.items():
        found.entries[index] = tuple((number, _PAGE.sub("", key)) for number, key in entries)


def _first_number(text: str) -> str | None:
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


# More than this between two numbers is no key, and need not be looked at whole.
LONGEST_KEY = 80


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


def _columns(texts: Sequence[str]) -> list[int]:
    """For each line how many numbers that count on begin there, with as many keys below them; 0 where none do.

    A table that was read column by column.
    """
    size = len(texts)
    ends, keys = list(range(size)), [0] * (size + 1)
    for at in reversed(range(size)):
        if is_short_key(texts[at]) and not texts[at][0].isdigit():
            keys[at] = keys[at + 1] + 1
        if _is_number(texts[at]):
            goes_on = at + 1 < size and _is_number(texts[at + 1]) and _follows(_name(texts[at]), _name(texts[at + 1]))
            ends[at] = ends[at + 1] if goes_on else at + 1
    counts = [end - at for at, end in enumerate(ends)]
    return [count if count >= FEWEST and keys[end] >= count else 0 for count, end in zip(counts, ends, strict=True)]


def _name(number: str) -> str:
    return number.strip(".)")


def _of_rows(above: str, below: str) -> list[Entry]:
    """A row of numbers over a row of keys."""
    if not _NUMBERS_ONLY.match(above):
        return []
    numbers, keys = above.split(), below.split()
    # “5. 7” over “6. T” are two entries.
    short = all(is_short_key(key) and not key.strip("(")[:1].isdigit() for key in keys)
    if len({number[0].isdigit() for number in numbers}) > 1 or len(numbers) != len(keys) or not short:
        return []
    return [(number.rstrip(".)"), key) for number, key in zip(numbers, keys, strict=True)]


def _of_grid(grid: list[list[list[Line]]]) -> list[Entry]:
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

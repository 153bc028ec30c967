"""Lists of keys, in any layout: one key a line, runs, columns, groups, grids, tables; at the end of a test or of a part."""

from __future__ import annotations

import re
from collections.abc import Collection, Mapping, Sequence
from dataclasses import dataclass, field

from rogatum.core.documents import patterns as p
from rogatum.core.documents.keys.entries import (
    FEWEST,
    LONGEST_KEY,
    SHARE,
    Entry,
    bare_number,
    columns_of,
    entries_of,
    first_number,
    number_name,
    of_grid,
    of_rows,
)
from rogatum.core.documents.keys.values import is_short_key
from rogatum.core.documents.labels import LETTERS, Head, head_of
from rogatum.core.documents.lines import Line

LONGEST_HEADING, MOST_HEADINGS, MOST_TITLES, MOST_PAIRS = 70, 8, 2, 6
_PAGE = re.compile(r"(?<!\s)\s*+[(\[][^()\[\]]{0,12}\d{1,4}[)\]]\s*+$")
_PART_ALONE = re.compile(r"(?:part|section|teil|parte|partie)\s+[\dA-Z]+\b", re.I)


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
        return bool(of_grid(line.grid))
    entries = entries_of(line.text)
    return bool(entries) and all(is_short_key(key) and not key[0].isdigit() for _, key in entries)


def _is_table_of_keys(line: Line) -> bool:
    """Whether a table says in its head that it holds keys, or holds no others but letters and truths."""
    if line.grid is None:
        return False
    heads = [" ".join(part.text for part in cell) for cell in line.grid[0]]
    keys = [key for _, key in of_grid(line.grid)]
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
    next_numbers, columns = _next_numbers([lines[index].text for index in filled]), columns_of(texts)
    skip = owner = -1
    whole = ""
    for place, index in enumerate(filled):
        line = lines[index]
        if index <= skip:
            continue
        if count := columns[place]:
            for at in range(place, place + count):
                found.entries[filled[at]] = ((bare_number(texts[at]), texts[at + count]),)
            found.entries.update(dict.fromkeys(filled[place + count : place + 2 * count], ()))
            skip = filled[place + 2 * count - 1]
            continue
        if line.grid is not None:
            entries = of_grid(line.grid)
        elif texts[place][0].isalpha() and heading_name(line.text) in (headings := headings or _headings_of(body)):
            found.parts[index] = line.text
            owner = -1
            continue
        elif place + 1 < len(filled) and (pairs := of_rows(line.text, lines[filled[place + 1]].text)):
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
        number = first_number(text) or number
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

"""Which lines of a question are its choices, and which the two sides of a matching, under a reading of the whole."""

from __future__ import annotations

import re
from collections.abc import Sequence

from rogatum.core.documents import patterns as p
from rogatum.core.documents.choice_lists import BARE, ChoiceList, Mark, ranked, unlabelled
from rogatum.core.documents.document import Document
from rogatum.core.documents.fields import FieldWords
from rogatum.core.documents.keys.values import compared, pairs_in, texts_of
from rogatum.core.documents.labels import LETTERS, Head, letter, roman
from rogatum.core.documents.numbering import Start
from rogatum.core.documents.readings import Reading, may_be_row
from rogatum.core.documents.truth_lines import truths_in
from rogatum.core.documents.weighing import weigh

_STEM_END = re.compile(r"[?:]\s*+(?:[(\[][^()\[\]]*[)\]])?\s*+$|(?<!_)_{3,}+\W*+$|…\s*$")
_WORD = re.compile(r"[^\W_]+")


class Choosing:
    """The choices of one question: by the position of their lines, with what a key calls each.

    `lefts` are the numbered sides of a matching; `pool` answers that several questions share; `second` another list that is
    nearly as likely.
    """

    def __init__(self, doc: Document, reading: Reading, words: FieldWords, item: int, start: Start, end: int) -> None:
        self.doc, self.reading, self.words, self.item = doc, reading, words, item
        self.start, self.end = start, end
        self.chosen: ChoiceList | None = None
        self.second: ChoiceList | None = None
        self.count = 0
        self._choose()

    def _choose(self) -> None:
        self.pool = {mark.index: mark for mark in self.reading.shared.get(self.item, [])}
        self.keys = self._keys()
        lists = self._own_lists()
        others = [found for found in lists if found.shape != self.reading.shape]
        weighed = weigh(self._without_lefts(others or lists), self.reading.regular, self._said_key())
        chosen = weighed.best
        self.second = weighed.second
        said = [i for i in range(self.start.index, self.end) if self.doc.said.get(i) == "choice"] if self.doc.said else []
        self.by_line: dict[int, list[tuple[Mark, str]]] = {}
        self.lefts: dict[int, list[tuple[Mark, str]]] = {}
        if chosen is None or chosen.system == "n":
            chosen = ranked(self.doc, self.start.index, self.end) or chosen
        if not said and self._bare_choices(chosen):
            return
        marks = [mark for mark in (chosen.marks if chosen else ()) if self.doc.said.get(mark.index, "choice") == "choice"]
        listed = {mark.index for mark in marks}
        added = [Mark(i, 0, _head_of_said(self.doc.heads[i])) for i in said if i not in listed]
        if marks or added:
            self.chosen = chosen
            self.count = len(marks) + len(added)
            for position, mark in enumerate(sorted([*marks, *added], key=lambda mark: mark.index) if added else marks, 1):
                name = letter(position) if added else name_of(mark, position)
                self.by_line.setdefault(mark.index, []).append((mark, name))
        if chosen is not None and not added:
            self._choose_lefts(lists, chosen)
        self.first_choice = min(self.by_line, default=self.end)
        self.last_choice_line = max(self.by_line, default=-1)

    def _own_lists(self) -> list[ChoiceList]:
        """The lists of the question: neither those of a pool that it shares, nor what stands behind its key."""
        lists = self.reading.lists[self.item]
        if self.pool:
            lists = [found for found in lists if not any(mark.index in self.pool and mark.label for mark in found.marks)]
        lists = self._before_heading(lists)
        if not self.keys:
            return lists
        # A key at the end of the question's own line stands above its choices.
        own = self.doc.lines[self.start.index].number
        keyed = next((i for i, value, first in self.keys if first and value and self.doc.lines[i].number != own), self.end)
        # A line that announces keys which stand below it.
        empty = next((i for i, value, first in self.keys if first and not value), self.end)
        above = [found for found in lists if found.first.index < empty]
        parting = self._first_parting(keyed, max((found.first.index for found in above), default=0))
        return [found for found in above if found.first.index < keyed or found.first.index <= parting]

    def _without_lefts(self, lists: Sequence[ChoiceList]) -> Sequence[ChoiceList]:
        """The lists that may hold choices: where numbers are matched with letters, the letters alone."""
        numbers = [found for found in lists if found.system == "n"]
        letters = [found for found in lists if found.system in LETTERS]
        if not numbers or not letters:
            return lists
        blanks = any(sum(mark.head.blank for mark in found.marks) > 1 for found in numbers)
        asked = self._asks_to_match() and not self.keys
        return letters if blanks or asked or any(map(self._pairs, numbers)) else lists

    def _before_heading(self, lists: Sequence[ChoiceList]) -> list[ChoiceList]:
        """The lists above the first line behind the question's own that names a part of the test."""
        lines, heads = self.doc.lines, self.doc.heads
        between = range(self.start.index + 1, max((found.first.index for found in lists), default=0))
        named = (i for i in between if not lines[i].blank and (lines[i].heading or p.names_a_part(lines[i].text, heads[i].text)))
        heading = next(named, self.end)
        return [found for found in lists if found.first.index <= heading]

    def _keys(self) -> list[tuple[int, str, bool]]:
        """What lines below the first say of the key: their positions, the key, and whether the line begins with it."""
        found = []
        for index in range(self.start.index + 1, self.end):
            text = self.doc.lines[index].text
            one = self.words.key_in(text)
            if one is not None:
                found.append((index, text[one.start : one.end], one is self.words.of(text)[0]))
        return found

    def _key(self) -> str:
        return self.keys[0][1] if self.keys else ""

    def _said_key(self) -> list[str]:
        """What the question says of its key, as labels; empty where it does not."""
        return [word.casefold() for word in _WORD.findall(self._key())]

    def _first_parting(self, keyed: int, last: int) -> int:
        """The first line between its key and the last list that is no label of its question: what is behind it follows on that."""
        between = (i for i in range(keyed + 1, last) if not self.doc.lines[i].blank)
        return next((i for i in between if not self.words.of(self.doc.lines[i].text) and not self.doc.heads[i].labels), self.end)

    def _choose_lefts(self, lists: Sequence[ChoiceList], chosen: ChoiceList) -> None:
        """The numbered side of a matching: a list of numbers beside or before or behind the letters."""
        if chosen.system in ("n", "•"):
            return
        numbers = [found for found in lists if found.system == "n"]
        if not numbers:
            return
        lefts = max(numbers, key=lambda found: len(found.marks))
        beside = {mark.index for mark in lefts.marks} & {mark.index for mark in chosen.marks}
        blanks = sum(mark.head.blank for mark in lefts.marks)
        asked = self._asks_to_match()
        behind = lefts.first.index > chosen.last_index
        if len(beside) > 1 or blanks > 1 or asked or behind or self._pairs(lefts):
            for mark in lefts.marks:
                number = str(mark.label.value) if mark.label else ""
                self.lefts.setdefault(mark.index, []).append((mark, f"{number}={mark.head.fill}" if mark.head.fill else number))

    def _asks_to_match(self) -> bool:
        """Whether the question says so on its first line, or below a number that stands alone."""
        first = self.start.index
        texts = [line.text for line in self.doc.lines[first : min(first + 2, self.end)]]
        alone = not texts[0][self.start.text :].strip()
        return bool(p.MATCH_CUE.search(texts[-1] if alone else texts[0]))

    def _pairs(self, lefts: ChoiceList) -> bool:
        """Whether the key pairs each of the numbers with a letter."""
        return len(pairs_in(self._key())) == len(lefts.marks)

    def _bare_choices(self, chosen: ChoiceList | None) -> bool:
        """Whether the question's choices are the lines below its stem, which have no labels at all."""
        if chosen is not None:
            return False
        rows = self._rows_below()
        if self.reading.usual != BARE and not (self._key_names_some(rows) or self._are_marked(rows)):
            return False
        if len(rows) < 2:
            self.first_choice, self.last_choice_line = self.end, -1
            return True
        for position, index in enumerate(rows, 1):
            self.by_line[index] = [(Mark(index, 0, unlabelled(self.doc.heads[index])), letter(position))]
        self.count = len(rows)
        self.first_choice, self.last_choice_line = rows[0], rows[-1]
        return True

    def _key_names_some(self, rows: Sequence[int]) -> bool:
        """Whether the key says some of these lines, each in its own words."""
        texts, key = {compared(self.doc.lines[index].text) for index in rows}, self._key()
        return len(rows) > 1 and any(said and texts.issuperset(map(compared, said)) for said in ([key], texts_of(key)))

    def _are_marked(self, rows: Sequence[int]) -> bool:
        """Whether some of these lines, and not all, have a mark behind them."""
        return 0 < sum(bool(p.mark_behind(self.doc.lines[index].text)) for index in rows) < len(rows)

    def _rows_below(self) -> list[int]:
        rows: list[int] = []
        for index in range(self.start.index + 1, self.end):
            line = self.doc.lines[index]
            if line.blank or line.heading:
                if rows:
                    break
                continue
            labelled = line.after_blank and any(label.system == "I" and not label.bare for label in self.doc.heads[index].labels)
            if labelled or not may_be_row(line) or self.words.of(line.text) or truths_in(line):
                break
            rows.append(index)
        rows = rows[self._stem_rows(rows) :]
        return rows if len(rows) <= 12 else []

    def _stem_rows(self, rows: Sequence[int]) -> int:
        """How many of the lines below a question's first one belong to its stem: to where it ends, in all its languages."""
        first = self.doc.lines[self.start.index].text[self.start.text :]
        ends = [bool(_STEM_END.search(self.doc.lines[index].text)) for index in rows]
        count = 0
        if not _STEM_END.search(first):
            # Below a number that stands alone the stem begins, whatever its end.
            count = ends.index(True) + 1 if True in ends else int(not first.strip())
        while count < len(rows) and ends[count] and not all(ends[count:]):
            count += 1
        return count


def name_of(mark: Mark, position: int) -> str:
    """What a key calls a choice: its letter, its Roman numeral, or the letter of its position."""
    if mark.label is None or mark.label.system in ("n", "c.n"):
        return letter(mark.label.value if mark.label else position)
    return roman(mark.label.value) if mark.label.system in ("i", "I") else letter(mark.label.value)


def _head_of_said(head: Head) -> Head:
    """What is taken off a line that a person calls a choice: its label, or its sign."""
    return head if any(not label.bare for label in head.labels) else unlabelled(head)

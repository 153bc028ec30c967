"""Roles that a person gives to lines by hand. A line is known by its text, so that a decision stays when other lines change."""

from __future__ import annotations

from collections import Counter
from collections.abc import Callable, Mapping
from hashlib import blake2b
from typing import Literal

from rogatum.core.documents import patterns as p
from rogatum.core.documents.choices import ChoiceRules
from rogatum.core.documents.keys import letters_of, truth_of
from rogatum.core.documents.lines import Line
from rogatum.core.documents.walk import Walk

Decidable = Literal["stem", "choice", "key", "more", "heading", "aside"]


def name_lines(lines: list[Line]) -> None:
    """Names each line by its text, and by its turn among lines of the same text."""
    seen: Counter[str] = Counter()
    for line in lines:
        text = line.text.strip()
        if text:
            seen[text] += 1
            line.name = blake2b(f"{text}\0{seen[text]}".encode("utf-8", "replace"), digest_size=6).hexdigest()


class Decisions:
    """The rule that comes before all others: what a person said of a line. What cannot be so is left outside, and told."""

    def __init__(self, walk: Walk, choices: ChoiceRules, roles: Mapping[str, str]) -> None:
        self.walk, self.choices, self.roles = walk, choices, roles
        self._places: dict[str, Callable[[Line], None]] = {
            "stem": self._stem,
            "choice": self._choice,
            "key": self._key,
            "more": self._more,
            "heading": self._heading,
            "aside": self._aside,
        }

    def place(self, line: Line) -> list[Line]:
        place = self._places.get(self.roles.get(line.name, ""))
        if place is None:
            return []
        if self.walk.item < 0 and place in (self._choice, self._key, self._more):
            line.role = "outside"
        else:
            place(line)
        return [line]

    def _stem(self, line: Line) -> None:
        match = p.STEM.match(line.text)
        number = next((int(match[f"n{i}"]) for i in range(1, 6) if match[f"n{i}"]), None) if match else None
        self.walk.begin(self.walk.number + 1 if number is None else number, line.depth)
        line.role, line.label, line.item = "stem", str(self.walk.number), self.walk.item
        line.keep(match.start("rest") if match else 0)

    def _choice(self, line: Line) -> None:
        self.choices.decided(line)

    def _key(self, line: Line) -> None:
        match = p.LABEL.match(line.text)
        line.role, line.label, line.item = "key", "key", self.walk.item
        line.keep(match.start("rest") if match else 0)
        walk = self.walk
        walk.open_role, walk.keyed, walk.answered = "key", True, True
        walk.key_complete = bool(letters_of(line.value) or truth_of(line.value) is not None)

    def _more(self, line: Line) -> None:
        line.role, line.label, line.item = "more", self.walk.open_role or "stem", self.walk.item

    def _heading(self, line: Line) -> None:
        marked = p.MARKED_HEADING.match(line.text)
        line.role, line.level = "heading", line.level or (len(marked[1]) if marked else 2)
        line.keep(marked.start(2) if marked else 0, marked.end(2) if marked else None)
        self.walk.close(line.value)

    def _aside(self, line: Line) -> None:
        line.role = "aside"

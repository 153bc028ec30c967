"""What the walk over the lines knows: the open item, its choices, the section that it stands in."""

from __future__ import annotations

import re
from dataclasses import dataclass, field

from rogatum.core.documents import patterns as p
from rogatum.core.documents.lines import Line

LOOK_AHEAD = 14
SHORT_LINE = 50
_SECOND_CHOICE = re.compile(r"^\s*[*✓✔]?\s?\(?[bB][.):]\s")
FIRST_LETTER = re.compile(r"^[*✓✔]?\s?\(?[aA][.)]")


@dataclass
class Walk:
    lines: list[Line]
    key_lines: frozenset[int]
    index: int = 0
    item: int = -1
    number: int = 0
    stem_depth: int = 0
    choices: int = 0
    style: str = ""
    columns: bool = False
    answered: bool = False
    keyed: bool = False
    # The key that was read last is a letter or a truth value, and needs no more words.
    key_complete: bool = False
    after_blank: bool = True
    open_role: str = ""
    after_heading: bool = False
    matching: bool = False
    # The shared list of a matching stands beside what is matched.
    beside: bool = False
    # The number at which a list within the stem stands, and the choices of the open item.
    inner: int = 0
    taken: list[Line] = field(default_factory=list)
    section_type: str = ""
    headings: list[str] = field(default_factory=list)
    # Whether the document asks by “Q:” and answers by “A:”.
    in_pairs: bool = field(init=False)

    def __post_init__(self) -> None:
        self.in_pairs = _asks_in_pairs([line.text for line in self.lines])

    @property
    def in_key_list(self) -> bool:
        return self.index in self.key_lines

    @property
    def done(self) -> bool:
        """Whether the open item could end here."""
        return self.answered or self.choices > 0 or not self.open_role

    @property
    def last_role(self) -> str:
        before = self.line_before()
        return before.role if before else "blank"

    def line_before(self) -> Line | None:
        """The last line before the current one that is not blank."""
        for index in range(self.index - 1, -1, -1):
            if not self.lines[index].blank:
                return self.lines[index]
        return None

    def begin(self, number: int, depth: int) -> None:
        """A new item begins."""
        self.item += 1
        self.number, self.stem_depth = number, depth
        self.choices, self.style, self.columns, self.inner, self.taken = 0, "", False, 0, []
        self.keyed = self.key_complete = False
        self.answered, self.after_heading, self.open_role = False, False, "stem"

    def close(self, heading: str) -> None:
        """A heading ends the open item."""
        self.headings.append(heading)
        self.open_role, self.choices, self.style, self.after_heading = "", 0, "", True
        self.matching, self.beside = bool(p.MATCH_CUE.search(heading)), False
        self.section_type = ""
        self.learn(heading)

    def direct(self, text: str) -> None:
        self.open_role, self.choices, self.style, self.after_heading = "", 0, "", True
        self.matching = self.matching or bool(p.MATCH_CUE.search(text))
        self.learn(text)

    def learn(self, text: str) -> None:
        """Takes in what type of questions a heading or a direction announces."""
        self.section_type = next((name for name, pattern in p.SECTION_TYPES if pattern.search(text)), self.section_type)

    def ended_as_sentence(self) -> bool:
        """Whether the line before ends as a stem may."""
        before = self.line_before()
        return before is not None and before.text.rstrip().endswith((".", "?", "!", ":", "_", ")", "]", "”", '"'))

    def ended_short(self) -> bool:
        """Whether the line before ends well before the margin, so that a number on the next one is no part of its sentence."""
        before = self.line_before()
        return before is None or len(before.text.rstrip()) < SHORT_LINE

    def open_passage(self) -> None:
        self.open_role, self.choices, self.style, self.answered = "passage", 0, "", True

    def nested(self, line: Line) -> bool:
        """Whether an automatic list stands within the open item's."""
        return bool(self.item >= 0 and self.stem_depth and line.depth > self.stem_depth)

    def choices_begin(self) -> bool:
        """Whether lettering begins anew within the next lines, which a number before it makes a question of."""
        return any(FIRST_LETTER.match(text) for text in self.ahead()[:3])

    def ahead(self, close: str = "") -> list[str]:
        """The next lines of this item, as texts; `close` is the sign behind numbers that are no stems' here."""
        found = []
        for line in self.lines[self.index + 1 : self.index + 1 + LOOK_AHEAD]:
            match = p.STEM.match(line.text)
            following = match is not None and any(match[f"n{i}"] == str(self.number + 1) for i in range(1, 6))
            if following and not (close and f"{self.number + 1}{close}" in line.text[:8]):
                break
            if not line.blank:
                found.append(line.text.strip())
        return found


def _asks_in_pairs(texts: list[str]) -> bool:
    """Whether most questions marked by a Q have an answer marked by an A, and none has a choice B."""
    asked = sum(bool(p.QUESTION_OF_PAIR.match(text)) for text in texts)
    answered = sum(bool(p.ANSWER_OF_PAIR.match(text)) for text in texts)
    return answered > 1 and 0.8 * asked <= answered <= asked and not any(_SECOND_CHOICE.match(text) for text in texts)

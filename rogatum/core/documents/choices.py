"""Lines that are choices: lettered, numbered by a nested list, bulleted, side by side, run on, or True and False on one line."""

from __future__ import annotations

import re

from rogatum.core.documents import patterns as p
from rogatum.core.documents.lines import Line
from rogatum.core.documents.walk import FIRST_LETTER, Walk

_SIDE_BY_SIDE = re.compile(r"(?:^|(?:(?<!\s)\s{2,}+|\t))(?=[*✓✔]?\s?\(?[A-Ha-h][.)]\s*\S)")
_RUN_LABEL = re.compile(r"(?:^|\s)(?P<mark>[*✓✔]?)(?P<open>\(?)(?P<letter>[A-Ha-h])(?P<close>[.)])\s+(?=\S)")
_ROMAN_TWO = re.compile(r"^\(?II[.)]")
FEWEST_RUN = 3


def letter(position: int) -> str:
    """The letter of the choice at a position (from 1)."""
    return chr(ord("a") + position - 1) if position <= 26 else f"c{position}"


class ChoiceRules:
    def __init__(self, walk: Walk) -> None:
        self.walk = walk

    def truth_options(self, line: Line) -> list[Line]:
        """“True  False” below a statement, to be circled."""
        match = p.TRUTH_OPTIONS.match(line.text)
        if match is None or self.walk.item < 0 or self.walk.open_role != "stem":
            return []
        return self.truths_of(line, match)

    def truths_of(self, line: Line, match: re.Match[str]) -> list[Line]:
        """True and False, which share a line, as lines of their own."""
        found = []
        for name in ("t", "f"):
            part = Line(line.number, line.text, "truth", paragraph=line.paragraph, item=self.walk.item, pieces=line.pieces)
            part.keep(match.start(name), match.end(name))
            part.marked = "*" in line.text[max(0, match.start(name) - 1) : match.end(name) + 1]
            found.append(part)
        self.walk.choices, self.walk.open_role = 2, "choice"
        return found

    def truth_lines(self, line: Line) -> list[Line]:
        """“True” and “False” on lines of their own."""
        match = p.LONE_TRUTH.match(line.text)
        walk = self.walk
        if match is None or walk.item < 0 or walk.open_role not in ("stem", "choice") or walk.choices > 1:
            return []
        other = "false" if match["word"].lower() == "true" else "true"
        beside = [walk.taken[-1].text if walk.taken else "", *walk.ahead()[:1]]
        if not any(near and near["word"].lower() == other for near in map(p.LONE_TRUTH.match, beside)):
            return []
        self._take(line, letter(walk.choices + 1), match.start("word"), match.end("word"), "letter")
        line.marked = bool(match["mark"] or match["behind"])
        return [line]

    def shared(self, line: Line, label: str) -> None:
        """An answer of a list that several numbers share, beside one of them."""
        match = p.CHOICE.match(line.text)
        self._take(line, label.lower(), match.start("rest") if match else 0, len(line.text), "letter")

    def choices(self, line: Line) -> list[Line]:
        walk = self.walk
        if (walk.item < 0 or walk.after_heading) and not walk.matching:
            return []
        if walk.nested(line) and re.match(r"^\s*\d{1,2}[.)]", line.text):
            return self._numbered(line)
        beside = self._side_by_side(line) or self._in_one_line(line)
        if beside:
            return beside
        placed = self._choice(line)
        return [placed] if placed else []

    def _numbered(self, line: Line) -> list[Line]:
        """A list of numbers within a question: its choices."""
        match = re.match(r"^\s*\d{1,2}[.)]\s*", line.text)
        assert match is not None
        self._take(line, letter(self.walk.choices + 1), match.end(), len(line.text), "decimal")
        return [line]

    def numbers(self, line: Line) -> list[Line]:
        """Choices that are numbered, below a stem that is: told by the key, which names a number of theirs or marks one."""
        match = p.NUMBERED_CHOICE.match(line.text)
        walk = self.walk
        if match is None or walk.item < 0 or walk.open_role not in ("stem", "choice") or line.depth:
            return []
        if int(match["n"]) != walk.choices + 1 or walk.style not in ("", "decimal"):
            return []
        if not walk.style and not self._keyed_by_number(match):
            return []
        if walk.style and int(match["n"]) == walk.number + 1 and self._list_begins():
            return []  # the next question
        self._take(line, letter(int(match["n"])), match.start("rest"), match.end("rest"), "decimal")
        line.marked = line.marked or bool(match["mark"])
        return [line]

    def _list_begins(self) -> bool:
        """Whether a list of numbers begins on the next line."""
        match = next((p.NUMBERED_CHOICE.match(text) for text in self.walk.ahead(".")[:1]), None)
        return match is not None and match["n"] == "1"

    def _keyed_by_number(self, first: re.Match[str]) -> bool:
        """Whether the lines from the first number on are one list, with a key that fits it."""
        count, marked = 1, bool(first["mark"])
        for text in self.walk.ahead(first["close"]):
            match = p.NUMBERED_CHOICE.match(text)
            if match and int(match["n"]) == count + 1 and match["close"] == first["close"] and match["open"] == first["open"]:
                count, marked = count + 1, marked or bool(match["mark"])
                continue
            label = p.LABEL.match(text)
            if label is None or p.MEANING[label["label"].lower()] != "key":
                break
            numbers = re.fullmatch(r"\(?(\d{1,2})\)?(?:\s*(?:,|and|&)\s*\(?(\d{1,2})\)?)*[.)]?", label["rest"].strip())
            return bool(numbers) and count > 1 and all(1 <= int(n) <= count for n in re.findall(r"\d+", label["rest"]))
        return count > 1 and marked

    def _side_by_side(self, line: Line) -> list[Line]:
        starts = [match.end() for match in _SIDE_BY_SIDE.finditer(line.text)]
        if len(starts) < 2 or line.text[: starts[0]].strip():
            return []
        parts = [line.cut(a, b) for a, b in zip(starts, [*starts[1:], len(line.text)], strict=False)]
        labels = [
            match["l1"] or match["l2"] or match["l3"] or match["l4"] for part in parts if (match := p.CHOICE.match(part.text))
        ]
        if len(labels) != len(parts) or len(set(labels)) != len(labels) or self.walk.open_role not in ("stem", "choice"):
            return []
        self.walk.columns = True
        return [part for part in parts if self._choice(part)]

    def _in_one_line(self, line: Line) -> list[Line]:
        """All choices of a question on a line of their own, with no more than a space between them."""
        labels = _run_labels(line.text, 0)
        if self.walk.open_role != "stem" or len(labels) < FEWEST_RUN or line.text[: labels[0].start()].strip():
            return []
        ends = [*(label.start() for label in labels[1:]), len(line.text)]
        parts = [line.cut(label.start(), end) for label, end in zip(labels, ends, strict=True)]
        return [part for part in parts if self._choice(part)]

    def _choice(self, line: Line) -> Line | None:
        match = p.CHOICE.match(line.text)
        if match is None or self.walk.open_role in ("model", "rubric"):
            return None
        label = match["l1"] or match["l2"] or match["l3"] or match["l4"]
        self._drop_initials(label)
        style = self._style(label)
        if self.walk.open_role == "feedback" and _value(label, self.walk.style or "letter") != self.walk.choices + 1:
            return None
        if style is None or (style == "roman" and self._is_statement(label)):
            return None
        self._take(line, label.lower(), match.start("rest"), match.end("rest"), style)
        line.marked = line.marked or bool(match["mark"])
        return line

    def _drop_initials(self, label: str) -> None:
        """“A. Smith” and “B. Jones” within a stem are no choices, as the letters that begin anew in the other case show."""
        walk = self.walk
        if label.lower() != "a" or not walk.taken or walk.style != "letter":
            return
        first = p.CHOICE.match(walk.taken[0].text)
        before = (first["l1"] or first["l2"] or first["l3"] or first["l4"]) if first else label
        if before.isupper() == label.isupper():
            return
        for line in walk.taken:
            line.role, line.label, line.marked = "more", "stem", False
            line.keep(0)
        walk.choices, walk.style, walk.open_role, walk.taken = 0, "", "stem", []

    def _take(self, line: Line, label: str, start: int, end: int, style: str) -> None:
        walk = self.walk
        line.keep(start, end)
        before = p.MARK_BEFORE.match(line.text[line.start : line.end])
        if before and line.text[line.start + before.end() : line.end].strip():
            line.marked = True
            line.keep(line.start + before.end(), line.end)
        behind = p.MARK_BEHIND.search(line.text, line.start)
        if behind and behind.start() > line.start:
            line.marked = True
            line.keep(line.start, behind.start())
        value = _value(label, style) or walk.choices + 1
        walk.choices, walk.style, walk.open_role = max(value, walk.choices if walk.columns else value), style, "choice"
        pooled = walk.item < 0 or walk.after_heading or walk.beside
        line.role, line.label, line.item = "choice", label, None if pooled else walk.item
        walk.taken.append(line)

    def _style(self, label: str) -> str | None:
        """The lettering that a label continues or begins; None when it is no choice here."""
        walk, expected = self.walk, self.walk.choices + 1
        styles = [walk.style] if walk.style in ("letter", "roman") else ["letter", "roman"] if not walk.style else []
        for style in styles:
            value = _value(label, style)
            if value is None:
                continue
            if value == expected or (value == expected + 1 and walk.choices >= 1):
                return style
            if walk.columns and style == "letter" and value <= expected + 3:
                return style
        return None

    def _is_statement(self, label: str) -> bool:
        """Statements I, II, III within a stem, with lettered choices below them."""
        if not label.isupper():
            return False
        ahead = self.walk.ahead()
        begun = label == "I" and any(_ROMAN_TWO.match(text) for text in ahead)
        return (begun or label != "I") and any(FIRST_LETTER.match(text) for text in ahead)

    def decided(self, line: Line) -> None:
        """A choice because a person says so, with its letter if it has one."""
        match = p.CHOICE.match(line.text) or p.BULLET.match(line.text)
        mark = p.MARK_BEFORE.match(line.text)
        start = match.start("rest") if match else mark.end() if mark else 0
        self._take(line, letter(self.walk.choices + 1), start, len(line.text), "letter")
        line.marked = line.marked or bool(match["mark"] if match else mark)

    def bullet(self, line: Line) -> list[Line]:
        """A choice without a letter: a dash, a dot or a box before it."""
        match = p.BULLET.match(line.text)
        walk = self.walk
        if match is None or not (match["bullet"] or match["mark"]) or walk.item < 0 or walk.style in ("letter", "roman", "decimal"):
            return []
        if walk.open_role not in ("stem", "choice"):
            return []
        if not walk.style and any(FIRST_LETTER.match(text) for text in walk.ahead()[:4]):
            return []  # a paragraph of the stem that some program wrote with a sign before it; the letters are the choices
        self._take(line, letter(walk.choices + 1), match.start("rest"), match.end("rest"), "bullet")
        line.marked = line.marked or bool(match["mark"])
        return [line]


def _value(label: str, style: str) -> int | None:
    if style == "roman":
        return p.roman_value(label)
    return ord(label.lower()) - ord("a") + 1 if len(label) == 1 else None


def _run_labels(text: str, start: int) -> list[re.Match[str]]:
    """Labels from A on within one line, all with the same signs."""
    labels: list[re.Match[str]] = []
    for match in _RUN_LABEL.finditer(text, start):
        if match["letter"].lower() == letter(len(labels) + 1) and (not labels or match["close"] == labels[0]["close"]):
            labels.append(match)
    return labels


def run_on_choices(line: Line, walk: Walk) -> list[Line]:
    """A stem with its choices run on in the same line: “Which? a. x b. y c. z”."""
    labels = _run_labels(line.text, line.start)
    if len(labels) < FEWEST_RUN or labels[0].start() <= line.start:
        return [line]
    found = [line]
    rules = ChoiceRules(walk)
    for match, after in zip(labels, [*labels[1:], None], strict=True):
        part = line.cut(match.start(), after.start() if after else len(line.text))
        part.after_blank = False
        if rules._choice(part):
            found.append(part)
    line.keep(line.start, labels[0].start())
    return found

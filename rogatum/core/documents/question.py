"""The lines of one question in their roles: its stem, choices, key and labels, and what stands behind its last part."""

from __future__ import annotations

import re
from collections.abc import Sequence

from rogatum.core.documents import patterns as p
from rogatum.core.documents.choice_lists import RANK_BEHIND, RANKED, Mark
from rogatum.core.documents.choosing import Choosing, name_of
from rogatum.core.documents.document import Document
from rogatum.core.documents.fields import Field, FieldWords, is_known
from rogatum.core.documents.keys.values import is_short_key, letters_of, truth_of
from rogatum.core.documents.lines import Line, Role
from rogatum.core.documents.numbering import Start
from rogatum.core.documents.readings import Block, Reading
from rogatum.core.documents.truth_lines import Truths, truths_at_end, truths_in
from rogatum.core.finding import OtherReading

_ROLES: dict[str, Role] = {"key": "key", "points": "points", "feedback": "feedback"}
# A letter on a blank between a number and its question.
_FILLED = re.compile(r"_+\s?(?P<fill>[A-Ja-jTF](?:,\s?[A-Ja-j]){0,5}|True|False)\s?_+\s+(?=\S)")
# What stands between the two sides of a pair, and in hardly any other text.
_PAIRING = ("→", "⇒", "->", "=>")
# True and False to be circled between a number and its statement.
_CIRCLED = re.compile(r"(?P<t>T|True|TRUE)(?:\s*[/|]\s*|\s+)(?P<f>F|False|FALSE)\s++(?=\S)")


LEAST_FULL = 36


class QuestionPlacer:
    """Places the lines of one question."""

    def __init__(self, doc: Document, reading: Reading, words: FieldWords, item: int, start: Start, end: int) -> None:
        self.doc, self.reading, self.words, self.item = doc, reading, words, item
        self.start, self.end = start, end
        label = start.label
        number = f"{label.chapter}.{label.value}" if label and label.chapter else str(label.value if label else item + 1)
        self.block = Block(number)
        self.head_end = start.text
        self.listed = Choosing(doc, reading, words, item, start, end)
        self.block.choices = self.listed.count
        self.lines: list[Line] = []
        self.part: str = "stem"
        heads = [mark.head for marks in self.listed.by_line.values() for mark, _ in marks]
        # A sign that all choices have, and no label, is a bullet.
        self.bulleted = all(head.on and not head.labels for head in heads)
        self.key_rows = 0
        self.apart = self.keys_below = self.ended = False

    def place(self) -> tuple[list[Line], list[int]]:
        """The lines of the question, and the positions of those behind its last part."""
        self._first_line()
        pending: list[int] = []
        for index in range(self.start.index + 1, self.end):
            line = self.doc.lines[index]
            if line.blank:
                pending.append(index)
                continue
            if self.doc.said.get(index) == "heading":
                # A person says that the question ends here.
                return self.lines, [*pending, *range(index, self.end)]
            self.apart = bool(pending) and not all(self.doc.lines[i].blank for i in pending)
            self.ended |= self.listed.last_choice_line < index and _is_end(line)
            placed = self._line(index)
            if not placed:
                pending.append(index)
                continue
            if pending:
                self._settle(pending)
                pending = []
            self.lines += placed
        return self.lines, pending

    def _settle(self, pending: Sequence[int]) -> None:
        """Lines between parts of the question that are none themselves."""
        for index in pending:
            line = self.doc.lines[index]
            if line.blank:
                self.lines.append(line.placed("blank"))
            else:
                self.lines.append(line.placed("outside"))

    # Lines

    def _first_line(self) -> None:
        line, head = self.doc.lines[self.start.index], self.doc.heads[self.start.index]
        label = self.start.label
        end = len(line.text.rstrip())
        choices = self.listed.by_line.get(self.start.index, [])
        beside = self.listed.pool.get(self.start.index)
        if choices:
            end = min(mark.at for mark, _ in choices)
        elif beside:
            end = beside.at
        circled = _CIRCLED.match(line.text, self.head_end) if label else None
        if circled:
            self.head_end = circled.end()
        filled = _FILLED.match(line.text, self.head_end)
        if filled:
            self.head_end = filled.end()
        truths = truths_at_end(line, self.head_end) if not self.listed.by_line else None
        if truths:
            end = truths.at
        stem = line.placed("stem", self.head_end, end, self.block.number, self.item)
        stem.fill = filled["fill"] if filled else head.fill if label else ""
        stem.other = self._other()
        self.lines.append(stem)
        if circled:
            self.lines += self._circled(line, circled)
        elif head.truths:
            self.lines += Truths.of(line, *head.truths).placed(self.item)
        elif truths:
            self.lines += truths.placed(self.item)
            if truths.rest:
                # What the question is worth.
                first, last = truths.rest
                self.lines.append(line.placed("points", first + 1, last - 1, "points", self.item))
        if choices:
            self.lines += self._choices(line, choices)
        elif beside:
            self.lines.append(self._of_pool(line, beside))

    def _circled(self, line: Line, match: re.Match[str]) -> list[Line]:
        return Truths(line, match.start(), (match.span("t"), match.span("f"))).placed(self.item)

    def _of_pool(self, line: Line, mark: Mark) -> Line:
        """An answer that several questions share, beside one of them."""
        part = self._choice(line, mark, name_of(mark, 1), len(line.text))
        part.item = None
        return part

    def _other(self) -> OtherReading | None:
        """The other reading of the question, where another list may hold its choices."""
        chosen, second = self.listed.chosen, self.listed.second
        told = any(index in self.doc.said for index in range(self.start.index, self.end))
        if chosen is None or second is None or self.listed.lefts or told:
            return None
        now, then = ({mark.index for mark in found.marks} for found in (chosen, second))
        if now & then or self.start.index in now | then:
            return None
        # What stands behind the other list is no part of its last entry.
        left = {i: "more" if i < max(then) else "aside" for i in now}
        roles = {self.doc.lines[i].name: role for i, role in (dict.fromkeys(then, "choice") | left).items()}
        shown = [" | ".join(self.doc.lines[i].text.strip()[:40] for i in sorted(places)) for places in (now, then)]
        return OtherReading(kind=f"{chosen.shape} {second.shape}", now=shown[0], then=shown[1], roles=roles)

    def _line(self, index: int) -> list[Line]:
        doc, line = self.doc, self.doc.lines[index]
        said = doc.said.get(index)
        if said:
            return self._as_said(line, index, said)
        if index in self.listed.pool:
            return [self._of_pool(line, self.listed.pool[index])]
        if index in self.listed.lefts:
            return self._sides(line, index)
        if index in self.listed.by_line:
            marks = self.listed.by_line[index]
            first = min(mark.at for mark, _ in marks)
            before = [self._more(line, 0, first)] if line.text[:first].strip() else []
            return before + self._choices(line, marks)
        circled = _CIRCLED.match(line.text) if self.part == "stem" and not self.lines[-1].value else None
        if circled:
            # Behind a number that stands alone.
            return [*self._circled(line, circled), self._more(line, circled.end())]
        fields = self._fields(index)
        if fields and self.part == "stem" and not self.lines[-1].value and fields[0].meaning != "key":
            return [self._more(line)]
        if fields:
            return self._as_fields(line, fields)
        if index < self.listed.first_choice and self.listed.by_line:
            return [self._more(line)]
        if not self.listed.by_line and self.part == "stem":
            truths = truths_in(line)
            if truths:
                self.part = "choice"
                return truths.placed(self.item)
        return self._rest(line, index)

    def _fields(self, index: int) -> list[Field]:
        line = self.doc.lines[index]
        feedback = p.CHOICE_FEEDBACK.match(line.text)
        if feedback and self.listed.by_line and len(feedback["letter"]) == 1:
            name = f"feedback:{feedback['letter'].lower()}"
            return [Field(name, "", 0, feedback.end(), len(line.text))]
        fields = self.words.of(line.text)
        if not fields or (self.ended and not is_known(fields[0].typed)):
            return []
        early = fields[0].meaning == "key" and is_short_key(line.text[fields[0].start : fields[0].end])
        if (
            index < self.listed.first_choice
            and self.listed.by_line
            and not early
            and fields[0].meaning not in ("points", "type", "title", "difficulty", "outcome", "page")
        ):
            return []
        return fields

    def _as_fields(self, line: Line, fields: Sequence[Field]) -> list[Line]:
        found = []
        for one in fields:
            role = _ROLES.get(one.meaning, "label")
            part = line.placed(role, one.start, one.end, one.meaning, self.item)
            self.part = one.meaning
            self.keys_below = one.meaning == "key" and not part.value
            found.append(part)
        if line.number == self.lines[0].number:
            # A key at the end of the question's own line.
            self.part = "stem"
        return found

    def _rest(self, line: Line, index: int) -> list[Line]:
        """A line without any sign: the rest of what stands above it, or behind the question."""
        doc, above = self.doc, self.lines[-1]
        if self.apart or self.ended:
            return []
        if line.grid is not None:
            return [self._more(line)] if self.part in ("stem", "choice", "model", "feedback") and self.reading.numbered else []
        named = p.names_a_part(line.text, doc.heads[index].text)
        if above.role == "choice" and not above.value and not (line.heading or named):
            return [self._more(line)]
        label = next((label for label in doc.heads[index].labels if label.system == "n"), None)
        counted = label is not None and label.value == self.key_rows + 1
        if self.part == "key" and self.keys_below and not named and (counted or (self.words.keys_below and not line.after_blank)):
            self.key_rows += 1
            return [line.placed("key", label.end if label else 0, None, "key", self.item)]
        soft = not line.paragraph and doc.lines[index - 1].paragraph
        deeper = doc.indents[index] > doc.indents[self.start.index] + 1 and not line.after_blank
        if self.part == "key" and self.keys_below and not (above.value or deeper or self.words.keys_below):
            # Keys stand beside their labels in this document: this one was left out.
            return []
        if self.part == "stem":
            return [self._more(line)] if self._goes_on(line, index) else []
        if doc.runs_on(index) or (soft and not line.after_blank and self.part != "key"):
            return [self._more(line)]
        if named or line.heading:
            return []
        if self.part == "choice":
            hangs = doc.indents[index] > doc.indents[self.listed.last_choice_line] and not line.after_blank
            deep = line.depth and line.depth >= doc.lines[self.listed.last_choice_line].depth
            rest = not doc.heads[index].labels and _is_rest(line, above)
            return [self._more(line)] if hangs or deep or rest else []
        if line.after_blank and not line.paragraph:
            return []
        if self.part == "key" and (letters_of(above.value) or truth_of(above.value) is not None):
            if deeper:
                self.part = "feedback"
                return [line.placed("feedback", 0, None, "feedback", self.item)]
            return []
        long = self.part in ("key", "model", "rubric", "feedback") or self.part.startswith("feedback:")
        # A line is broken where it is full, or in the midst of a sentence.
        broken = len(above.text) >= LEAST_FULL or line.text.lstrip()[:1].islower()
        unended = not line.paragraph and not above.value.endswith((".", "!", "?")) and broken
        return [self._more(line)] if long and (deeper or unended or not above.value) else []

    def _goes_on(self, line: Line, index: int) -> bool:
        """Whether a line goes on with a stem that has no choices below it."""
        if not self.lines[-1].value or not self.doc.lines[index - 1].text.strip():
            above = self.lines[-1]
            if not above.value:
                return True
        if line.heading or p.names_a_part(line.text, self.doc.heads[index].text) or _is_use(line.text):
            return False
        if any(sign in line.text and sign in self.lines[-1].text for sign in _PAIRING):
            # What is matched, one pair below another.
            return True
        ended = (
            not line.paragraph
            and self.lines[-1].value.endswith((".", "?", "!"))
            and not line.text.rstrip().endswith((".", "?", "!", ":"))
        )
        titled = ended and len(line.text.strip()) <= 60 and line.text.strip()[:1].isupper() and not self.doc.runs_on(index)
        if titled and not any(not self.doc.lines[i].blank for i in range(index + 1, self.end)) and self.end < len(self.doc):
            return False
        if index == self.end - 1 or not any(self._is_part(i) for i in range(index + 1, self.end)):
            # Nothing of the question follows: what stands apart is a heading or a direction of what comes next.
            return not line.after_blank or self.doc.indents[index] > self.doc.indents[self.start.index]
        return True

    def _is_part(self, index: int) -> bool:
        return bool(self.words.of(self.doc.lines[index].text)) or bool(self.doc.heads[index].labels)

    def _more(self, line: Line, start: int = 0, end: int | None = None) -> Line:
        """A line, or a stretch of one, that goes on with what stands above it."""
        part = line.placed("more", start, end, self.part or "stem", self.item)
        behind = p.mark_behind(part.text, part.start) if self.part == "choice" else None
        if behind and behind.start() > part.start:
            next(above for above in reversed(self.lines) if above.role == "choice").marked = True
            part.keep(part.start, behind.start())
        return part

    def _choices(self, line: Line, marks: Sequence[tuple[Mark, str]]) -> list[Line]:
        """The choices of a line, from left to right."""
        ordered = sorted(marks, key=lambda entry: entry[0].at)
        ends = [mark.at for mark, _ in ordered[1:]] + [len(line.text)]
        self.part = "choice"
        return [self._choice(line, mark, name, end) for (mark, name), end in zip(ordered, ends, strict=True)]

    def _choice(self, line: Line, mark: Mark, name: str, end: int) -> Line:
        """A choice of its own line, or of a stretch of one."""
        head = mark.head
        start = mark.at + head.text
        part = line.cut(mark.at, end) if mark.at or end < len(line.text) else line
        start -= mark.at if part is not line else 0
        part = part.placed("choice", start, None, name, self.item)
        part.token = mark.label.token if mark.label else ""
        part.fill = head.fill
        if self.listed.chosen and self.listed.chosen.shape == RANKED:
            place = RANK_BEHIND.search(part.text, part.start)
            if place and not mark.head.blank:
                part.keep(part.start, place.start())
            return part
        behind = p.mark_behind(part.text, part.start)
        part.marked, part.odd = head.on and not self.bulleted, head.odd
        if behind and (behind.start() > part.start or not part.value):
            part.marked = True
            part.keep(part.start, behind.start())
        return part

    def _sides(self, line: Line, index: int) -> list[Line]:
        """A line of a matching: what is matched, an answer beside it, or both."""
        marks = sorted(
            [(mark, name, "left") for mark, name in self.listed.lefts[index]]
            + [(mark, name, "choice") for mark, name in self.listed.by_line.get(index, [])],
            key=lambda entry: entry[0].at,
        )
        ends = [mark.at for mark, _, _ in marks[1:]] + [len(line.text)]
        found = []
        for (mark, name, role), end in zip(marks, ends, strict=True):
            if role == "choice":
                found.append(self._choice(line, mark, name, end))
                continue
            part = line.cut(mark.at, end) if mark.at or end < len(line.text) else line
            label = mark.label.end if mark.label and mark.at == 0 else 0
            start = (mark.label.end if part is line and mark.label else mark.head.text) if label else mark.head.text
            number, _, fill = name.partition("=")
            left = part.placed("left", start, None, number, self.item)
            left.fill = fill
            found.append(left)
        self.part = "left"
        return found

    def _as_said(self, line: Line, index: int, said: str) -> list[Line]:
        if said == "choice" and index in self.listed.by_line:
            return self._choices(line, self.listed.by_line[index])
        if said == "key":
            found = self.words.key_in(line.text)
            start, end = (found.start, found.end) if found else (0, None)
            self.part = "key"
            return [line.placed("key", start, end, "key", self.item)]
        if said == "more":
            return [self._more(line)]
        if said == "aside":
            return [line.placed("aside")]
        return []


def _is_end(line: Line) -> bool:
    """Whether a line is a heading by its markup, or says what something is used for: what follows is of no question above."""
    return line.heading or bool(p.MARKED_HEADING.match(line.text)) or _is_use(line.text)


def _is_rest(line: Line, above: Line) -> bool:
    """Whether a line goes on in the midst of a sentence."""
    ended = above.value.endswith((".", "?", "!", ":"))
    return not (line.paragraph or line.after_blank or ended) and line.text.lstrip()[:1].islower()


def _is_use(text: str) -> bool:
    return bool(p.USE_CUE.search(text) and (p.USE_FOR.search(text) or p.USE_FOR_ONE.search(text)))

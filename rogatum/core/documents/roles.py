"""The role of each line, decided in order with what came before in view."""

from __future__ import annotations

import re
from collections.abc import Callable, Mapping

from rogatum.core.documents import patterns as p
from rogatum.core.documents.choices import ChoiceRules, run_on_choices
from rogatum.core.documents.decisions import Decisions, name_lines
from rogatum.core.documents.key_lists import is_key_line, is_text_key_line, key_list_lines
from rogatum.core.documents.keys import letters_of, truth_of
from rogatum.core.documents.lines import Line
from rogatum.core.documents.walk import Walk

MOST_GAP = 3
# In sections of these types a question may follow another line by line.
_LISTED = frozenset({"true_false", "matching", "fill_in", "numeric", "essay"})
LONGEST_HEADING = 100
LONGEST_DIRECTION = 320


def assign_roles(lines: list[Line], decided: Mapping[str, str] | None = None) -> list[Line]:
    """Gives every line its role; a line with several choices side by side becomes several lines of one number.

    `decided` are the roles that a person gave to lines, by their names.
    """
    name_lines(lines)
    own = [line for line in lines if not line.file]
    walk = Walk(lines, key_list_lines(own) | {index for index, line in enumerate(lines) if line.file})
    rules = _Rules(walk, decided or {})
    found: list[Line] = []
    for index, line in enumerate(lines):
        walk.index = index
        if line.blank:
            line.role = "blank"
            walk.after_blank = True
            found.append(line)
            continue
        line.after_blank = walk.after_blank or line.paragraph
        walk.after_blank = line.after_blank
        found += rules.place(line)
        walk.after_blank = False
    return found


def _is_short(line: Line) -> bool:
    """Whether a line may be a direction: no long text, and no question."""
    return len(line.text) < LONGEST_DIRECTION and not line.text.rstrip().endswith("?")


class _Rules:
    """The rules in order; the first that fits places the line."""

    def __init__(self, walk: Walk, decided: Mapping[str, str]) -> None:
        self.walk = walk
        choices = ChoiceRules(walk)
        self.choices = choices
        self.decisions = Decisions(walk, choices, decided)
        self.rules: tuple[Callable[[Line], list[Line]], ...] = (
            self._furniture,
            self._heading_mark,
            self._use,
            self._passage,
            self._choice_feedback,
            self._answer_of_pair,
            self._label,
            self._key_sentence,
            choices.numbers,
            self._question_of_pair,
            self._stem,
            choices.truth_options,
            choices.truth_lines,
            choices.choices,
            choices.bullet,
            self._heading,
            self._direction,
        )

    def place(self, line: Line) -> list[Line]:
        line.keep(0)
        decided = self.decisions.place(line)
        if decided:
            return decided
        if self.walk.in_key_list:
            keyed = (
                is_key_line(line.text)
                or is_text_key_line(line.text)
                or p.KEY_HEADING.match(line.text)
                or p.NAMED_HEADING.match(line.text)
                or p.TYPE_HEADING.match(line.text)
            )
            line.role = "key list" if keyed else "outside"
            return [line]
        parted = self._key_on_line(line)
        if parted:
            return parted
        for rule in self.rules:
            placed = rule(line)
            if placed:
                return placed
        return [self._more(line)]

    def _key_on_line(self, line: Line) -> list[Line]:
        """A key behind what it is the key of, on one line: two lines of one number."""
        match = p.KEY_ON_LINE.search(line.text)
        if match is None or not line.text[: match.start()].strip() or p.LABEL.match(line.text):
            return []
        if not letters_of(match["key"]) and truth_of(match["key"]) is None:
            return []
        if self.walk.item < 0 and not p.STEM.match(line.text):
            return []
        first, key = line.cut(0, match.start()), line.cut(match.end(), match.end("key"))
        return [*self.place(first), *self.place(key)]

    def _furniture(self, line: Line) -> list[Line]:
        """Page numbers, lines for names, rules across the page: set aside."""
        if not p.PAGE_FURNITURE.match(line.text) or (self.walk.open_role == "stem" and p.BLANK.fullmatch(line.text.strip())):
            return []
        line.role = "aside"
        return [line]

    # Headings, directions, passages

    def _heading_mark(self, line: Line) -> list[Line]:
        """A heading that is marked as one, by `##` or by its style."""
        marked = p.MARKED_HEADING.match(line.text)
        if line.heading and not p.STEM.match(line.text):
            return self._as_heading(line, 0, line.level)
        if not marked or re.match(r"\d+\s*$", marked[2]):
            return []
        if p.STEM.match(marked[2]) and re.match(r"(?:q|item|problem|#)", marked[2], re.I):
            return []
        return self._as_heading(line, marked.start(2), len(marked[1]), marked.end(2))

    def _as_heading(self, line: Line, start: int, level: int, end: int | None = None) -> list[Line]:
        line.role, line.level = "heading", level
        line.keep(start, end)
        self.walk.close(line.value)
        return [line]

    def _use(self, line: Line) -> list[Line]:
        """A line that says which questions a passage or a figure is for."""
        match = p.USE_FOR.search(line.text) or p.USE_FOR_ONE.search(line.text)
        if match is None or not p.USE_CUE.search(line.text) or not _is_short(line):
            return []
        if p.STEM.match(line.text) or not (line.after_blank or self.walk.item < 0 or self.walk.after_heading):
            return []
        first, last = int(match["a"]), int(match[match.lastindex or 1])
        if last < first or (last == first and match.re is p.USE_FOR):
            return []
        line.role, line.label = "use", f"{first}-{last}"
        self.walk.open_passage()
        return [line]

    def _passage(self, line: Line) -> list[Line]:
        if self.walk.open_role != "passage" or p.STEM.match(line.text) or p.NAMED_HEADING.match(line.text):
            return []
        line.role = "passage"
        return [line]

    def _heading(self, line: Line) -> list[Line]:
        text, walk = line.text.strip(), self.walk
        named = bool(p.NAMED_HEADING.match(text) or p.TYPE_HEADING.match(text)) and len(text) < LONGEST_HEADING
        bold = line.paragraph and "bold" in line.marks() and walk.done and not text.endswith((".", "?", ":"))
        bold = bold and len(text) < LONGEST_HEADING
        if walk.item < 0 and not walk.headings and not named:
            if p.DIRECTION.match(text) or (p.MATCH_CUE.search(text) and not p.TYPE_HEADING.match(text)):
                line.role = "direction"
                walk.direct(text)
                return [line]
            line.role = "title"
            walk.headings.append(text)
            walk.learn(text)
            walk.matching = bool(p.MATCH_CUE.search(text))
            return [line]
        typed = walk.answered and p.TYPE_HEADING.match(text)
        if (named or bold) and (line.after_blank or walk.item < 0 or typed):
            return self._as_heading(line, 0, 2 if re.match(r"(?i)chapter|unit|module", text) is None else 1)
        return []

    def _direction(self, line: Line) -> list[Line]:
        """What is to be done with the questions below; before the first question, anything that is no title."""
        walk = self.walk
        before = walk.item < 0 or walk.after_heading
        cue = p.DIRECTION.match(line.text) and _is_short(line)
        if cue and (before or (walk.done and line.after_blank)):
            line.role = "direction"
            walk.direct(line.value)
            return [line]
        if before and walk.last_role == "direction" and not line.after_blank:
            line.role = "direction"
            return [line]
        if walk.item < 0:
            line.role = "aside"
            return [line]
        return []

    # Within an item

    def _choice_feedback(self, line: Line) -> list[Line]:
        """Feedback that names its choice: “Feedback b: …”."""
        match = p.CHOICE_FEEDBACK.match(line.text)
        if match is None or self.walk.item < 0 or not self.walk.choices:
            return []
        line.role, line.label, line.item = "label", f"feedback:{match['letter'].lower()}", self.walk.item
        line.keep(match.end())
        self.walk.open_role = "feedback"
        return [line]

    def _label(self, line: Line) -> list[Line]:
        match = p.LABEL.match(line.text)
        if match is None or self.walk.item < 0:
            return []
        later = p.LATER_LABEL.search(line.text, match.start("rest"))
        if later and p.MEANING[match["label"].lower()] not in ("feedback", "model", "rubric", "correct", "incorrect"):
            first, rest = line.cut(0, later.start()), line.cut(later.end(), len(line.text))
            return [*self._label(first), *self._label(rest)]
        meaning = p.MEANING[match["label"].lower()]
        if meaning == "key" and not match["rest"].strip():
            return []
        if match["label"].lower() == "key" and self.walk.keyed:
            meaning = "tag"  # where the answer was given already, a key is a keyword
        line.label, line.item = meaning, self.walk.item
        line.keep(match.start("rest"), match.end("rest"))
        roles = {"key": "key", "points": "points", "feedback": "feedback"}
        line.role = roles.get(meaning, "label")  # type: ignore[assignment]
        self.walk.open_role = meaning
        self.walk.keyed = self.walk.keyed or meaning == "key"
        self.walk.key_complete = meaning == "key" and bool(letters_of(line.value) or truth_of(line.value) is not None)
        self.walk.answered = self.walk.answered or meaning in ("key", "model")
        return [line]

    def _key_sentence(self, line: Line) -> list[Line]:
        """“The correct answer is B.”, or an arrow to a letter below the choices."""
        walk = self.walk
        match = p.KEY_SENTENCE.match(line.text) or (p.KEY_ARROW.match(line.text) if walk.choices > 1 else None)
        if match is None or walk.item < 0 or walk.after_heading or walk.keyed:
            return []
        return [self._as_key(line, match.start("rest"), match.end("rest"))]

    def _as_key(self, line: Line, start: int, end: int) -> Line:
        walk = self.walk
        line.role, line.label, line.item = "key", "key", walk.item
        line.keep(start, end)
        walk.open_role, walk.keyed, walk.answered = "key", True, True
        walk.key_complete = bool(letters_of(line.value) or truth_of(line.value) is not None)
        return line

    def _question_of_pair(self, line: Line) -> list[Line]:
        """“Q: …”, where answers begin with “A:”."""
        match = p.QUESTION_OF_PAIR.match(line.text) if self.walk.in_pairs else None
        if match is None:
            return []
        self.walk.begin(int(match["n"] or self.walk.number + 1), line.depth)
        line.role, line.label, line.item = "stem", str(self.walk.number), self.walk.item
        line.keep(match.start("rest"))
        return run_on_choices(line, self.walk)

    def _answer_of_pair(self, line: Line) -> list[Line]:
        match = p.ANSWER_OF_PAIR.match(line.text) if self.walk.in_pairs and self.walk.item >= 0 else None
        if match is None or int(match["n"] or self.walk.number) != self.walk.number:
            return []
        return [self._as_key(line, match.start("rest"), match.end("rest"))]

    def _stem(self, line: Line) -> list[Line]:
        match = p.STEM.match(line.text)
        walk = self.walk
        if match is None or walk.nested(line):
            return []
        number = int(next(match[f"n{i}"] for i in range(1, 6) if match[f"n{i}"]))
        marked = bool(match["n1"] or match["n2"] or match["blank"] or match["lead"])
        if not self._plausible(number, marked, line):
            walk.inner = number if number in (1, walk.inner + 1) else walk.inner
            return []
        walk.begin(number, line.depth)
        filled = match["filled"] or match["lead"] or ""
        line.role, line.label, line.item = "stem", f"{number}={filled}" if filled else str(number), walk.item
        blank = p.NUMBERED_BLANK.search(line.text, match.start("rest"))
        line.keep(match.start("rest"), blank.start() if blank else match.end("rest"))
        if match["truths"]:
            return [line, *self.choices.truths_of(line, match)]
        if walk.matching or walk.section_type == "matching":
            return self._with_pair(line)
        return run_on_choices(line, walk)

    def _with_pair(self, line: Line) -> list[Line]:
        """What is matched, and an answer of the shared list beside it."""
        pair = p.PAIR_BESIDE.search(line.text, line.start)
        if pair is None or not line.text[line.start : pair.start()].strip():
            return [line]
        answer = line.cut(pair.end(), len(line.text))
        line.keep(line.start, pair.start())
        self.walk.beside = True
        self.choices.shared(answer, pair["letter"])
        return [line, answer]

    def _plausible(self, number: int, spelled_out: bool, line: Line) -> bool:
        """Whether a number at a line's start is the next question's, and no year, decimal or list within a stem."""
        walk, expected = self.walk, self.walk.number + 1
        if line.depth and (walk.stem_depth == line.depth or walk.item < 0):
            return True
        ended = line.after_blank or walk.after_heading or walk.choices > 1 or walk.answered or walk.item < 0
        if walk.inner and number == walk.inner + 1 and walk.open_role == "stem" and not spelled_out:
            return False
        if number == expected:
            listed = walk.section_type in _LISTED or walk.ended_as_sentence()
            return ended or spelled_out or walk.open_role != "stem" or listed or (not walk.inner and walk.ended_short())
        if not (ended or spelled_out):
            return False
        if walk.choices > 1 and walk.open_role in ("choice", "key", "points") and walk.choices_begin():
            return True
        if number == 1 and walk.item >= 0:
            return walk.after_heading or walk.answered or walk.choices > 1 or spelled_out
        if expected < number <= expected + MOST_GAP or (walk.item < 0 and number <= 999):
            return True
        return (number == walk.number or spelled_out) and line.after_blank

    def _unknown_label(self, line: Line) -> bool:
        """Something with a label of its own behind the choices or the answer is no part of them."""
        walk = self.walk
        if walk.open_role == "points":
            return True
        labelled = walk.open_role not in ("", "stem", "model", "rubric", "passage") and (walk.answered or walk.choices > 1)
        return labelled and bool(p.OTHER_LABEL.match(line.text))

    def _more(self, line: Line) -> Line:
        """A line that continues what came before, or belongs to nothing."""
        walk = self.walk
        signed = p.BULLET.match(line.text)
        if signed and signed["bullet"] and line.paragraph:
            line.keep(signed.start("rest"))
        inside = line.text.startswith((" ", "\t")) or (line.depth > 0 and walk.open_role not in ("", "choice", "key"))
        # Below a heading or a direction the item above is closed, and nothing may be added to it.
        closed = walk.after_heading and not walk.open_role
        if closed or self._unknown_label(line) or (line.after_blank and walk.done and not inside):
            line.role = "outside"
            return line
        if walk.open_role == "key" and walk.key_complete:
            # Words behind a letter that is the whole key say why.
            line.role, line.label, line.item = "feedback", "feedback", walk.item
            walk.open_role = "feedback"
            return line
        line.role, line.label, line.item = "more", walk.open_role or "stem", walk.item if walk.item >= 0 else None
        return line

"""Items with choices from drafts: keys by marks, letters, words or shares; orders; true and false as choices."""

from __future__ import annotations

import re
from collections.abc import Callable

from rogatum.core import spaces
from rogatum.core.documents import patterns as p
from rogatum.core.documents.labels import letter
from rogatum.core.documents.drafts import Draft
from rogatum.core.documents.habits import EmphasisHabit, emphasised
from rogatum.core.documents.keys import letters_of, truth_of
from rogatum.core.documents.line_content import content_of
from rogatum.core.documents.lines import Line, joined_text
from rogatum.core.finding import Finding, FindingKind
from rogatum.core.findings.items import LABEL_SKIPPED, TYPE_GUESSED
from rogatum.core.findings.keys import KEY_UNKNOWN, KEYS_DISAGREE
from rogatum.core.findings.numbering import FEEDBACK_BEHIND
from rogatum.core.items import (
    Choice,
    Item,
    MultipleChoice,
    MultipleResponse,
    Ordering,
    TrueFalse,
)
from rogatum.core.items.content import plain_text

FEEDBACK_SIGN = " -- "


class ChoiceMaker:
    """Items with choices. What all makers share is here too: the draft at hand, its stem, and what is said about it."""

    draft: Draft
    id: str

    def __init__(self, findings: list[Finding], content: Callable[[str], str], habit: EmphasisHabit | None, numbered: bool) -> None:
        self.findings, self.content, self.habit, self.numbered = findings, content, habit, numbered

    def note(self, kind: FindingKind, **values: object) -> None:
        self.findings.append(kind.at(self.draft.where, self.id, **values))

    @property
    def stem(self) -> str:
        return self.content(content_of(self.draft.stem))

    def _one_key(self) -> str:
        return self.draft.keys[0] if self.draft.keys else ""

    def _marked(self, lines: list[Line]) -> list[Line]:
        """The choices that a mark or the document's emphasis shows as right."""
        by_sign = [line for line in lines if line.marked]
        if by_sign or self.habit is None:
            return by_sign
        found = emphasised(lines, self.habit.kind)
        for line in found:
            line.marked = True
        return found

    def _truth_of_options(self, options: list[Line]) -> TrueFalse:
        spoken = [truth for key in self.draft.keys if (truth := truth_of(key)) is not None]
        spoken += [
            letters == ["a"] for key in self.draft.keys if (letters := letters_of(key)) in (["a"], ["b"]) and truth_of(key) is None
        ]
        shown = [truth for line in self._marked(options) if (truth := truth_of(line.value)) is not None]
        answers = list(dict.fromkeys([*shown, *spoken]))
        if len(answers) > 1:
            self.note(KEYS_DISAGREE, first="True", second="False")
        return TrueFalse(id=self.id, stem=self.stem, answer=answers[0] if len(answers) == 1 else None)

    def _true_false_choices(self) -> Item | None:
        firsts = [lines[0] for lines in self.draft.choices]
        words = [truth_of(joined_text(lines)) for lines in self.draft.choices]
        if sorted(map(str, words)) != ["False", "True"]:
            return None
        marked = [truth_of(line.value) for line in self._marked(firsts)]
        for key in self.draft.keys:
            letters = letters_of(key)
            by_letter = [truth_of(line.value) for line in firsts if letters == [line.label]]
            spoken = truth_of(key)
            marked += by_letter or ([spoken] if spoken is not None else [])
        answers = set(marked)
        if len(answers) > 1:
            self.note(KEYS_DISAGREE, first="True", second="False")
        return TrueFalse(id=self.id, stem=self.stem, answer=marked[0] if len(answers) == 1 else None)

    def _ordering(self, stated: bool = False) -> Item | None:
        """Steps to be put in order: the key names all of them."""
        labels = [lines[0].label for lines in self.draft.choices]
        key = re.sub(spaces.BEFORE + r"(?:→|(?<!-)-++>|>|<)\s*+", ", ", self._one_key())
        order = letters_of(key) or self._letters_of_numbers(key)
        asked = (
            stated
            or self.draft.section.type == "ordering"
            or re.search(r"\b(?:order|sequence|arrange|rank)\b", self.draft.text, re.I)
        )
        if not asked or len(order) < (2 if stated else 3) or sorted(order) != sorted(labels):
            return None
        texts = {lines[0].label: self.content(content_of(lines)) for lines in self.draft.choices}
        return Ordering(id=self.id, stem=self.stem, sequence=[texts[label] for label in order])

    def _choices(self, several: bool | None) -> Item:
        draft = self.draft
        labels = [lines[0].label for lines in draft.choices]
        if len(set(labels)) == len(labels) and all(len(label) == 1 for label in labels):
            # Choices in two columns stand in another order than their letters.
            draft.choices.sort(key=lambda lines: lines[0].label)
        self._check_letters()
        self._feedback_behind()
        shares = self._shares()
        keyed = [line.label for line in self._marked([lines[0] for lines in draft.choices])]
        named = self._named_keys()
        if keyed and named and set(keyed) != set(named):
            self.note(KEYS_DISAGREE, first=", ".join(keyed), second=", ".join(named))
        key = list(dict.fromkeys(keyed or named))
        several = self._takes_several(several, key, keyed)
        weight = round(1 / len(key), 6) if several and key else 1.0
        without = self.habit.kind if self.habit else ""
        choices = [
            Choice(
                id=lines[0].label or f"c{n}",
                content=self.content(content_of(lines, without)),
                weight=weight if lines[0].label in key else 0.0,
                feedback=self._feedback_of(lines[0].label),
            )
            for n, lines in enumerate(draft.choices, 1)
        ]
        for choice, share in zip(choices, shares, strict=False):
            choice.weight = share
        if shares and max(shares) < 1:
            return MultipleResponse(id=self.id, stem=self.stem, choices=choices, scoring="per_choice")
        if several and not shares:
            return MultipleResponse(id=self.id, stem=self.stem, choices=choices)
        return MultipleChoice(id=self.id, stem=self.stem, choices=choices)

    def _feedback_behind(self) -> None:
        """Feedback behind each choice on its own line: “sand -- No, it is coarse.”"""
        firsts = [lines[0] for lines in self.draft.choices]
        if not all(line.value.count(FEEDBACK_SIGN) == 1 for line in firsts):
            return
        for line in firsts:
            at = line.text.index(FEEDBACK_SIGN, line.start)
            feedback = line.cut(at + len(FEEDBACK_SIGN), len(line.text) if line.end is None else line.end)
            feedback.keep(0)
            self.draft.labels.setdefault(f"feedback:{line.label}", []).append(feedback)
            line.keep(line.start, at)
        self.note(FEEDBACK_BEHIND, sign=FEEDBACK_SIGN.strip())

    def _shares(self) -> list[float]:
        """What each choice earns, where each says so in per cent: one has all, or those that are right share it."""
        lasts = [lines[-1] for lines in self.draft.choices]
        matches = [p.SHARE_BEHIND.search(line.value) for line in lasts]
        if self.draft.keys or not all(matches):
            return []
        shares = [float(match["n"].replace("−", "-")) / 100 for match in matches if match]
        if shares.count(1.0) != 1 and abs(sum(share for share in shares if share > 0) - 1) > 0.01:
            return []
        for line, match in zip(lasts, matches, strict=True):
            if match:
                line.keep(line.start, line.start + match.start())
        self.note(TYPE_GUESSED, detail="each choice says in per cent what it earns.")
        return shares

    def _feedback_of(self, label: str) -> str | None:
        """Feedback of one choice. Where the others have theirs, what stands behind the last choice is the last one's."""
        labels, name = self.draft.labels, f"feedback:{label}"
        others = sum(key.startswith("feedback:") for key in labels)
        last = self.draft.choices[-1][0].label == label
        if last and name not in labels and "feedback" in labels and others == len(self.draft.choices) - 1 > 1:
            labels[name] = labels.pop("feedback")
        return self.content(content_of(labels[name])) if name in labels else None

    def _takes_several(self, stated: bool | None, key: list[str], keyed: list[str]) -> bool:
        if stated is not None:
            return stated
        text = self.draft.text
        asked = bool(p.SEVERAL_CUE.search(text)) or self.draft.section.type == "multiple_response"
        several = len(key) > 1 and (asked or (not keyed and not p.ONE_CUE.search(text)))
        if several and not asked:
            self.note(TYPE_GUESSED, detail=f"its key names {len(key)} choices.")
        return several or (asked and len(key) != 1) or (asked and self.draft.section.type == "multiple_response")

    def _named_keys(self) -> list[str]:
        """The labels of the choices that keys name, by letter or by their text."""
        labels = [lines[0].label for lines in self.draft.choices]
        texts = {plain_text(self.content(content_of(c))).casefold().rstrip("."): c[0].label for c in self.draft.choices}
        found: list[str] = []
        for key in self.draft.keys:
            letters = letters_of(key) or self._letters_of_numbers(key)
            by_text = texts.get(key.casefold().strip().rstrip("."))
            if by_text is not None and not (letters and set(letters) <= set(labels)):
                found.append(by_text)
                continue
            self._check_text_of_key(key, letters, texts)
            for name in letters or [key]:
                if name in labels:
                    found.append(name)
                else:
                    self.note(KEY_UNKNOWN, key=name if letters else key[:40])
        return found

    def _letters_of_numbers(self, key: str) -> list[str]:
        """The letters of the choices that a key names by number, where they are numbered."""
        numbered = bool(self.draft.choices) and all(p.NUMBERED_CHOICE.match(lines[0].text) for lines in self.draft.choices)
        return [letter(int(n)) for n in re.findall(r"\d+", key)] if numbered else []

    def _check_text_of_key(self, key: str, letters: list[str], texts: dict[str, str]) -> None:
        """“B) clay”, where clay is another choice than B."""
        spoken = re.match(r"^\(?[A-Za-z][.):]\s+(?P<text>\S.*)$", key.strip())
        other = texts.get(spoken["text"].casefold().rstrip(".")) if spoken else None
        if other is not None and letters and other != letters[0]:
            self.note(KEYS_DISAGREE, first=letters[0].upper(), second=other.upper())

    def _check_letters(self) -> None:
        labels = [lines[0].label for lines in self.draft.choices]
        for before, after in zip(labels, labels[1:], strict=False):
            if len(before) == len(after) == 1 and ord(after) == ord(before) + 2:
                self.note(LABEL_SKIPPED, before=before, after=after)

"""Decides the type of a draft and fills the item in; what was chosen between two readings is said."""

from __future__ import annotations

import re
from collections.abc import Callable, Iterable

from rogatum.core.content import plain_text
from rogatum.core.documents import patterns as p
from rogatum.core.documents.choices import letter
from rogatum.core.documents.contents import content_of
from rogatum.core.documents.drafts import Draft
from rogatum.core.documents.habits import EmphasisHabit, emphasised
from rogatum.core.documents.keys import doubtful_number, letters_of, number_of, texts_of, truth_of
from rogatum.core.documents.lines import Line, text_of
from rogatum.core.documents.matching import Grouped
from rogatum.core.documents.pairing import pairing_sign, pairs_by_key, pairs_by_line
from rogatum.core.findings import (
    FEEDBACK_BEHIND,
    KEY_UNKNOWN,
    KEYS_DISAGREE,
    LABEL_SKIPPED,
    NUMBER_DOUBTFUL,
    TYPE_GUESSED,
    TYPE_UNSURE,
    Finding,
    FindingKind,
)
from rogatum.core.items import (
    Blank,
    Choice,
    Cloze,
    Essay,
    FillIn,
    Information,
    Item,
    Matching,
    MultipleChoice,
    MultipleResponse,
    Numeric,
    NumericBlank,
    Ordering,
    Pair,
    TextAnswer,
    TextBlank,
    TrueFalse,
)
from rogatum.core.type_words import type_named

LONG_ANSWER = 60
SHORT_CHOICE = 90
FEEDBACK_SIGN = " -- "
_CONTENT_LABELS = (("general", "feedback"), ("correct", "correct"), ("incorrect", "incorrect"))
_METADATA = ("difficulty", "page", "outcome", "topic", "level", "hint", "tag")


class Maker:
    def __init__(self, findings: list[Finding], content: Callable[[str], str], habit: EmphasisHabit | None, numbered: bool) -> None:
        self.findings, self.content, self.habit, self.numbered = findings, content, habit, numbered

    def item(self, draft: Draft, item_id: str) -> Item:
        self.draft, self.id = draft, item_id
        self._loose_choices()
        self._feedback_of_last_choice()
        item = self._by_type() if "type" in draft.labels else self._by_form()
        return self._common(item)

    def _feedback_of_last_choice(self) -> None:
        """Where every other choice has feedback below it, what stands below the last is its own too."""
        labels = [lines[0].label for lines in self.draft.choices]
        others = all(f"feedback:{label}" in self.draft.labels for label in labels[:-1])
        if len(labels) > 1 and others and "feedback" in self.draft.labels:
            self.draft.labels.setdefault(f"feedback:{labels[-1]}", self.draft.labels.pop("feedback"))

    def _common(self, item: Item) -> Item:
        draft = self.draft
        item.points = draft.points if draft.points is not None else draft.section.points_each
        item.title = draft.label("title")
        item.stimulus = draft.stimulus
        for slot, label in _CONTENT_LABELS:
            if label in draft.labels:
                item.feedback[slot] = self.content(content_of(draft.labels[label]))  # type: ignore[index]
        for label in _METADATA:
            if label in draft.labels:
                item.metadata[label] = [v.strip() for line in draft.labels[label] for v in line.value.split(";") if v.strip()]
        return item

    def note(self, kind: FindingKind, **values: object) -> None:
        self.findings.append(kind.at(self.draft.where, self.id, **values))

    @property
    def stem(self) -> str:
        return self.content(content_of(self.draft.stem))

    def _loose_choices(self) -> None:
        """Lines below a question that have no letters and yet are its choices."""
        draft = self.draft
        if draft.choices or draft.truths or len(draft.stem) < 3:
            return
        ends = [i for i, line in enumerate(draft.stem) if re.search(r"[?:]$|_{3,}\W*$", line.value)]
        # In a block of its own the first line is the stem, however it ends.
        first = ends[0] + 1 if ends else 0 if self.numbered else 1
        rest = draft.stem[first:]
        if not first or not 2 <= len(rest) <= 8 or any(len(line.value) > SHORT_CHOICE for line in rest):
            return
        for line in rest:
            behind = p.MARK_BEHIND.search(line.text, line.start)
            before = re.match(rf"\s*[{re.escape(p.KEY_MARKS)}]\s*", line.text[line.start :])
            if before:
                line.marked = True
                line.keep(line.start + before.end(), line.end)
            if behind and behind.start() > line.start:
                line.marked = True
                line.keep(line.start, behind.start())
        kind = self.habit.kind if self.habit else "bold"
        keyed = any(line.marked for line in rest) or emphasised(rest, kind) or any(letters_of(key) for key in draft.keys)
        if not (keyed or not self.numbered):
            return
        draft.stem = draft.stem[:first]
        for position, line in enumerate(rest, 1):
            line.role, line.label = "choice", letter(position)
            draft.choices.append([line])
        self.note(TYPE_UNSURE, detail="the lines below it have no letters, and were taken for its choices.")

    def _by_type(self) -> Item:
        """The type is stated."""
        named = type_named(self.draft.label("type"))
        if named in ("multiple_choice", "multiple_response") and self.draft.choices:
            return self._choices(named == "multiple_response")
        if named == "information":
            return Information(id=self.id, stem=self.stem)
        if named == "essay":
            return self._essay()
        if named == "fill_in":
            return self._fill_in(texts_of(self._one_key()))
        if named == "ordering" and self.draft.choices:
            return self._ordering(stated=True) or self._by_form()
        return self._by_form()

    def _one_key(self) -> str:
        return self.draft.keys[0] if self.draft.keys else ""

    def _by_form(self) -> Item:
        draft, section = self.draft, self.draft.section
        if draft.truths:
            return self._truth_of_options(draft.truths)
        paired = self._paired()
        if paired is not None:
            return paired
        if draft.choices:
            return self._true_false_choices() or self._ordering() or self._choices(None)
        self._key_within_stem()
        key = self._one_key()
        truth = truth_of(key)
        cue = section.type == "true_false" or bool(p.TRUE_FALSE_CUE.search(draft.text))
        if truth is not None and (len(key.strip(" .")) > 1 or cue or not p.BLANK.search(draft.text)):
            return TrueFalse(id=self.id, stem=self.stem, answer=truth)
        corrected = re.match(r"\s*(?:false|f)\s*[.:;,(–—-]+\s*(.+)$", key, re.I) if cue else None
        if corrected:
            item = TrueFalse(id=self.id, stem=self.stem, answer=False)
            item.feedback["general"] = self.content(corrected[1].rstrip(")"))
            return item
        if "model" in draft.labels or "rubric" in draft.labels or section.type == "essay":
            return self._essay()
        near = p.ABOUT.match(key)
        number = number_of(key[near.end() :] if near else key) if key else None
        if number is not None:
            if near:
                self.note(TYPE_UNSURE, detail="its key is near a number, and how near is not said; the number alone is accepted.")
            if doubtful := doubtful_number(key):
                self.note(NUMBER_DOUBTFUL, text=doubtful)
            return Numeric(id=self.id, stem=self.stem, answers=[number.answer], unit=number.unit)
        if key:
            return self._keyed_text(key)
        return self._unkeyed()

    def _key_within_stem(self) -> None:
        """T or F before or behind a statement, where statements are asked for."""
        draft = self.draft
        if not draft.stem:
            return
        cue = draft.section.type == "true_false"
        answer_line = p.ANSWER_BLANK.match(draft.stem[0].value) if cue else None
        if answer_line:
            draft.stem[0].keep(draft.stem[0].start + answer_line.end(), draft.stem[0].end)
        if draft.keys:
            return
        first, last = draft.stem[0], draft.stem[-1]
        before = p.KEY_BEFORE.match(first.value) if cue else None
        if before:
            draft.keys.append(before["key"])
            first.keep(first.start + before.end(), first.end)
            return
        behind = p.KEY_BEHIND.search(last.value)
        if behind and (cue or len(behind["key"] or behind["word"]) > 1):
            draft.keys.append(behind["key"] or behind["word"])
            last.keep(last.start, last.start + behind.start())

    def _keyed_text(self, key: str) -> Item:
        texts = texts_of(key)
        cloze = self._cloze(key)
        if cloze is not None:
            return cloze
        if re.match(r"[-−+]?\d[\d.,]*\s*[x×·*]\s*\d", key):
            self.note(TYPE_UNSURE, detail="its key looks like a number in a notation that is not known, and was taken as text.")
        if p.ANY_OF.match(key):
            self.note(TYPE_GUESSED, detail="several answers meet its key, which makes it an essay.")
            return self._essay()
        if max(map(len, texts), default=0) <= LONG_ANSWER and not p.ESSAY_CUE.match(self.draft.text):
            return self._fill_in(texts)
        self.note(TYPE_GUESSED, detail="a long answer makes it an essay.")
        return self._essay()

    def _bracketed(self) -> Item:
        """Answers in brackets within a text that is to be filled in: “The finest particle is [clay].”"""
        answers = [texts_of(match["answers"].replace("|", ";")) for match in p.BRACKETED.finditer(self.stem)]
        self.note(TYPE_GUESSED, detail="answers in brackets were taken for its blanks.")
        if len(answers) == 1:
            stem = p.BRACKETED.sub("_____", self.stem)
            return FillIn(id=self.id, stem=stem, answers=[TextAnswer(text=text) for text in answers[0]])
        return self._with_blanks(p.BRACKETED, answers) or self._essay()

    def _with_blanks(self, pattern: re.Pattern[str], answers: list[list[str]]) -> Cloze | None:
        """A cloze whose blanks stand where the pattern is; None where they are not as many as the answers."""
        blanks = [_blank(f"b{n}", texts, 1 / len(answers)) for n, texts in enumerate(answers, 1)]
        ids = iter(blank.id for blank in blanks)
        stem, marked = pattern.subn(lambda _: f'<span data-blank="{next(ids, "")}"></span>', self.stem)
        return Cloze(id=self.id, stem=stem, blanks=blanks) if marked == len(blanks) else None

    def _cloze(self, key: str) -> Cloze | None:
        """Several blanks with an answer for each: parted by semicolons, or by commas or “and”."""
        count = len(p.BLANK.findall(self.draft.text))
        if count < 2:
            return None
        parts = re.split(r"\s*;\s*", key)
        if len(parts) != count:
            parts = re.split(r"\s*(?:,|;|/|\band\b)\s*", key)
        if len(parts) != count or not all(parts):
            self.note(TYPE_UNSURE, detail=f"it has {count} blanks, and its key is not an answer for each; any of them is accepted.")
            return None
        cloze = self._with_blanks(p.BLANK, [texts_of(part) for part in parts])
        if cloze is None:
            return None
        self.note(TYPE_GUESSED, detail=f"its stem has {count} blanks, and its key an answer for each.")
        return cloze

    def _unkeyed(self) -> Item:
        text, section = self.draft.text, self.draft.section
        if p.TRUE_FALSE_CUE.search(text) or section.type == "true_false":
            return TrueFalse(id=self.id, stem=self.stem)
        if p.BRACKETED.search(text) and (section.type == "fill_in" or p.FILL_CUE.match(text)):
            return self._bracketed()
        if p.BLANK.search(text) or section.type == "fill_in":
            return self._fill_in([])
        if section.type == "numeric":
            return Numeric(id=self.id, stem=self.stem)
        if not p.ESSAY_CUE.match(text):
            self.note(TYPE_UNSURE, detail="it has no choices and no key, and was taken for an essay.")
        return self._essay()

    def _fill_in(self, texts: Iterable[str]) -> FillIn:
        return FillIn(id=self.id, stem=self.stem, answers=[TextAnswer(text=text) for text in texts])

    def _essay(self) -> Essay:
        draft = self.draft
        model = content_of(draft.labels["model"]) if "model" in draft.labels else self._one_key()
        rubric = content_of(draft.labels["rubric"]) if "rubric" in draft.labels else ""
        return Essay(
            id=self.id,
            stem=self.stem,
            sample_answer=self.content(model) if model else None,
            rubric=self.content(rubric) if rubric else None,
        )

    # Choices

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
        words = [truth_of(text_of(lines)) for lines in self.draft.choices]
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
        key = re.sub(r"\s*(?:→|-+>|>|<)\s*", ", ", self._one_key())
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

    # Matching

    def _paired(self) -> Matching | None:
        """A matching within one question: its key pairs numbers with letters, or each line below it pairs two sides."""
        found = pairs_by_key(self.draft, self._one_key(), self.content)
        if found is None and not self.draft.keys and (sign := pairing_sign(self.draft)):
            found = pairs_by_line(self.draft, sign, self.content)
            self.note(TYPE_GUESSED, detail=f"each line below it pairs a left and a right by “{sign.strip()}”.")
        if found is None:
            return None
        stem = self.content(content_of(found.stem))
        return Matching(id=self.id, stem=stem, pairs=found.pairs, distractors=found.distractors)

    def matching(self, group: Grouped, item_id: str) -> Item:
        """Numbered lefts that share a lettered pool of rights."""
        self.draft, self.id = group.drafts[0], item_id
        rights = {lines[0].label: self.content(content_of(lines)) for lines in group.pool}
        item = Matching(id=item_id, stem=self.content(content_of(group.stem)) if group.stem else "")
        used: set[str] = set()
        for draft in group.drafts:
            letters = letters_of(draft.keys[0]) if draft.keys else []
            if len(letters) != 1 or letters[0] not in rights:
                self.note(KEY_UNKNOWN, key=draft.keys[0][:40] if draft.keys else f"nothing for {draft.number}")
                continue
            used.add(letters[0])
            item.pairs.append(Pair(left=self.content(content_of(draft.stem)), right=rights[letters[0]]))
        item.distractors = [text for label, text in rights.items() if label not in used]
        section = self.draft.section
        self._common(item)
        if section.points_all is not None:
            item.points = section.points_all
        elif section.points_each is not None:
            item.points = section.points_each * len(group.drafts)
        return item


def _blank(name: str, texts: list[str], share: float) -> Blank:
    """A blank with its answers; a lone number makes it numeric, as it does a whole item."""
    number = number_of(texts[0]) if len(texts) == 1 else None
    if number is not None:
        return NumericBlank(id=name, answers=[number.answer], share=share)
    return TextBlank(id=name, answers=[TextAnswer(text=text) for text in texts], share=share)

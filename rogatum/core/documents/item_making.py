"""Decides the type of a draft and fills the item in; what was chosen between two readings is said."""

from __future__ import annotations

import re
from collections.abc import Iterable

from rogatum.core import spaces
from rogatum.core.documents import patterns as p
from rogatum.core.documents.choice_items import ChoiceMaker
from rogatum.core.documents.labels import letter
from rogatum.core.documents.drafts import Draft
from rogatum.core.documents.habits import emphasised
from rogatum.core.documents.keys import doubtful_number, letters_of, number_of, texts_of, truth_of
from rogatum.core.documents.line_content import content_of
from rogatum.core.documents.matching import Grouped
from rogatum.core.documents.pairing import pairing_sign, pairs_by_key, pairs_by_line
from rogatum.core.findings.items import NUMBER_DOUBTFUL, TYPE_GUESSED, TYPE_UNSURE
from rogatum.core.findings.keys import KEY_UNKNOWN
from rogatum.core.items import (
    Blank,
    Cloze,
    Essay,
    FillIn,
    Information,
    Item,
    Matching,
    Numeric,
    NumericBlank,
    Pair,
    TextAnswer,
    TextBlank,
    TrueFalse,
    metadata,
)
from rogatum.core.items.type_words import type_named

LONG_ANSWER = 60
SHORT_CHOICE = 90
_CONTENT_LABELS = (("general", "feedback"), ("correct", "correct"), ("incorrect", "incorrect"))


class Maker(ChoiceMaker):
    """Decides the type of a draft and makes its item."""

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
        for label in metadata.NAMES:
            if label in draft.labels:
                item.metadata[label] = [v.strip() for line in draft.labels[label] for v in line.value.split(";") if v.strip()]
        return item

    def _loose_choices(self) -> None:
        """Lines below a question that have no letters and yet are its choices."""
        draft = self.draft
        if draft.choices or draft.truths or len(draft.stem) < 3:
            return
        ends = [i for i, line in enumerate(draft.stem) if re.search(r"[?:]$|(?<!_)_{3,}+\W*+$", line.value)]
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
        corrected = re.match(r"\s*+(?:false|f)\s*+[.:;,(–—-]++\s*+(.+)$", key, re.I) if cue else None
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
        parts = re.split(spaces.BEFORE + r";\s*+", key)
        if len(parts) != count:
            parts = re.split(spaces.BEFORE + r"(?:,|;|/|\band\b)\s*+", key)
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

"""Answers in words and numbers: fill-in, cloze, numeric, essay."""

from __future__ import annotations

import re
from collections.abc import Iterable

from rogatum.core import spaces
from rogatum.core.documents import patterns as p
from rogatum.core.documents.keys.values import entries_in, texts_of
from rogatum.core.documents.line_content import content_of
from rogatum.core.documents.lines import Line
from rogatum.core.documents.making.case import Case
from rogatum.core.findings.items import NUMBER_DOUBTFUL, TYPE_GUESSED, TYPE_UNSURE
from rogatum.core.items import Blank, Cloze, Essay, FillIn, Item, Numeric, NumericBlank, TextAnswer, TextBlank
from rogatum.core.items.typed_numbers import doubtful_number, number_of

# How long an accepted answer and a key of several may be; and from how many words on a sentence is a text.
LONG_ANSWER, LONG_KEY, LEAST_WORDS = 60, 80, 9
# How long a gap within a sentence may be; longer ones are to be written on.
LONGEST_GAP = 30
_ODD_NUMBER = re.compile(r"[-−+]?\d[\d.,]*\s*[x×·*]\s*\d")
_ANSWERED = re.compile(r"(?<!_)_{2,}[ ]?(?P<answer>[^\s_<>](?:[^_\n<>]{0,60}?[^\s_<>])?)[ ]?_{2,}(?!_)")
# Two blanks with words of the sentence between them.
_BETWEEN_BLANKS = re.compile(
    r"(?<!_)_{2,}[ ](?:[^_\n]{1,80}[ ])?(?:and|or|is|are|has|have|in|of|the|a|to|und|et|y)[ ][^_\n]{0,80}_{2,}"
)
_SPACE_BELOW = re.compile(r"^[\s_.…]+$")


def of_answer_space(case: Case) -> None:
    """Takes lines to write on off a stem that asks for a text; a gap that a line end parts from its sentence is none."""
    lines = case.stem_lines
    while len(lines) > 1 and _SPACE_BELOW.match(lines[-1].value) and not _is_gap(*lines[-2:]):
        lines.pop()


def _is_gap(above: Line, line: Line) -> bool:
    """Whether a blank ends the sentence of the line above it."""
    runs_on = not (line.paragraph or line.after_blank or above.value.endswith((".", "?", "!", ":", "_")))
    return runs_on and len(line.value) <= LONGEST_GAP


def stated_essay(case: Case) -> Item | None:
    labels = case.draft.labels
    if "model" in labels or "rubric" in labels or (case.asks("essay") and not case.draft.choices):
        return essay(case)
    return None


def of_answers_within(case: Case) -> Item | None:
    """The answer stands on its blank: “The finest is __clay__.”, or in brackets where a text is to be filled in."""
    if case.draft.choices or case.draft.keys:
        return None
    if _ANSWERED.search(case.stem) and len(p.BLANK.findall(case.stem)) % 2 == 0 and not _BETWEEN_BLANKS.search(case.stem):
        return _within(case, _ANSWERED, "answer")
    if p.BRACKETED.search(case.text) and not p.BLANK.search(case.text) and _asks_to_fill(case):
        return _within(case, p.BRACKETED, "answers")
    return None


def _asks_to_fill(case: Case) -> bool:
    return case.asks("fill_in") or bool(p.FILL_CUE.match(case.text)) or case.draft.section.bracketed


def _within(case: Case, pattern: re.Pattern[str], name: str) -> Item | None:
    answers = [texts_of(match[name].replace("|", ";")) for match in pattern.finditer(case.stem)]
    case.note(TYPE_GUESSED, detail="answers within the text were taken for its blanks.")
    if len(answers) == 1:
        return FillIn(id=case.id, stem=pattern.sub("____", case.stem), answers=[TextAnswer(text=text) for text in answers[0]])
    return _with_blanks(case, pattern, answers)


def numeric(case: Case) -> Item | None:
    key = case.key
    if case.draft.choices or not key:
        return None
    near = p.ABOUT.match(key)
    number = number_of(key[near.end() :] if near else key)
    if number is None:
        if _ODD_NUMBER.match(key):
            case.note(TYPE_UNSURE, detail="its key looks like a number in a notation that is not known, and was taken as text.")
        return None
    if near:
        case.note(TYPE_UNSURE, detail="its key is near a number, and how near is not said; the number alone is accepted.")
    if doubtful := doubtful_number(key):
        case.note(NUMBER_DOUBTFUL, text=doubtful)
    return Numeric(id=case.id, stem=case.stem, answers=[number.answer], unit=number.unit)


def cloze(case: Case) -> Item | None:
    """Several blanks with an answer for each: numbered, on lines of their own, or parted by semicolons, commas or “and”."""
    count = len(p.BLANK.findall(case.text))
    if count < 2 or not case.key or case.draft.choices:
        return None
    parts = _parts(case, count)
    if parts is None:
        case.note(TYPE_UNSURE, detail=f"it has {count} blanks, and its key is not an answer for each; any of them is accepted.")
        return None
    made = _with_blanks(case, p.BLANK, [texts_of(part) for part in parts])
    if made is not None:
        case.note(TYPE_GUESSED, detail=f"its stem has {count} blanks, and its key an answer for each.")
    return made


def _parts(case: Case, count: int) -> list[str] | None:
    keys = [key for key in case.draft.keys if key.strip()]
    key = " ".join(keys)
    for text in (*keys, key):
        numbered = list(entries_in(text).values())
        if len(numbered) == count:
            return numbered
    if len(keys) == count:
        return keys
    for pattern in (r";\s*+", r"(?:,|;)\s*+", r"\|\s*+", r"(?:/)\s*+", r"(?:,|;|\band\b)\s*+", r"(?:,|;|/|\band\b)\s*+"):
        parts = re.split(spaces.BEFORE + pattern, key)
        if len(parts) == count and all(parts):
            return parts
    return None


def _with_blanks(case: Case, pattern: re.Pattern[str], answers: list[list[str]]) -> Cloze | None:
    """A cloze whose blanks stand where the pattern is; None where they are not as many as the answers."""
    blanks = [_blank(f"b{n}", texts, 1 / len(answers)) for n, texts in enumerate(answers, 1)]
    ids = iter(blank.id for blank in blanks)
    stem, found = pattern.subn(lambda _: f'<span data-blank="{next(ids, "")}"></span>', case.stem)
    return Cloze(id=case.id, stem=stem, blanks=blanks) if found == len(blanks) else None


def _blank(name: str, texts: list[str], share: float) -> Blank:
    """A blank with its answers; a lone number makes it numeric, as it does a whole item."""
    number = number_of(texts[0]) if len(texts) == 1 else None
    if number is not None:
        return NumericBlank(id=name, answers=[number.answer], share=share)
    return TextBlank(id=name, answers=[TextAnswer(text=text) for text in texts], share=share)


def of_key(case: Case) -> Item | None:
    """A key in words: a short one fills in, a long one is the model of a text."""
    key = case.key
    if not key or case.draft.choices:
        return None
    if p.ANY_OF.match(key):
        case.note(TYPE_GUESSED, detail="several answers meet its key, which makes it an essay.")
        return essay(case)
    texts = texts_of(key)
    blank = bool(p.BLANK.search(case.text))
    short = max(map(len, texts), default=0) <= LONG_ANSWER and (len(key) <= LONG_KEY or blank)
    sentence = key.endswith(".") and len(key.split()) >= LEAST_WORDS
    if short and (blank or not (sentence or p.ESSAY_CUE.match(case.text))):
        return fill_in(case, texts)
    case.note(TYPE_GUESSED, detail="a long answer makes it an essay.")
    return essay(case)


def unkeyed(case: Case) -> Item:
    """No choices and no key: what the stem and the section ask for."""
    text = case.text
    if p.BLANK.search(text) or case.asks("fill_in"):
        return fill_in(case, [])
    if case.asks("numeric"):
        return Numeric(id=case.id, stem=case.stem)
    if not p.ESSAY_CUE.match(text) and not case.asks("essay"):
        case.note(TYPE_UNSURE, detail="it has no choices and no key, and was taken for an essay.")
    return essay(case)


def fill_in(case: Case, texts: Iterable[str]) -> FillIn:
    return FillIn(id=case.id, stem=case.stem, answers=[TextAnswer(text=text) for text in texts])


def essay(case: Case) -> Essay:
    labels = case.draft.labels
    model = content_of(labels["model"]) if "model" in labels else case.key
    rubric = content_of(labels["rubric"]) if "rubric" in labels else ""
    return Essay(
        id=case.id,
        stem=case.stem,
        sample_answer=case.content(model) if model else None,
        rubric=case.content(rubric) if rubric else None,
    )

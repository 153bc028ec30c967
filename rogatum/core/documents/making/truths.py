"""True or false: options to circle, choices that say nothing else, and statements with such a key."""

from __future__ import annotations

import re

from rogatum.core.documents import patterns as p
from rogatum.core.documents.keys.values import are_truths, compared, letters_of, truth_of
from rogatum.core.documents.lines import joined_text
from rogatum.core.documents.making.case import Case
from rogatum.core.findings.keys import KEYS_DISAGREE
from rogatum.core.items import Item, TrueFalse

_CORRECTED = re.compile(r"\s*+(?:false|f)\s*+[.:;,(–—-]++\s*+(.+)$", re.I)


def of_options(case: Case) -> Item | None:
    """Two truths on one line, of which one is marked, or which a key names."""
    options = case.draft.truths
    if not options:
        return None
    spoken = [truth for key in case.draft.keys if (truth := truth_of(key, any_word=True)) is not None]
    spoken += [
        letters == ["a"]
        for key in case.draft.keys
        if truth_of(key, any_word=True) is None and (letters := letters_of(key)) in (["a"], ["b"])
    ]
    shown = [truth for line in case.marked(options) if (truth := truth_of(line.value, any_word=True)) is not None]
    return _agreed(case, [*shown, *spoken])


def of_choices(case: Case) -> Item | None:
    """Two choices, True and False."""
    said = [joined_text(lines) for lines in case.draft.choices]
    if not are_truths(said):
        return None
    firsts = [lines[0] for lines in case.draft.choices]
    words = [truth_of(text, any_word=True) for text in said]
    marked = {line.label for line in case.marked(firsts)}
    answers = [word for word, line in zip(words, firsts, strict=True) if line.label in marked]
    for key in case.draft.keys:
        named = case.named(key)
        spoken = truth_of(key, any_word=True)
        by_label = [word for word, line in zip(words, firsts, strict=True) if named == [line.label]]
        answers += (
            [spoken] if spoken is not None and len(key.strip(" .()")) > 1 else by_label or ([spoken] if spoken is not None else [])
        )
    return _agreed(case, [answer for answer in answers if answer is not None])


def _agreed(case: Case, answers: list[bool]) -> Item:
    different = list(dict.fromkeys(answers))
    if len(different) > 1:
        case.note(KEYS_DISAGREE, first="True", second="False")
    return TrueFalse(id=case.id, stem=case.stem, answer=different[0] if len(different) == 1 else None)


def of_statement(case: Case) -> Item | None:
    """A statement whose key is True or False, or that stands where statements are to be judged."""
    if case.draft.choices:
        return None
    cue = case.asks("true_false") or bool(p.TRUE_FALSE_CUE.search(case.text))
    _key_within(case, cue)
    key = case.key
    # “Correct” is an answer to what is said, and none to a question or a gap.
    judged = cue or not (p.BLANK.search(case.text) or case.text.rstrip().endswith("?"))
    truth = truth_of(key, any_word=judged and compared(key) not in ("yes", "no"))
    if truth is not None and (len(key.strip(" .()[]")) > 1 or cue or not p.BLANK.search(case.text)):
        return TrueFalse(id=case.id, stem=case.stem, answer=truth)
    corrected = _CORRECTED.match(key) if cue else None
    if corrected:
        item = TrueFalse(id=case.id, stem=case.stem, answer=False)
        item.feedback["general"] = case.content(corrected[1].rstrip(")"))
        return item
    if not key and cue and not p.ESSAY_CUE.match(case.text) and not _other_type(case):
        return TrueFalse(id=case.id, stem=case.stem)
    return None


def _other_type(case: Case) -> bool:
    return case.draft.section.type not in ("", "true_false") or "model" in case.draft.labels


def _key_within(case: Case, cue: bool) -> None:
    """T or F before or behind a statement, where statements are asked for."""
    if not case.stem_lines:
        return
    first = case.stem_lines[0]
    answer_line = p.ANSWER_BLANK.match(first.value) if cue else None
    if answer_line:
        first.keep(first.start + answer_line.end(), first.end)
    if case.draft.keys:
        return
    last = case.stem_lines[-1]
    before = p.KEY_BEFORE.match(first.value) if cue else None
    if before:
        case.draft.keys.append(before["key"])
        first.keep(first.start + before.end(), first.end)
        return
    behind = p.KEY_BEHIND.search(last.value)
    if behind and (cue or len(behind["key"] or behind["word"]) > 1):
        case.draft.keys.append(behind["key"] or behind["word"])
        last.keep(last.start, last.start + behind.start())

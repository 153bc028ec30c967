"""Views of an item that facets compare: its options, its key, its feedback, all its content."""

from __future__ import annotations

from collections.abc import Sequence

from rogatum.core.items import (
    Blank,
    ChoiceBlank,
    Cloze,
    Essay,
    FillIn,
    Item,
    Matching,
    MultipleChoice,
    MultipleResponse,
    Numeric,
    NumericAnswer,
    Ordering,
    Preserved,
    TextAnswer,
    TextBlank,
    TrueFalse,
)
from rogatum.core.items.content import comparable


def options(item: Item) -> list[str]:
    """The contents that a student chooses from, in order."""
    if isinstance(item, MultipleChoice | MultipleResponse):
        return [choice.content for choice in item.choices]
    if isinstance(item, TrueFalse):
        return ["True", "False"]
    if isinstance(item, Matching):
        return [pair.left for pair in item.pairs] + [pair.right for pair in item.pairs] + item.distractors
    if isinstance(item, Ordering):
        return list(item.sequence)
    if isinstance(item, Cloze):
        return [choice.content for blank in item.blanks if isinstance(blank, ChoiceBlank) for choice in blank.choices]
    return []


def content_fields(item: Item) -> list[str]:
    """All contents of an item whose formatting, formulas and media count."""
    found = [item.stem, *options(item), *feedback(item).values()]
    if isinstance(item, Essay):
        found += [item.sample_answer or "", item.rubric or ""]
    return found


def feedback(item: Item) -> dict[str, str]:
    """All feedback by its slot: general, correct, incorrect, and by what was picked or typed."""
    found: dict[str, str] = {kind: text for kind, text in item.feedback.items() if text}
    if isinstance(item, MultipleChoice | MultipleResponse):
        found |= {f"choice {n}": c.feedback for n, c in enumerate(item.choices, 1) if c.feedback}
    elif isinstance(item, TrueFalse):
        found |= {f"choice {key}": text for key, text in item.choice_feedback.items() if text}
    elif isinstance(item, FillIn | Numeric):
        answers: Sequence[TextAnswer | NumericAnswer] = item.answers
        found |= {f"answer {n}": a.feedback for n, a in enumerate(answers, 1) if a.feedback}
    return found


def key(item: Item) -> list[str]:
    """The key as comparable texts: what is right, without weights."""
    if isinstance(item, MultipleChoice | MultipleResponse):
        return sorted(comparable(choice.content) for choice in item.choices if choice.weight > 0)
    if isinstance(item, TrueFalse):
        return [] if item.answer is None else [str(item.answer)]
    if isinstance(item, FillIn):
        return _texts(item.answers)
    if isinstance(item, Numeric):
        return _numbers(item.answers)
    if isinstance(item, Cloze):
        return [part for n, blank in enumerate(item.blanks, 1) for part in [f"blank {n}", *_blank(blank)]]
    if isinstance(item, Matching):
        return sorted(f"{comparable(pair.left)} -> {comparable(pair.right)}" for pair in item.pairs)
    if isinstance(item, Ordering):
        return [comparable(text) for text in item.sequence]
    if isinstance(item, Essay):
        return [comparable(item.sample_answer)] if item.sample_answer else []
    if isinstance(item, Preserved):
        return [item.original]
    return []


def _texts(answers: list[TextAnswer]) -> list[str]:
    return sorted(f"{answer.match} {answer.text}" if answer.match != "exact" else answer.text for answer in answers)


def _numbers(answers: list[NumericAnswer]) -> list[str]:
    return sorted("{:.9g}..{:.9g}".format(*answer.bounds()) for answer in answers)


def _blank(blank: Blank) -> list[str]:
    if isinstance(blank, ChoiceBlank):
        return sorted(comparable(choice.content) for choice in blank.choices if choice.weight > 0)
    return _texts(blank.answers) if isinstance(blank, TextBlank) else _numbers(blank.answers)

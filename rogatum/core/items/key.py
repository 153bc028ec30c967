"""The key of an item in words, for a result that is released to a student."""

from __future__ import annotations

from collections.abc import Iterable

from rogatum.core.items import (
    Blank,
    Choice,
    ChoiceBlank,
    Cloze,
    FillIn,
    Item,
    Matching,
    MultipleChoice,
    MultipleResponse,
    Numeric,
    NumericAnswer,
    NumericBlank,
    Ordering,
    TextAnswer,
    TrueFalse,
)
from rogatum.core.items.content import plain_text


def key_words(item: Item) -> str:
    """The right answers, parted by semicolons; empty where a person marks the item."""
    if isinstance(item, MultipleChoice | MultipleResponse):
        return "; ".join(_choices(item.choices))
    if isinstance(item, TrueFalse):
        return "" if item.answer is None else str(item.answer)
    if isinstance(item, FillIn):
        return "; ".join(_texts(item.answers))
    if isinstance(item, Numeric):
        return "; ".join(_numbers(item.answers))
    if isinstance(item, Cloze):
        return "; ".join(" or ".join(_blank(blank)) for blank in item.blanks)
    if isinstance(item, Matching):
        return "; ".join(f"{plain_text(pair.left)} – {plain_text(pair.right)}" for pair in item.pairs)
    if isinstance(item, Ordering):
        return "; ".join(plain_text(text) for text in item.sequence)
    return ""


def _blank(blank: Blank) -> list[str]:
    if isinstance(blank, ChoiceBlank):
        return _choices(blank.choices)
    return _numbers(blank.answers) if isinstance(blank, NumericBlank) else _texts(blank.answers)


def _choices(choices: Iterable[Choice]) -> list[str]:
    return [plain_text(choice.content) for choice in choices if choice.weight > 0]


def _texts(answers: Iterable[TextAnswer]) -> list[str]:
    return [answer.text for answer in answers if answer.weight > 0]


def _numbers(answers: Iterable[NumericAnswer]) -> list[str]:
    return [_range(*answer.bounds()) for answer in answers if answer.weight > 0]


def _range(low: float, high: float) -> str:
    if low == high:
        return f"{low:g}"
    if high == float("inf"):
        return f"{low:g} or more"
    return f"{high:g} or less" if low == float("-inf") else f"{low:g} to {high:g}"

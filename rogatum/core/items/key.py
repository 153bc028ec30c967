"""The key of an item: in words, and set by hand."""

from __future__ import annotations

from collections.abc import Callable, Collection, Iterable, Sequence
from typing import Any

from rogatum.core.errors import NoSuchKey
from rogatum.core.items.by_type import ByBlank, ByType
from rogatum.core.items.content import plain_text
from rogatum.core.items.model import (
    Choice,
    ChoiceBlank,
    ChoiceItem,
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
    TextBlank,
    TrueFalse,
)

# In words


def key_words(item: Item) -> str:
    """The right answers, parted by semicolons; empty where a person marks the item."""
    return "; ".join(_WORDS.of(item)(item))


def _choices(part: ChoiceItem | ChoiceBlank) -> list[str]:
    return [plain_text(choice.content) for choice in part.choices if choice.weight > 0]


def _texts(part: FillIn | TextBlank) -> list[str]:
    return [answer.text for answer in _right(part.answers)]


def _numbers(part: Numeric | NumericBlank) -> list[str]:
    return [number_words(answer) for answer in part.answers if answer.weight > 0]


def _right(answers: Iterable[TextAnswer]) -> list[TextAnswer]:
    return [answer for answer in answers if answer.weight > 0]


def number_words(answer: NumericAnswer) -> str:
    """The numbers that are right, in words."""
    low, high = answer.bounds()
    if answer.value is not None and answer.figures is not None:
        kind = "significant figures" if answer.rounding == "significant" else "decimals"
        return f"{answer.value:g} to {answer.figures} {kind}"
    if low == high:
        return f"{low:g}"
    least = f"{low:g}" if answer.include_min else f"more than {low:g}"
    if high == float("inf"):
        return f"{least} or more" if answer.include_min else least
    most = f"{high:g}" if answer.include_max else f"less than {high:g}"
    if low == float("-inf"):
        return f"{most} or less" if answer.include_max else most
    return f"{least} to {most}"


_WORDS_OF_BLANK: ByBlank[Callable[[Any], list[str]]] = ByBlank(
    "the key of a blank in words", {"text": _texts, "numeric": _numbers, "choice": _choices}
)


def _blanks(item: Cloze) -> list[str]:
    return [" or ".join(_WORDS_OF_BLANK.of(blank)(blank)) for blank in item.blanks]


def _pairs(item: Matching) -> list[str]:
    return [f"{plain_text(pair.left)} – {plain_text(pair.right)}" for pair in item.pairs]


def _none(_item: Item) -> list[str]:
    return []


_WORDS: ByType[Callable[[Any], list[str]]] = ByType(
    "the key in words",
    {
        "multiple_choice": _choices,
        "multiple_response": _choices,
        "true_false": lambda item: [] if item.answer is None else [str(item.answer)],
        "fill_in": _texts,
        "numeric": _numbers,
        "cloze": _blanks,
        "matching": _pairs,
        "ordering": lambda item: [plain_text(text) for text in item.sequence],
        "essay": _none,
        "information": _none,
        "preserved": _none,
    },
)


# What earns what, in words


def marks_in_words(item: Item) -> list[tuple[str, float]]:
    """What can be answered and earns or costs something, in words, each with its share of the points."""
    return [(words, round(earned, 6)) for words, earned in _MARKS.of(item)(item) if earned]


def _marks_of_choices(part: ChoiceItem | ChoiceBlank) -> list[tuple[str, float]]:
    return [(plain_text(choice.content)[:120] or "a picture", choice.weight) for choice in part.choices]


def _marks_of_texts(part: FillIn | TextBlank) -> list[tuple[str, float]]:
    return [(f"“{answer.text[:120]}”", answer.weight) for answer in part.answers]


def _marks_of_numbers(part: Numeric | NumericBlank) -> list[tuple[str, float]]:
    return [(number_words(answer), answer.weight) for answer in part.answers]


_MARKS_OF_BLANK: ByBlank[Callable[[Any], list[tuple[str, float]]]] = ByBlank(
    "what earns what in a blank, in words", {"text": _marks_of_texts, "numeric": _marks_of_numbers, "choice": _marks_of_choices}
)


def _marks_of_blanks(item: Cloze) -> list[tuple[str, float]]:
    return [
        (f"blank {n}: {words}", weight * blank.share)
        for n, blank in enumerate(item.blanks, 1)
        for words, weight in _MARKS_OF_BLANK.of(blank)(blank)
    ]


def _marks_of_pairs(item: Matching) -> list[tuple[str, float]]:
    even = 1 / len(item.pairs) if item.pairs else 0.0
    return [
        (f"{plain_text(pair.left)} – {plain_text(pair.right)}", even if pair.share is None else pair.share) for pair in item.pairs
    ]


def _unmarked(_item: Item) -> list[tuple[str, float]]:
    return []


_MARKS: ByType[Callable[[Any], list[tuple[str, float]]]] = ByType(
    "what earns what, in words",
    {
        "multiple_choice": _marks_of_choices,
        "multiple_response": _marks_of_choices,
        "true_false": lambda item: [] if item.answer is None else [(str(item.answer), 1.0)],
        "fill_in": _marks_of_texts,
        "numeric": _marks_of_numbers,
        "cloze": _marks_of_blanks,
        "matching": _marks_of_pairs,
        "ordering": lambda item: [(" → ".join(plain_text(entry) for entry in item.sequence), 1.0)] if item.sequence else [],
        "essay": _unmarked,
        "information": _unmarked,
        "preserved": _unmarked,
    },
)


# Set by hand


def set_key(item: Item, right: Sequence[str]) -> Item:
    """The item with another key. `right` are the ids of the right choices, "true" or "false", or an ordering's indices in order.

    Penalties, and credit for what is partly right, stay; the points are shared anew over a key of several. Raises NoSuchKey for
    what the item does not offer, and for types whose key is no choice among what they show.
    """
    return _SETTERS.of(item)(item, list(dict.fromkeys(right)))


def _check(right: Collection[str], offered: Collection[str]) -> None:
    if not set(right) <= set(offered):
        raise NoSuchKey("The key names what the item does not offer.")


def _set_one(item: MultipleChoice, right: list[str]) -> Item:
    _check(right, [choice.id for choice in item.choices])
    if len(right) > 1:
        raise NoSuchKey("A multiple choice has one right choice.")

    def weight(choice: Choice) -> float:
        if choice.id in right:
            return 1.0
        return 0.0 if choice.weight > 0.999 else choice.weight

    return item.model_copy(update={"choices": _weighted(item.choices, weight)})


def _set_several(item: MultipleResponse, right: list[str]) -> Item:
    _check(right, [choice.id for choice in item.choices])
    staying = [choice for choice in item.choices if choice.id in right and choice.weight > 0]
    share = 1 / len(right) if right else 0.0
    held = sum(choice.weight for choice in staying)
    factor = share * len(staying) / held if held else 0.0

    def weight(choice: Choice) -> float:
        if choice.id in right:
            return round(choice.weight * factor if choice.weight > 0 else share, 6)
        return min(choice.weight, 0.0)

    return item.model_copy(update={"choices": _weighted(item.choices, weight)})


def _weighted(choices: list[Choice], weight: Callable[[Choice], float]) -> list[Choice]:
    return [choice.model_copy(update={"weight": weight(choice)}) for choice in choices]


def _set_truth(item: TrueFalse, right: list[str]) -> Item:
    _check(right, ("true", "false"))
    if len(right) > 1:
        raise NoSuchKey("A statement is true or false.")
    return item.model_copy(update={"answer": right[0] == "true" if right else None})


def _set_order(item: Ordering, right: list[str]) -> Item:
    if sorted(right) != sorted(str(n) for n in range(len(item.sequence))):
        raise NoSuchKey("An order holds each entry once.")
    return item.model_copy(update={"sequence": [item.sequence[int(n)] for n in right]})


def _not_picked(_item: Item, _right: list[str]) -> Item:
    raise NoSuchKey("The key of this type is typed, not picked.")


_SETTERS: ByType[Callable[[Any, list[str]], Item]] = ByType(
    "how the key is set by picking it",
    {
        "multiple_choice": _set_one,
        "multiple_response": _set_several,
        "true_false": _set_truth,
        "fill_in": _not_picked,
        "numeric": _not_picked,
        "cloze": _not_picked,
        "matching": _not_picked,
        "ordering": _set_order,
        "essay": _not_picked,
        "information": _not_picked,
        "preserved": _not_picked,
    },
)


def even_weights(item: Item) -> Item:
    """An item with choices whose points are shared out evenly over the key; what earns most becomes a multiple choice's key."""
    if isinstance(item, MultipleChoice):
        best = max((choice.weight for choice in item.choices), default=0.0)
        return item.model_copy(
            update={"choices": _weighted(item.choices, lambda c: 1.0 if c.weight == best and best > 0 else c.weight)}
        )
    if isinstance(item, MultipleResponse):
        count = sum(1 for choice in item.choices if choice.weight > 0)
        share = round(1 / count, 6) if count else 0.0
        return item.model_copy(update={"choices": _weighted(item.choices, lambda c: share if c.weight > 0 else min(c.weight, 0.0))})
    return item

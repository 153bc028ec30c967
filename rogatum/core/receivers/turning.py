"""Turning a type into one that a receiver takes, with more care than the receiver takes, and with how it marks then."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from dataclasses import dataclass
from itertools import product

from rogatum.core.fidelity import Marks, marks_of
from rogatum.core.items import FillIn, Item, ItemType, Numeric, NumericAnswer, TextAnswer
from rogatum.core.items.retyping import as_type

# Which forms of numbers are written out at most: beyond that nobody types them all.
MOST_FORMS = 60
# What is tried for each type, the best first; what is last always goes. A single blank is no way for what is one already: in most
# formats the two are written alike, and arrive as what is not taken.
WAYS: dict[ItemType, tuple[ItemType, ...]] = {
    "numeric": ("fill_in", "essay"),
    "matching": ("cloze", "multiple_choice", "essay"),
    "ordering": ("matching", "essay"),
    "cloze": ("matching", "fill_in", "essay"),
    "multiple_response": ("multiple_choice", "essay"),
    "true_false": ("multiple_choice", "essay"),
    "fill_in": ("essay",),
    "multiple_choice": ("multiple_response", "essay"),
}


@dataclass(frozen=True)
class Turn:
    """The item as another type, and how that marks against the item as it was before anything was made of it."""

    item: Item
    marks: Marks


def turn(item: Item, wanted: ItemType, before: Item | None = None) -> Turn:
    """The item as another type, with the forms of its numbers and the places of its order told in full.

    `before` is what it is held against: the item as it was before it was written otherwise. Raises NoSuchType.
    """
    maker = _MAKERS.get((item.type, wanted))
    made = maker(item) if maker else as_type(item, wanted).item
    return Turn(made, marks_of(before or item, made))


def _typed_number(item: Numeric) -> FillIn:
    """A number as the texts that people type for it: with as many decimals as its bounds have, by point and by comma."""
    base = as_type(item, "fill_in").item
    assert isinstance(base, FillIn)
    forms: dict[str, TextAnswer] = {}
    for answer in sorted(item.answers, key=lambda entry: -entry.weight):
        for text in forms_of(answer, item.unit):
            forms.setdefault(text, TextAnswer(text=text, weight=answer.weight, feedback=answer.feedback))
    return base.model_copy(update={"answers": list(forms.values())[:MOST_FORMS] or base.answers})


def forms_of(answer: NumericAnswer, unit: str | None = None) -> list[str]:
    """The texts of the numbers that are right, each number in its plain forms; those within a tolerance by its decimals."""
    numbers = list(_numbers_of(answer))
    units = ["", f" {unit}"] if unit else [""]
    signs = (".", ",") if any(number % 1 for number in numbers) else (".",)
    texts = [(_plain(number, places), unit_) for (number, places), unit_ in product(_with_places(numbers), units)]
    found = [text.replace(".", sign) + unit_ for text, unit_ in texts for sign in (signs if "." in text else (".",))]
    return list(dict.fromkeys(found))[:MOST_FORMS]


def _places(number: float) -> int:
    text = f"{number:.10f}".rstrip("0")
    return len(text.partition(".")[2])


def _numbers_of(answer: NumericAnswer) -> Iterator[float]:
    """The value first, then what lies within the bounds, by steps of the last decimal that is told."""
    low, high = answer.bounds()
    if answer.value is not None:
        yield answer.value
    if low == high or float("inf") in (abs(low), abs(high)):
        return
    places = max(_places(bound) for bound in (low, high, answer.value or 0.0))
    step = 10.0**-places
    count = round((high - low) / step)
    if count > MOST_FORMS:
        return
    for number in (round(low + n * step, places) for n in range(count + 1)):
        if answer.holds(number) and number != answer.value:
            yield number


def _with_places(numbers: list[float]) -> Iterator[tuple[float, int]]:
    """Each number without zeros behind it, and with as many decimals as the others have."""
    most = max((_places(number) for number in numbers), default=0)
    for number in numbers:
        yield number, _places(number)
        if most > _places(number):
            yield number, most


def _plain(number: float, places: int) -> str:
    return f"{number:.{places}f}"


_MAKERS: dict[tuple[ItemType, ItemType], Callable[..., Item]] = {
    ("numeric", "fill_in"): _typed_number,
}

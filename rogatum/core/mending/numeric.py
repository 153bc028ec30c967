"""Numbers that arrived as text: made numeric with a tolerance, their units parted from them."""

from __future__ import annotations

from collections.abc import Callable, Sequence

from rogatum.core.items import FillIn, Item, Numeric, NumericAnswer
from rogatum.core.items.key import key_words
from rogatum.core.items.retyping import as_type
from rogatum.core.items.typed_numbers import doubtful_number
from rogatum.core.mending.numbers import Made, Subject
from rogatum.core.mending.wishes import PartUnits, ToNumeric


def to_numeric(wish: ToNumeric, _subjects: Sequence[Subject], unmet: list[str]) -> Callable[[Subject], Made | None]:
    def tolerant(answer: NumericAnswer) -> NumericAnswer:
        if answer.value is None or answer.tolerance or answer.figures is not None:
            return answer
        said = {"relative": wish.tolerance} if wish.relative else {"tolerance": wish.tolerance}
        return NumericAnswer(**answer.model_dump(exclude={"tolerance", "relative"}), **said)

    def step(subject: Subject) -> Made | None:
        made = _numeric(subject, unmet)
        if made is None:
            return None
        answers = [tolerant(answer) for answer in made.answers]
        item = made.model_copy(update={"answers": answers})
        return item, _typed(subject.item), _words(item)

    return step


def part_units(_wish: PartUnits, _subjects: Sequence[Subject], unmet: list[str]) -> Callable[[Subject], Made | None]:
    def step(subject: Subject) -> Made | None:
        made = _numeric(subject, unmet)
        return (made, _typed(subject.item), _words(made)) if made is not None and made.unit else None

    return step


def _numeric(subject: Subject, unmet: list[str]) -> Numeric | None:
    """A fill-in as a numeric item, where all that it accepts is a number and nothing of it is lost."""
    if not isinstance(subject.item, FillIn) or not subject.item.answers:
        return None
    doubtful = next((part for answer in subject.item.answers if (part := doubtful_number(answer.text))), None)
    if doubtful is not None:
        unmet.append(f"Item {subject.position}: “{doubtful}” may be thousands or a fraction; set it by hand.")
        return None
    made = as_type(subject.item, "numeric")
    return made.item if isinstance(made.item, Numeric) and made.item.answers and not made.goes else None


def _typed(item: Item) -> str:
    return f"typed: {key_words(item)}"


def _words(item: Numeric) -> str:
    return f"number: {key_words(item)}" + (f", in {item.unit}" if item.unit else "")

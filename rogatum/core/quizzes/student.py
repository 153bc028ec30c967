"""An item as a student sees it: without its key, with choices shuffled by the seed."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any, Literal

from pydantic import BaseModel, Field

from rogatum.core.items import (
    Choice,
    Cloze,
    Item,
    Matching,
    MultipleChoice,
    MultipleResponse,
    Numeric,
    Ordering,
)
from rogatum.core.items.by_type import ByBlank, ByType
from rogatum.core.quizzes.draws import shuffled
from rogatum.core.quizzes.marking import rights

AnswerForm = Literal["one", "several", "truth", "text", "number", "blanks", "pairs", "order", "long", "none"]


class Option(BaseModel):
    id: str
    content: str


class BlankForm(BaseModel):
    id: str
    options: list[Option] = Field(default_factory=list)


class StudentItem(BaseModel):
    """What is shown and how it is answered. `lefts` and `options` are the two sides of a matching."""

    id: str
    form: AnswerForm
    stem: str
    stimulus: str | None = None
    points: float
    options: list[Option] = Field(default_factory=list)
    lefts: list[Option] = Field(default_factory=list)
    blanks: list[BlankForm] = Field(default_factory=list)
    unit: str | None = None


def student_item(item: Item, points: float, seed: str, shuffle: bool, stimulus: str | None = None) -> StudentItem:
    """The student's form of an item. An item's own `shuffle` of False keeps its choices in order."""
    form, show = _VIEWS.of(item)
    shown = StudentItem(id=item.id, form=form, stem=item.stem, stimulus=stimulus, points=points)
    show(item, shown, seed, shuffle)
    return shown


def _choices(item: MultipleChoice | MultipleResponse, shown: StudentItem, seed: str, shuffle: bool) -> None:
    shown.options = _options(item.choices)
    if shuffle and item.shuffle is not False:
        shown.options = _in_order(shown.options, seed)


def _pairs(item: Matching, shown: StudentItem, seed: str, _shuffle: bool) -> None:
    shown.lefts = [Option(id=str(n), content=pair.left) for n, pair in enumerate(item.pairs)]
    # Rights are always shuffled: their order would give the key away.
    shown.options = _in_order([Option(id=str(n), content=text) for n, text in enumerate(rights(item))], seed)


def _order(item: Ordering, shown: StudentItem, seed: str, _shuffle: bool) -> None:
    shown.options = _in_order([Option(id=str(n), content=text) for n, text in enumerate(item.sequence)], seed)


def _blanks(item: Cloze, shown: StudentItem, _seed: str, _shuffle: bool) -> None:
    shown.blanks = [BlankForm(id=blank.id, options=_OFFERED.of(blank)(blank)) for blank in item.blanks]


def _unit(item: Numeric, shown: StudentItem, _seed: str, _shuffle: bool) -> None:
    shown.unit = item.unit


def _stem_alone(_item: Item, _shown: StudentItem, _seed: str, _shuffle: bool) -> None:
    """Nothing is offered beside the stem."""


Show = Callable[[Any, StudentItem, str, bool], None]
_VIEWS: ByType[tuple[AnswerForm, Show]] = ByType(
    "how an item is answered, and what is offered for that",
    {
        "multiple_choice": ("one", _choices),
        "multiple_response": ("several", _choices),
        "true_false": ("truth", _stem_alone),
        "fill_in": ("text", _stem_alone),
        "numeric": ("number", _unit),
        "cloze": ("blanks", _blanks),
        "matching": ("pairs", _pairs),
        "ordering": ("order", _order),
        "essay": ("long", _stem_alone),
        "information": ("none", _stem_alone),
        "preserved": ("none", _stem_alone),
    },
)
_OFFERED: ByBlank[Callable[[Any], list[Option]]] = ByBlank(
    "what is offered for a blank",
    {"text": lambda _blank: [], "numeric": lambda _blank: [], "choice": lambda blank: _options(blank.choices)},
)


def _options(choices: list[Choice]) -> list[Option]:
    return [Option(id=choice.id, content=choice.content) for choice in choices]


def _in_order(options: list[Option], seed: str) -> list[Option]:
    by_id = {option.id: option for option in options}
    return [by_id[key] for key in shuffled(list(by_id), seed)]

"""An item as a student sees it: without its key, with choices shuffled by the seed."""

from __future__ import annotations

from typing import Literal

from pydantic import BaseModel, Field

from rogatum.core.items import (
    Choice,
    ChoiceBlank,
    Cloze,
    Item,
    Matching,
    MultipleChoice,
    MultipleResponse,
    Numeric,
    Ordering,
)
from rogatum.core.quizzes.draws import shuffled
from rogatum.core.quizzes.marking import rights

AnswerForm = Literal["one", "several", "truth", "text", "number", "blanks", "pairs", "order", "long", "none"]
_FORMS: dict[str, AnswerForm] = {
    "multiple_choice": "one",
    "multiple_response": "several",
    "true_false": "truth",
    "fill_in": "text",
    "numeric": "number",
    "cloze": "blanks",
    "matching": "pairs",
    "ordering": "order",
    "essay": "long",
    "information": "none",
    "preserved": "none",
}


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
    shown = StudentItem(id=item.id, form=_FORMS[item.type], stem=item.stem, stimulus=stimulus, points=points)
    if isinstance(item, MultipleChoice | MultipleResponse):
        shown.options = _options(item.choices)
        if shuffle and item.shuffle is not False:
            shown.options = _in_order(shown.options, seed)
    elif isinstance(item, Matching):
        shown.lefts = [Option(id=str(n), content=pair.left) for n, pair in enumerate(item.pairs)]
        # Rights are always shuffled: their order would give the key away.
        shown.options = _in_order([Option(id=str(n), content=text) for n, text in enumerate(rights(item))], seed)
    elif isinstance(item, Ordering):
        entries = [Option(id=str(n), content=text) for n, text in enumerate(item.sequence)]
        shown.options = _in_order(entries, seed)
    elif isinstance(item, Cloze):
        shown.blanks = [BlankForm(id=b.id, options=_options(b.choices) if isinstance(b, ChoiceBlank) else []) for b in item.blanks]
    elif isinstance(item, Numeric):
        shown.unit = item.unit
    return shown


def _options(choices: list[Choice]) -> list[Option]:
    return [Option(id=choice.id, content=choice.content) for choice in choices]


def _in_order(options: list[Option], seed: str) -> list[Option]:
    by_id = {option.id: option for option in options}
    return [by_id[key] for key in shuffled(list(by_id), seed)]

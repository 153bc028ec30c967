"""An item as a student sees it: without its key, with choices shuffled by the seed."""

from __future__ import annotations

from pydantic import BaseModel, Field

from rogatum.core.items import Item, parts
from rogatum.core.items.parts import AnswerForm
from rogatum.core.quizzes.draws import shuffled


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
    shown = parts.offered(item)
    mixed = shuffle if shown.mixed is None else shown.mixed
    options = _options(shown.options)
    return StudentItem(
        id=item.id,
        form=parts.TRAITS.of(item).form,
        stem=item.stem,
        stimulus=stimulus,
        points=points,
        options=_in_order(options, seed) if mixed else options,
        lefts=_options(shown.lefts),
        blanks=[BlankForm(id=blank, options=_options(given)) for blank, given in shown.blanks.items()],
        unit=shown.unit,
    )


def _options(given: list[tuple[str, str]]) -> list[Option]:
    return [Option(id=key, content=content) for key, content in given]


def _in_order(options: list[Option], seed: str) -> list[Option]:
    by_id = {option.id: option for option in options}
    return [by_id[key] for key in shuffled(list(by_id), seed)]

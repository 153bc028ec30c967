"""Changes that are asked of many items at once: what each of them would be, or why it stays as it is."""

from __future__ import annotations

from collections import Counter
from collections.abc import Callable, Iterable
from dataclasses import dataclass, field
from typing import Annotated, Any, Literal

from pydantic import BaseModel, Field, StringConstraints

from rogatum.core.content_mark import Content
from rogatum.core.errors import NoSuchType
from rogatum.core.fidelity import marks_of
from rogatum.core.items import Item, ItemType
from rogatum.core.items.content import plain_text
from rogatum.core.items.model import FeedbackKind
from rogatum.core.items.parts import feedback as all_feedback
from rogatum.core.items.parts import is_question
from rogatum.core.items.retyping import as_type
from rogatum.core.items.type_words import TYPE_LABELS

Worth = Annotated[float, Field(ge=0, le=10_000, allow_inf_nan=False)]
Label = Annotated[str, StringConstraints(min_length=1, max_length=60, strip_whitespace=True)]
Value = Annotated[str, StringConstraints(min_length=1, max_length=300, strip_whitespace=True)]
How = Literal["add", "remove", "replace"]
SHOWN = 5


class SetPoints(BaseModel):
    """All are worth the same."""

    kind: Literal["points"] = "points"
    points: Worth


class MultiplyPoints(BaseModel):
    """Each is worth so many times what it was; what has no points keeps none."""

    kind: Literal["points-times"] = "points-times"
    factor: Annotated[float, Field(gt=0, le=10_000, allow_inf_nan=False)]


class PointsByType(BaseModel):
    """What each type is worth; types that are not named stay."""

    kind: Literal["points-by-type"] = "points-by-type"
    table: dict[ItemType, Worth]


class SetMetadata(BaseModel):
    """Values of one label: added to those that are there, taken away, or put in their place. Replaced by none, they go."""

    kind: Literal["metadata"] = "metadata"
    label: Label
    how: How
    values: Annotated[list[Value], Field(max_length=50)]


class SetShuffle(BaseModel):
    """Whether the choices may be put into another order; null leaves it to the quiz."""

    kind: Literal["shuffle"] = "shuffle"
    shuffle: bool | None


class SetType(BaseModel):
    """Another type, where the item can be one."""

    kind: Literal["type"] = "type"
    type: ItemType


class SetFeedback(BaseModel):
    """Feedback of one kind: put in the place of what is there, added behind it, or taken away."""

    kind: Literal["feedback"] = "feedback"
    slot: FeedbackKind
    how: How
    content: Content = ""


ChangeOfMany = Annotated[
    SetPoints | MultiplyPoints | PointsByType | SetMetadata | SetShuffle | SetType | SetFeedback, Field(discriminator="kind")
]


@dataclass(frozen=True)
class Stays:
    """Why an item cannot be changed so."""

    why: str


@dataclass(frozen=True)
class Becomes:
    """An item as it would be; `goes` says what of it would be lost, `marks` in what it would be marked otherwise."""

    item: Item
    goes: tuple[str, ...] = ()
    marks: str = ""


Outcome = Becomes | Stays


def changed(item: Item, change: ChangeOfMany) -> Outcome:
    """What a change makes of one item; the same item where it is so already."""
    return _STEPS[change.kind](item, change)


def _worth(item: Item, points: float) -> Outcome:
    if not is_question(item):
        return Stays("Information has no points.")
    return Becomes(item.model_copy(update={"points": points}))


def _multiplied(item: Item, change: MultiplyPoints) -> Outcome:
    if item.points is None:
        return Stays("It has no points to multiply.")
    return _worth(item, min(10_000.0, round(item.points * change.factor, 6)))


def _by_type(item: Item, change: PointsByType) -> Outcome:
    return _worth(item, change.table[item.type]) if item.type in change.table else Becomes(item)


def _metadata(item: Item, change: SetMetadata) -> Outcome:
    there = item.metadata.get(change.label, [])
    made = {
        "add": [*there, *(value for value in change.values if value not in there)],
        "remove": [value for value in there if value not in change.values],
        "replace": list(dict.fromkeys(change.values)),
    }[change.how]
    others = {label: values for label, values in item.metadata.items() if label != change.label}
    if made == there:
        return Becomes(item)
    return Becomes(item.model_copy(update={"metadata": others | ({change.label: made} if made else {})}))


def _shuffled(item: Item, change: SetShuffle) -> Outcome:
    if "shuffle" not in type(item).model_fields:
        return Stays(f"{TYPE_LABELS[item.type].capitalize()} has nothing to shuffle.")
    return Becomes(item.model_copy(update={"shuffle": change.shuffle}))


def _typed(item: Item, change: SetType) -> Outcome:
    if item.type == change.type:
        return Becomes(item)
    if item.type == "preserved":
        return Stays("It is kept as its source has it.")
    try:
        made = as_type(item, change.type)
    except NoSuchType as refused:
        return Stays(str(refused))
    return Becomes(made.item, tuple(made.goes), marks_of(item, made.item).code)


def _fed_back(item: Item, change: SetFeedback) -> Outcome:
    there = item.feedback.get(change.slot, "")
    made = {"add": _behind(there, change.content), "remove": ""}.get(change.how, change.content)
    others = {slot: text for slot, text in item.feedback.items() if slot != change.slot}
    return Becomes(item.model_copy(update={"feedback": others | ({change.slot: made} if made else {})}))


def _behind(there: str, content: str) -> str:
    """Content behind other content: on a line of its own, which a paragraph has already."""
    parted = there.endswith("</p>") or content.startswith("<p>")
    return f"{there}{'' if parted or not (there and content) else '<br/>'}{content}"


_STEPS: dict[str, Callable[[Item, Any], Outcome]] = {
    "points": lambda item, change: _worth(item, change.points),
    "points-times": _multiplied,
    "points-by-type": _by_type,
    "metadata": _metadata,
    "shuffle": _shuffled,
    "type": _typed,
    "feedback": _fed_back,
}


class Count(BaseModel):
    """Something that is said of so many items."""

    what: str
    count: int


class Example(BaseModel):
    """An item by its key and its first words, with what reads differently."""

    item: int
    text: str
    before: str
    after: str


@dataclass
class Tally:
    """What a change does to many items: how many become others, how many are so already, why the rest stays, what would go.

    `marks` counts the items that would be marked otherwise, by how.
    """

    changes: int = 0
    same: int = 0
    stays: Counter[str] = field(default_factory=Counter)
    goes: Counter[str] = field(default_factory=Counter)
    marks: Counter[str] = field(default_factory=Counter)
    examples: list[Example] = field(default_factory=list)

    def add(self, key: int, before: Item, outcome: Outcome, change: ChangeOfMany) -> None:
        if isinstance(outcome, Stays):
            self.stays[outcome.why] += 1
        elif outcome.item == before:
            self.same += 1
        else:
            self.changes += 1
            self.goes.update(outcome.goes)
            self.marks.update([outcome.marks] if outcome.marks else [])
            if len(self.examples) < SHOWN:
                self.examples.append(_example(key, before, outcome.item, change))


def _example(key: int, before: Item, after: Item, change: ChangeOfMany) -> Example:
    text = plain_text(before.stem)[:120]
    return Example(item=key, text=text, before=_shown(before, change), after=_shown(after, change))


def tally_of(items: Iterable[tuple[int, Item]], change: ChangeOfMany) -> Tally:
    """What a change would do to items, given by their keys."""
    tally = Tally()
    for key, item in items:
        tally.add(key, item, changed(item, change), change)
    return tally


def counts(told: Counter[str]) -> list[Count]:
    return [Count(what=what, count=count) for what, count in told.most_common()]


def _points_shown(item: Item, _change: ChangeOfMany) -> str:
    return "no points" if item.points is None else f"{item.points:g} {'point' if item.points == 1 else 'points'}"


_SHUFFLED = {True: "shuffled", False: "in this order", None: "as the quiz says"}
_SHOWN: dict[str, Callable[[Item, Any], str]] = {
    "points": _points_shown,
    "points-times": _points_shown,
    "points-by-type": _points_shown,
    "metadata": lambda item, change: ", ".join(item.metadata.get(change.label, [])) or "none",
    "shuffle": lambda item, _change: _SHUFFLED[getattr(item, "shuffle", None)],
    "type": lambda item, _change: TYPE_LABELS[item.type],
    "feedback": lambda item, change: all_feedback(item).get(change.slot, "") or "none",
}


def _shown(item: Item, change: ChangeOfMany) -> str:
    return _SHOWN[change.kind](item, change)


_DID: dict[str, Callable[[Any], str]] = {
    "points": lambda change: f"Set points to {change.points:g}",
    "points-times": lambda change: f"Multiplied points by {change.factor:g}",
    "points-by-type": lambda _change: "Set points by type",
    "metadata": lambda change: f"{ {'add': 'Added to', 'remove': 'Took from', 'replace': 'Set'}[change.how] } {change.label}",
    "shuffle": lambda change: f"Set the choices to be {_SHUFFLED[change.shuffle]}",
    "type": lambda change: f"Made {TYPE_LABELS[change.type]}",
    "feedback": lambda change: f"{ {'add': 'Added', 'remove': 'Took away', 'replace': 'Set'}[change.how] } feedback",
}


def change_words(change: ChangeOfMany) -> str:
    """What was done, for the history."""
    return _DID[change.kind](change)

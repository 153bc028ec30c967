"""Decisions of one key: what a person sets on an item at a stroke, its key, points, type, an outcome, or that it is for paper."""

from __future__ import annotations

from collections.abc import Callable
from typing import Annotated, Any, Literal

from pydantic import BaseModel, Field

from rogatum.core.errors import NoSuchKey
from rogatum.core.items.by_type import ByType
from rogatum.core.items.key import set_key
from rogatum.core.items.metadata import ON_PAPER
from rogatum.core.items.model import ChoiceItem, Item, ItemType, TrueFalse
from rogatum.core.items.parts import TRAITS
from rogatum.core.items.retyping import as_type

Truth = Literal["true", "false"]


class KeyDecision(BaseModel):
    """Marks a choice as the key, by its position from 1 (true and false are 1 and 2); one that is marked so is unmarked."""

    kind: Literal["key"] = "key"
    choice: int = Field(ge=1, le=1000)


class PointsDecision(BaseModel):
    kind: Literal["points"] = "points"
    points: float | None = Field(ge=0, le=10_000, allow_inf_nan=False)


class TypeDecision(BaseModel):
    kind: Literal["type"] = "type"
    type: ItemType


class OutcomeDecision(BaseModel):
    """Aligns an item with an outcome, or no longer."""

    kind: Literal["outcome"] = "outcome"
    code: str = Field(min_length=1, max_length=300)


class PaperDecision(BaseModel):
    """Says that an item cannot be answered on a screen, or that it can."""

    kind: Literal["paper"] = "paper"


Decision = Annotated[
    KeyDecision | PointsDecision | TypeDecision | OutcomeDecision | PaperDecision,
    Field(discriminator="kind"),
]


def decide(item: Item, decision: Decision) -> Item:
    """The item after a decision. Raises NoSuchKey for a choice, NoSuchType for a type that it cannot have."""
    if isinstance(decision, KeyDecision):
        return toggle_key(item, decision.choice)
    if isinstance(decision, PointsDecision):
        return item.model_copy(update={"points": decision.points})
    if isinstance(decision, TypeDecision):
        return as_type(item, decision.type).item
    if isinstance(decision, OutcomeDecision):
        return with_toggled(item, "outcome", decision.code)
    return with_toggled(item, *ON_PAPER)


def decision_words(decision: Decision) -> str:
    """What was decided, for the history."""
    if isinstance(decision, KeyDecision):
        return "Set the key"
    if isinstance(decision, PointsDecision):
        return "Took the points off" if decision.points is None else f"Set points to {decision.points:g}"
    if isinstance(decision, TypeDecision):
        return f"Made it {TRAITS[decision.type].label}"
    return f"Set outcome {decision.code}" if isinstance(decision, OutcomeDecision) else "Said where it is answered"


def is_on_paper(item: Item) -> bool:
    """Whether it was said that an item is not for a screen."""
    label, value = ON_PAPER
    return value in item.metadata.get(label, [])


def with_toggled(item: Item, label: str, value: str) -> Item:
    """The item with a value of its metadata there, or no longer."""
    held = item.metadata.get(label, [])
    values = [entry for entry in held if entry != value] if value in held else [*held, value]
    metadata = {name: entries for name, entries in item.metadata.items() if name != label} | ({label: values} if values else {})
    return item.model_copy(update={"metadata": metadata})


def toggle_key(item: Item, choice: int) -> Item:
    """The item with a choice as its key: the only one of a single choice, one more of several; unmarked where it is that."""
    return set_key(item, _TOGGLED.of(item)(item, choice))


def _one(item: ChoiceItem, choice: int) -> list[str]:
    picked = _id(item, choice)
    return [] if _right(item) == [picked] else [picked]


def _several(item: ChoiceItem, choice: int) -> list[str]:
    picked, right = _id(item, choice), _right(item)
    return [each.id for each in item.choices if (each.id in right) != (each.id == picked)]


def _right(item: ChoiceItem) -> list[str]:
    """The choices that are the key: of a single choice those that earn everything."""
    least = 0.999 if item.type == "multiple_choice" else 0
    return [choice.id for choice in item.choices if choice.weight > least]


def _truth(item: TrueFalse, choice: int) -> list[str]:
    if choice > 2:
        raise NoSuchKey("A statement is true or false.")
    return [] if item.answer is (choice == 1) else ["true" if choice == 1 else "false"]


def _id(item: ChoiceItem, choice: int) -> str:
    if choice > len(item.choices):
        raise NoSuchKey(f"The item has no choice {choice}.")
    return item.choices[choice - 1].id


def _typed(_item: Item, _choice: int) -> list[str]:
    raise NoSuchKey("The key of this type is typed, not picked.")


_TOGGLED: ByType[Callable[[Any, int], list[str]]] = ByType(
    "what is right after a choice was marked or unmarked",
    {
        "multiple_choice": _one,
        "multiple_response": _several,
        "true_false": _truth,
        "fill_in": _typed,
        "numeric": _typed,
        "cloze": _typed,
        "matching": _typed,
        "ordering": _typed,
        "essay": _typed,
        "information": _typed,
        "preserved": _typed,
    },
)

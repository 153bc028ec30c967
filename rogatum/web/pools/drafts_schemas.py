"""What goes in and out of the API of an item while it is being edited."""

from __future__ import annotations

from typing import Annotated

from ninja import Field, Schema

from rogatum.core.items import Item as CoreItem
from rogatum.core.items import ItemType, Matching, NumericAnswer
from rogatum.core.items.model import Blank
from rogatum.core.items.retyping import BlankKind
from rogatum.web.bounds import In, Name


class KeyIn(In):
    """An item as it is being edited, and what is right in it: ids of choices, "true" or "false", indices of an order."""

    item: CoreItem
    right: Annotated[list[Name], Field(max_length=2000)]


class KeyOut(Schema):
    item: CoreItem


class ItemBodyIn(In):
    item: CoreItem


class SharesIn(In):
    """A matching as it is being edited, and whether each of its pairs is to earn a share of its own."""

    item: Matching
    own: bool


class BlankIn(In):
    """A blank of a cloze as it is being edited, and the kind that it is to be of."""

    blank: Blank
    kind: BlankKind


class BlankOut(Schema):
    blank: Blank


class NumberBody(In):
    """A number that is accepted, as it is being edited or as it was turned."""

    answer: NumericAnswer


class RetypeIn(In):
    item: CoreItem
    type: ItemType


class RetypedOut(Schema):
    """An item as another type, with what of it stays and what goes, in words; `marks` says where it is marked otherwise."""

    item: CoreItem
    stays: list[str]
    goes: list[str]
    marks: str


class LengthsOut(Schema):
    """Characters of plain text: of the stem, and of each option that a student chooses from."""

    stem: int
    options: list[int]

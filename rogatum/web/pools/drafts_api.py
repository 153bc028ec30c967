"""An item while it is being edited: what the core makes of it. Nothing is stored."""

from __future__ import annotations

from django.http import HttpRequest
from ninja import Router

from rogatum.core.fidelity.marks import otherwise
from rogatum.core.items import Cloze
from rogatum.core.items.changes import with_blanks_of_stem, with_shares
from rogatum.core.items.coarser import lengths
from rogatum.core.items.key import set_key
from rogatum.core.items.number_forms import turned
from rogatum.core.items.retyping import as_type, blank_as
from rogatum.web.pools.drafts_schemas import (
    BlankIn,
    BlankOut,
    ItemBodyIn,
    KeyIn,
    KeyOut,
    LengthsOut,
    NumberBody,
    RetypedOut,
    RetypeIn,
    SharesIn,
)

router = Router()


@router.post("/item-key", response=KeyOut, operation_id="items_set_key")
def set_item_key(request: HttpRequest, body: KeyIn) -> object:
    """An item that is being edited with another key; nothing is stored."""
    return KeyOut(item=set_key(body.item, body.right))


@router.post("/item-type", response=RetypedOut, operation_id="items_set_type")
def set_item_type(request: HttpRequest, body: RetypeIn) -> object:
    """An item that is being edited as another type, with what stays and what goes; nothing is stored."""
    made = as_type(body.item, body.type)
    return RetypedOut(item=made.item, stays=made.stays, goes=made.goes, marks=otherwise(body.item, made.item))


@router.post("/item-lengths", response=LengthsOut, operation_id="items_count_lengths")
def count_lengths(request: HttpRequest, body: ItemBodyIn) -> object:
    """The characters that an item which is being edited has, as limits count them."""
    stem, options = lengths(body.item)
    return LengthsOut(stem=stem, options=options)


@router.post("/item-blanks", response=KeyOut, operation_id="items_set_blanks")
def set_item_blanks(request: HttpRequest, body: ItemBodyIn) -> object:
    """A cloze that is being edited with the blanks that its stem has; another type as it is. Nothing is stored."""
    return KeyOut(item=with_blanks_of_stem(body.item) if isinstance(body.item, Cloze) else body.item)


@router.post("/item-blank", response=BlankOut, operation_id="items_set_blank_kind")
def set_blank_kind(request: HttpRequest, body: BlankIn) -> object:
    """A blank that is being edited as another kind; nothing is stored."""
    return BlankOut(blank=blank_as(body.blank, body.kind))


@router.post("/item-shares", response=KeyOut, operation_id="items_set_shares")
def set_item_shares(request: HttpRequest, body: SharesIn) -> object:
    """A matching that is being edited with shares of its pairs, or none; nothing is stored."""
    return KeyOut(item=with_shares(body.item, body.own))


@router.post("/item-number", response=NumberBody, operation_id="items_turn_number")
def turn_number(request: HttpRequest, body: NumberBody) -> object:
    """A number that is accepted as a range where it was a value, and the other way round; nothing is stored."""
    return NumberBody(answer=turned(body.answer))

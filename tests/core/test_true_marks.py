"""What is made of an item, whatever makes it: it is marked as before, or it says that it is not."""

from __future__ import annotations

from typing import get_args

import pytest
from hypothesis import given, settings

from rogatum.core.errors import NoSuchType
from rogatum.core.fidelity import compare, marks_of
from rogatum.core.formats.shared.base import EVERYTHING
from rogatum.core.items import (
    Bank,
    Choice,
    Item,
    ItemType,
    Matching,
    MultipleResponse,
    Numeric,
    NumericAnswer,
    Ordering,
    Pair,
    parts,
)
from rogatum.core.items.retyping import as_type
from rogatum.core.pools.changing import Becomes, SetType, changed
from rogatum.core.receivers.forecast import forecast, types_taken
from rogatum.core.receivers.repairs import FORMULAS, PICTURES, SHORTEN, offers_for, repaired
from rogatum.core.receivers.shipped import shipped_sheet, shipped_sheets
from rogatum.core.receivers.turning import turn
from tests.core.every_facet import every_facet
from tests.core.strategies import banks

TYPES = [name for name in get_args(ItemType) if name != "preserved"]


def ledger_of(before: Item, after: Item):
    return compare(Bank(items=[before]), Bank(items=[after]), partners={before.id: after.id}).items[0]


def says_what_is_so(before: Item, after: Item) -> None:
    """Where marks are called alike, the ledger finds them alike, and no key is gone or made up."""
    marks, entry = marks_of(before, after), ledger_of(before, after)
    if marks.alike:
        assert entry.facets["marking"] == "same" and parts.has_key(before) == parts.has_key(after)
        assert parts.is_question(before) == parts.is_question(after)
    else:
        assert marks.words and marks.code


@settings(max_examples=30)
@given(bank=banks(EVERYTHING))
def test_every_change_of_type_marks_alike_or_says_so(bank):
    for item in bank.items:
        for wanted in TYPES:
            for make in (turn, as_type):
                try:
                    made = make(item, wanted).item
                except NoSuchType:
                    continue
                says_what_is_so(item, made)
            told = changed(item, SetType(type=wanted))
            if isinstance(told, Becomes) and not marks_of(item, told.item).alike:
                assert told.marks, (item.type, wanted)


@pytest.mark.parametrize("name", [entry.name for entry in shipped_sheets()])
def test_a_repair_for_a_receiver_leaves_every_item_marked_as_it_was(name):
    """What would not is no repair; it says what differs."""
    bank, sheet = every_facet(), shipped_sheet(name)
    for format_name in sheet.format_names():
        taken = types_taken(sheet, format_name)
        for item, told in zip(bank.items, forecast(bank, sheet, format_name).items, strict=True):
            for offer in offers_for(item, told, sheet, taken):
                if offer.name in (SHORTEN, FORMULAS, PICTURES):
                    continue
                after = repaired(item, offer.name, sheet)
                says_what_is_so(item, after)
                assert offer.is_repair == marks_of(item, after).alike
                assert offer.is_repair or (offer.marks and offer.marks.words)


PAIRS = Matching(id="m", stem="Match.", points=2, pairs=[Pair(left="sand", right="coarse"), Pair(left="clay", right="fine")])
TWO = MultipleResponse(
    id="r",
    stem="Which?",
    choices=[
        Choice(id=f"c{n}", content=text, weight=weight)
        for n, (text, weight) in enumerate([("sand", 0.5), ("silt", 0), ("clay", 0.5)])
    ],
)


def test_a_type_that_takes_the_key_with_it_is_no_repair():
    """The two items of a live board: pairs become choices without a key, two keys become one."""
    board = shipped_sheet("live-board")
    bank = Bank(title="Soils", items=[PAIRS, TWO])
    told = forecast(bank, board, "sheet").items
    offers = [offers_for(item, said, board, types_taken(board, "sheet")) for item, said in zip(bank.items, told, strict=True)]
    assert [[offer.is_repair for offer in of_item] for of_item in offers] == [[False], [False]]
    assert offers[0][0].marks.code == "no key" and "earns 0 % and 100 % then" in offers[1][0].marks.words


def test_types_that_can_mark_alike_do():
    for item, wanted in (
        (PAIRS, "cloze"),
        (PAIRS.model_copy(update={"scoring": "all_or_nothing"}), "cloze"),
        (Ordering(id="o", stem="?", sequence=["rock", "grus", "sand"], scoring="per_part"), "matching"),
        (Numeric(id="n", stem="?", answers=[NumericAnswer(value=2.5, tolerance=0.1)]), "cloze"),
        (Numeric(id="n", stem="?", answers=[NumericAnswer(value=7, tolerance=0)], unit="g"), "cloze"),
    ):
        assert turn(item, wanted).marks.alike, (item.type, wanted)
    assert turn(as_type(PAIRS, "cloze").item, "matching").marks.alike

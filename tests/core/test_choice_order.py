"""Whether choices may be shuffled: not set is not the same as no, in every format, in the ledger, and in a quiz."""

from __future__ import annotations

from datetime import UTC

import pytest
from hypothesis import given
from hypothesis import strategies as st

from rogatum.core.exporting import export_bank
from rogatum.core.fidelity import compare
from rogatum.core.formats import format_named, writable_formats
from rogatum.core.items import Bank, Choice, Item, Matching, MultipleChoice, Pair
from rogatum.core.quizzes.catalogue import catalogue_of
from rogatum.core.quizzes.model import Part, Quiz, Settings
from rogatum.core.quizzes.second_look import second_look
from rogatum.core.quizzes.telling import in_words
from rogatum.core.sources import MediaBox

SAID = (None, True, False)


def item(name: str, shuffle: bool | None, kind: str = "choice") -> Item:
    if kind == "pairs":
        pairs = [Pair(left="O", right="litter"), Pair(left="A", right="humus")]
        return Matching(id=name, stem=f"Match {name}.", points=1, pairs=pairs, shuffle=shuffle)
    choices = [Choice(id=f"c{n}", content=text, weight=float(n == 1)) for n, text in enumerate(("sand", "silt", "clay"))]
    return MultipleChoice(id=name, stem=f"Which is {name}?", points=1, choices=choices, shuffle=shuffle)


@pytest.mark.parametrize("entry", [entry for entry in writable_formats() if entry.read], ids=lambda entry: entry.name)
@pytest.mark.parametrize("kind", ["choice", "pairs"])
def test_no_format_makes_yes_or_no_of_what_is_not_set_without_a_word(entry, kind):
    bank = Bank(title="Soils", items=[item(f"i{n}", said, kind) for n, said in enumerate(SAID)])
    if bank.items[0].type not in entry.carries.types:
        return
    export = export_bank(bank, MediaBox(), entry.name)
    there = {row.a: row for row in export.ledger.items}
    arrived = {found.id: found for found in export.read_back.items}
    for meant in bank.items:
        row = there[meant.id]
        if getattr(arrived[row.b], "shuffle", None) != meant.shuffle:
            assert row.facets["choices"] != "same" and any(note.code.startswith("shuffling-") for note in row.notes)
        elif entry.carries.choice_order:
            assert row.facets["choices"] == "same"


@given(a=st.sampled_from(SAID), b=st.sampled_from(SAID))
def test_the_ledger_tells_every_difference_of_order(a, b):
    entry = compare(Bank(items=[item("i", a)]), Bank(items=[item("i", b)])).items[0]
    expected = "same" if a == b else "added" if a is None else "lost" if b is None else "changed"
    assert entry.facets["choices"] == expected


def quiz(shuffled: bool | None) -> Bank:
    items = [item(f"i{n}", said) for n, said in enumerate((None, True, False, False))]
    part = Part(items=[entry.id for entry in items])
    return Bank(title="Soils", items=items, quizzes=[Quiz(id="q", parts=[part], settings=Settings(shuffle_choices=shuffled))])


def test_where_only_items_say_it_they_say_what_their_quiz_does():
    for name in ("qti-2.1", "qti-3.0", "qti-1.2"):
        assert "shuffle_choices" not in format_named(name).carries.settings
        arrived = export_bank(quiz(True), MediaBox(), name).read_back.items
        assert [entry.shuffle for entry in arrived] == [True, True, False, False]


@pytest.mark.parametrize(
    ("shuffled", "count"), [(True, "2 items of this quiz keep"), (False, "1 item of this quiz shuffles"), (None, "")]
)
def test_a_quiz_says_how_many_of_its_items_set_the_order_themselves(shuffled, count):
    bank = quiz(shuffled)
    catalogue = catalogue_of(bank)
    told = [doubt.fact for doubt in second_look(bank.quizzes[0], catalogue, UTC) if doubt.setting == "shuffle_choices"]
    assert [fact.startswith(count) for fact in told] == ([True] if count else [])
    said = [sentence for told in in_words(bank.quizzes[0], catalogue, UTC) for sentence in told.sentences]
    assert any("the items set that themselves" in sentence for sentence in said) == bool(count)

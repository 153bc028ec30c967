"""An item's markup as its parts: in reading order, each with its lines, and what nothing claimed stands out."""

from __future__ import annotations

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from rogatum.core.exporting import export_bank
from rogatum.core.formats import format_named
from rogatum.core.formats.shared.source_parts import ORDER, SourcePart, parts_of
from rogatum.core.items import Bank, Choice, FillIn, MultipleChoice, TextAnswer
from rogatum.core.items.content import plain_text
from rogatum.core.items.key import marks_in_words
from rogatum.core.receiving import read_source
from rogatum.core.sources import MediaBox

QTI_1 = format_named("qti-1.2").outline
FORMATS = ["qti-1.2", "qti-2.1", "qti-2.2", "qti-3.0", "common-cartridge"]
ITEM = MultipleChoice(
    id="i1",
    title="Texture",
    stem="Which is the <strong>finest</strong> part?",
    points=1,
    feedback={"correct": "Well seen."},
    choices=[
        Choice(id="a", content="sand", feedback="Too coarse."),
        Choice(id="b", content="clay", weight=1),
    ],
)


def shown(format_name: str, item) -> list[SourcePart]:
    """The parts of an item that was written in a format and read again."""
    written = export_bank(Bank(title="T", items=[item]), MediaBox(), format_name).written
    reading = read_source((f"t{written.suffix}", written.data))
    [place] = reading.bank.places.values()
    lines = [line.text for line in reading.view[place.first - 1 : place.last]]
    found = parts_of("\n".join(lines), format_named(format_name).outline)
    for part in found:
        assert all(1 <= first <= last <= len(lines) for first, last in part.spans)
    return found


@pytest.mark.parametrize("name", FORMATS)
def test_the_parts_stand_in_reading_order_with_what_they_became(name):
    found = shown(name, ITEM)
    assert [ORDER.index(part.kind) for part in found] == sorted(ORDER.index(part.kind) for part in found)
    by_field = {part.field: plain_text(part.content) for part in found}
    assert by_field["stem"] == "Which is the finest part?" and "marking" in by_field
    assert (by_field["choice:1"], by_field["choice:2"]) == ("sand", "clay")
    assert "Well seen." in {plain_text(part.content) for part in found if part.kind == "feedback"}


@pytest.mark.parametrize("name", FORMATS[:4])
def test_a_place_to_type_in_is_no_choice(name):
    found = shown(name, FillIn(id="f", stem="The finest part is ____.", points=1, answers=[TextAnswer(text="clay")]))
    assert "choice" not in {part.kind for part in found}


def test_what_nothing_claimed_stands_out_where_it_stands():
    markup = '<item ident="i">\n<presentation><material><mattext>Which?</mattext></material></presentation>\n<odd>Harrow Vale</odd>\n</item>'
    assert QTI_1 is not None
    found = parts_of(markup, QTI_1, ["Harrow Vale", "item level: 3"])
    assert [(part.content, part.spans, part.unclaimed) for part in found if part.kind == "rest"] == [
        ("Harrow Vale", [(3, 3)], True),
        ("item level: 3", [], True),
    ]


def test_pictures_are_named_and_nothing_of_the_source_runs():
    markup = "<item><presentation><material><mattext texttype='text/html'>&lt;img src='a/b.png' onerror='x()'&gt;&lt;script&gt;x()&lt;/script&gt;Which?</mattext></material></presentation></item>"
    assert QTI_1 is not None
    [part] = parts_of(markup, QTI_1)
    assert "[b.png]" in part.content and "script" not in part.content and "onerror" not in part.content


@settings(max_examples=60)
@given(st.text(max_size=300))
def test_whatever_stands_there_is_survived(text):
    assert QTI_1 is not None
    assert isinstance(parts_of(f"<item><presentation>{text}</presentation></item>", QTI_1, [text]), list)


def test_what_earns_what_in_words():
    item = MultipleChoice(
        id="i",
        choices=[Choice(id="a", content="x", weight=1), Choice(id="b", content="y", weight=-0.5), Choice(id="c", content="z")],
    )
    assert marks_in_words(item) == [("x", 1.0), ("y", -0.5)]
    assert marks_in_words(FillIn(id="f", answers=[TextAnswer(text="clay", weight=0.5)])) == [("“clay”", 0.5)]

"""A reading as pages to proof-read: numbers and places, keys where asked for, findings as footnotes; and rows and traits as they are shown."""

from __future__ import annotations

import io

import openpyxl
import pytest

from rogatum.core.checks.traits import traits_of
from rogatum.core.findings.keys import NO_KEY
from rogatum.core.formats.print.proof import write_proof
from rogatum.core.formats.sheet.plain import rows_of
from rogatum.core.items import Bank, Choice, Essay, MultipleChoice, Place, Stimulus
from rogatum.core.items.content import formula_from_tex
from rogatum.core.sources import MediaBox

CHOICES = [Choice(id="a", content="sand"), Choice(id="b", content="clay", weight=1)]


def bank(**more) -> Bank:
    made = Bank(title="Week 2: *Texture*", **more)
    made.items = [
        MultipleChoice(id="1", stem="Which is the finest?", choices=CHOICES),
        Essay(id="2", stem='Say "#import" and $x$.'),
    ]
    made.places = {"1": Place(where="line 3"), "2": Place(where="line 9")}
    made.findings = [NO_KEY.at("line 9", "2")]
    return made


@pytest.mark.parametrize("key", [True, False])
def test_a_proof_is_set_and_its_key_stands_only_where_asked_for(key):
    made = write_proof(bank(), MediaBox(), key)
    assert made.startswith(b"%PDF")
    assert made == write_proof(bank(), MediaBox(), key)
    assert made != write_proof(bank(), MediaBox(), not key)


def test_a_finding_and_a_passage_change_the_page():
    plain = bank()
    plain.findings = []
    assert write_proof(plain, MediaBox(), True) != write_proof(bank(), MediaBox(), True)
    shared = bank(stimuli=[Stimulus(id="s", content="Read this.")])
    shared.items[1] = shared.items[1].model_copy(update={"stimulus": "s"})
    assert write_proof(shared, MediaBox(), True) != write_proof(bank(), MediaBox(), True)


def test_a_proof_of_nothing_is_a_page():
    assert write_proof(Bank(), MediaBox(), True).startswith(b"%PDF")


def test_traits_are_what_is_in_an_item_wherever_it_stands():
    assert traits_of(Essay(id="i", stem="Why?")).has == []
    picture = MultipleChoice(id="i", stem="Which?", choices=[Choice(id="a", content='<img src="media/a.png" alt=""/>')])
    assert traits_of(picture).has == ["picture"]
    formula = Essay(id="i", stem=formula_from_tex("x^2"), feedback={"general": "See above."})
    assert traits_of(formula).has == ["formula", "feedback"]
    assert traits_of(Essay(id="i", stem="a < b and media/a.png")).has == []


def test_the_place_of_a_key_is_kept_with_the_traits():
    place = traits_of(MultipleChoice(id="i", stem="Which?", choices=CHOICES)).place()
    assert place is not None and (place.of, place.at, place.truth) == (2, 1, False)
    assert traits_of(Essay(id="i", stem="Why?")).place() is None


def workbook(rows: list[list[object]]) -> bytes:
    book, data = openpyxl.Workbook(), io.BytesIO()
    for row in rows:
        book.active.append(row)
    book.save(data)
    return data.getvalue()


ROWS = [["2.1", "Name the separates"], ["2.2", "Explain texture"]]


@pytest.mark.parametrize(
    ("name", "data"),
    [
        ("a.csv", b"2.1,Name  the separates\n,\n2.2,Explain texture\n"),
        ("a.tsv", b"2.1\tName the separates\n\n2.2\tExplain texture\n"),
        ("a.xlsx", workbook([["2.1", "Name the separates"], [None, None], ["2.2", " Explain texture "]])),
    ],
)
def test_rows_of_a_sheet_come_without_empty_ones(name, data):
    assert rows_of(data, name) == ROWS

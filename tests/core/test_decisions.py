"""Roles that a person gives to lines: what each does, and that it stays when other lines change."""

from __future__ import annotations

import pytest

from rogatum.core.receiving import read_source
from rogatum.core.sources import ReadOptions

TEXT = """1. Which particle is the smallest?
clay, the finest
a. sand
b. silt
* loam
B
2. Which soil holds the most water?
a. clay
b. sand
Answer: A
"""


def read(text, roles=None):
    return read_source(("test.txt", text.encode()), "marked-text", options=ReadOptions(roles=roles or {}))


def named(text, **said):
    """The roles that are said of lines by their numbers, by the lines' names."""
    names = {f"line_{line.number}": line.name for line in read(text).view}
    return {names[line]: role for line, role in said.items()}


def stems(reading):
    return [item.stem for item in reading.bank.items]


def test_each_role_does_what_it_says():
    found = read(TEXT, named(TEXT, line_5="choice", line_6="key")).bank.items[0]
    assert [choice.content for choice in found.choices] == ["sand", "silt", "loam"]
    aside = read(TEXT, named(TEXT, line_2="aside")).bank.items[0]
    assert aside.stem == "Which particle is the smallest?"
    begun = read(TEXT, named(TEXT, line_2="stem"))
    assert stems(begun)[1] == "clay, the finest" and len(begun.bank.items) == 3
    headed = read(TEXT, named(TEXT, line_7="heading"))
    assert len(headed.bank.items) == 1
    assert {line.number: line.role for line in headed.view}[7] == "heading"
    joined = read(TEXT, named(TEXT, line_7="more", line_8="aside", line_9="aside"))
    assert len(joined.bank.items) == 1


def test_a_key_by_hand_is_the_key():
    text = "1. Which particle is the smallest?\na. sand\nb. clay\nb\n"
    assert "no-key" in {finding.code for finding in read(text).bank.findings}
    keyed = read(text, named(text, line_4="key"))
    assert [choice.weight for choice in keyed.bank.items[0].choices] == [0, 1]


def test_a_decision_stays_when_other_lines_change():
    roles = named(TEXT, line_2="aside")
    longer = "# Soils\n\n" + TEXT.replace("smallest", "very smallest")
    assert stems(read(longer, roles))[0] == "Which particle is the very smallest?"
    doubled = TEXT.replace("a. clay", "clay, the finest\na. clay")
    assert stems(read(doubled, roles))[1].endswith("clay, the finest")


@pytest.mark.parametrize("role", ["choice", "key", "more"])
def test_what_cannot_be_is_told(role):
    text = "A stray line\n\n" + TEXT
    reading = read(text, named(text, line_1=role))
    assert {line.number: line.role for line in reading.view}[1] == "outside"
    assert any("stray" in left.text for left in reading.bank.accounting.unclaimed)

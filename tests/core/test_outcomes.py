"""A course's outcomes, as they are typed or pasted."""

from __future__ import annotations

import pytest

from rogatum.core.errors import NothingToMend
from rogatum.core.items.outcomes import MOST, outcomes_in


@pytest.mark.parametrize(
    ("line", "code", "text"),
    [
        ("2.1\tName the separates of a soil", "2.1", "Name the separates of a soil"),
        ("LO-2 | Explain texture", "LO-2", "Explain texture"),
        ("2.1 Name the separates", "2.1", "Name the separates"),
        ("2.1: Name the separates", "2.1", "Name the separates"),
        ("(2.1) Name the separates", "(2.1)", "Name the separates"),
        ("LO3 – Explain texture", "LO3", "Explain texture"),
        ("  texture  ", "texture", ""),
        ("explain texture", "explain texture", ""),
    ],
)
def test_a_line_is_a_code_and_its_text(line, code, text):
    [outcome] = outcomes_in(line)
    assert (outcome.code, outcome.text) == (code, text)


def test_a_list_keeps_its_order_and_its_empty_lines_say_nothing():
    assert [outcome.code for outcome in outcomes_in("2.2\tb\n\n   \n2.1\ta\n")] == ["2.2", "2.1"]


def test_a_code_that_stands_twice_is_said_not_guessed():
    with pytest.raises(NothingToMend, match=r"2\.1 stands twice"):
        outcomes_in("2.1\ta\n2.2\tb\n2.1\tc")


def test_more_than_a_course_holds_is_refused_and_a_full_one_is_not():
    lines = [f"{n}\ttext" for n in range(MOST + 1)]
    assert len(outcomes_in("\n".join(lines[:MOST]))) == MOST
    with pytest.raises(NothingToMend, match=str(MOST)):
        outcomes_in("\n".join(lines))

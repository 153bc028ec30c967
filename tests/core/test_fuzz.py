"""Mutants of a sample of every format, read without the net below the readers: a bank or a refusal, and nothing else. `make fuzz` tries more."""

from __future__ import annotations

import pytest

from tests.fuzz.run import fuzz
from tests.fuzz.samples import samples

# What pandoc takes apart costs a process each; those have a share of the mutants here, and all of them in `make fuzz`.
BY_PANDOC = ("docx", "odt", "rtf", "html", "markdown")


@pytest.mark.parametrize("name", samples())
def test_mutants_give_a_bank_or_a_refusal(name):
    tally = fuzz(name, samples()[name], 60 if name.startswith(BY_PANDOC) else 300, seed=7)
    assert not tally.faults
    assert tally.read and tally.read + tally.refused >= 60

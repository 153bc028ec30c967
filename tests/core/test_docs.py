"""The docs that are made from the code are current, and every finding says what to do."""

from __future__ import annotations

import re
from pathlib import Path

import pytest

from docs.make import HERE, PAGES
from rogatum.core.checks import REPAIRS
from rogatum.core.findings.catalogue import CATALOGUE


@pytest.mark.parametrize("name", PAGES)
def test_pages_made_from_the_code_are_current(name):
    assert (HERE / name).read_text() == PAGES[name](), "run: python -m docs.make"


@pytest.mark.parametrize("kind", CATALOGUE.values(), ids=lambda kind: kind.code)
def test_a_finding_has_its_way_out(kind):
    assert kind.fix and (kind.repair is None or kind.repair in REPAIRS)


def test_every_setting_is_in_the_guide():
    settings = (Path(HERE).parent / "rogatum/web/settings.py").read_text()
    guide = (HERE / "guide.md").read_text()
    assert not [name for name in re.findall(r'"(ROGATUM_\w+)"', settings) if name not in guide]

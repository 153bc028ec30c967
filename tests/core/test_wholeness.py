"""Which of two readings of one test arrived more whole."""

from __future__ import annotations

import json

from rogatum.cli import main
from rogatum.core.fidelity import compare_readings
from rogatum.core.findings.keys import NO_KEY
from rogatum.core.items import Bank, Choice, MultipleChoice

KEYED = """1. Which is the finest?
a. sand
*b. clay

2. Loam holds sand.
Answer: True
"""


def bank(weight: float = 1, **more: object) -> Bank:
    choices = [Choice(id="a", content="sand"), Choice(id="b", content="clay", weight=weight)]
    return Bank(items=[MultipleChoice(id="i", stem="Which?", choices=choices, **more)])


def test_what_has_its_key_and_feedback_is_more_whole():
    a, b = bank(feedback={"general": "Look closely."}), bank(weight=0, points=1)
    b.findings = [NO_KEY.at("", "i")]
    whole = compare_readings(a, b).whole
    assert whole is not None and whole.more == "a"
    told = {aspect.name: (aspect.a, aspect.b, aspect.more) for aspect in whole.aspects}
    assert told["items with a key"] == (1, 0, "a") and told["items"] == (1, 1, "even") and told["items with points"] == (0, 1, "b")
    assert compare_readings(a, a).whole.more == "even"


def test_the_command_line_tells_it(tmp_path, capsys):
    (tmp_path / "a.txt").write_text(KEYED)
    (tmp_path / "b.txt").write_text(KEYED.replace("*b", "b"))
    assert main(["compare", str(tmp_path / "a.txt"), str(tmp_path / "b.txt")]) == 1
    assert json.loads(capsys.readouterr().out)["whole"]["more"] == "a"

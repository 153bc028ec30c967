"""Which of two readings of one test arrived more whole."""

from __future__ import annotations

import json

import pytest

from rogatum.cli import main
from rogatum.core.fidelity import compare_readings
from rogatum.core.fidelity.wholeness import more_whole
from rogatum.core.findings.keys import NO_KEY
from rogatum.core.items import Bank, Choice, MultipleChoice
from rogatum.core.items.content import formula_from_tex

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


@pytest.mark.parametrize(
    ("name", "more"),
    [
        ("feedback texts", {"feedback": {"general": "Look closely."}}),
        ("items with points", {"points": 2}),
        ("outcomes and other metadata", {"metadata": {"outcome": ["2.1"]}}),
        ("pictures and sounds", {"stem": 'Which? <img src="media/core.png" alt=""/>'}),
        ("formulas", {"stem": f"Which {formula_from_tex('x^2')}?"}),
        ("pieces of formatting", {"stem": "Which is <strong>not</strong> so?"}),
    ],
)
def test_each_aspect_is_seen_from_both_sides(name, more):
    plain, rich = bank(), Bank(items=[bank().items[0].model_copy(update=more)])
    there, back = more_whole(rich, plain), more_whole(plain, rich)
    assert (there.more, back.more) == ("a", "b")
    [aspect] = [aspect for aspect in there.aspects if aspect.more != "even"]
    assert (aspect.name, aspect.a, aspect.b) == (name, 1, 0)


def test_a_lost_key_weighs_more_than_formatting_that_came_along():
    keyed, formatted = bank(), Bank(items=[bank(weight=0).items[0].model_copy(update={"stem": "<em>Which</em>?"})])
    assert more_whole(keyed, formatted).more == "a"


def test_nothing_is_as_whole_as_nothing():
    assert more_whole(Bank(), Bank()).model_dump() == {"more": "even", "aspects": []}

"""What content becomes on paper: the markup that is set, with pictures and formulas, and nothing of it read as commands."""

from __future__ import annotations

import re

import pytest

from rogatum.core.exporting import export_bank
from rogatum.core.formats.print.markup import escaped, markup, prepare_formulas
from rogatum.core.items import Bank, Choice, ChoiceBlank, Cloze, Essay, Information, MultipleChoice, Preserved, Stimulus
from rogatum.core.items.content import formula_from_tex
from rogatum.core.sources import MediaBox

PNG = bytes.fromhex(
    "89504e470d0a1a0a0000000d49484452000000010000000108060000001f15c4890000000d49444154789c6360606060000000050001"
    "a5f645400000000049454e44ae426082"
)


def shown(content: str, name: str = "") -> str:
    return re.sub(r"\s+", " ", markup(content, lambda _ref: name)).strip()


@pytest.mark.parametrize(
    ("content", "wanted"),
    [
        ("clay", "clay"),
        ("<p>one</p><p>two</p>", "one two"),
        ("<strong>not</strong>", "#strong[not]"),
        ("H<sub>2</sub>O", "H#sub[2]O"),
        ("one<br/>two", "one \\ two"),
        ("<ul><li>clay</li><li>sand</li></ul>", "- clay - sand"),
        ("<ol><li>clay</li></ol>", "+ clay"),
        ("<blockquote>said</blockquote>", "#quote(block: true)[said]"),
        ('<span data-blank="b1"></span>', "#blank()"),
        ("<code>a_b</code>", '#raw("a_b")'),
        ('<pre><code>if "x":\n  y</code></pre>', '#raw(block: true, "if \\"x\\":\\n y")'),
        ("<table><tr><th>Core</th><td>P</td></tr></table>", "#table(columns: 2, [Core], [P])"),
    ],
)
def test_markup(content, wanted):
    assert shown(content) == wanted


@pytest.mark.parametrize("sign", list("#$*_`<>@[]\\~"))
def test_signs_of_the_typesetter_are_letters(sign):
    assert escaped(f"a{sign}b") != f"a{sign}b"


def test_pictures_have_their_size_and_what_has_no_file_its_words():
    assert shown('<img src="media/p.png" alt="a pit" width="200"/>', "p1.png") == '#figure-of("p1.png", 150pt)'
    assert shown('<img src="media/p.png" alt="a pit" width="9000"/>', "p1.png") == '#figure-of("p1.png", 420pt)'
    assert shown('<img src="media/p.png" alt="a pit"/>') == "\\[a pit\\]"


def test_formulas_are_set_and_what_cannot_be_is_shown_as_tex():
    good, bad = formula_from_tex(r"\frac{1}{2}"), '<math xmlns="http://www.w3.org/1998/Math/MathML"><mi>x</mi></math>'
    prepare_formulas([f"half: {good}"])
    assert shown(good) == "$1 / 2$"
    assert "x" in shown(bad)


def test_all_that_paper_holds_is_set():
    media = MediaBox()
    ref = media.add_bytes("pit.png", PNG)
    stem = f'Look at #1: <img src="{ref}" alt="a pit"/> {formula_from_tex("x^2")} <em>$5</em>'
    blank = ChoiceBlank(id="b1", choices=[Choice(id="x", content="clay", weight=1), Choice(id="y", content="sand")], share=1)
    bank = Bank(
        title='Soils "2026" #1',
        stimuli=[Stimulus(id="s1", content="<p>Field notes</p>")],
        items=[
            MultipleChoice(id="m", stem=stem, stimulus="s1", points=1, choices=[Choice(id="a", content="[x]", weight=1)]),
            Cloze(id="c", stem='The finest is <span data-blank="b1"></span>.', blanks=[blank]),
            Essay(id="e", stem="Why?", sample_answer="Because.", rubric="Two reasons."),
            Information(id="n", stem="Turn the page."),
            Preserved(id="p", original="<x/>", reason="A slider."),
        ],
    )
    export = export_bank(bank, media, "pdf")
    assert export.written.data.startswith(b"%PDF")
    assert [finding.item for finding in export.written.findings] == ["p"] == export.ledger.only_in_a
    assert not [item for item in export.ledger.items if item.a != "p" and item.worst not in ("same", "recast")]

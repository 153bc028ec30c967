"""Where one question of GIFT ends and the next begins, in files that people typed."""

from __future__ import annotations

import pytest

from rogatum.core.receiving import read_source
from tests.core.plain import key_of

BLOCKS: dict[str, tuple[str, list[tuple[str, object]]]] = {
    "blank lines": ("One? {T}\n\nTwo? {F}\n", [("One?", True), ("Two?", False)]),
    "no blank line before a title": ("One? {T}\n::b:: Two? {F}\n", [("One?", True), ("Two?", False)]),
    "no blank line before a capital": ("One? {T}\nTwo? {F}\n", [("One?", True), ("Two?", False)]),
    "a comment between": ("One? {T}\n// a word\nTwo? {F}\n", [("One?", True), ("Two?", False)]),
    "braces over lines": ("Which? {\n=clay\n\n~sand\n}\n\nTwo? {F}", [("Which?", ["clay"]), ("Two?", False)]),
    "text behind the braces": (
        "The finest is {=clay} of all.\n\nTwo? {T}",
        [("The finest is _____ of all.", ["clay"]), ("Two?", True)],
    ),
    "words behind the braces on the next line": ("The finest is {=clay}\nof all.\n", [("The finest is _____ of all.", ["clay"])]),
    "escaped braces": ("A set \\{1,2\\} has two. {T}\n\nTwo? {F}", [("A set {1,2} has two.", True), ("Two?", False)]),
    "ends of lines of other systems": ("One? {T}\r\n\r\nTwo? {F}\r\n", [("One?", True), ("Two?", False)]),
    "a title over its own line": ("::a::\nOne? {T}\n", [("One?", True)]),
    "matching": ("Match. {\n=sand -> coarse\n=clay -> fine\n}", [("Match.", ["sand=coarse", "clay=fine"])]),
    "spaces and tabs on blank lines": ("One? {T}\n \t \nTwo? {F}", [("One?", True), ("Two?", False)]),
}


@pytest.mark.parametrize("name", BLOCKS)
def test_blocks(name):
    text, wanted = BLOCKS[name]
    bank = read_source(("bank.gift", text.encode()), "gift").bank
    assert [(item.stem, key_of(item)) for item in bank.items] == wanted
    assert not [finding for finding in bank.findings if finding.level == "error"]


def test_a_brace_that_stays_open_costs_its_question_alone():
    bank = read_source(("bank.gift", b"::a::One? {=clay ~sand\n\n::b::Two? {T}\n"), "gift").bank
    assert [item.title for item in bank.items if key_of(item) is True] == ["b"]
    assert any(finding.level == "error" for finding in bank.findings)


def test_categories_hold_until_the_next_and_comments_stay_with_their_question():
    text = "$CATEGORY: Soils/Texture\n\n// [id:t1] [tag:easy]\n::a::One? {T}\n\n$CATEGORY: Soils/Water\n::b::Two? {F}\n::c::Three? {T}\n"
    bank = read_source(("bank.gift", text.encode()), "gift").bank
    assert {tuple(pool.path): len(pool.items) for pool in bank.pools} == {("Soils", "Texture"): 1, ("Soils", "Water"): 2}
    assert bank.items[0].id == "t1" and bank.items[0].metadata.get("tag") == ["easy"]


def test_a_comment_at_the_end_and_a_file_of_comments():
    bank = read_source(("bank.gift", b"One? {T}\n\n// the end\n"), "gift").bank
    assert len(bank.items) == 1
    empty = read_source(("bank.gift", b"// nothing\n// at all\n"), "gift").bank
    assert not empty.items and "no-items" in {finding.code for finding in empty.findings}

"""The source's own marking against the model's: held by the item where the model can, else said, with the original kept."""

from __future__ import annotations

import pytest

from rogatum.core.exporting import export_bank
from rogatum.core.fidelity import probes_of
from rogatum.core.quizzes.marking import mark
from rogatum.core.receiving import read_source
from rogatum.core.sources import MediaBox
from tests.core.test_qti1_forms import ADD, filled, lid, ordered
from tests.core.test_qti1_habits import bank_of as bank_of_1
from tests.core.test_qti1_habits import equal, item, pick, rule, text
from tests.core.test_qti2_forms import HEAD, response
from tests.core.test_qti2_forms import bank_of as bank_of_2

SEVERAL = pick("R", "A", "B", "C", cardinality="Multiple")
ROWS = lid("R1", "one", "A", "B", "C") + lid("R2", "two", "A", "B", "C") + lid("R3", "three", "A", "B", "C")
PAIRS = [equal("R1", "B"), equal("R2", "A"), equal("R3", "C")]
BLANKS = text("It is ") + filled("R1") + text(" and ") + filled("R2")
NUMBER = filled(kind="Decimal")
EACH = "".join(rule(equal("R", value), **ADD) for value in "AB")


def compared(name: str, value: float, response_: str = "R") -> str:
    return f'<{name} respident="{response_}">{value}</{name}>'


def together(*tests: str) -> str:
    return rule(f"<and>{''.join(tests)}</and>", 2)


# Presentation, rules, declaration of the score, and what of the item is to be so.
HELD_IN_1 = {
    "pairs together": (ROWS, together(*PAIRS), "", {"scoring": "all_or_nothing", "points": 2}),
    "pairs each": (ROWS, "".join(rule(test, **ADD) for test in PAIRS), "", {"scoring": "per_part", "points": 3}),
    "pairs by what is excluded": (
        ROWS,
        "".join(rule(f"<not>{test}</not>", 0) for test in PAIRS) + rule("<other/>", 2),
        "",
        {"scoring": "all_or_nothing"},
    ),
    "pairs that earn differently": (
        ROWS,
        "".join(rule(test, points, **ADD) for points, test in enumerate(PAIRS, 1)),
        "",
        {"scoring": "per_part", "points": 6, "shares": [0.166667, 0.333333, 0.5]},
    ),
    "case in one of several answers": (
        filled(),
        rule(equal("R", "pH", case="Yes")) + rule(equal("R", "clay", case="No")),
        "",
        {"cases": [True, None], "case_sensitive": False},
    ),
    "blanks together": (
        BLANKS,
        together(equal("R1", "clay"), f"<or>{equal('R2', 'silt')}{equal('R2', 'sand')}</or>"),
        "",
        {"scoring": "all_or_nothing"},
    ),
    "places of an order": (
        ordered(),
        "".join(rule(equal("R", value, index=str(n)), **ADD) for n, value in enumerate("CAB", 1)),
        "",
        {"scoring": "per_part", "points": 3},
    ),
    "an order in turn, without places": (
        ordered(),
        together(*(equal("R", value) for value in "CAB")),
        "",
        {"scoring": "all_or_nothing"},
    ),
    "a sum below 0": (SEVERAL, EACH + rule(equal("R", "C"), -1, **ADD), "", {"scoring": "per_choice", "lowest": None}),
    "a sum held at 0": (
        SEVERAL,
        EACH + rule(equal("R", "C"), -1, **ADD),
        'minvalue="0"',
        {"scoring": "per_choice", "lowest": 0},
    ),
    "a sum held below 0": (SEVERAL, EACH + rule(equal("R", "C"), -2, **ADD), 'minvalue="-1"', {"lowest": -0.5}),
    "bounds that do not count": (
        NUMBER,
        rule(f"<and>{compared('vargt', 3)}{compared('varlt', 5)}</and>"),
        "",
        {"bounds": (False, False)},
    ),
    "a range that is not below and not above": (
        NUMBER,
        rule(f'<and><not><unanswered respident="R"/></not><not><or>{compared("varlt", 3)}{compared("vargt", 5)}</or></not></and>'),
        "",
        {"bounds": (True, True)},
    ),
    "case in one blank": (
        BLANKS,
        rule(equal("R1", "pH", case="Yes"), **ADD) + rule(equal("R2", "clay", case="No"), **ADD),
        "",
        {"cases": [True, False]},
    ),
}


def told(read, wanted):
    found = {name: getattr(read, name) for name in wanted if hasattr(read, name)}
    if "bounds" in wanted:
        found["bounds"] = (read.answers[0].include_min, read.answers[0].include_max)
    if "cases" in wanted:
        found["cases"] = [part.case_sensitive for part in (read.blanks if read.type == "cloze" else read.answers)]
    if "shares" in wanted:
        found["shares"] = [pair.share for pair in read.pairs]
    return found


@pytest.mark.parametrize("name", HELD_IN_1)
def test_what_the_model_holds_of_1_2_is_held(name):
    presentation, rules, declared, wanted = HELD_IN_1[name]
    bank = bank_of_1(item(text("Which?") + presentation, rules).replace("<decvar ", f"<decvar {declared} "))
    assert told(bank.items[0], wanted) == wanted
    assert not [finding.message for finding in bank.findings if finding.level != "note"]
    assert mark(bank.items[0], probes_of(bank.items[0])[1].response) == 1 or bank.items[0].type in ("multiple_response", "numeric")


SAID_IN_1 = {
    "several full keys": (
        SEVERAL,
        together(equal("R", "A"), f"<not>{equal('R', 'B')}</not>") + together(equal("R", "B"), f"<not>{equal('R', 'A')}</not>"),
    ),
    "a right answer for none at all": (NUMBER, rule(f"<not><or>{compared('varlt', 3)}{compared('vargt', 5)}</or></not>")),
    "blanks that take points off": (
        BLANKS,
        rule(equal("R1", "clay"), **ADD) + rule(f"<not>{equal('R1', 'clay')}</not>", -1, **ADD) + rule(equal("R2", "silt"), **ADD),
    ),
}


@pytest.mark.parametrize("name", SAID_IN_1)
def test_what_it_does_not_hold_is_said_with_the_responses_that_show_it_and_the_original_is_kept(name):
    bank = bank_of_1(item(*SAID_IN_1[name]))
    said = next(finding for finding in bank.findings if finding.code == "marking-approximated")
    assert said.level == "warning" and " there and " in said.message
    assert bank.items[0].original.startswith("<item") and bank.items[0].original_format == "qti-1.2"
    ledger = export_bank(bank, MediaBox(), "qti-2.1").ledger
    assert ledger.items[0].facets["marking"] == "changed"
    assert "In the source" in next(note.message for note in ledger.items[0].notes if note.facet == "marking")


def when(test: str, score: float = 1) -> str:
    return (
        f'<responseProcessing><responseCondition><responseIf>{test}<setOutcomeValue identifier="SCORE">'
        f'<baseValue baseType="float">{score}</baseValue></setOutcomeValue></responseIf></responseCondition></responseProcessing>'
    )


ENTRY = '<p>How much? <textEntryInteraction responseIdentifier="RESPONSE"/></p>'
GIVEN, RIGHT = '<variable identifier="RESPONSE"/>', '<correct identifier="RESPONSE"/>'
# How a number is compared, and what its answer is: value, tolerance, and how that is meant.
NUMBERS = {
    "significant figures": (
        "3.14159",
        f'<equalRounded roundingMode="significantFigures" figures="3">{GIVEN}{RIGHT}</equalRounded>',
        {"value": 3.14, "figures": 3, "rounding": "significant", "include_max": False},
    ),
    "decimal places": (
        "2.5",
        f'<equalRounded roundingMode="decimalPlaces" figures="1">{GIVEN}{RIGHT}</equalRounded>',
        {"value": 2.5, "figures": 1, "rounding": "decimal"},
    ),
    "a power of ten": (
        "100",
        f'<equalRounded roundingMode="significantFigures" figures="1">{GIVEN}{RIGHT}</equalRounded>',
        {"value": 100, "figures": 1},
    ),
    "rounded before it is compared": (
        "3.14",
        f'<equal toleranceMode="exact"><roundTo roundingMode="decimalPlaces" figures="2">{GIVEN}</roundTo>{RIGHT}</equal>',
        {"value": 3.14, "figures": 2, "rounding": "decimal"},
    ),
    "per cent": (
        "50",
        f'<equal toleranceMode="relative" tolerance="2 2">{GIVEN}{RIGHT}</equal>',
        {"value": 50, "relative": 2, "tolerance": 1},
    ),
    "per cent, more above": (
        "50",
        f'<equal toleranceMode="relative" tolerance="2 4">{GIVEN}{RIGHT}</equal>',
        {"min": 49, "max": 52, "relative": None},
    ),
    "bounds left out": (
        "50",
        f'<equal toleranceMode="absolute" tolerance="1 1" includeLowerBound="false" includeUpperBound="false">{GIVEN}{RIGHT}</equal>',
        {"value": 50, "tolerance": 1, "include_min": False, "include_max": False},
    ),
}


@pytest.mark.parametrize("name", NUMBERS)
def test_numbers_are_held_as_they_are_compared(name):
    right, test, wanted = NUMBERS[name]
    bank = bank_of_2(ENTRY, response("float", right), when(test))
    answer = bank.items[0].answers[0]
    assert {field: getattr(answer, field) for field in wanted} == wanted and not bank.findings
    for format_name in ("qti-1.2", "qti-2.2", "items-json"):
        facets = export_bank(bank, MediaBox(), format_name).ledger.items[0].facets
        assert (facets["key"], facets["marking"]) == ("same", "same"), format_name


def test_a_score_that_is_looked_up_in_a_table_shows_its_bounds():
    table = (
        '<outcomeDeclaration identifier="SCORE" cardinality="single" baseType="float"><interpolationTable defaultValue="0">'
        '<interpolationTableEntry sourceValue="60" includeBoundary="false" targetValue="0"/>'
        '<interpolationTableEntry sourceValue="40" targetValue="2"/></interpolationTable></outcomeDeclaration>'
    )
    rules = f'<responseProcessing><lookupOutcomeValue identifier="SCORE">{GIVEN}</lookupOutcomeValue></responseProcessing>'
    whole = f"{HEAD.format(adaptive='false')}{response('float', '50')}{table}<itemBody>{ENTRY}</itemBody>{rules}</assessmentItem>"
    bank = read_source(("item.xml", whole.encode())).bank
    assert bank.items[0].answers[0].bounds() == (40, 60) and bank.items[0].points == 2 and not bank.findings


def test_an_origin_counts_only_while_the_item_is_what_was_read_there():
    bank = bank_of_1(item(*SAID_IN_1["blanks that take points off"]))
    changed = bank.items[0].model_copy(update={"scoring": "all_or_nothing"})
    ledger = export_bank(bank.model_copy(update={"items": [changed]}), MediaBox(), "qti-2.1").ledger
    assert ledger.items[0].facets["marking"] == "same"

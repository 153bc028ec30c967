"""Writes what is typed, and what blanks accept, as conditions of QTI 2.x and 3.0."""

from __future__ import annotations

from collections.abc import Callable
from copy import deepcopy
from typing import Any

from lxml import etree

from rogatum.core.formats.qti2.elements import node, text_node
from rogatum.core.formats.qti2.item_writer import ANSWERED, RESPONSE, ItemWriter, identifier_value, variable
from rogatum.core.formats.shared.keys import any_case
from rogatum.core.formats.shared.numbers import exact_number
from rogatum.core.items import (
    ChoiceBlank,
    Cloze,
    NumericAnswer,
    NumericBlank,
    TextAnswer,
    TextBlank,
)
from rogatum.core.items.by_type import ByBlank
from rogatum.core.items.content import plain_text

# A condition with the share of its part that it earns, and the feedback of the answer that meets it.
WeighedTest = tuple[etree._Element, float, str | None]


def case_of(answer: TextAnswer, case: bool) -> bool:
    return case if answer.case_sensitive is None else answer.case_sensitive


def text_test(name: str, answer: TextAnswer, case: bool) -> etree._Element:
    case = case_of(answer, case)
    flag = str(case).lower()
    if answer.match == "regex":
        pattern = answer.text if case else any_case(answer.text)
        return node("patternMatch", variable(name), pattern=pattern)
    value = text_node("baseValue", answer.text, baseType="string")
    if answer.match == "contains":
        return node("substring", value, variable(name), caseSensitive=flag)
    return node("stringMatch", variable(name), value, caseSensitive=flag)


def number_test(name: str, answer: NumericAnswer) -> etree._Element:
    """The value with its tolerance, or the bounds that are not open."""
    if answer.value is not None:
        value = text_node("baseValue", exact_number(answer.value), baseType="float")
        if answer.figures is not None and answer.figures + (answer.rounding == "decimal") > 0:
            mode = "decimalPlaces" if answer.rounding == "decimal" else "significantFigures"
            return node("equalRounded", variable(name), value, roundingMode=mode, figures=str(answer.figures))
        if not answer.tolerance:
            return node("equal", variable(name), value, toleranceMode="exact")
        spread = exact_number(answer.tolerance if answer.relative is None else answer.relative)
        test = node("equal", variable(name), value, toleranceMode="absolute" if answer.relative is None else "relative")
        test.set("tolerance", f"{spread} {spread}")
        for side, included in (("Lower", answer.include_min), ("Upper", answer.include_max)):
            if not included:
                test.set(f"include{side}Bound", "false")
        return test
    low, high = answer.bounds()
    tests = []
    for tag, bound in (("gte" if answer.include_min else "gt", low), ("lte" if answer.include_max else "lt", high)):
        if abs(bound) != float("inf"):
            tests.append(node(tag, variable(name), text_node("baseValue", exact_number(bound), baseType="float")))
    if len(tests) == 1:
        return tests[0]
    return node("and", *tests) if tests else node("not", node("isNull", variable(name)))


def best_first(answers: list[TextAnswer]) -> list[TextAnswer]:
    return sorted(answers, key=lambda answer: -answer.weight)


def text_entry(ident: str) -> etree._Element:
    return node("textEntryInteraction", responseIdentifier=ident, expectedLength="20")


def _right_texts(answers: list[TextAnswer]) -> list[str]:
    return [answer.text for answer in answers if answer.weight == 1 and answer.match == "exact"][:1]


def right_numbers(answers: list[NumericAnswer]) -> list[str]:
    return [exact_number(answer.value) for answer in answers if answer.weight == 1 and answer.value is not None][:1]


def cloze(writer: ItemWriter, item: Cloze) -> None:
    made: dict[str, etree._Element] = {}
    tests: list[list[WeighedTest]] = []
    for position, blank in enumerate(item.blanks, 1):
        made[blank.id], of_blank = _BLANKS.of(blank)(writer, blank, f"{RESPONSE}_{position}")
        tests.append(of_blank)
    # A condition that earns and tells stands twice.
    said = [[(deepcopy(test), text) for test, _, text in of_blank] for of_blank in tests]
    if item.scoring == "all_or_nothing":
        full = [_either([test for test, weight, _ in of_blank if weight == 1]) for of_blank in tests]
        writer.score_chain([(full[0] if len(full) == 1 else node("and", *full), 1.0)] if full else [])
    else:
        for blank, of_blank in zip(item.blanks, tests, strict=True):
            writer.add_chain([(test, weight * blank.share) for test, weight, _ in of_blank])
        writer.hold_to(item.lowest, (weight for of_blank in tests for _, weight, _ in of_blank))
    for position, told in enumerate(said, 1):
        writer.answer_feedback(told, f"{ANSWERED}_{position}")
    writer.content.blank = lambda blank_id: made.pop(blank_id, None)
    writer.stem()


def _either(tests: list[etree._Element]) -> etree._Element:
    """One of the tests; where there is none, nothing is right."""
    if not tests:
        return text_node("baseValue", "false", baseType="boolean")
    return tests[0] if len(tests) == 1 else node("or", *tests)


def _numeric_blank(writer: ItemWriter, blank: NumericBlank, name: str) -> tuple[etree._Element, list[WeighedTest]]:
    writer.respond(name, "single", "float", right_numbers(blank.answers))
    ordered = sorted(blank.answers, key=lambda answer: -answer.weight)
    return text_entry(name), [(number_test(name, answer), answer.weight, answer.feedback) for answer in ordered]


def _text_blank(writer: ItemWriter, blank: TextBlank, name: str) -> tuple[etree._Element, list[WeighedTest]]:
    writer.respond(name, "single", "string", _right_texts(blank.answers))
    tests = [(text_test(name, a, blank.case_sensitive), a.weight, a.feedback) for a in best_first(blank.answers)]
    return text_entry(name), tests


def _choice_blank(writer: ItemWriter, blank: ChoiceBlank, name: str) -> tuple[etree._Element, list[WeighedTest]]:
    if not blank.choices:
        writer.respond(name, "single", "string", [])
        return text_entry(name), []
    idents = writer.own_identifiers([choice.id for choice in blank.choices])
    element = node("inlineChoiceInteraction", responseIdentifier=name, shuffle="false")
    for ident, choice in zip(idents, blank.choices, strict=True):
        # An inline choice of 2.x is plain text.
        if writer.dialect.kebab:
            element.append(writer.content.inline_alone(node("inlineChoice", identifier=ident), choice.content))
        else:
            element.append(text_node("inlineChoice", plain_text(choice.content), identifier=ident))
    chosen = list(zip(idents, blank.choices, strict=True))
    writer.respond(name, "single", "identifier", [ident for ident, choice in chosen if choice.weight == 1][:1])
    tests = [
        (node("match", variable(name), identifier_value(ident)), choice.weight, choice.feedback)
        for ident, choice in chosen
        if choice.weight or choice.feedback
    ]
    return element, sorted(tests, key=lambda pair: -pair[1])


_BLANKS: ByBlank[Callable[[ItemWriter, Any, str], tuple[etree._Element, list[WeighedTest]]]] = ByBlank(
    "how a blank is written in QTI 2.x and 3.0", {"text": _text_blank, "numeric": _numeric_blank, "choice": _choice_blank}
)

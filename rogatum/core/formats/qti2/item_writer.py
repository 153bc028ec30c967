"""Writes one item as an `assessmentItem`: declarations, body, processing and feedback for each type, in 2.x names."""

from __future__ import annotations

from collections.abc import Callable, Iterable
from copy import deepcopy
from typing import Any

from lxml import etree

from rogatum.core.finding import Finding
from rogatum.core.findings.sources import LEFT_OUT
from rogatum.core.formats.qti2.dialects import HTML_MARK, Dialect
from rogatum.core.formats.qti2.elements import Content, identifiers, node, text_node
from rogatum.core.formats.shared.keys import any_case
from rogatum.core.formats.shared.numbers import exact_number, number
from rogatum.core.items import (
    Choice,
    ChoiceBlank,
    Cloze,
    Essay,
    FillIn,
    Item,
    Matching,
    MultipleChoice,
    MultipleResponse,
    Numeric,
    NumericAnswer,
    NumericBlank,
    Ordering,
    Preserved,
    TextAnswer,
    TextBlank,
    TrueFalse,
)
from rogatum.core.items.by_type import ByBlank, ByType
from rogatum.core.items.content import media_refs, plain_text
from rogatum.core.items.parts import rights, title_of
from rogatum.core.quizzes.marking import pair_share

RESPONSE, SCORE = "RESPONSE", "SCORE"
PICKED, ANSWERED, RESULT = "FEEDBACK_PICKED", "FEEDBACK_ANSWERED", "FEEDBACK_RESULT"
GENERAL, SOLUTION = "FEEDBACK_GENERAL", "SOLUTION"
# A sum of shares that were rounded still counts as all of the points.
NEARLY = 0.999
# A condition with the share of its part that it earns, and the feedback of the answer that meets it.
WeighedTest = tuple[etree._Element, float, str | None]


class ItemWriter:
    """Writes one item. `reason` says why it could not be written, where `element` returns None."""

    def __init__(self, item: Item, identifier: str, dialect: Dialect, stimulus: tuple[str, str, str] | None) -> None:
        self.item, self.identifier, self.dialect, self.stimulus = item, identifier, dialect, stimulus
        self.refs: set[str] = set()
        self.findings: list[Finding] = []
        self.reason = ""
        self.full = (1.0 if item.points is None else item.points) or 1.0
        self.content = Content(dialect, self._address, lambda _blank: None)
        self.responses: list[etree._Element] = []
        self.rules: list[etree._Element] = []
        self.blocks: list[etree._Element] = []
        self.modal: list[etree._Element] = []
        self.outcomes: list[tuple[str, str]] = []
        self.choice_identifiers: list[str] = []

    def element(self) -> etree._Element | None:
        """The item's tree, without namespaces; a preserved item's own markup is the caller's to write."""
        told = {"identifier": self.identifier, "title": title_of(self.item), "adaptive": "false", "timeDependent": "false"}
        root = node("assessmentItem", **told)
        _WRITERS.of(self.item)(self, self.item)
        self._feedback()
        for part in [*self.responses, *self._outcome_declarations()]:
            root.append(part)
        if self.stimulus is not None:
            identifier, title, href = self.stimulus
            root.append(node("assessmentStimulusRef", identifier=identifier, title=title, href=href))
        root.append(node("itemBody", *self.blocks))
        if self.rules:
            root.append(node("responseProcessing", *self.rules))
        for feedback in self.modal:
            root.append(feedback)
        return root

    def _address(self, ref: str) -> str:
        if not ref.startswith("media/"):
            return ref
        self.refs.add(ref)
        return f"../{ref}"

    def note_refs(self, content: str) -> None:
        self.refs |= {ref for ref in media_refs(content) if ref.startswith("media/")}

    # Declarations

    def respond(self, ident: str, cardinality: str, base: str, correct: list[str]) -> etree._Element:
        """Declares a response with its right values."""
        declared = node("responseDeclaration", identifier=ident, cardinality=cardinality, baseType=base)
        if correct:
            declared.append(node("correctResponse", *(text_node("value", value) for value in correct)))
        self.responses.append(declared)
        return declared

    def mapping(
        self,
        declared: etree._Element,
        entries: list[tuple[str, float, bool | None]],
        held: bool = False,
        lowest: float | None = None,
    ) -> None:
        """A mapping of (key, share of the points, case matters); `held` keeps the sum from `lowest` to all of the points."""
        if not entries:
            return
        mapping = node("mapping")
        if held:
            if lowest is not None:
                mapping.set("lowerBound", number(lowest * self.full))
            mapping.set("upperBound", number(self.full))
        mapping.set("defaultValue", "0")
        for key, share, case in entries:
            entry = node("mapEntry", mapKey=key, mappedValue=number(share * self.full))
            if case is not None:
                entry.set("caseSensitive", str(case).lower())
            mapping.append(entry)
        declared.append(mapping)

    def _outcome_declarations(self) -> list[etree._Element]:
        score = node("outcomeDeclaration", identifier=SCORE, cardinality="single", baseType="float")
        if self.item.points is not None:
            score.set("normalMaximum", number(self.item.points))
        score.append(node("defaultValue", text_node("value", "0")))
        others = [node("outcomeDeclaration", identifier=i, cardinality=c, baseType="identifier") for i, c in self.outcomes]
        return [score, *others]

    # Rules

    def score_by_mapping(self) -> None:
        self.rules.append(set_outcome(SCORE, node("mapResponse", identifier=RESPONSE)))

    def score_chain(self, branches: list[tuple[etree._Element, float]]) -> None:
        """The first condition that holds earns its share; nothing else earns anything."""
        if branches:
            self.rules.append(chain([(test, [set_outcome(SCORE, self.points(share))]) for test, share in branches]))

    def add_chain(self, branches: list[tuple[etree._Element, float]]) -> None:
        """The first condition that holds adds its share."""
        if branches:
            self.rules.append(chain([(test, [set_outcome(SCORE, self._more(share))]) for test, share in branches]))

    def hold_to(self, lowest: float | None, weights: Iterable[float]) -> None:
        """Keeps a sum at its lowest, where some of what it is made of takes points off."""
        if lowest is None or min(weights, default=0.0) >= 0:
            return
        bound = self.points(lowest)
        self.rules.append(chain([(node("lt", _variable(SCORE), bound), [set_outcome(SCORE, self.points(lowest))])]))

    def _more(self, share: float) -> etree._Element:
        return node("sum", node("variable", identifier=SCORE), self.points(share))

    def points(self, share: float) -> etree._Element:
        return text_node("baseValue", number(share * self.full), baseType="float")

    # Body

    def own_identifiers(self, wanted: list[str]) -> list[str]:
        """Identifiers for choices, each once in the item."""
        found = identifiers([*self.choice_identifiers, *wanted], "c")[len(self.choice_identifiers) :]
        self.choice_identifiers += found
        return found

    def stem(self) -> None:
        home = self.content.blocks(node("itemBody"), self.item.stem)
        self.blocks += list(home)

    def choice(self, tag: str, ident: str, content: str, **attributes: str) -> etree._Element:
        return self.content.inline(node(tag, identifier=ident, **attributes), content)

    # Feedback

    def _feedback(self) -> None:
        texts = self.item.feedback
        if texts.get("general"):
            self._always(GENERAL, "general", texts["general"])
        if texts.get("correct") or texts.get("incorrect"):
            self.outcomes.append((RESULT, "single"))
            enough = node("gte", node("variable", identifier=SCORE), self.points(NEARLY))
            right, wrong = ([set_outcome(RESULT, identifier_value(name))] for name in ("correct", "incorrect"))
            # What is set has its feedback.
            if texts.get("correct"):
                self.rules.append(chain([(enough, right)], wrong if texts.get("incorrect") else None))
            else:
                self.rules.append(chain([(node("not", enough), wrong)]))
            for name in ("correct", "incorrect"):
                self._modal(RESULT, name, texts.get(name))

    def _always(self, outcome: str, name: str, content: str) -> None:
        self.outcomes.append((outcome, "single"))
        self.rules.append(set_outcome(outcome, identifier_value(name)))
        self._modal(outcome, name, content)

    def picked_feedback(self, feedback: list[tuple[str, str | None]], cardinality: str) -> None:
        """Feedback of single choices, shown when they are picked."""
        if not any(text for _, text in feedback):
            return
        self.outcomes.append((PICKED, cardinality))
        several = cardinality == "multiple"
        for ident, text in feedback:
            if not text:
                continue
            value = identifier_value(ident)
            picked = node("member" if several else "match", identifier_value(ident), _variable(RESPONSE))
            shown = node("multiple", _variable(PICKED), value) if several else value
            self.rules.append(chain([(picked, [set_outcome(PICKED, shown)])]))
            self._modal(PICKED, ident, text)

    def answer_feedback(self, tests: list[tuple[etree._Element, str | None]], outcome: str = ANSWERED) -> None:
        """Feedback of the answers to one response, each shown where its condition is the first that holds."""
        told = [(test, f"answer_{place}", text) for place, (test, text) in enumerate(tests, 1) if text]
        if told:
            self.outcomes.append((outcome, "single"))
            self.rules.append(chain([(test, [set_outcome(outcome, identifier_value(name))]) for test, name, _ in told]))
        for _, name, text in told:
            self._modal(outcome, name, text)

    def _modal(self, outcome: str, name: str, content: str | None) -> None:
        if content:
            feedback = node("modalFeedback", outcomeIdentifier=outcome, showHide="show", identifier=name)
            self.modal.append(self.content.body(feedback, content))

    def solution(self, content: str) -> None:
        """A sample answer: feedback that no response shows of itself."""
        self.outcomes.append((SOLUTION, "single"))
        self._modal(SOLUTION, "solution", content)

    def say_left_out(self, detail: str) -> None:
        self.findings.append(LEFT_OUT.at("", self.item.id, detail=detail))


# Parts of processing


def set_outcome(name: str, value: etree._Element) -> etree._Element:
    return node("setOutcomeValue", value, identifier=name)


def identifier_value(name: str) -> etree._Element:
    return text_node("baseValue", name, baseType="identifier")


def chain(
    branches: list[tuple[etree._Element, list[etree._Element]]], otherwise: list[etree._Element] | None = None
) -> etree._Element:
    """A `responseCondition`: if, else if, else."""
    condition = node("responseCondition")
    for position, (test, rules) in enumerate(branches):
        condition.append(node("responseIf" if position == 0 else "responseElseIf", test, *rules))
    if otherwise:
        condition.append(node("responseElse", *otherwise))
    return condition


def _variable(name: str) -> etree._Element:
    return node("variable", identifier=name)


def _is_correct(name: str) -> etree._Element:
    return node("match", _variable(name), node("correct", identifier=name))


def _case(answer: TextAnswer, case: bool) -> bool:
    return case if answer.case_sensitive is None else answer.case_sensitive


def _text_test(name: str, answer: TextAnswer, case: bool) -> etree._Element:
    case = _case(answer, case)
    flag = str(case).lower()
    if answer.match == "regex":
        pattern = answer.text if case else any_case(answer.text)
        return node("patternMatch", _variable(name), pattern=pattern)
    value = text_node("baseValue", answer.text, baseType="string")
    if answer.match == "contains":
        return node("substring", value, _variable(name), caseSensitive=flag)
    return node("stringMatch", _variable(name), value, caseSensitive=flag)


def _number_test(name: str, answer: NumericAnswer) -> etree._Element:
    """The value with its tolerance, or the bounds that are not open."""
    if answer.value is not None:
        value = text_node("baseValue", exact_number(answer.value), baseType="float")
        if answer.figures is not None and answer.figures + (answer.rounding == "decimal") > 0:
            mode = "decimalPlaces" if answer.rounding == "decimal" else "significantFigures"
            return node("equalRounded", _variable(name), value, roundingMode=mode, figures=str(answer.figures))
        if not answer.tolerance:
            return node("equal", _variable(name), value, toleranceMode="exact")
        spread = exact_number(answer.tolerance if answer.relative is None else answer.relative)
        test = node("equal", _variable(name), value, toleranceMode="absolute" if answer.relative is None else "relative")
        test.set("tolerance", f"{spread} {spread}")
        for side, included in (("Lower", answer.include_min), ("Upper", answer.include_max)):
            if not included:
                test.set(f"include{side}Bound", "false")
        return test
    low, high = answer.bounds()
    tests = []
    for tag, bound in (("gte" if answer.include_min else "gt", low), ("lte" if answer.include_max else "lt", high)):
        if abs(bound) != float("inf"):
            tests.append(node(tag, _variable(name), text_node("baseValue", exact_number(bound), baseType="float")))
    if len(tests) == 1:
        return tests[0]
    return node("and", *tests) if tests else node("not", node("isNull", _variable(name)))


def _sorted(answers: list[TextAnswer]) -> list[TextAnswer]:
    return sorted(answers, key=lambda answer: -answer.weight)


# Types


def _choices(writer: ItemWriter, choices: list[Choice], shuffle: bool | None, most: str) -> list[str]:
    idents = writer.own_identifiers([choice.id for choice in choices])
    writer.stem()
    if not choices:
        return idents  # an interaction has something to pick
    interaction = node("choiceInteraction", responseIdentifier=RESPONSE, shuffle=str(bool(shuffle)).lower(), maxChoices=most)
    for ident, choice in zip(idents, choices, strict=True):
        interaction.append(writer.choice("simpleChoice", ident, choice.content))
    writer.blocks.append(interaction)
    return idents


def _multiple_choice(writer: ItemWriter, item: MultipleChoice) -> None:
    idents = _choices(writer, item.choices, item.shuffle, "1")
    weights = list(zip(idents, [choice.weight for choice in item.choices], strict=True))
    declared = writer.respond(RESPONSE, "single", "identifier", [i for i, weight in weights if weight == 1][:1])
    if any(weight for _, weight in weights):
        writer.mapping(declared, [(ident, weight, None) for ident, weight in weights if weight])
        writer.score_by_mapping()
    writer.picked_feedback(list(zip(idents, [choice.feedback for choice in item.choices], strict=True)), "single")


def _multiple_response(writer: ItemWriter, item: MultipleResponse) -> None:
    idents = _choices(writer, item.choices, item.shuffle, "0")
    weights = list(zip(idents, [choice.weight for choice in item.choices], strict=True))
    declared = writer.respond(RESPONSE, "multiple", "identifier", [ident for ident, weight in weights if weight > 0])
    if item.scoring == "per_choice":
        writer.mapping(declared, [(ident, weight, None) for ident, weight in weights if weight], held=True, lowest=item.lowest)
        writer.score_by_mapping()
    else:
        writer.score_chain([(_is_correct(RESPONSE), 1.0)])
    writer.picked_feedback(list(zip(idents, [choice.feedback for choice in item.choices], strict=True)), "multiple")


def _true_false(writer: ItemWriter, item: TrueFalse) -> None:
    pair = [Choice(id="true", content="True"), Choice(id="false", content="False")]
    _choices(writer, pair, None, "1")
    writer.respond(RESPONSE, "single", "identifier", [] if item.answer is None else [str(item.answer).lower()])
    if item.answer is not None:
        writer.score_chain([(_is_correct(RESPONSE), 1.0)])
    writer.picked_feedback([(key, item.choice_feedback.get(key)) for key in ("true", "false")], "single")


def _entry(ident: str) -> etree._Element:
    return node("textEntryInteraction", responseIdentifier=ident, expectedLength="20")


def _fill_in(writer: ItemWriter, item: FillIn) -> None:
    writer.stem()
    writer.blocks.append(_marked(node("p", _entry(RESPONSE))))
    declared = writer.respond(
        RESPONSE, "single", "string", [a.text for a in item.answers if a.weight == 1 and a.match == "exact"][:1]
    )
    if all(answer.match == "exact" for answer in item.answers):
        if item.answers:
            writer.mapping(
                declared, [(answer.text, answer.weight, _case(answer, item.case_sensitive)) for answer in _sorted(item.answers)]
            )
            writer.score_by_mapping()
    else:
        writer.score_chain([(_text_test(RESPONSE, a, item.case_sensitive), a.weight) for a in _sorted(item.answers)])
    writer.answer_feedback([(_text_test(RESPONSE, a, item.case_sensitive), a.feedback) for a in _sorted(item.answers)])


def _marked(paragraph: etree._Element) -> etree._Element:
    paragraph.set(HTML_MARK, "")
    return paragraph


def _numeric(writer: ItemWriter, item: Numeric) -> None:
    writer.stem()
    writer.blocks.append(_marked(node("p", _entry(RESPONSE))))
    writer.respond(RESPONSE, "single", "float", _right_numbers(item.answers))
    ordered = sorted(item.answers, key=lambda answer: -answer.weight)
    writer.score_chain([(_number_test(RESPONSE, answer), answer.weight) for answer in ordered])
    writer.answer_feedback([(_number_test(RESPONSE, answer), answer.feedback) for answer in ordered])


def _right_texts(answers: list[TextAnswer]) -> list[str]:
    return [answer.text for answer in answers if answer.weight == 1 and answer.match == "exact"][:1]


def _right_numbers(answers: list[NumericAnswer]) -> list[str]:
    return [exact_number(answer.value) for answer in answers if answer.weight == 1 and answer.value is not None][:1]


def _cloze(writer: ItemWriter, item: Cloze) -> None:
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
    writer.respond(name, "single", "float", _right_numbers(blank.answers))
    ordered = sorted(blank.answers, key=lambda answer: -answer.weight)
    return _entry(name), [(_number_test(name, answer), answer.weight, answer.feedback) for answer in ordered]


def _text_blank(writer: ItemWriter, blank: TextBlank, name: str) -> tuple[etree._Element, list[WeighedTest]]:
    writer.respond(name, "single", "string", _right_texts(blank.answers))
    tests = [(_text_test(name, a, blank.case_sensitive), a.weight, a.feedback) for a in _sorted(blank.answers)]
    return _entry(name), tests


def _choice_blank(writer: ItemWriter, blank: ChoiceBlank, name: str) -> tuple[etree._Element, list[WeighedTest]]:
    if not blank.choices:
        writer.respond(name, "single", "string", [])
        return _entry(name), []
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
        (node("match", _variable(name), identifier_value(ident)), choice.weight, choice.feedback)
        for ident, choice in chosen
        if choice.weight or choice.feedback
    ]
    return element, sorted(tests, key=lambda pair: -pair[1])


_BLANKS: ByBlank[Callable[[ItemWriter, Any, str], tuple[etree._Element, list[WeighedTest]]]] = ByBlank(
    "how a blank is written in QTI 2.x and 3.0", {"text": _text_blank, "numeric": _numeric_blank, "choice": _choice_blank}
)


def _matching(writer: ItemWriter, item: Matching) -> None:
    writer.stem()
    if not item.pairs:
        return
    texts = rights(item)
    interaction = node("matchInteraction", responseIdentifier=RESPONSE, shuffle=str(bool(item.shuffle)).lower())
    interaction.set("maxAssociations", str(len(item.pairs)))
    lefts, targets = node("simpleMatchSet"), node("simpleMatchSet")
    for position, pair in enumerate(item.pairs, 1):
        lefts.append(writer.choice("simpleAssociableChoice", f"L{position}", pair.left, matchMax="1"))
    for position, text in enumerate(texts, 1):
        targets.append(writer.choice("simpleAssociableChoice", f"R{position}", text, matchMax="0"))
    interaction.append(lefts)
    interaction.append(targets)
    writer.blocks.append(interaction)
    key = [f"L{position} R{texts.index(pair.right) + 1}" for position, pair in enumerate(item.pairs, 1)]
    declared = writer.respond(RESPONSE, "multiple", "directedPair", key)
    if item.scoring == "all_or_nothing":
        writer.score_chain([(_is_correct(RESPONSE), 1.0)])
        return
    writer.mapping(declared, [(text, pair_share(item, pair), None) for text, pair in zip(key, item.pairs, strict=True)])
    writer.score_by_mapping()


def _ordering(writer: ItemWriter, item: Ordering) -> None:
    writer.stem()
    if not item.sequence:
        return
    idents = [f"o{position}" for position in range(1, len(item.sequence) + 1)]
    interaction = node("orderInteraction", responseIdentifier=RESPONSE, shuffle="true")
    # Entries stand in the order of their text, so that the page does not give the answer away.
    for ident, content in sorted(zip(idents, item.sequence, strict=True), key=lambda entry: plain_text(entry[1])):
        interaction.append(writer.choice("simpleChoice", ident, content))
    writer.blocks.append(interaction)
    writer.respond(RESPONSE, "ordered", "identifier", idents)
    if item.scoring == "all_or_nothing":
        writer.score_chain([(_is_correct(RESPONSE), 1.0)])
        return
    for place, ident in enumerate(idents, 1):
        at_place = node("match", node("index", _variable(RESPONSE), n=str(place)), identifier_value(ident))
        writer.add_chain([(at_place, 1 / len(idents))])


def _essay(writer: ItemWriter, item: Essay) -> None:
    writer.stem()
    writer.blocks.append(node("extendedTextInteraction", responseIdentifier=RESPONSE, expectedLines="10"))
    writer.respond(RESPONSE, "single", "string", [])
    if item.rubric:
        rubric = node("rubricBlock", view="scorer")
        body = node("contentBody") if writer.dialect.kebab else rubric
        writer.content.blocks(body, item.rubric)
        if body is not rubric:
            rubric.append(body)
        writer.blocks.append(rubric)
    if item.sample_answer:
        writer.solution(item.sample_answer)


def _information(writer: ItemWriter, _item: Item) -> None:
    writer.stem()


def _preserved(_writer: ItemWriter, _item: Preserved) -> None:
    """Its own markup is the caller's to write."""


_WRITERS: ByType[Callable[[ItemWriter, Any], None]] = ByType(
    "how an item is written",
    {
        "multiple_choice": _multiple_choice,
        "multiple_response": _multiple_response,
        "true_false": _true_false,
        "fill_in": _fill_in,
        "numeric": _numeric,
        "cloze": _cloze,
        "matching": _matching,
        "ordering": _ordering,
        "essay": _essay,
        "information": _information,
        "preserved": _preserved,
    },
)

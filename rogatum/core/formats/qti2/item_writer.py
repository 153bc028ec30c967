"""Writes one item as an `assessmentItem`: what all types share of declarations, body, processing and feedback, in 2.x names."""

from __future__ import annotations

from collections.abc import Callable, Iterable

from lxml import etree

from rogatum.core.finding import Finding
from rogatum.core.findings.sources import LEFT_OUT
from rogatum.core.formats.qti2.dialects import Dialect
from rogatum.core.formats.qti2.elements import Content, identifiers, node, text_node
from rogatum.core.formats.shared.numbers import number
from rogatum.core.items import (
    Item,
)
from rogatum.core.items.content import media_refs
from rogatum.core.items.parts import title_of

RESPONSE, SCORE = "RESPONSE", "SCORE"
PICKED, ANSWERED, RESULT = "FEEDBACK_PICKED", "FEEDBACK_ANSWERED", "FEEDBACK_RESULT"
GENERAL, SOLUTION = "FEEDBACK_GENERAL", "SOLUTION"
# A sum of shares that were rounded still counts as all of the points.
NEARLY = 0.999


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

    def element(self, write: Callable[[], None]) -> etree._Element | None:
        """The item's tree, without namespaces; `write` writes what is of its type. A preserved item's markup is the caller's."""
        told = {"identifier": self.identifier, "title": title_of(self.item), "adaptive": "false", "timeDependent": "false"}
        root = node("assessmentItem", **told)
        write()
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
        self.rules.append(chain([(node("lt", variable(SCORE), bound), [set_outcome(SCORE, self.points(lowest))])]))

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
            picked = node("member" if several else "match", identifier_value(ident), variable(RESPONSE))
            shown = node("multiple", variable(PICKED), value) if several else value
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


def variable(name: str) -> etree._Element:
    return node("variable", identifier=name)


def is_correct(name: str) -> etree._Element:
    return node("match", variable(name), node("correct", identifier=name))

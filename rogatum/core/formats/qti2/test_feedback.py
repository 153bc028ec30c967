"""What a test says at the end (`testFeedback`), both ways: for which results it is shown is found by running the processing."""

from __future__ import annotations

import operator
from collections.abc import Callable, Iterable
from dataclasses import dataclass
from itertools import pairwise

from lxml import etree

from rogatum.core.formats.qti2.declarations import float_of
from rogatum.core.formats.qti2.elements import node, text_node
from rogatum.core.formats.shared.numbers import exact_number
from rogatum.core.quizzes.model import ScoreFeedback

TOTAL, SHARE, SHOWN = "SCORE", "SCORE_SHARE", "FEEDBACK"
_CLOSE = 1e-7
# Each edge is a run of the processing for each feedback.
MOST_EDGES = 200
Values = dict[str, object]


class NotUnderstood(Exception):
    """An outcome processing that does more than to add up scores and compare them."""


_COMPARISONS: dict[str, Callable[[float, float], bool]] = {
    "gte": operator.ge,
    "gt": operator.gt,
    "lte": operator.le,
    "lt": operator.lt,
    "equal": operator.eq,
}
_SUMS: dict[str, Callable[[list[float]], float]] = {
    "sum": sum,
    "subtract": lambda values: values[0] - sum(values[1:]),
    "product": lambda values: values[0] * values[1],
    "divide": lambda values: values[0] / values[1] if values[1] else 0.0,
}


# What narrows a sum to some of the items: a share of all points says nothing of these.
_NARROWING = ("sectionIdentifier", "includeCategory", "excludeCategory")
# The outcome of each item that is its score, and the usual name of what it is at most.
_SCORE, _MOST = "SCORE", "MAXSCORE"


@dataclass(frozen=True)
class _Test:
    """The outcome processing of a test, what the whole test is worth, and its outcomes with what they begin as."""

    processing: etree._Element | None
    points: float
    declared: Values


class _Run:
    """One run of the outcome processing with a share of all points reached."""

    def __init__(self, share: float, test: _Test) -> None:
        self.share, self.points = share, test.points
        self.values: Values = dict(test.declared)

    def rules(self, elements: Iterable[etree._Element]) -> None:
        for element in elements:
            if element.tag == "setOutcomeValue":
                self.values[element.get("identifier", "")] = self._value(element[0])
            elif element.tag == "outcomeCondition":
                self._condition(element)
            elif isinstance(element.tag, str):
                raise NotUnderstood

    def _condition(self, element: etree._Element) -> None:
        for branch in element:
            if branch.tag == "outcomeElse":
                self.rules(branch)
                return
            if self._truth(branch[0]):
                self.rules(list(branch)[1:])
                return

    def _truth(self, element: etree._Element) -> bool:
        tag = str(element.tag)
        if tag in _COMPARISONS:
            return _COMPARISONS[tag](self._number(element[0]), self._number(element[1]))
        if tag in ("and", "or"):
            return (all if tag == "and" else any)(self._truth(child) for child in element)
        if tag == "not":
            return not self._truth(element[0])
        raise NotUnderstood

    def _number(self, element: etree._Element) -> float:
        value = self._value(element)
        if not isinstance(value, int | float):
            raise NotUnderstood
        return float(value)

    def _value(self, element: etree._Element) -> object:
        tag = str(element.tag)
        if tag == "baseValue":
            number = float_of(element.text)
            return (element.text or "").strip() if number is None else number
        if tag == "variable":
            return self._of_test(element.get("identifier", ""))
        if tag in ("testVariables", "outcomeMaximum"):
            return self._of_items(element)
        if tag in _SUMS:
            return _SUMS[tag]([self._number(child) for child in element])
        raise NotUnderstood

    def _of_test(self, name: str) -> object:
        """An outcome of the test; those of single items, and how long it took, are not known here."""
        if name not in self.values:
            raise NotUnderstood
        return self.values[name]

    def _of_items(self, element: etree._Element) -> float:
        """What all items have together, of what they score or can score."""
        name = element.get("variableIdentifier") or element.get("outcomeIdentifier")
        if any(element.get(attribute) for attribute in _NARROWING) or name not in (_SCORE, _MOST):
            raise NotUnderstood
        return self.points if name == _MOST or element.tag == "outcomeMaximum" else self.share * self.points


def _declared(root: etree._Element) -> Values:
    """The outcomes of a test with their default values; numbers begin as 0."""
    found: Values = {}
    for element in root.iterfind("outcomeDeclaration"):
        text = (element.findtext("defaultValue/value") or "").strip()
        number = float_of(text)
        begins = 0.0 if element.get("baseType") in ("float", "integer") else text
        found[element.get("identifier", "")] = begins if number is None else number
    return found


def read_feedback(
    root: etree._Element, points: float, content: Callable[[etree._Element], str]
) -> tuple[list[ScoreFeedback], list[etree._Element]]:
    """The feedback of a test with the shares of the points for which it is shown, and what is not shown at the end by these.

    `points` is what the whole test is worth, `content` gives the content of an element.
    """
    found: list[ScoreFeedback] = []
    left: list[etree._Element] = []
    elements = [*root.iterfind("testFeedback"), *root.iterfind("testPart/testFeedback")]
    test = _Test(root.find("outcomeProcessing"), points, _declared(root))
    for element in elements:
        try:
            bounds = _bounds(test, element) if element.get("access") != "during" else []
        except (NotUnderstood, IndexError, RecursionError):
            bounds = []
        if not bounds:
            left.append(element)
            continue
        text = content(element)
        found += [ScoreFeedback(content=text, least=least, below=below) for least, below in bounds if text]
    return found, left


def _bounds(test: _Test, element: etree._Element) -> list[tuple[float | None, float | None]]:
    """The intervals of shares in which a feedback is shown; None where an interval is open."""
    edges = _edges(test)
    inner = [(low + high) / 2 for low, high in pairwise(edges)]
    shown: list[tuple[float, bool]] = [(inner[0], _is_shown(test, element, inner[0]))] if inner else []
    for edge, after in zip(edges[1:-1], inner[1:], strict=True):
        shown.append((edge, _is_shown(test, element, after)))
    bounds: list[tuple[float | None, float | None]] = []
    begun: float | None = None
    for position, (edge, on) in enumerate(shown):
        if on and begun is None:
            begun = -1.0 if position == 0 else edge
        elif not on and begun is not None:
            bounds.append((None if begun < 0 else begun, edge))
            begun = None
    if begun is not None:
        bounds.append((None if begun < 0 else begun, None))
    return bounds


def _edges(test: _Test) -> list[float]:
    """The shares at which something may change: the numbers that the processing compares with, as they are and of all points."""
    values = test.processing.iter("baseValue") if test.processing is not None else ()
    numbers = [number for value in values if (number := float_of(value.text)) is not None]
    shares = {round(share, 7) for number in numbers for share in (number, number / test.points if test.points else number)}
    if len(shares) > MOST_EDGES:
        raise NotUnderstood
    return [-_CLOSE, *sorted(share for share in shares if 0 < share <= 1), 1 + _CLOSE]


def _is_shown(test: _Test, element: etree._Element, share: float) -> bool:
    run = _Run(share, test)
    run.rules(test.processing if test.processing is not None else [])
    given = run.values.get(element.get("outcomeIdentifier", ""))
    return (given == element.get("identifier", "")) == (element.get("showHide", "show") != "hide")


# Writing


def declarations(feedback: list[ScoreFeedback]) -> list[etree._Element]:
    """The outcomes of a test: its score, and what says which feedback is shown."""
    numbers = [TOTAL, SHARE] if feedback else [TOTAL]
    found = [node("outcomeDeclaration", identifier=name, cardinality="single", baseType="float") for name in numbers]
    for number, _ in enumerate(feedback, 1):
        found.append(node("outcomeDeclaration", identifier=f"{SHOWN}{number}", cardinality="single", baseType="identifier"))
    return found


def processing(feedback: list[ScoreFeedback], weight: str | None) -> etree._Element:
    """Adds the scores up, and says which feedback is shown for which share of all points."""
    weighted = {"weightIdentifier": weight} if weight else {}
    scores = node("sum", node("testVariables", variableIdentifier="SCORE", **weighted))
    rules = [node("setOutcomeValue", scores, identifier=TOTAL)]
    if feedback:
        most = node("sum", node("outcomeMaximum", outcomeIdentifier="SCORE", **weighted))
        rules.append(node("setOutcomeValue", node("divide", _variable(TOTAL), most), identifier=SHARE))
    for number, entry in enumerate(feedback, 1):
        shown = node("setOutcomeValue", text_node("baseValue", "shown", baseType="identifier"), identifier=f"{SHOWN}{number}")
        tests = [_test(tag, bound) for tag, bound in (("gte", entry.least), ("lt", entry.below)) if bound is not None]
        if not tests:
            rules.append(shown)
        else:
            test = tests[0] if len(tests) == 1 else node("and", *tests)
            rules.append(node("outcomeCondition", node("outcomeIf", test, shown)))
    return node("outcomeProcessing", *rules)


def _variable(name: str) -> etree._Element:
    return node("variable", identifier=name)


def _test(tag: str, bound: float) -> etree._Element:
    return node(tag, _variable(SHARE), text_node("baseValue", exact_number(bound), baseType="float"))


def feedback_element(number: int) -> etree._Element:
    return node("testFeedback", access="atEnd", outcomeIdentifier=f"{SHOWN}{number}", showHide="show", identifier="shown", title="")

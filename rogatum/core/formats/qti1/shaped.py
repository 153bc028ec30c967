"""The processing of an item whose answers are picked, in the shape that it shares with others of its bank."""

from __future__ import annotations

import re
from collections.abc import Sequence
from dataclasses import replace
from functools import cached_property

from lxml import etree

from rogatum.core.accounting import Account, XmlClaims
from rogatum.core.formats.qti1.presentation import Presentation
from rogatum.core.formats.qti1.processing import TESTS, Processing, Rule
from rogatum.core.formats.shared.keys import Named, Names, Outcome, Responses, Shapes, listed
from rogatum.core.formats.shared.packaging import without_namespaces

_PLACES = re.compile(r'\b(?:respident|linkrefid)="([^"<>]*)"|>\s*([^<>]*?)\s*</(?:varequal|varsubset)>')
# The elements whose text a processing reads.
_READ = ("setvar", *TESTS)


class ShapedProcessing:
    """A `Marker` by way of a compiled shape: names of the item go in as slots and come out as names."""

    def __init__(self, compiled: Processing, names: Names) -> None:
        self._compiled, self._names, self._own = compiled, names, names.own
        self.undecided, self.maximum, self.minimum = compiled.undecided, compiled.maximum, compiled.minimum

    @cached_property
    def named(self) -> list[Named]:
        own = self._own
        return [replace(n, response=own.get(n.response, n.response), value=listed(n.value, own)) for n in self._compiled.named]

    @cached_property
    def rules(self) -> list[Rule]:
        return [replace(rule, feedback=self._called(rule.feedback)) for rule in self._compiled.rules]

    def run(self, responses: Responses) -> Outcome:
        outcome = self._compiled.run(self._in_slots(responses))
        return Outcome(outcome.scores, self._called(outcome.feedback)) if outcome.feedback else outcome

    def earned(self, responses: Responses) -> float:
        return self._compiled.earned(self._in_slots(responses))

    def _in_slots(self, responses: Responses) -> Responses:
        slots = self._names.slots
        return {slots.get(name, name): [listed(value, slots) for value in values] for name, values in responses.items()}

    def _called(self, feedback: list[str]) -> list[str]:
        return [self._own.get(slot, slot) for slot in feedback]


AnyProcessing = Processing | ShapedProcessing


def processing_of(
    elements: Sequence[etree._Element], claims: XmlClaims, parts: Presentation, shapes: Shapes[Processing]
) -> AnyProcessing:
    """The processing of an item: where everything is picked, in a shape that is compiled once."""
    if not elements or not all(r.kind == "lid" and r.labels for r in parts.responses):
        return Processing(elements, claims, parts.cardinalities())
    links = {shown.get("linkrefid", "") for element in elements for shown in element.iter("displayfeedback")}
    names = Names.of([name for r in parts.responses for name in (r.ident, *(label.ident for label in r.labels))] + sorted(links))
    markup = "".join(etree.tostring(element, encoding="unicode", with_tail=False) for element in elements)
    markup = f"<shape>{names.written(markup, _PLACES)}</shape>"
    cardinalities = {names.slot(ident): cardinality for ident, cardinality in parts.cardinalities().items()}

    def compile_it() -> Processing:
        root = etree.fromstring(markup)
        without_namespaces(root)
        return Processing(list(root), XmlClaims(Account(), frozenset()), cardinalities)

    try:
        compiled = shapes.compiled(f"{sorted(cardinalities.items())}{markup}", compile_it)
    except etree.XMLSyntaxError:  # what a recovery left of a damaged file is no markup any more
        return Processing(elements, claims, parts.cardinalities())
    for element in elements:
        for leaf in element.iter(*_READ):
            claims.text(leaf)
    return ShapedProcessing(compiled, names)

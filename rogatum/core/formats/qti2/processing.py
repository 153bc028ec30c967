"""An interpreter of QTI 2.x and 3.0 `responseProcessing` (“Response processing”): rules, templates, feedback shown."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import dataclass, replace
from functools import cached_property

from lxml import etree

from rogatum.core.formats.qti2.declarations import Response
from rogatum.core.formats.qti2.expressions import Compiler, Declared, Expression, Scope, mapped, mapped_points
from rogatum.core.formats.qti2.operators import equals
from rogatum.core.formats.qti2.values import Value, as_float, number, truth, value_of
from rogatum.core.formats.shared.keys import Named, Names, Outcome, Responses


class ExitResponse(Exception):
    """`exitResponse`: processing ends here."""


Rule = Callable[[Scope], None]
# What the standard's templates do, by the last part of their address.
TEMPLATES = frozenset({"match_correct", "map_response", "map_response_point", "cc2_match", "cc2_match_basic", "cc2_map_response"})
SCORES = ("SCORE", "MAXSCORE")


@dataclass(frozen=True)
class FeedbackRule:
    """When a feedback element is shown: by the value of an outcome."""

    ident: str
    outcome: str
    value: str
    shown_when_equal: bool = True

    def shown(self, outcomes: Mapping[str, Value | None]) -> bool:
        held = outcomes.get(self.outcome)
        hit = held is not None and any(str(item) == self.value for item in held.items)
        return hit == self.shown_when_equal


class Compiled:
    """The response processing of an item, compiled. `assumed` says that the item has none of its own."""

    def __init__(self, root: etree._Element, declared: Declared, compiler: Compiler) -> None:
        self.declared, self.compiler = declared, compiler
        self.assumed = False
        self._known: dict[tuple[tuple[str, ...], ...], dict[str, Value | None]] = {}
        self._at_first = self._defaults()
        self.template = ""
        element = root.find("responseProcessing")
        self.rules = self._all_rules(element)
        self.score = self._score_name(element)
        self._correct_as_candidates()

    @property
    def mapped(self) -> bool:
        """Whether a response has a mapping, which says what values are worth."""
        return any(response.mapping and response.mapping.entries for response in self.declared.responses.values())

    @property
    def named(self) -> list[Named]:
        return self.compiler.named

    @property
    def undecided(self) -> list[str]:
        return self.compiler.undecided

    @property
    def maximum(self) -> float | None:
        outcome = self.declared.outcomes.get(self.score)
        if outcome is not None and outcome.maximum is not None:
            return outcome.maximum
        stated = self.declared.outcomes.get("MAXSCORE")
        return as_float(stated.default) if stated is not None else None

    @property
    def minimum(self) -> float | None:
        outcome = self.declared.outcomes.get(self.score)
        return outcome.minimum if outcome is not None else None

    def outcomes(self, responses: Responses) -> dict[str, Value | None]:
        """The outcomes that responses come to; each is processed once, however often it is asked for."""
        key = tuple((name, *values) for name, values in responses.items())
        found = self._known.get(key)
        if found is None:
            found = self._known[key] = self._processed(responses)
        return found

    def _processed(self, responses: Responses) -> dict[str, Value | None]:
        scope = self._scope(responses)
        try:
            for rule in self.rules:
                rule(scope)
        except ExitResponse:
            pass
        return scope.outcomes

    def _scope(self, responses: Responses) -> Scope:
        given = {
            name: response.given([text for text in texts if text != ""]) if (texts := responses.get(name)) else None
            for name, response in self.declared.responses.items()
        }
        return Scope(given, dict(self._at_first))

    def _defaults(self) -> dict[str, Value | None]:
        """The outcomes before processing: numbers are 0 where nothing else is said."""
        found: dict[str, Value | None] = {}
        for name, outcome in self.declared.outcomes.items():
            zero = number(0.0) if outcome.base in ("float", "integer") and outcome.cardinality == "single" else None
            found[name] = outcome.default if outcome.default is not None else zero
        return found

    def _correct_as_candidates(self) -> None:
        known = {(name.response, name.value) for name in self.named}
        for response in self.declared.responses.values():
            for text in response.correct:
                if (response.ident, text) not in known:
                    self.named.append(Named(response.ident, text, "varequal", None, True, False))

    def _score_name(self, element: etree._Element | None) -> str:
        if "SCORE" in self.declared.outcomes or element is None:
            return "SCORE"
        changed = [e.get("identifier", "") for e in element.iter("setOutcomeValue", "lookupOutcomeValue")]
        for name in changed:
            outcome = self.declared.outcomes.get(name)
            if outcome is not None and outcome.base in ("float", "integer") and name not in SCORES:
                return name
        return "SCORE"

    # Rules

    def _all_rules(self, element: etree._Element | None) -> list[Rule]:
        if element is None:
            self.assumed = True
            return self._assumed_rules()
        rules = [rule for child in element for rule in self._rule(child)]
        if rules:
            return rules
        self.template = (element.get("template") or element.get("templateLocation") or "").rstrip("/").rsplit("/", 1)[-1]
        name = self.template.lower().removesuffix(".xml")
        if name not in TEMPLATES:
            if self.template:
                self.undecided.append(f"the template {self.template}")
            self.assumed = True
            return self._assumed_rules()
        return [self._template_rule(name)]

    def _assumed_rules(self) -> list[Rule]:
        """Without processing, a mapping counts where there is one; else the right response earns 1."""
        if self.mapped:
            return [self._template_rule("map_response")]
        return [self._template_rule("match_correct")] if any(r.correct for r in self.declared.responses.values()) else []

    def _template_rule(self, name: str) -> Rule:
        """`match_correct`, `map_response` or `map_response_point`, on RESPONSE or, where there is none, on what is declared."""
        responses = self.declared.responses
        asked = [responses["RESPONSE"]] if "RESPONSE" in responses else list(responses.values())
        worth = _TEMPLATE_WORTH["point" if "point" in name else "map" if "map" in name else "match"]
        if worth is mapped:
            for response in asked:
                for entry in response.mapping.entries if response.mapping else []:
                    self.compiler.named.append(Named(response.ident, entry.key, "varequal", None, entry.case, False))

        def rule(scope: Scope) -> None:
            scores = [worth(response, scope.responses.get(response.ident)) for response in asked]
            scope.outcomes["SCORE"] = number(min(scores, default=0.0) if worth is _matched else sum(scores))

        return rule

    def _rule(self, element: etree._Element) -> list[Rule]:
        tag = str(element.tag)
        if tag == "responseCondition":
            return [self._condition(element)]
        if tag in ("setOutcomeValue", "lookupOutcomeValue"):
            return [self._setting(element, tag)]
        if tag == "exitResponse":
            return [_exit]
        if tag in ("responseProcessingFragment", "fragment"):
            return [rule for child in element for rule in self._rule(child)]
        self.undecided.append(tag)
        return []

    def _condition(self, element: etree._Element) -> Rule:
        branches: list[tuple[Expression | None, list[Rule]]] = []
        for branch in element:
            parts = list(branch)
            test = self.compiler.expression(parts.pop(0)) if branch.tag != "responseElse" and parts else None
            branches.append((test, [rule for part in parts for rule in self._rule(part)]))

        def rule(scope: Scope) -> None:
            for test, rules in branches:
                if test is None or truth(test(scope)):
                    for inner in rules:
                        inner(scope)
                    return

        return rule

    def _setting(self, element: etree._Element, tag: str) -> Rule:
        name = element.get("identifier", "")
        expression = self.compiler.expression(element[0]) if len(element) else _null
        outcome = self.declared.outcomes.get(name)
        if tag == "lookupOutcomeValue" and outcome is not None and len(element):
            self.compiler.look_up(element[0], [bound for bound, _, _ in outcome.table])

        def set_value(scope: Scope) -> None:
            value = expression(scope)
            if outcome is not None and value is not None and value.base != outcome.base and value.cardinality == "single":
                value = value_of(outcome.base, outcome.cardinality, [str(value.one)])
            scope.outcomes[name] = value

        def look_up(scope: Scope) -> None:
            source = as_float(expression(scope))
            scope.outcomes[name] = outcome.looked_up(source) if outcome is not None and source is not None else None

        return look_up if tag == "lookupOutcomeValue" else set_value


class Processing:
    """The processing of one item, a `Marker`: what was compiled, maybe for many items, under the item's own names."""

    def __init__(self, compiled: Compiled, declared: Declared, names: Names) -> None:
        self._compiled, self._names, self.declared = compiled, names, declared
        self.feedback: list[FeedbackRule] = []
        self.undecided, self.maximum, self.minimum = compiled.undecided, compiled.maximum, compiled.minimum
        self.assumed, self.mapped, self.ruled = compiled.assumed, compiled.mapped, bool(compiled.rules)

    @cached_property
    def named(self) -> list[Named]:
        own, named = self._names.own, self._compiled.named
        return [replace(name, value=own.get(name.value, name.value)) for name in named] if own else named

    def run(self, responses: Responses) -> Outcome:
        """The score, and the feedback that is shown."""
        outcomes = self._outcomes(responses)
        slots = self._names.slots
        shown = [r.ident for r in self.feedback if (replace(r, value=slots[r.value]) if r.value in slots else r).shown(outcomes)]
        return Outcome({self._compiled.score: as_float(outcomes.get(self._compiled.score)) or 0.0}, shown)

    def earned(self, responses: Responses) -> float:
        return as_float(self._outcomes(responses).get(self._compiled.score)) or 0.0

    def _outcomes(self, responses: Responses) -> dict[str, Value | None]:
        slots = self._names.slots
        if slots:
            responses = {name: [slots.get(value, value) for value in values] for name, values in responses.items()}
        return self._compiled.outcomes(responses)


def _null(_scope: Scope) -> Value | None:
    return None


def _exit(_scope: Scope) -> None:
    raise ExitResponse


def _matched(response: Response, given: Value | None) -> float:
    return float(equals(given, response.given(response.correct)))


_TEMPLATE_WORTH: dict[str, Callable[[Response, Value | None], float]] = {"match": _matched, "map": mapped, "point": mapped_points}

"""The expressions of QTI 2.x and 3.0 (information model “Expressions”; 3.0 §2.11) compiled into functions.

An expression is compiled once per item, since finding a key by probing runs it many times. What cannot be decided (random
values, custom operators) is named in `undecided` and is NULL. Values that comparisons name are collected as candidates for probing.
"""

from __future__ import annotations

import math
from collections.abc import Callable, Iterable
from dataclasses import dataclass, field

from lxml import etree

from rogatum.core.accounting import XmlClaims
from rogatum.core.answer_patterns import is_usable, meets
from rogatum.core.formats.qti2.declarations import Mapping, Outcome, Response, float_of
from rogatum.core.formats.qti2.geometry import inside
from rogatum.core.formats.qti2.operators import OPERATORS, equal_bounds
from rogatum.core.formats.qti2.values import Value, boolean, number, value_of
from rogatum.core.formats.shared.keys import Named, Tolerance

Expression = Callable[["Scope"], Value | None]


@dataclass
class Declared:
    """What an item declares, by identifier."""

    responses: dict[str, Response]
    outcomes: dict[str, Outcome]


@dataclass
class Scope:
    """The values while processing runs."""

    responses: dict[str, Value | None]
    outcomes: dict[str, Value | None]

    def variable(self, name: str) -> Value | None:
        return self.outcomes[name] if name in self.outcomes else self.responses.get(name)


@dataclass
class Compiler:
    """Compiles expressions of one item."""

    declared: Declared
    claims: XmlClaims
    named: list[Named] = field(default_factory=list)
    undecided: list[str] = field(default_factory=list)

    def expression(self, element: etree._Element) -> Expression:
        tag = str(element.tag)
        maker = _MAKERS.get(tag)
        if maker is not None:
            return maker(self, element)
        operator = OPERATORS.get(tag)
        if operator is None:
            self.undecided.append(tag)
            return lambda _scope: None
        parts = [self.expression(child) for child in element]
        self._notice(tag, element)
        return lambda scope: operator([part(scope) for part in parts], element)

    def look_up(self, source: etree._Element, table: Iterable[float]) -> None:
        """Takes the entries of a table as candidates of the responses that are looked up in it."""
        names = [child.get("identifier", "") for child in source.iter("variable", "mapResponse")]
        for name in [name for name in names if name in self.declared.responses]:
            self.named += [Named(name, repr(bound), "bound") for bound in table]

    def refuse(self, element: etree._Element) -> Expression:
        self.undecided.append(str(element.tag))
        return lambda _scope: None

    # Candidates for probing

    def _notice(self, tag: str, element: etree._Element) -> None:
        """Collects the values that a comparison of a response names."""
        if tag not in _NAMING:
            return
        names = [
            child.get("identifier", "") for child in element.iter("variable") if child.get("identifier") in self.declared.responses
        ]
        if not names:
            return
        negated = any(parent.tag == "not" for parent in element.iterancestors())
        index = next((int(i.get("n", "0")) for i in element.iter("index") if (i.get("n") or "").isdigit()), None)
        for text in self._texts_named(element):
            self._candidate(names[0], text, tag, element, index, negated)

    def _texts_named(self, element: etree._Element) -> list[str]:
        found = []
        for child in element.iter("baseValue", "correct"):
            if child.tag == "baseValue":
                found.append((child.text or "").strip())
            else:
                response = self.declared.responses.get(child.get("identifier", ""))
                found += response.correct if response else []
        return found

    def _candidate(self, name: str, text: str, tag: str, element: etree._Element, index: int | None, negated: bool) -> None:
        case = (element.get("caseSensitive") or "true").lower() not in ("false", "0")
        value = float_of(text)
        rounding = next(iter(element.iter("roundTo", "round", "truncate")), element)
        if value is not None and (tag in ("equal", "equalRounded") or rounding is not element):
            bounds = equal_bounds(rounding, value)
            for bound in bounds:
                self.named.append(Named(name, repr(bound), "bound", index, case, negated))
        self.named.append(Named(name, text, _NAMING[tag], index, case, negated, _tolerance(rounding)))


def _tolerance(element: etree._Element) -> Tolerance | None:
    """How near a number has to be, where that is said by figures or per cent."""
    tag = element.tag
    if tag == "round":
        return Tolerance("decimal", 0)
    if tag in ("equalRounded", "roundTo"):
        decimal = element.get("roundingMode") == "decimalPlaces"
        return Tolerance("decimal" if decimal else "significant", min(15.0, max(0.0, float_of(element.get("figures")) or 0.0)))
    if tag == "equal" and element.get("toleranceMode") == "relative":
        return Tolerance("relative", abs(float_of((element.get("tolerance") or "0").split()[0]) or 0.0))
    return None


# Operators that compare a response with a value, and what QTI 1.2 calls that comparison.
_NAMING = {
    "match": "varequal",
    "equal": "varequal",
    "equalRounded": "varequal",
    "stringMatch": "varequal",
    "substring": "varsubstring",
    "member": "varequal",
    "contains": "varequal",
    "lt": "varlt",
    "lte": "varlte",
    "gt": "vargt",
    "gte": "vargte",
}


# Elements that are no plain operators


def _base_value(compiler: Compiler, element: etree._Element) -> Expression:
    value = value_of(element.get("baseType") or "string", "single", [compiler.claims.text(element)])
    return lambda _scope: value


def _variable(_compiler: Compiler, element: etree._Element) -> Expression:
    name = element.get("identifier", "")
    return lambda scope: scope.variable(name)


def _default(compiler: Compiler, element: etree._Element) -> Expression:
    outcome = compiler.declared.outcomes.get(element.get("identifier", ""))
    value = outcome.default if outcome else None
    return lambda _scope: value


def _correct(compiler: Compiler, element: etree._Element) -> Expression:
    response = compiler.declared.responses.get(element.get("identifier", ""))
    value = response.given(response.correct) if response else None
    return lambda _scope: value


def _map_response(compiler: Compiler, element: etree._Element) -> Expression:
    response = compiler.declared.responses.get(element.get("identifier", ""))
    if response is None:
        return compiler.refuse(element)
    for entry in response.mapping.entries if response.mapping else []:
        compiler.named.append(Named(response.ident, entry.key, "varequal", None, entry.case, False))
    return lambda scope: number(mapped(response, scope.responses.get(response.ident)))


def mapped(response: Response, given: Value | None) -> float:
    """`mapResponse`: each value of a container counts once; the sum is held to the bounds."""
    mapping = response.mapping or Mapping()
    values = list(dict.fromkeys(given.items)) if given is not None else []
    if not values:
        return mapping.bounded(0.0) if response.cardinality != "single" else 0.0
    return mapping.bounded(sum(mapping.worth(response.base, value) for value in values))


def _map_response_point(compiler: Compiler, element: etree._Element) -> Expression:
    response = compiler.declared.responses.get(element.get("identifier", ""))
    if response is None:
        return compiler.refuse(element)
    return lambda scope: number(mapped_points(response, scope.responses.get(response.ident)))


def mapped_points(response: Response, given: Value | None) -> float:
    """`mapResponsePoint`: each area counts once; points in no area are worth the default."""
    mapping = response.area or Mapping()
    total, hit = 0.0, set[int]()
    for point in given.items if given is not None else ():
        areas = [i for i, area in enumerate(mapping.areas) if isinstance(point, tuple) and inside(area.shape, area.coords, point)]
        total += 0.0 if areas and set(areas) <= hit else mapping.areas[areas[0]].value if areas else mapping.default
        hit.update(areas)
    return mapping.bounded(total)


def _constant(_compiler: Compiler, element: etree._Element) -> Expression:
    value = {"pi": math.pi, "e": math.e}.get(element.get("name", ""))
    return lambda _scope: None if value is None else number(value)


def _inside(compiler: Compiler, element: etree._Element) -> Expression:
    part = compiler.expression(element[0])
    coords = tuple(float_of(c) or 0.0 for c in element.get("coords", "").split(","))
    shape = element.get("shape", "default")

    def run(scope: Scope) -> Value | None:
        value = part(scope)
        if value is None:
            return None
        return boolean(any(isinstance(p, tuple) and inside(shape, coords, p) for p in value.items))

    return run


def _pattern(compiler: Compiler, element: etree._Element) -> Expression:
    part = compiler.expression(element[0])
    text = compiler.claims.attribute(element, "pattern")
    name = element[0].get("identifier", "")
    if not is_usable(text):
        compiler.undecided.append(f"the pattern “{text}”")
        return lambda _scope: None
    compiler.named.append(Named(name, text, "pattern"))

    def run(scope: Scope) -> Value | None:
        value = part(scope)
        return None if value is None else boolean(meets(text, str(value.one)))

    return run


_MAKERS: dict[str, Callable[[Compiler, etree._Element], Expression]] = {
    "baseValue": _base_value,
    "variable": _variable,
    "default": _default,
    "correct": _correct,
    "mapResponse": _map_response,
    "mapResponsePoint": _map_response_point,
    "null": lambda _compiler, _element: lambda _scope: None,
    "mathConstant": _constant,
    "inside": _inside,
    "patternMatch": _pattern,
    **dict.fromkeys(["random", "randomInteger", "randomFloat", "customOperator"], Compiler.refuse),
}

"""An interpreter of QTI 1.2 `resprocessing` (ASI XML Binding 1.2, 3.4): what a response earns and what feedback it shows.

The rules are compiled once per item into functions, since finding a key by probing runs them many times.
"""

from __future__ import annotations

from collections import Counter
from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass

from lxml import etree

from rogatum.core.accounting import XmlClaims
from rogatum.core.formats.shared.keys import Named, Outcome, Responses, folded
from rogatum.core.quizzes.marking import parse_number

Test = Callable[[Responses], bool]


@dataclass(frozen=True)
class Setting:
    variable: str
    action: str
    value: float


@dataclass
class Rule:
    """One `respcondition`. `values` are the texts that its positive tests name, by response."""

    test: Test
    settings: list[Setting]
    feedback: list[str]
    goes_on: bool
    plain_other: bool
    negated: bool


@dataclass
class Variable:
    default: float = 0.0
    minimum: float | None = None
    maximum: float | None = None


class Processing:
    """The compiled processing of an item. `undecided` names what no interpreter could decide."""

    def __init__(self, elements: Sequence[etree._Element], claims: XmlClaims, cardinalities: Mapping[str, str]) -> None:
        self.variables: dict[str, Variable] = {}
        self.rules: list[Rule] = []
        self.named: list[Named] = []
        self.undecided: list[str] = []
        self._known: dict[tuple[tuple[str, ...], ...], Outcome] = {}
        self._claims, self._cardinalities = claims, cardinalities
        for element in elements:
            self._declare(element)
            self.rules += [self._rule(child) for child in element if child.tag == "respcondition"]
            self.undecided += [str(c.tag) for c in element if c.tag in ("itemproc_extension", "respcond_extension")]
        self.score = self._score_variable()

    def run(self, responses: Responses) -> Outcome:
        """What responses come to; each is processed once, however often it is asked for."""
        key = tuple((name, *values) for name, values in responses.items())
        outcome = self._known.get(key)
        if outcome is None:
            outcome = self._known[key] = self._processed(responses)
        return outcome

    def _processed(self, responses: Responses) -> Outcome:
        """Processes responses: rules in order; one that fires ends it unless it says `continue`."""
        outcome = Outcome({name: variable.default for name, variable in self.variables.items()})
        for rule in self.rules:
            if not rule.test(responses):
                continue
            for setting in rule.settings:
                before = outcome.scores.get(setting.variable, 0.0)
                outcome.scores[setting.variable] = _ACTIONS.get(setting.action, _set)(before, setting.value)
            outcome.feedback += rule.feedback
            if not rule.goes_on:
                break
        return outcome

    def earned(self, responses: Responses) -> float:
        """The score variable after processing, held to its least value (`minvalue`); its greatest is the scale's matter."""
        earned = self.run(responses).scores.get(self.score, 0.0)
        return earned if self.minimum is None else max(self.minimum, earned)

    @property
    def maximum(self) -> float | None:
        variable = self.variables.get(self.score)
        return variable.maximum if variable else None

    @property
    def minimum(self) -> float | None:
        variable = self.variables.get(self.score)
        return variable.minimum if variable else None

    def _declare(self, element: etree._Element) -> None:
        for declared in element.iterfind("outcomes/decvar"):
            name = declared.get("varname") or "SCORE"
            self.variables[name] = Variable(
                number_of(declared.get("defaultval"), 0.0) or 0.0,
                number_of(declared.get("minvalue"), None),
                number_of(declared.get("maxvalue"), None),
            )

    def _score_variable(self) -> str:
        set_names = [setting.variable for rule in self.rules for setting in rule.settings]
        for name in ("SCORE", *set_names, *self.variables):
            declared_alone = name in self.variables and not set_names
            if name in set_names or declared_alone:
                return name
        return set_names[0] if set_names else "SCORE"

    def _rule(self, element: etree._Element) -> Rule:
        condition = element.find("conditionvar")
        tests = list(condition) if condition is not None else []
        settings = []
        for child in element.iterfind("setvar"):
            value = number_of(self._claims.text(child), None)
            if value is None:
                self.undecided.append(f"the value “{(child.text or '').strip()}”")
                continue
            settings.append(Setting(child.get("varname") or "SCORE", (child.get("action") or "Set").lower(), value))
        for child in element.iterfind("respcond_extension"):
            self.undecided.append(str(child.tag))
        return Rule(
            test=self._all_or_any(tests) if tests else _always,
            settings=settings,
            feedback=[child.get("linkrefid", "") for child in element.iterfind("displayfeedback")],
            goes_on=(element.get("continue") or "No").strip().lower() in ("yes", "true"),
            plain_other=[t.tag for t in tests] == ["other"],
            negated=any(t.tag == "not" for t in tests),
        )

    def _all_or_any(self, elements: list[etree._Element], negated: bool = False) -> Test:
        """Several tests side by side all count, but for several values of one single-valued response: there, any."""
        names = {element.get("respident", "") for element in elements}
        single = len(names) == 1 and self._cardinalities.get(next(iter(names))) == "Single"
        if len(elements) > 1 and single and all(e.tag in ("varequal", "varsubstring") for e in elements):
            return _any([self._test(element, negated) for element in elements])
        return self._conjunction(elements, negated)

    def _conjunction(self, elements: list[etree._Element], negated: bool) -> Test:
        """All tests; values of an ordered response that stand without an index stand in turn (ASI 1.2, “varequal”, index)."""
        places = Counter[str]()
        unplaced = Counter(e.get("respident", "") for e in elements if e.tag == "varequal" and e.get("index") is None)
        tests = []
        for element in elements:
            name = element.get("respident", "")
            in_turn = self._cardinalities.get(name) == "Ordered" and unplaced[name] > 1
            place = None
            if in_turn and element.tag == "varequal" and element.get("index") is None:
                places[name] += 1
                place = places[name]
            tests.append(self._test(element, negated, place))
        return tests[0] if len(tests) == 1 else _all(tests)

    def _test(self, element: etree._Element, negated: bool = False, place: int | None = None) -> Test:
        tag = str(element.tag)
        if tag == "and":
            return self._conjunction(list(element), negated)
        if tag == "or":
            return _any([self._test(child, negated) for child in element])
        if tag == "not":
            inner = self._all_or_any(list(element), not negated)
            return lambda responses: not inner(responses)
        if tag == "other":
            return _always
        maker = TESTS.get(tag)
        if maker is None:
            self.undecided.append(tag)
            return _never
        return self._leaf(element, maker, negated, place)

    def _leaf(self, element: etree._Element, maker: Callable[..., Test], negated: bool, place: int | None) -> Test:
        name = element.get("respident", "")
        value = self._claims.text(element).strip()
        case = (element.get("case") or "No").strip().lower() in ("yes", "true")
        index = element.get("index")
        position = int(index) if index and index.isdigit() else place
        self.named.append(Named(name, value, str(element.tag), position, case, negated))
        return maker(name, value, case, position, element)


def number_of(text: str | None, default: float | None) -> float | None:
    """A number of an attribute or element, or the default."""
    if text is None or not text.strip():
        return default
    number = parse_number(text)
    return default if number is None else number


def _set(_before: float, value: float) -> float:
    return value


_ACTIONS: dict[str, Callable[[float, float], float]] = {
    "set": _set,
    "add": lambda before, value: before + value,
    "subtract": lambda before, value: before - value,
    "multiply": lambda before, value: before * value,
    "divide": lambda before, value: before / value if value else before,
}


def _always(_responses: Responses) -> bool:
    return True


def _never(_responses: Responses) -> bool:
    return False


def _all(tests: list[Test]) -> Test:
    return lambda responses: all(test(responses) for test in tests)


def _any(tests: list[Test]) -> Test:
    return lambda responses: any(test(responses) for test in tests)


def _given(responses: Responses, name: str, index: int | None) -> Sequence[str]:
    values = responses.get(name, ())
    if index is None:
        return values
    return values[index - 1 : index] if index >= 1 else ()


def _equal(name: str, value: str, case: bool, index: int | None, _element: etree._Element) -> Test:
    wanted, number = folded(value, case), parse_number(value) if _is_number(value) else None

    def test(responses: Responses) -> bool:
        for given in _given(responses, name, index):
            if folded(given, case) == wanted:
                return True
            if number is not None and _is_number(given) and parse_number(given) == number:
                return True
        return False

    return test


def _is_number(text: str) -> bool:
    try:
        float(text)
    except ValueError:
        return False
    return True


def _substring(name: str, value: str, case: bool, index: int | None, _element: etree._Element) -> Test:
    wanted = folded(value, case)
    return lambda responses: any(wanted in folded(given, case) for given in _given(responses, name, index))


def _compared(holds: Callable[[float, float], bool]) -> Callable[..., Test]:
    def maker(name: str, value: str, _case: bool, index: int | None, _element: etree._Element) -> Test:
        bound = parse_number(value)

        def test(responses: Responses) -> bool:
            numbers = [parse_number(given) for given in _given(responses, name, index)]
            return bound is not None and any(number is not None and holds(number, bound) for number in numbers)

        return test

    return maker


def _subset(name: str, value: str, case: bool, _index: int | None, element: etree._Element) -> Test:
    wanted = {folded(part, case) for part in value.split(",") if part.strip()}
    exact = (element.get("setmatch") or "Exact").lower() == "exact"

    def test(responses: Responses) -> bool:
        given = {folded(part, case) for part in responses.get(name, ())}
        if any({part.strip() for part in group.split(",")} == wanted for group in given if "," in group):
            return True  # a group of a `response_grp` is one value that names its members
        return bool(given) and (given == wanted if exact else given <= wanted)

    return test


def _unanswered(name: str, _value: str, _case: bool, _index: int | None, _element: etree._Element) -> Test:
    return lambda responses: not any(given.strip() for given in responses.get(name, ()))


TESTS: dict[str, Callable[..., Test]] = {
    "varequal": _equal,
    "varsubstring": _substring,
    "varlt": _compared(lambda number, bound: number < bound),
    "varlte": _compared(lambda number, bound: number <= bound),
    "vargt": _compared(lambda number, bound: number > bound),
    "vargte": _compared(lambda number, bound: number >= bound),
    "varsubset": _subset,
    "unanswered": _unanswered,
}

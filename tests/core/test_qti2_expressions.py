"""Every operator of QTI 2.x and 3.0, as the information model defines it: what it gives, and when it is NULL."""

from __future__ import annotations

import math
import re

import pytest
from lxml import etree

from rogatum.core.accounting import Account, XmlClaims
from rogatum.core.formats.qti2.declarations import read_outcome, read_response
from rogatum.core.formats.qti2.expressions import Compiler, Declared, Scope
from rogatum.core.formats.qti2.geometry import inside
from rogatum.core.formats.qti2.operators import OPERATORS
from rogatum.core.formats.qti2.values import value_of
from rogatum.core.formats.shared.keys.fitting_text import text_that_fits


def compiler(*declarations: str) -> Compiler:
    claims = XmlClaims(Account(), frozenset())
    responses = [read_response(etree.fromstring(text), claims) for text in declarations]
    return Compiler(Declared({response.ident: response for response in responses}, {}), claims)


def evaluated(markup: str, compile_with: Compiler | None = None, **given: list[str]):
    """The value of an expression: a plain value, a list for a container, None for NULL."""
    made = compile_with or compiler()
    responses = {name: response.given(given.get(name, [])) for name, response in made.declared.responses.items()}
    value = made.expression(etree.fromstring(markup))(Scope(responses, {}))
    if value is None:
        return None
    return value.one if value.cardinality == "single" else list(value.items)


def v(value: object, base: str = "float") -> str:
    return f'<baseValue baseType="{base}">{value}</baseValue>'


def both(tag: str, *values: str, **attributes: str) -> str:
    shown = "".join(f' {name}="{value}"' for name, value in attributes.items())
    return f"<{tag}{shown}>{''.join(values)}</{tag}>"


TRUE, FALSE, NULL = v("true", "boolean"), v("false", "boolean"), "<null/>"
A, B, C = (v(letter, "identifier") for letter in "ABC")
AB = both("multiple", A, B)
CASES = [
    (both("sum", v(1), v(2), v(3)), 6),
    (both("sum", v(1), NULL), None),
    (both("product", v(2), v(3)), 6),
    (both("subtract", v(5), v(3)), 2),
    (both("divide", v(6), v(4)), 1.5),
    (both("divide", v(6), v(0)), None),
    (both("power", v(2), v(10)), 1024),
    (both("integerDivide", v(7), v(2)), 3),
    (both("integerDivide", v(-7), v(2)), -4),
    (both("integerModulus", v(7), v(3)), 1),
    (both("max", v(1), v(9), v(4)), 9),
    (both("min", v(1), v(9), v(4)), 1),
    (both("gcd", v(12, "integer"), v(18, "integer")), 6),
    (both("lcm", v(4, "integer"), v(6, "integer")), 12),
    (both("round", v(2.5)), 3),
    (both("round", v(-2.5)), -2),
    (both("truncate", v(-2.7)), -2),
    (both("integerToFloat", v(3, "integer")), 3.0),
    (both("roundTo", v(1.2345), roundingMode="decimalPlaces", figures="2"), 1.23),
    (both("roundTo", v(12345), roundingMode="significantFigures", figures="2"), 12000),
    (both("mathOperator", v(math.pi / 2), name="sin"), 1),
    (both("mathOperator", v(100), name="log"), 2),
    (both("mathOperator", v(-3), name="abs"), 3),
    (both("mathOperator", v(-3), name="signum"), -1),
    (both("mathOperator", v(-1), name="ln"), None),
    (both("statsOperator", both("multiple", v(1), v(2), v(3)), name="mean"), 2),
    (both("statsOperator", both("multiple", v(1), v(3)), name="popSD"), 1),
    ("<mathConstant name='pi'/>", math.pi),
    (both("and", TRUE, TRUE), True),
    (both("and", TRUE, FALSE), False),
    (both("and", FALSE, NULL), False),
    (both("and", TRUE, NULL), None),
    (both("or", FALSE, TRUE), True),
    (both("or", FALSE, NULL), None),
    (both("or", FALSE, FALSE), False),
    (both("not", FALSE), True),
    (both("not", NULL), None),
    (both("anyN", TRUE, TRUE, FALSE, min="2", max="3"), True),
    (both("anyN", TRUE, FALSE, FALSE, min="2", max="3"), False),
    (both("anyN", TRUE, NULL, FALSE, min="2", max="3"), None),
    (both("lt", v(1), v(2)), True),
    (both("lte", v(2), v(2)), True),
    (both("gt", v(1), v(2)), False),
    (both("gte", v(2), NULL), None),
    (both("durationLT", v(1, "duration"), v(2, "duration")), True),
    (both("durationGTE", v(1, "duration"), v(2, "duration")), False),
    (both("match", A, A), True),
    (both("match", A, B), False),
    (both("match", A, NULL), None),
    (both("match", AB, both("multiple", B, A)), True),
    (both("match", both("ordered", A, B), both("ordered", B, A)), False),
    (both("match", v("A B", "pair"), v("B A", "pair")), True),
    (both("match", v("A B", "directedPair"), v("B A", "directedPair")), False),
    (both("equal", v(2.0), v(2), toleranceMode="exact"), True),
    (both("equal", v(10.4), v(10), toleranceMode="absolute", tolerance="0.5 0.3"), False),
    (both("equal", v(9.6), v(10), toleranceMode="absolute", tolerance="0.5 0.3"), True),
    (both("equal", v(109), v(100), toleranceMode="relative", tolerance="10"), True),
    (both("equal", v(110), v(100), toleranceMode="relative", tolerance="10", includeUpperBound="false"), False),
    (both("equalRounded", v(3.14159), v(3.1416), roundingMode="significantFigures", figures="4"), True),
    (both("equalRounded", v(1.26), v(1.24), roundingMode="decimalPlaces", figures="1"), False),
    (both("stringMatch", v("Loam", "string"), v("loam", "string"), caseSensitive="false"), True),
    (both("stringMatch", v("Loam", "string"), v("loam", "string"), caseSensitive="true"), False),
    (both("stringMatch", v("a loam", "string"), v("loam", "string"), caseSensitive="true", substring="true"), True),
    (both("substring", v("oam", "string"), v("Loam", "string"), caseSensitive="true"), True),
    (both("patternMatch", v("loams", "string"), pattern="[Ll]oams?"), True),
    (both("patternMatch", v("loamy", "string"), pattern="[Ll]oams?"), False),
    (both("member", A, AB), True),
    (both("member", C, AB), False),
    (both("member", A, NULL), None),
    (both("contains", both("multiple", A, B, C), AB), True),
    (both("contains", AB, C), False),
    (both("contains", both("ordered", A, B, C), both("ordered", B, C)), True),
    (both("contains", both("ordered", A, B, C), both("ordered", A, C)), False),
    (both("delete", A, both("multiple", A, B, A)), ["B"]),
    (both("index", both("ordered", A, B), n="2"), "B"),
    (both("index", both("ordered", A, B), n="3"), None),
    (both("containerSize", AB), 2),
    (both("containerSize", NULL), 0),
    (both("isNull", NULL), True),
    (both("isNull", v("", "string")), True),
    (both("isNull", A), False),
    (both("multiple", A, NULL, B), ["A", "B"]),
    (both("multiple", NULL), None),
    (both("repeat", A, numberRepeats="3"), ["A", "A", "A"]),
    (both("inside", v("5 5", "point"), shape="rect", coords="0,0,10,10"), True),
]


@pytest.mark.parametrize(("markup", "wanted"), CASES, ids=lambda case: case[:60] if isinstance(case, str) else "")
def test_an_operator(markup, wanted):
    found = evaluated(markup)
    assert found == pytest.approx(wanted) if isinstance(wanted, float) else found == wanted


def test_every_operator_has_a_case():
    tried = {str(element.tag) for markup, _ in CASES for element in etree.fromstring(markup).iter()}
    assert OPERATORS.keys() - tried == {"fieldValue"}


@pytest.mark.parametrize("tag", ["random", "randomInteger", "randomFloat", "customOperator", "unheardOf"])
def test_what_cannot_be_decided_is_named(tag):
    made = compiler()
    assert evaluated(f"<{tag}/>", made) is None and made.undecided == [tag]


MAPPED = """<responseDeclaration identifier="R" cardinality="multiple" baseType="identifier">
<correctResponse><value>A</value><value>B</value></correctResponse>
<mapping lowerBound="-1" upperBound="3" defaultValue="-0.5"><mapEntry mapKey="A" mappedValue="2"/><mapEntry mapKey="B" mappedValue="2"/></mapping>
</responseDeclaration>"""


@pytest.mark.parametrize(
    ("given", "wanted"),
    [(["A"], 2), (["A", "B"], 3), (["A", "A"], 2), (["C"], -0.5), (["C", "D", "E"], -1), ([], 0)],
)
def test_a_mapping_counts_each_value_once_within_its_bounds(given, wanted):
    assert evaluated('<mapResponse identifier="R"/>', compiler(MAPPED), R=given) == wanted


def test_variables_and_right_responses():
    made = compiler(MAPPED)
    assert evaluated('<variable identifier="R"/>', made, R=["A"]) == ["A"]
    assert evaluated('<correct identifier="R"/>', made) == ["A", "B"]
    assert evaluated('<variable identifier="nothing"/>', made) is None


AREAS = [
    ("rect", (0, 0, 10, 10), (10, 0), True),
    ("rect", (10, 10, 0, 0), (5, 5), True),
    ("rect", (0, 0, 10, 10), (11, 0), False),
    ("circle", (5, 5, 2), (5, 7), True),
    ("circle", (5, 5, 2), (7, 7), False),
    ("ellipse", (0, 0, 4, 2), (3, 1), True),
    ("ellipse", (0, 0, 4, 2), (4, 2), False),
    ("poly", (0, 0, 10, 0, 0, 10), (2, 2), True),
    ("poly", (0, 0, 10, 0, 0, 10), (8, 8), False),
    ("default", (), (1000, 1000), True),
]


@pytest.mark.parametrize(("shape", "coords", "point", "wanted"), AREAS)
def test_areas(shape, coords, point, wanted):
    assert inside(shape, coords, point) is wanted


TABLE = """<outcomeDeclaration identifier="GRADE" cardinality="single" baseType="identifier">
<interpolationTable defaultValue="fail"><interpolationTableEntry sourceValue="8" targetValue="good"/>
<interpolationTableEntry sourceValue="5" includeBoundary="false" targetValue="fair"/></interpolationTable></outcomeDeclaration>"""


@pytest.mark.parametrize(("score", "grade"), [(9, "good"), (8, "good"), (6, "fair"), (5, "fail"), (0, "fail")])
def test_a_table_of_grades(score, grade):
    outcome = read_outcome(etree.fromstring(TABLE), XmlClaims(Account(), frozenset()))
    assert outcome.looked_up(score).one == grade


VALUES = [
    ("integer", "7", 7),
    ("integer", "7.0", 7),
    ("float", "1,5", 1.5),
    ("float", "loam", None),
    ("boolean", "true", True),
    ("boolean", "maybe", None),
    ("pair", "B A", ("A", "B")),
    ("directedPair", "B A", ("B", "A")),
    ("directedPair", "B", None),
    ("point", "3 4", (3.0, 4.0)),
    ("string", " as typed ", " as typed "),
]


@pytest.mark.parametrize(("base", "text", "wanted"), VALUES)
def test_values_of_each_type(base, text, wanted):
    value = value_of(base, "single", [text])
    assert (None if value is None else value.one) == wanted


@pytest.mark.parametrize(
    "pattern",
    ["loam", "[Ll]oams?", r"\d{2,4} g", "(sand|silt)y?", "a.c", "[^a-z]+", r"\s*x\s*", "^clay$", r"\w+ly", "(?:ab)+", "x|y|z"],
)
def test_a_text_is_made_that_fits_a_pattern(pattern):
    assert re.fullmatch(pattern, text_that_fits(pattern))


@pytest.mark.parametrize("pattern", ["(", "[a-z", "(?=x)y"])
def test_none_is_made_for_what_no_text_fits(pattern):
    assert text_that_fits(pattern) is None

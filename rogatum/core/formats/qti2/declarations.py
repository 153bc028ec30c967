"""Declarations of responses and outcomes (QTI 2.1 information model 5, 3.0 §5): types, right responses, mappings, tables."""

from __future__ import annotations

from dataclasses import dataclass, field

from lxml import etree

from rogatum.core.accounting import XmlClaims
from rogatum.core.formats.qti2.values import Value, scalar, value_of


@dataclass(frozen=True)
class MapEntry:
    key: str
    value: float
    case: bool


@dataclass(frozen=True)
class Area:
    shape: str
    coords: tuple[float, ...]
    value: float


@dataclass
class Mapping:
    """A `mapping` or `areaMapping`: what values are worth, and the bounds of their sum."""

    default: float = 0.0
    lower: float | None = None
    upper: float | None = None
    entries: list[MapEntry] = field(default_factory=list)
    areas: list[Area] = field(default_factory=list)

    def bounded(self, total: float) -> float:
        if self.lower is not None:
            total = max(self.lower, total)
        return total if self.upper is None else min(self.upper, total)

    def worth(self, base: str, value: object) -> float:
        """What one value is mapped to."""
        for entry in self.entries:
            if base == "string":
                a, b = " ".join(entry.key.split()), " ".join(str(value).split())
                if a == b or (not entry.case and a.casefold() == b.casefold()):
                    return entry.value
            elif scalar(base, entry.key) == value:
                return entry.value
        return self.default


@dataclass
class Response:
    """A `responseDeclaration`. `correct` keeps the texts of the right response as they stand."""

    ident: str
    cardinality: str
    base: str
    correct: list[str] = field(default_factory=list)
    mapping: Mapping | None = None
    area: Mapping | None = None

    def given(self, texts: list[str]) -> Value | None:
        return value_of(self.base, self.cardinality, texts)


@dataclass
class Outcome:
    """An `outcomeDeclaration` with its table for `lookupOutcomeValue`, where it has one."""

    ident: str
    cardinality: str
    base: str
    default: Value | None = None
    maximum: float | None = None
    minimum: float | None = None
    table: list[tuple[float, bool, str]] = field(default_factory=list)
    table_default: str | None = None
    exact: bool = False

    def looked_up(self, source: float) -> Value | None:
        """The target of a `matchTable` (equal) or an `interpolationTable` (the first bound at or below)."""
        for bound, included, target in self.table:
            hit = source == bound if self.exact else (source >= bound if included else source > bound)
            if hit:
                return value_of(self.base, self.cardinality, [target])
        return None if self.table_default is None else value_of(self.base, self.cardinality, [self.table_default])


def float_of(text: str | None) -> float | None:
    value = scalar("float", text) if text and text.strip() else None
    return value if isinstance(value, float) else None


def _flag(text: str | None, default: bool) -> bool:
    return default if text is None else text.strip().lower() in ("true", "1")


def read_response(element: etree._Element, claims: XmlClaims) -> Response:
    base = element.get("baseType") or "identifier"
    response = Response(element.get("identifier", ""), element.get("cardinality", "single"), base)
    for value in element.iterfind("correctResponse/value"):
        response.correct.append(claims.text(value).strip())
    for mapping in element.iterfind("mapping"):
        response.mapping = _mapping(mapping, claims)
        for entry in mapping.iterfind("mapEntry"):
            key, worth = claims.attribute(entry, "mapKey"), float_of(claims.attribute(entry, "mappedValue"))
            response.mapping.entries.append(MapEntry(key, worth or 0.0, _flag(entry.get("caseSensitive"), True)))
    for mapping in element.iterfind("areaMapping"):
        response.area = _mapping(mapping, claims)
        for entry in mapping.iterfind("areaMapEntry"):
            coords = tuple(float_of(part) or 0.0 for part in claims.attribute(entry, "coords").split(","))
            worth = float_of(claims.attribute(entry, "mappedValue")) or 0.0
            response.area.areas.append(Area(entry.get("shape", "default"), coords, worth))
    return response


def _mapping(element: etree._Element, claims: XmlClaims) -> Mapping:
    for name in ("defaultValue", "lowerBound", "upperBound"):
        if element.get(name) is not None:
            claims.attribute(element, name)
    return Mapping(
        float_of(element.get("defaultValue")) or 0.0, float_of(element.get("lowerBound")), float_of(element.get("upperBound"))
    )


def read_outcome(element: etree._Element, claims: XmlClaims) -> Outcome:
    outcome = Outcome(element.get("identifier", ""), element.get("cardinality", "single"), element.get("baseType") or "float")
    values = [claims.text(value).strip() for value in element.iterfind("defaultValue/value")]
    outcome.default = value_of(outcome.base, outcome.cardinality, values)
    for name in ("normalMaximum", "normalMinimum", "masteryValue"):
        if element.get(name) is not None:
            claims.attribute(element, name)
    outcome.maximum, outcome.minimum = float_of(element.get("normalMaximum")), float_of(element.get("normalMinimum"))
    for table in element.iterfind("matchTable"):
        outcome.exact, outcome.table_default = True, table.get("defaultValue")
        for entry in table.iterfind("matchTableEntry"):
            claims.subtree(entry)
            outcome.table.append((float_of(entry.get("sourceValue")) or 0.0, True, entry.get("targetValue", "")))
    for table in element.iterfind("interpolationTable"):
        outcome.table_default = table.get("defaultValue")
        for entry in table.iterfind("interpolationTableEntry"):
            claims.subtree(entry)
            included = _flag(entry.get("includeBoundary"), True)
            outcome.table.append((float_of(entry.get("sourceValue")) or 0.0, included, entry.get("targetValue", "")))
        outcome.table.sort(key=lambda entry: -entry[0])
    return outcome

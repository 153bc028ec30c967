"""The structure of a test (QTI 2.1 information model “Tests”): sections as pools, selections as draws, references with weights."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, field

from lxml import etree

from rogatum.core.accounting import XmlClaims
from rogatum.core.formats.qti2.declarations import float_of
from rogatum.core.sources import SourceFile

_PARTS = frozenset({"testPart", "assessmentSection", "assessmentTest"})
# What steers how a test is run: set aside, since a quiz has settings of its own.
_STEERING = frozenset("outcomeDeclaration outcomeProcessing itemSessionControl selection ordering".split())
DEEPEST = 40


@dataclass
class Reference:
    """Where a test names an item: its pool path, the weight of its points, the passage of its section."""

    path: tuple[str, ...]
    weight: float = 1.0
    stimulus: str | None = None


@dataclass
class Structure:
    """References by file in the order of the test; draws by pool path, as (title, pick)."""

    references: dict[str, Reference] = field(default_factory=dict)
    draws: dict[tuple[str, ...], tuple[str, int]] = field(default_factory=dict)
    missing: list[str] = field(default_factory=list)

    def order(self, path: str) -> int:
        """The item's place in the test; items that no test names come last, in their own order."""
        return list(self.references).index(path) if path in self.references else len(self.references)


def read_structure(
    root: etree._Element,
    claims: XmlClaims,
    structure: Structure,
    find: Callable[[str], SourceFile | None],
    passage: Callable[[etree._Element], str],
) -> None:
    """Reads a test or a section. `find` gives the file that a reference means, `passage` adds a shared passage and gives its id."""
    _Walker(claims, structure, find, passage).walk(root, (), None, 0)


@dataclass
class _Walker:
    claims: XmlClaims
    structure: Structure
    find: Callable[[str], SourceFile | None]
    passage: Callable[[etree._Element], str]

    def walk(self, element: etree._Element, path: tuple[str, ...], stimulus: str | None, depth: int) -> None:
        title = " ".join(self.claims.attribute(element, "title").split())
        if element.tag != "testPart" and title and (not path or path[-1] != title):
            path = (*path, title)
        selection = element.find("selection")
        if selection is not None and (selection.get("select") or "").isdigit() and int(selection.get("select", "0")) > 0:
            self.structure.draws[path] = (title, int(selection.get("select", "0")))
        for child in element:
            tag = str(child.tag)
            if tag in _PARTS and depth < DEEPEST:
                self.walk(child, path, stimulus, depth + 1)
            elif tag == "rubricBlock":
                stimulus = self.passage(child) or stimulus
            elif tag == "assessmentItemRef":
                self._reference(child, path, stimulus)
            elif tag == "assessmentSectionRef" or tag in _STEERING:
                self.claims.subtree(child)

    def _reference(self, element: etree._Element, path: tuple[str, ...], stimulus: str | None) -> None:
        self.claims.attribute(element, "href")
        weights = [float_of(w.get("value")) for w in element.iterfind("weight")]
        file = self.find(element.get("href", ""))
        if file is None:
            self.structure.missing.append(element.get("href", "") or element.get("identifier", ""))
            return
        weight = weights[0] if weights and weights[0] is not None else 1.0
        self.structure.references.setdefault(file.path, Reference(path, weight, stimulus))

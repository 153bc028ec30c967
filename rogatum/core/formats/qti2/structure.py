"""The structure of a test (QTI 2.1 information model “Tests”): sections as pools and as parts of a quiz, selections as draws."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, field

from lxml import etree

from rogatum.core.accounting import XmlClaims
from rogatum.core.formats.qti2.declarations import float_of
from rogatum.core.formats.shared.base import free_path
from rogatum.core.formats.shared.numbers import picked
from rogatum.core.formats.shared.quiz_drafts import PartDraft
from rogatum.core.sources import SourceFile

# What the rubric block of a section is for where it tells what to do, and is no passage of its items.
INSTRUCTIONS = "instructions"
_PARTS = frozenset({"testPart", "assessmentSection", "assessmentTest"})
_MEMBERS = ("assessmentItemRef", "assessmentSection", "assessmentSectionRef")
# What is read elsewhere, or steers how a test adds up.
_STEERING = frozenset("outcomeDeclaration outcomeProcessing selection ordering".split())
# On what it hangs whether something is shown (information model “Tests”, preconditions and branching): no quiz of ours says it.
_CONDITIONS = frozenset({"preCondition", "branchRule"})
DEEPEST = 40
# A section may stand in several places; sections that name one another, again and again, end here.
MOST_SECTIONS = 2000


@dataclass
class Reference:
    """Where a test names an item: its pool path, and the passage of its section."""

    path: tuple[str, ...]
    stimulus: str | None = None
    drawn: bool = False


@dataclass
class Structure:
    """References by file in the order of the tests; what is named and not there."""

    references: dict[str, Reference] = field(default_factory=dict)
    missing: list[str] = field(default_factory=list)
    sections: int = 0
    paths: set[tuple[str, ...]] = field(default_factory=set)

    def order(self, path: str) -> int:
        """The item's place in the tests; items that no test names come last, in their own order."""
        if not self._places or len(self._places) != len(self.references):
            self._places = {file: place for place, file in enumerate(self.references)}
        return self._places.get(path, len(self.references))

    _places: dict[str, int] = field(default_factory=dict)


@dataclass
class Finder:
    """What a walk needs of its package: files by address, sections in files of their own, passages by their ids."""

    file: Callable[[str], SourceFile | None]
    section: Callable[[str], tuple[etree._Element, Finder] | None]
    passage: Callable[[etree._Element], str]
    said: Callable[[etree._Element], str]
    leave: Callable[[str], None]


@dataclass(frozen=True)
class Weights:
    """Which of the weights of its items a test adds up with: those of some names, any, or (no names) none."""

    names: frozenset[str] | None

    def of(self, reference: etree._Element) -> float | None:
        for weight in reference.iterfind("weight"):
            if self.names is None or weight.get("identifier", "") in self.names:
                value = float_of(weight.get("value"))
                return value if value is not None and value >= 0 else None
        return None

    def unused(self, reference: etree._Element) -> list[str]:
        names = [weight.get("identifier", "") for weight in reference.iterfind("weight")]
        return names[1:] if self.names is None else [name for name in names if name not in self.names]


def weights_of(root: etree._Element) -> Weights:
    """The weights that the outcome processing of a test multiplies scores by (`weightIdentifier`); any where it adds nothing up."""
    sums = root.findall("outcomeProcessing//testVariables")
    return Weights(frozenset(name for e in sums if (name := e.get("weightIdentifier"))) if sums else None)


def read_structure(
    root: etree._Element, claims: XmlClaims, structure: Structure, finder: Finder, weights: Weights
) -> list[PartDraft]:
    """Reads a test or a section: the items go into the structure; returned are the parts, whose members are paths of files."""
    walker = _Walker(claims, structure, finder, weights)
    walker.walk(root, (), None, 0, nested=False)
    return [part for part in walker.parts if not part.empty()]


def selection_of(element: etree._Element) -> int | None:
    """How many of its children a section gives; None for all."""
    selection = element.find("selection")
    return picked(selection.get("select", "")) if selection is not None else None


@dataclass
class _Walker:
    claims: XmlClaims
    structure: Structure
    finder: Finder
    weights: Weights
    parts: list[PartDraft] = field(default_factory=list)
    draw: PartDraft | None = None

    def walk(self, element: etree._Element, path: tuple[str, ...], stimulus: str | None, depth: int, nested: bool) -> None:
        """`nested` says whether it stands in a section; there one without a title only holds what shares a passage."""
        title = " ".join(self.claims.attribute(element, "title").split())
        section = element.tag == "assessmentSection"
        if element.tag != "testPart" and title and (not path or path[-1] != title):
            path = (*path, title)
        pick = selection_of(element) if section else None
        before = self.draw
        if pick is not None and before is None:
            path = self._own(path)
            self.draw = self._begin(title, path, pick)
            self._check_selection(element)
        elif section and before is None and (title or not nested):
            self._begin(title, path)
        self._check_steered(element)
        self._children(element, path, stimulus, depth)
        if before is None and self.draw is not None:
            self.draw = None
            self._begin("", path[:-1])
        elif section and title and before is None:
            self._begin("", path[:-1])

    def _begin(self, title: str, path: tuple[str, ...], pick: int | None = None) -> PartDraft:
        if self.parts and self.parts[-1].empty() and not title and pick is None:
            return self.parts[-1]
        self.parts.append(PartDraft(title, path, pick=pick))
        return self.parts[-1]

    def _own(self, path: tuple[str, ...]) -> tuple[str, ...]:
        """The path of a draw, which no other section has: what is drawn from is told by it."""
        return free_path(path or ("items",), self.structure.paths.__contains__)

    def _check_selection(self, element: etree._Element) -> None:
        """A draw of ours is of items, none twice; what a selection is beyond that is listed."""
        selection = element.find("selection")
        if selection is not None and selection.get("withReplacement", "false").lower() in ("true", "1"):
            self.finder.leave("selection: an item may be selected more than once (withReplacement)")
        if any(len(list(child.iter("assessmentItemRef"))) > 1 for child in element.iterfind("assessmentSection")):
            self.finder.leave("selection: whole sections are selected, with all their items")

    def _check_steered(self, element: etree._Element) -> None:
        """Lists what a section says of single items beyond ours: those that are always drawn, and those that keep their place."""
        for attribute, within, words in (
            ("required", "selection", "are always among what is selected"),
            ("fixed", "ordering", "keep their place where the others are shuffled"),
        ):
            count = sum((child.get(attribute) or "").lower() in ("true", "1") for child in element.iterchildren(*_MEMBERS))
            if count and element.find(within) is not None:
                self.finder.leave(f"{attribute}: {count} of the section {words}")

    def _children(self, element: etree._Element, path: tuple[str, ...], stimulus: str | None, depth: int) -> None:
        nested = element.tag == "assessmentSection"
        for child in element:
            tag = str(child.tag)
            if tag in _PARTS and depth < DEEPEST:
                self.walk(child, path, stimulus, depth + 1, nested)
            elif tag == "assessmentSectionRef":
                self._section(child, path, stimulus, depth, nested)
            elif tag == "rubricBlock" and child.get("use") == INSTRUCTIONS and nested and self.parts:
                self.parts[-1].instructions = self.finder.said(child)
            elif tag == "rubricBlock" and "candidate" in (child.get("view") or "candidate"):
                stimulus = self.finder.passage(child) or stimulus
            elif tag == "assessmentItemRef":
                self._reference(child, path, stimulus)
            elif tag in _STEERING:
                self.claims.subtree(child)
            elif tag in _CONDITIONS:
                self._condition(child)

    def _condition(self, element: etree._Element) -> None:
        """Lists a condition on which something of a test is shown."""
        self.claims.subtree(element)
        owner = element.getparent()
        named = owner.get("identifier", "") if owner is not None else ""
        target = f" to {element.get('target')}" if element.get("target") else ""
        self.finder.leave(f"{element.tag}{target}: a condition at {named}")

    def _section(self, element: etree._Element, path: tuple[str, ...], stimulus: str | None, depth: int, nested: bool) -> None:
        """A section in a file of its own stands where it is named."""
        self.claims.subtree(element)
        self.structure.sections += 1
        found = self.finder.section(element.get("href", ""))
        if found is None or depth >= DEEPEST or self.structure.sections > MOST_SECTIONS:
            self.structure.missing.append(element.get("href", "") or element.get("identifier", ""))
            return
        root, finder = found
        own, self.finder = self.finder, finder
        self.walk(root, path, stimulus, depth + 1, nested)
        self.finder = own

    def _reference(self, element: etree._Element, path: tuple[str, ...], stimulus: str | None) -> None:
        self.claims.attribute(element, "href")
        for condition in element.iterchildren(*_CONDITIONS):
            self._condition(condition)
        for name in self.weights.unused(element):
            self.finder.leave(f"weight {name} of {element.get('identifier', '')}: the score of the test does not use it")
        weight = self.weights.of(element)
        file = self.finder.file(element.get("href", ""))
        part = self.draw or (self.parts[-1] if self.parts else self._begin("", path))
        if file is None:
            # It counts among what is drawn from all the same.
            self.structure.missing.append(element.get("href", "") or element.get("identifier", ""))
            part.members.append(self.structure.missing[-1])
            return
        self.structure.paths.add(path)
        known = self.structure.references.get(file.path)
        if known is None:
            self.structure.references[file.path] = Reference(path, stimulus, self.draw is not None)
        elif self.draw is not None and not known.drawn:
            # What is drawn from is a pool; a fixed item is named one by one.
            known.path, known.drawn = path, True
        part.members.append(file.path)
        if weight is not None:
            part.weights[file.path] = weight

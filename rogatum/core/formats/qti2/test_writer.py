"""Writes tests: one for each quiz of a bank, or one that holds its pools where it has no quiz."""

from __future__ import annotations

from collections.abc import Callable
from itertools import count

from lxml import etree

from rogatum.core.finding import Finding
from rogatum.core.formats.qti2 import test_feedback, test_settings
from rogatum.core.formats.qti2.dialects import Dialect
from rogatum.core.formats.qti2.elements import Content, identifiers, node
from rogatum.core.formats.qti2.structure import INSTRUCTIONS
from rogatum.core.formats.shared.base import free_name
from rogatum.core.formats.shared.draw_pools import selected_of
from rogatum.core.formats.shared.numbers import exact_number
from rogatum.core.formats.shared.pool_tree import PoolNode
from rogatum.core.items import Bank, Item
from rogatum.core.quizzes.model import Part, Quiz
from rogatum.core.quizzes.worth import Stock, weight_in

WEIGHT = "POINTS"


class TestWriter:
    """Writes one test. `names` gives the identifier of each item that is in the package; `refs` are the media it uses."""

    def __init__(self, bank: Bank, dialect: Dialect, names: dict[str, str]) -> None:
        self.bank, self.dialect, self.names = bank, dialect, names
        self.items, self.stock = {item.id: item for item in bank.items}, Stock(bank)
        self.passages = {} if dialect.stimuli else {stimulus.id: stimulus for stimulus in bank.stimuli}
        self.refs: set[str] = set()
        self.used: list[str] = []
        self.findings: list[Finding] = []
        self._sections = count(1)
        self._references: set[str] = set()

    # Pools

    def of_pools(self, identifier: str, title: str, top: PoolNode) -> etree._Element:
        part = node("testPart", identifier="part1", navigationMode="nonlinear", submissionMode="simultaneous")
        if top.items or not top.children:
            part.append(self._pool(title, PoolNode(items=top.items)))
        for name, child in top.children.items():
            part.append(self._pool(name, child))
        return node("assessmentTest", part, identifier=identifier, title=title)

    def of_passages(self, identifier: str, items: list[Item]) -> etree._Element:
        """A section in a file of its own, for items that no test holds and whose passage has no other place."""
        section = self._section("")
        section.set("identifier", identifier)
        self._fill(section, items, self._reference)
        return section

    def _pool(self, title: str, pool: PoolNode) -> etree._Element:
        section = self._section(title)
        self._fill(section, pool.items, self._reference)
        for name, child in pool.children.items():
            section.append(self._pool(name, child))
        return section

    # Quizzes

    def of_quiz(self, identifier: str, quiz: Quiz) -> etree._Element:
        """A test in the order of the standard's schema: outcomes, time, the part, processing, feedback."""
        settings, feedback = quiz.settings, quiz.settings.feedback or []
        part = node("testPart", identifier="part1", **test_settings.mode_attributes(settings))
        _add(part, test_settings.session_control(settings))
        for entry in quiz.parts:
            part.append(self._part(entry, quiz))
        root = node("assessmentTest", *test_feedback.declarations(feedback), identifier=identifier, title=quiz.title)
        _add(root, test_settings.time_limits(settings))
        root.append(part)
        weighted = part.find(".//weight") is not None
        root.append(test_feedback.processing(feedback, WEIGHT if weighted else None))
        for number, shown in enumerate(feedback, 1):
            root.append(self._content().body(test_feedback.feedback_element(number), shown.content))
        return root

    def _part(self, part: Part, quiz: Quiz) -> etree._Element:
        section = self._section(part.title)
        items = [self.items[key] for key in self.stock.given_by(part) if key in self.names]
        if part.draw is not None:
            selected = selected_of(part, len(items), self.findings)
            if selected:
                section.append(node("selection", select=str(selected)))
            section.append(node("ordering", shuffle="true"))
        else:
            _add(section, test_settings.ordering(quiz.settings))
        if part.instructions:
            section.append(self._rubric(part.instructions, use=INSTRUCTIONS))
        self._fill(section, items, lambda item: self._reference(item, part), alone=part.draw is not None)
        return section

    def _reference(self, item: Item, part: Part | None = None) -> etree._Element:
        name = self.names[item.id]
        own = free_name(name, self._references)
        self._references.add(own)
        self.used.append(item.id)
        reference = node("assessmentItemRef", identifier=own, href=f"items/{name}.xml")
        weight = weight_in(part, item) if part is not None else 1.0
        if weight != 1:
            reference.append(node("weight", identifier=WEIGHT, value=exact_number(weight)))
        return reference

    # Sections

    def _section(self, title: str) -> etree._Element:
        identifier = f"section{next(self._sections)}"
        return node("assessmentSection", identifier=identifier, title=title, visible=str(bool(title)).lower())

    def _fill(
        self, section: etree._Element, items: list[Item], refer: Callable[[Item], etree._Element], alone: bool = False
    ) -> None:
        """Puts items into a section. Where the dialect has no stimuli, those that share a passage stand in one of their own.

        `alone` gives each its own: what is selected from are the children of a section, and one item is drawn at a time.
        """
        home, passage = section, None
        for item in items:
            if item.id not in self.names:
                continue
            wanted = item.stimulus if item.stimulus in self.passages else None
            if wanted is None:
                home = section
            elif alone or wanted != passage:
                home = self._passage(wanted)
                section.append(home)
            passage = wanted
            home.append(refer(item))

    def _passage(self, stimulus_id: str) -> etree._Element:
        section = self._section("")
        section.set("visible", "true")
        section.append(self._rubric(self.passages[stimulus_id].content))
        return section

    def _rubric(self, content: str, **attributes: str) -> etree._Element:
        """A block of content for students; in 3.0 it stands in a body of its own."""
        rubric = node("rubricBlock", view="candidate", **attributes)
        if not self.dialect.kebab:
            return self._content().blocks(rubric, content)
        rubric.append(self._content().blocks(node("contentBody"), content))
        return rubric

    def _content(self) -> Content:
        """Content in a test, which lies beside the folder of media."""

        def address(ref: str) -> str:
            if ref.startswith("media/"):
                self.refs.add(ref)
            return ref

        return Content(self.dialect, address, lambda _blank: None)


def _add(parent: etree._Element, child: etree._Element | None) -> None:
    if child is not None:
        parent.append(child)


def file_names(count_: int) -> list[str]:
    """The files of so many tests."""
    return ["test.xml"] if count_ == 1 else [f"test{number}.xml" for number in range(1, count_ + 1)]


def test_identifiers(quizzes: list[Quiz], taken: set[str]) -> list[str]:
    """Identifiers of the tests that the standard allows, and that no item has."""
    return [name if name not in taken else f"{name}_test" for name in identifiers([quiz.id for quiz in quizzes], "test")]

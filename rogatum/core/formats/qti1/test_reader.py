"""The assessments of QTI 1.2 as drafts of quizzes, while their sections are read: selection and ordering (ASI 1.2, 3.4)."""

from __future__ import annotations

from dataclasses import dataclass, field

from lxml import etree

from rogatum.core.accounting import XmlClaims
from rogatum.core.findings.sources import REFERENCE_MISSING
from rogatum.core.formats.qti1.names import Name, Names
from rogatum.core.formats.qti1.test_settings import read_settings
from rogatum.core.formats.shared.base import BankBuilder
from rogatum.core.formats.shared.numbers import picked
from rogatum.core.formats.shared.quiz_drafts import PartDraft, QuizDraft, QuizMaker

_CONTAINERS = frozenset({"objectbank", "section"})


@dataclass
class TestReader:
    """Told of each document, container and item in order.

    Identifiers are of their document: each may call its first item Q1.
    What a document refers to and does not hold stands in another.
    """

    drafts: list[QuizDraft] = field(default_factory=list)
    # Whether the test that is being read multiplies what items are worth by their weights.
    weighted: bool = False
    _open: QuizDraft | None = None
    _draw: PartDraft | None = None
    names: Names = field(default_factory=Names)
    # The banks and sections that are open, with what they hold so far.
    _collecting: list[PartDraft] = field(default_factory=list)
    # Drafts of draws from a bank that they name, and parts that are a section of another place.
    _named: list[tuple[PartDraft, Name]] = field(default_factory=list)
    _elsewhere: list[tuple[PartDraft, Name]] = field(default_factory=list)

    def begin(self, element: etree._Element, title: str, path: list[str], claims: XmlClaims, inner: bool) -> tuple[bool, bool]:
        """A container begins; `inner` says whether it stands in a section. Returns what `end` wants to know."""
        if element.tag in _CONTAINERS:
            self._collecting.append(PartDraft(title, tuple(path), pick=pick_of(element)))
            self.names.containers.add(self.names.of(element.get("ident", "")), self._collecting[-1])
        began, drawing = False, False
        if self._open is None and (element.tag == "assessment" or (element.tag == "section" and _draws_below(element))):
            self._open = QuizDraft(element.get("ident", ""), title)
            self.weighted = any("weighted" in (o.get("scoremodel") or "").lower() for o in element.iter("outcomes_processing"))
            began = True
        if self._open is None:
            return False, False
        if element.tag == "assessment":
            self._open.settings = read_settings(element, claims)
        elif self._draw is None:
            drawing = self._section(element, title, tuple(path), claims, inner)
        return began, drawing

    def _section(self, element: etree._Element, title: str, path: tuple[str, ...], claims: XmlClaims, inner: bool) -> bool:
        """A section begins: a part, unless it only holds what shares a passage. Says whether it is a draw of what it holds."""
        assert self._open is not None
        drawing = False
        for selection in element.iterfind("selection_ordering/selection"):
            pick = _pick(selection, claims)
            target = selection.find("sourcebank_ref")
            if target is not None and pick is not None:
                draft = PartDraft(title, path, pick=pick)
                self._named.append((draft, self.names.of(claims.text(target).strip())))
                self._open.parts.append(draft)
            elif pick is not None and not drawing:
                self._draw = PartDraft(title, path, pick=pick)
                self._open.parts.append(self._draw)
                drawing = True
        if not drawing and (title or not inner):
            self._open.parts.append(PartDraft(title, path))
        return drawing

    def instruct(self, said: str) -> None:
        """What the section that has just begun tells students before its items."""
        if self._open is not None and self._open.parts:
            (self._draw or self._open.parts[-1]).instructions = said

    def end(self, element: etree._Element, told: tuple[bool, bool], title: str) -> None:
        """A container ends; what follows in the one around it is a part without a title."""
        began, drawing = told
        if element.tag in _CONTAINERS:
            self._collecting.pop()
        if drawing:
            self._draw = None
        if self._open is not None and element.tag == "section" and self._draw is None and (title or drawing):
            self._open.parts.append(PartDraft("", ()))
        if began and self._open is not None:
            self.drafts.append(self._open)
            self._open, self.weighted = None, False

    def item(self, ident: str, item_id: str, weight: float | None) -> None:
        """An item was read; what only names one is told by `refer`."""
        self.names.items.add(self.names.of(ident), item_id)
        self._put(item_id, weight)

    def refer(self, ident: str) -> None:
        self._put(self.names.reference("item", ident))

    def refer_section(self, ident: str) -> None:
        """A section that stands elsewhere is a part here, or among what is drawn; what follows a part is another one."""
        reference = self.names.reference("section", ident)
        if self._open is None or self._draw is not None:
            self._put(reference)
            return
        part = PartDraft("", (), [reference])
        self._open.parts += [part, PartDraft("", ())]
        self._elsewhere.append((part, self.names.of(ident)))
        for container in self._collecting:
            container.members.append(reference)

    def _put(self, member: str, weight: float | None = None) -> None:
        parts = list(self._collecting)
        if self._open is not None:
            if self._draw is None and not self._open.parts:
                self._open.parts.append(PartDraft("", ()))
            parts.append(self._draw or self._open.parts[-1])
        for part in parts:
            part.members.append(member)
            if weight is not None:
                part.weights[member] = weight

    def finish(self, builder: BankBuilder) -> None:
        """Makes the quizzes, when all items are known; what is named and does not exist is told."""
        for part, named in self._named:
            bank = self.names.container(named)
            part.members = list(bank.members) if bank else []
            part.pool = (bank.path if bank else ()) or (named[1],)
        for draft in self.drafts:
            for part in draft.parts:
                part.members = self.names.resolved(part.members)
            draft.parts = [part for part in draft.parts if not part.empty()]
        for part, named in self._elsewhere:
            section = self.names.container(named)
            if section is not None:
                part.title, part.path, part.pick, part.weights = section.title, section.path, section.pick, section.weights
        builder.missing_files(REFERENCE_MISSING, self.names.missing, "part", builder.bank.source.name)
        maker = QuizMaker(builder.bank, {item.id: item.id for item in builder.bank.items})
        for draft in self.drafts:
            builder.add_quiz(maker.quiz_of(draft))


def _draws_below(element: etree._Element) -> bool:
    return element.find(".//selection_ordering/selection") is not None


def _pick(selection: etree._Element, claims: XmlClaims) -> int | None:
    number = selection.find("selection_number")
    pick = picked((number.text or "").strip()) if number is not None else None
    if number is not None and pick is not None:
        claims.text(number)
    return pick


def pick_of(section: etree._Element) -> int | None:
    """How many of its own items a section gives; None for all."""
    own = (s for s in section.iterfind("selection_ordering/selection") if s.find("sourcebank_ref") is None)
    return next((picked((s.findtext("selection_number") or "").strip()) for s in own), None)

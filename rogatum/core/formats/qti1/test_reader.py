"""The assessments of QTI 1.2 as drafts of quizzes, while their sections are read: selection and ordering (ASI 1.2, 3.4)."""

from __future__ import annotations

from dataclasses import dataclass, field

from lxml import etree

from rogatum.core.accounting import XmlClaims
from rogatum.core.formats.qti1.test_settings import read_settings
from rogatum.core.formats.shared.base import BankBuilder
from rogatum.core.formats.shared.numbers import picked
from rogatum.core.formats.shared.quiz_drafts import PartDraft, QuizDraft, quiz_of


@dataclass
class TestReader:
    """Told of each container and item in order. `by_ident` gives the items of the source by the identifiers that it uses."""

    drafts: list[QuizDraft] = field(default_factory=list)
    by_ident: dict[str, str] = field(default_factory=dict)
    # Whether the test that is being read multiplies what items are worth by their weights.
    weighted: bool = False
    _open: QuizDraft | None = None
    _draw: PartDraft | None = None
    # Drafts of draws whose pool is named by the identifier of a bank.
    _named: list[tuple[PartDraft, str]] = field(default_factory=list)
    # The pools by the identifiers of the containers that make them.
    _places: dict[str, tuple[str, ...]] = field(default_factory=dict)

    def begin(self, element: etree._Element, title: str, path: list[str], claims: XmlClaims, inner: bool) -> tuple[bool, bool]:
        """A container begins; `inner` says whether it stands in a section. Returns what `end` wants to know."""
        self._places.setdefault(element.get("ident", ""), tuple(path))
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
                self._named.append((draft, claims.text(target).strip()))
                self._open.parts.append(draft)
            elif pick is not None and not drawing:
                self._draw = PartDraft(title, path, pick=pick)
                self._open.parts.append(self._draw)
                drawing = True
        if not drawing and (title or not inner):
            self._open.parts.append(PartDraft(title, path))
        return drawing

    def end(self, element: etree._Element, told: tuple[bool, bool], title: str) -> None:
        """A container ends; what follows in the one around it is a part without a title."""
        began, drawing = told
        if drawing:
            self._draw = None
        if self._open is not None and element.tag == "section" and self._draw is None and (title or drawing):
            self._open.parts.append(PartDraft("", ()))
        if began and self._open is not None:
            self.drafts.append(self._open)
            self._open, self.weighted = None, False

    def item(self, ident: str, item_id: str, weight: float | None) -> None:
        """An item was read; what only names one is told by `refer`."""
        self.by_ident.setdefault(ident, item_id)
        self.refer(ident, weight)

    def refer(self, ident: str, weight: float | None = None) -> None:
        if self._open is None:
            return
        if self._draw is None and not self._open.parts:
            self._open.parts.append(PartDraft("", ()))
        part = self._draw or self._open.parts[-1]
        part.members.append(ident)
        if weight is not None:
            part.weights[ident] = weight

    def finish(self, builder: BankBuilder) -> None:
        """Makes the quizzes, when all items are known."""
        for part, name in self._named:
            part.pool = self._places.get(name) or (name,)
        for draft in self.drafts:
            draft.parts = [part for part in draft.parts if not part.empty()]
            builder.add_quiz(quiz_of(draft, builder.bank, self.by_ident))


def _draws_below(element: etree._Element) -> bool:
    return element.find(".//selection_ordering/selection") is not None


def _pick(selection: etree._Element, claims: XmlClaims) -> int | None:
    number = selection.find("selection_number")
    return picked(claims.text(number).strip()) if number is not None else None

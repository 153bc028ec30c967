"""Writes a Common Cartridge 1.3: one assessment for each pool, items in their profiles, media as web content."""

from __future__ import annotations

from collections.abc import Iterable, Iterator
from dataclasses import dataclass

from lxml import etree

from rogatum.core.finding import Finding
from rogatum.core.findings.sources import LEFT_OUT
from rogatum.core.formats.qti1.cartridge.carries import PROFILES
from rogatum.core.formats.qti1.cartridge.paths import title_of_path
from rogatum.core.formats.qti1.elements import material, sub
from rogatum.core.formats.qti1.item_types import write_item
from rogatum.core.formats.qti1.item_writer import ItemWriter
from rogatum.core.formats.qti1.test_settings import cartridge_entries
from rogatum.core.formats.shared.base import TEACHERS_COPY, WriteOptions, Written
from rogatum.core.formats.shared.numbers import number
from rogatum.core.formats.shared.packaging import MANIFEST, PackageWriter
from rogatum.core.items import Bank, FillIn, Item
from rogatum.core.items.content import media_refs, with_refs
from rogatum.core.items.parts import is_question
from rogatum.core.items.type_words import TYPE_LABELS
from rogatum.core.quizzes.model import Part, Quiz
from rogatum.core.quizzes.worth import Stock, stated_points
from rogatum.core.sources import MediaBox

_CC = "http://www.imsglobal.org/xsd/imsccv1p3/imscp_v1p1"
_LOM = "http://ltsc.ieee.org/xsd/imsccv1p3/LOM/manifest"
_QTI = "http://www.imsglobal.org/xsd/ims_qtiasiv1p2"
_ASSESSMENT = "imsqti_xmlv1p2/imscc_xmlv1p3/assessment"
_QUESTION_BANK = "imsqti_xmlv1p2/imscc_xmlv1p3/question-bank"
_EXAM = (("cc_profile", "cc.exam.v0p1"), ("qmd_assessmenttype", "Examination"), ("qmd_scoretype", "Percentage"))
_FILEBASE = "$IMS-CC-FILEBASE$/"


class CartridgeItemWriter(ItemWriter):
    """Writes an item in the cartridge's profile: scores from 0 to 100 that are set, never added up; the points as a weight."""

    adds, holds_rubrics = False, False

    def __init__(self, item: Item) -> None:
        super().__init__(item)
        self.full = self.maximum = 100.0

    def _metadata(self, root: etree._Element) -> None:
        profile = PROFILES[self.item.type]
        if isinstance(self.item, FillIn) and any(answer.match == "contains" for answer in self.item.answers):
            profile = "cc.pattern_match.v0p1"
        entries = [("cc_profile", profile)]
        if self.item.points is not None:
            entries.append(("cc_weighting", number(self.item.points)))
        _entries(sub(root, "itemmetadata"), entries)

    def begin(self, lowest: float | None = None) -> etree._Element:
        return super().begin(0.0 if lowest is None else lowest)

    def score(self, share: float) -> str:
        """Scores of a cartridge never go below 0."""
        return super().score(max(0.0, share))

    def material(self, parent: etree._Element, content: str) -> None:
        self.refs |= set(media_refs(content))
        material(parent, with_refs(content, lambda ref: _FILEBASE + ref if ref.startswith("media/") else ref))


@dataclass
class _Document:
    """One resource with questions: an assessment, or the question bank, with its entry of the organization."""

    ident: str
    title: str
    items: list[Item]
    quiz: Quiz | None = None
    bank: bool = False

    @property
    def kind(self) -> str:
        return _QUESTION_BANK if self.bank else _ASSESSMENT


def write_cartridge(bank: Bank, media: MediaBox, _options: WriteOptions = TEACHERS_COPY) -> Written:
    """The bank as a cartridge: an assessment for each quiz, or else for each pool; media as web content."""
    findings = [
        LEFT_OUT.at("", item.id, detail=f"A Common Cartridge has no {TYPE_LABELS[item.type]} items.")
        for item in bank.items
        if item.type not in PROFILES
    ]
    held = bank.model_copy(update={"items": [item for item in bank.items if item.type in PROFILES]})
    package, refs = PackageWriter(), set[str]()
    documents = [document for document in _documents(held) if document.items]
    written = []
    for document in documents:
        root, used = _written(document, findings)
        written.append(root)
        refs |= used
    known = sorted(ref for ref in refs if ref in media)
    package.put_xml(MANIFEST, _manifest(bank.title, documents, known))
    for document, root in zip(documents, written, strict=True):
        package.put_xml(f"{document.ident}/{document.ident}.xml", root)
    package.put_media(known, media)
    return Written(package.data(), ".imscc", findings)


def _documents(bank: Bank) -> Iterator[_Document]:
    """What stands in a file of its own. With quizzes, what none of them holds goes into the question bank."""
    if not bank.quizzes:
        groups: dict[str, list[Item]] = {}
        paths = bank.pool_paths()
        for item in bank.items:
            groups.setdefault(title_of_path(paths.get(item.id, ())) or bank.title or "Questions", []).append(item)
        for number, (title, items) in enumerate(groups.items(), 1):
            yield _Document(f"assessment{number}", title, items)
        return
    stock, items_of, used = Stock(bank), {item.id: item for item in bank.items}, set[str]()
    for number, quiz in enumerate(bank.quizzes, 1):
        held: dict[str, Item] = {}
        for part in quiz.parts:
            for key in stock.given_by(part):
                if key in items_of and key not in held:
                    held[key] = _worth(items_of[key], part)
        used |= set(held)
        yield _Document(f"assessment{number}", quiz.title, list(held.values()), quiz)
    rest = [item for item in bank.items if item.id not in used]
    yield _Document("questionbank", bank.title or "Questions", rest, bank=True)


def _worth(item: Item, part: Part) -> Item:
    """An item as it stands in an assessment: each holds its own, with what it is worth there."""
    return item.model_copy(update={"points": stated_points(part, item.id, item.points)}) if is_question(item) else item


def _written(document: _Document, findings: list[Finding]) -> tuple[etree._Element, set[str]]:
    root = etree.Element("questestinterop", nsmap={None: _QTI})  # type: ignore[dict-item]
    if document.bank:
        home = sub(root, "objectbank", ident=document.ident)
    else:
        assessment = sub(root, "assessment", ident=document.ident, title=document.title)
        said = cartridge_entries(document.quiz.settings) if document.quiz else ()
        _entries(assessment, [*_EXAM, *said])
        home = sub(assessment, "section", ident=f"{document.ident}_section")
    refs = set[str]()
    for item in document.items:
        writer = CartridgeItemWriter(item)
        element = write_item(writer)
        if element is not None:
            home.append(element)
        refs |= writer.refs
        findings += writer.findings
    for element in root.iter("*"):
        if not str(element.tag).startswith("{"):
            element.tag = f"{{{_QTI}}}{element.tag}"
    return root, refs


def _entries(parent: etree._Element, entries: Iterable[tuple[str, str]]) -> None:
    """Metadata as labels with their values."""
    fields = sub(parent, "qtimetadata")
    for label, value in entries:
        entry = sub(fields, "qtimetadatafield")
        sub(entry, "fieldlabel").text = label
        sub(entry, "fieldentry").text = value


def _manifest(title: str, documents: list[_Document], refs: list[str]) -> etree._Element:
    def child(parent: etree._Element, name: str, namespace: str = _CC, **attributes: str) -> etree._Element:
        return etree.SubElement(parent, f"{{{namespace}}}{name}", attributes)

    root = etree.Element(f"{{{_CC}}}manifest", nsmap={None: _CC, "lomimscc": _LOM}, identifier="cartridge1")  # type: ignore[dict-item]
    metadata = child(root, "metadata")
    child(metadata, "schema").text = "IMS Common Cartridge"
    child(metadata, "schemaversion").text = "1.3.0"
    general = child(child(metadata, "lom", _LOM), "general", _LOM)
    child(child(general, "title", _LOM), "string", _LOM).text = title or "Questions"
    organization = child(child(root, "organizations"), "organization", identifier="organization1", structure="rooted-hierarchy")
    home = child(organization, "item", identifier="root1")
    for document in documents:
        # A question bank is used by assessments and has no place among what is shown.
        if not document.bank:
            entry = child(home, "item", identifier=f"{document.ident}_entry", identifierref=document.ident)
            child(entry, "title").text = document.title
    resources = child(root, "resources")
    media = {ref: f"media{position}" for position, ref in enumerate(refs, 1)}
    for document in documents:
        resource = child(resources, "resource", identifier=document.ident, type=document.kind)
        child(resource, "file", href=f"{document.ident}/{document.ident}.xml")
        for identifier in media.values():
            child(resource, "dependency", identifierref=identifier)
    for ref, identifier in media.items():
        child(child(resources, "resource", identifier=identifier, type="webcontent", href=ref), "file", href=ref)
    return root

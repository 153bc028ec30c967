"""Writes a Common Cartridge 1.3: one assessment for each pool, items in their profiles, media as web content."""

from __future__ import annotations

from lxml import etree

from rogatum.core.findings import LEFT_OUT, Finding
from rogatum.core.formats.qti1.cartridge.carries import PROFILES
from rogatum.core.formats.qti1.elements import material, sub
from rogatum.core.formats.qti1.item_writer import ItemWriter
from rogatum.core.formats.shared.base import TEACHERS_COPY, WriteOptions, Written
from rogatum.core.formats.shared.numbers import number
from rogatum.core.formats.shared.packaging import MANIFEST, PackageWriter
from rogatum.core.items import Bank, FillIn, Item
from rogatum.core.items.content import media_refs, with_refs
from rogatum.core.items.type_words import TYPE_LABELS
from rogatum.core.sources import MediaBox

_CC = "http://www.imsglobal.org/xsd/imsccv1p3/imscp_v1p1"
_LOM = "http://ltsc.ieee.org/xsd/imsccv1p3/LOM/manifest"
_QTI = "http://www.imsglobal.org/xsd/ims_qtiasiv1p2"
_ASSESSMENT = "imsqti_xmlv1p2/imscc_xmlv1p3/assessment"
_FILEBASE = "$IMS-CC-FILEBASE$/"


class CartridgeItemWriter(ItemWriter):
    """Writes an item in the cartridge's profile: scores from 0 to 100, the points as a weight."""

    def __init__(self, item: Item) -> None:
        super().__init__(item)
        self.full = self.maximum = 100.0

    def _metadata(self, root: etree._Element) -> None:
        profile = PROFILES[self.item.type]
        if isinstance(self.item, FillIn) and any(answer.match == "contains" for answer in self.item.answers):
            profile = "cc.pattern_match.v0p1"
        fields = sub(sub(root, "itemmetadata"), "qtimetadata")
        entries = [("cc_profile", profile)]
        if self.item.points is not None:
            entries.append(("cc_weighting", number(self.item.points)))
        for label, value in entries:
            entry = sub(fields, "qtimetadatafield")
            sub(entry, "fieldlabel").text = label
            sub(entry, "fieldentry").text = value

    def begin(self, minimum: float | None = None) -> etree._Element:
        return super().begin(0 if minimum is None else minimum)

    def material(self, parent: etree._Element, content: str) -> None:
        self.refs |= set(media_refs(content))
        material(parent, with_refs(content, lambda ref: _FILEBASE + ref if ref.startswith("media/") else ref))


def write_cartridge(bank: Bank, media: MediaBox, _options: WriteOptions = TEACHERS_COPY) -> Written:
    """The bank as a cartridge: one assessment for each pool, media as web content."""
    findings: list[Finding] = []
    groups: dict[str, list[Item]] = {}
    paths = bank.pool_paths()
    for item in bank.items:
        if item.type not in PROFILES:
            detail = f"A Common Cartridge has no {TYPE_LABELS[item.type]} items."
            findings.append(LEFT_OUT.at("", item.id, detail=detail))
            continue
        title = " / ".join(paths.get(item.id, ())) or bank.title or "Questions"
        groups.setdefault(title, []).append(item)
    package, refs = PackageWriter(), set[str]()
    documents = []
    for position, (title, items) in enumerate(groups.items(), 1):
        document, used = _assessment(f"assessment{position}", title, items, findings)
        documents.append((f"assessment{position}", title, document))
        refs |= used
    known = sorted(ref for ref in refs if ref in media)
    package.put_xml(MANIFEST, _manifest(bank.title, [(ident, title) for ident, title, _ in documents], known))
    for ident, _, document in documents:
        package.put_xml(f"{ident}/{ident}.xml", document)
    package.put_media(known, media)
    return Written(package.data(), ".imscc", findings)


def _assessment(ident: str, title: str, items: list[Item], findings: list[Finding]) -> tuple[etree._Element, set[str]]:
    root = etree.Element("questestinterop", nsmap={None: _QTI})  # type: ignore[dict-item]
    assessment = sub(root, "assessment", ident=ident, title=title)
    fields = sub(assessment, "qtimetadata")
    for label, value in (("cc_profile", "cc.exam.v0p1"), ("qmd_assessmenttype", "Examination"), ("qmd_scoretype", "Percentage")):
        entry = sub(fields, "qtimetadatafield")
        sub(entry, "fieldlabel").text = label
        sub(entry, "fieldentry").text = value
    section, refs = sub(assessment, "section", ident=f"{ident}_section"), set[str]()
    for item in items:
        writer = CartridgeItemWriter(item)
        element = writer.element()
        if element is not None:
            section.append(element)
        refs |= writer.refs
        findings += writer.findings
    for element in root.iter("*"):
        if not str(element.tag).startswith("{"):
            element.tag = f"{{{_QTI}}}{element.tag}"
    return root, refs


def _manifest(title: str, assessments: list[tuple[str, str]], refs: list[str]) -> etree._Element:
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
    for ident, name in assessments:
        entry = child(home, "item", identifier=f"{ident}_entry", identifierref=ident)
        child(entry, "title").text = name
    resources = child(root, "resources")
    media = {ref: f"media{position}" for position, ref in enumerate(refs, 1)}
    for ident, _ in assessments:
        resource = child(resources, "resource", identifier=ident, type=_ASSESSMENT)
        child(resource, "file", href=f"{ident}/{ident}.xml")
        for identifier in media.values():
            child(resource, "dependency", identifierref=identifier)
    for ref, identifier in media.items():
        child(child(resources, "resource", identifier=identifier, type="webcontent", href=ref), "file", href=ref)
    return root

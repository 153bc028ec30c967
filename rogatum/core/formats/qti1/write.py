"""Writes a QTI 1.2 content package: manifest, one document, media. The same bank gives the same bytes."""

from __future__ import annotations

from lxml import etree

from rogatum.core.findings import LEFT_OUT, Finding
from rogatum.core.formats.qti1.elements import material, sub
from rogatum.core.formats.qti1.item_writer import ItemWriter
from rogatum.core.formats.shared.base import TEACHERS_COPY, WriteOptions, Written
from rogatum.core.formats.shared.packaging import CP, MANIFEST, PackageWriter
from rogatum.core.formats.shared.pool_tree import PoolNode, pool_tree
from rogatum.core.items import Bank, DrawEntry, Item, Stimulus
from rogatum.core.items.content import media_refs
from rogatum.core.sources import MediaBox

DOCUMENT = "questions.xml"
_MD = "http://www.imsglobal.org/xsd/imsmd_v1p2"


def write_qti1(bank: Bank, media: MediaBox, _options: WriteOptions = TEACHERS_COPY) -> Written:
    """The bank as a zip with `imsmanifest.xml`, `questions.xml` and the media under `media/`."""
    writer = _BankWriter(bank)
    document = writer.document()
    refs = sorted(ref for ref in writer.refs if ref in media)
    package = PackageWriter()
    package.put_xml(MANIFEST, _manifest(bank, refs))
    package.put_xml(DOCUMENT, document)
    package.put_media(refs, media)
    return Written(package.data(), ".zip", writer.findings)


def _manifest(bank: Bank, refs: list[str]) -> etree._Element:
    namespaces: dict[str | None, str] = {None: CP, "imsmd": _MD}
    root = etree.Element(f"{{{CP}}}manifest", nsmap=namespaces, identifier="MANIFEST1")  # type: ignore[arg-type]
    metadata = etree.SubElement(root, f"{{{CP}}}metadata")
    etree.SubElement(metadata, f"{{{CP}}}schema").text = "IMS Content"
    etree.SubElement(metadata, f"{{{CP}}}schemaversion").text = "1.1.3"
    if bank.title:
        parent = metadata
        for name in ("lom", "general", "title"):
            parent = etree.SubElement(parent, f"{{{_MD}}}{name}")
        etree.SubElement(parent, f"{{{_MD}}}langstring").text = bank.title
    etree.SubElement(root, f"{{{CP}}}organizations")
    resources = etree.SubElement(root, f"{{{CP}}}resources")
    attributes = {"identifier": "QUESTIONS", "type": "imsqti_xmlv1p2", "href": DOCUMENT}
    resource = etree.SubElement(resources, f"{{{CP}}}resource", attributes)
    for href in [DOCUMENT, *refs]:
        etree.SubElement(resource, f"{{{CP}}}file", href=href)
    return root


class _BankWriter:
    """Pools become nested sections. A single root pool is the assessment; several are sections side by side."""

    def __init__(self, bank: Bank) -> None:
        self.bank = bank
        self.findings: list[Finding] = []
        self.refs: set[str] = set()
        self.sections = 0
        self.stimuli = {stimulus.id: stimulus for stimulus in bank.stimuli}

    def document(self) -> etree._Element:
        root = etree.Element("questestinterop")
        tree = pool_tree(self.bank)
        single = tree.single_root()
        if single is not None:
            self._assessment(root, *single)
        else:
            for title, node in tree.children.items():
                self._section(root, title, node)
            self._items(root, tree.items)
        return root

    def _assessment(self, root: etree._Element, title: str, node: PoolNode) -> None:
        assessment = sub(root, "assessment", ident="A1", title=title)
        if node.items or not node.children or node.draw is not None:
            self._section(assessment, "", PoolNode(items=node.items, draw=node.draw))
        for name, child in node.children.items():
            self._section(assessment, name, child)

    def _section(self, parent: etree._Element, title: str, node: PoolNode) -> None:
        self.sections += 1
        section = sub(parent, "section", ident=f"S{self.sections}")
        if title:
            section.set("title", title)
        if node.draw is not None:
            self._selection(section, node.draw)
        self._items(section, node.items)
        for name, child in node.children.items():
            self._section(section, name, child)

    def _selection(self, section: etree._Element, draw: DrawEntry) -> None:
        ordering = sub(section, "selection_ordering")
        selection = sub(ordering, "selection")
        sub(selection, "selection_number").text = str(draw.pick)
        sub(ordering, "order", order_type="Random")

    def _items(self, parent: etree._Element, items: list[Item]) -> None:
        """Items in order; those that share a stimulus stand in a section of their own with it."""
        shared: dict[str, etree._Element] = {}
        for item in items:
            home = parent
            if item.stimulus and item.stimulus in self.stimuli:
                if item.stimulus not in shared:
                    shared[item.stimulus] = self._stimulus(parent, self.stimuli[item.stimulus])
                home = shared[item.stimulus]
            self._item(home, item)

    def _stimulus(self, parent: etree._Element, stimulus: Stimulus) -> etree._Element:
        self.sections += 1
        section = sub(parent, "section", ident=f"S{self.sections}")
        flow = sub(sub(section, "presentation_material"), "flow_mat", {"class": "List"})
        self._note_refs(stimulus.content)
        material(flow, stimulus.content)
        return section

    def _item(self, parent: etree._Element, item: Item) -> None:
        writer = ItemWriter(item)
        element = writer.element()
        if element is None:
            detail = f"QTI 1.2 cannot hold this item: {writer.reason}"
            self.findings.append(LEFT_OUT.at("", item.id, detail=detail))
            return
        self.refs |= writer.refs
        self.findings += writer.findings
        parent.append(element)

    def _note_refs(self, content: str) -> None:
        self.refs |= set(media_refs(content))

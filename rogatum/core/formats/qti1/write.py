"""Writes a QTI 1.2 content package: manifest, one document, media. The same bank gives the same bytes."""

from __future__ import annotations

from lxml import etree

from rogatum.core.finding import Finding
from rogatum.core.findings.sources import LEFT_OUT
from rogatum.core.formats.qti1 import test_settings
from rogatum.core.formats.qti1.elements import material, sub
from rogatum.core.formats.qti1.item_types import write_item
from rogatum.core.formats.qti1.item_writer import ItemWriter
from rogatum.core.formats.shared.base import TEACHERS_COPY, WriteOptions, Written
from rogatum.core.formats.shared.draw_pools import selected_of
from rogatum.core.formats.shared.packaging import CP, MANIFEST, PackageWriter
from rogatum.core.formats.shared.pool_tree import PoolNode, pool_tree
from rogatum.core.items import Bank, Item, Stimulus
from rogatum.core.items.content import media_refs
from rogatum.core.quizzes.model import Part, Quiz
from rogatum.core.quizzes.worth import Stock, weight_in
from rogatum.core.sources import MediaBox

DOCUMENT = "questions.xml"
_MD = "http://www.imsglobal.org/xsd/imsmd_v1p2"


def write_qti1(bank: Bank, media: MediaBox, _options: WriteOptions = TEACHERS_COPY) -> Written:
    """The bank as a zip: the manifest, a document for the pools or for each quiz, and the media under `media/`."""
    writer = _BankWriter(bank)
    documents = writer.documents()
    refs = sorted(ref for ref in writer.refs if ref in media)
    package = PackageWriter()
    package.put_xml(MANIFEST, _manifest(bank, list(documents), refs))
    for name, document in documents.items():
        package.put_xml(name, document)
    package.put_media(refs, media)
    return Written(package.data(), ".zip", writer.findings)


def _manifest(bank: Bank, documents: list[str], refs: list[str]) -> etree._Element:
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
    for document in documents:
        identifier = document.removesuffix(".xml").upper()
        attributes = {"identifier": identifier, "type": "imsqti_xmlv1p2", "href": document}
        resource = etree.SubElement(resources, f"{{{CP}}}resource", attributes)
        for href in [document, *refs]:
            etree.SubElement(resource, f"{{{CP}}}file", href=href)
    return root


class _BankWriter:
    """Quizzes become assessments. Without them pools are nested sections: a single root pool is the assessment."""

    def __init__(self, bank: Bank) -> None:
        self.bank = bank
        self.findings: list[Finding] = []
        self.refs: set[str] = set()
        self.sections = 0
        self.stimuli = {stimulus.id: stimulus for stimulus in bank.stimuli}
        self.items = {item.id: item for item in bank.items}
        self.stock = Stock(bank)
        # Where documents are quizzes they do not tell the pools: each item says its own.
        self.pools = bank.pool_paths() if bank.quizzes else {}
        self.written: set[str] = set()

    def documents(self) -> dict[str, etree._Element]:
        """The documents by their names. An item stands in the first one that holds it; others refer to it."""
        if not self.bank.quizzes:
            return {DOCUMENT: self._pool_document(self.bank)}
        found = {}
        for number, quiz in enumerate(self.bank.quizzes, 1):
            found[f"quiz{number}.xml" if len(self.bank.quizzes) > 1 else "quiz.xml"] = self._quiz_document(quiz, number)
        rest = [item for item in self.bank.items if item.id not in self.written]
        if rest:
            root = etree.Element("questestinterop")
            self._fill(root, rest, None)
            found[DOCUMENT] = root
        return found

    # Pools

    def _pool_document(self, bank: Bank) -> etree._Element:
        root = etree.Element("questestinterop")
        tree = pool_tree(bank)
        single = tree.single_root()
        if single is not None:
            self._pools(sub(root, "assessment", ident="A1", title=single[0]), single[1])
        else:
            for title, node in tree.children.items():
                self._pool(root, title, node)
            self._fill(root, tree.items, None)
        return root

    def _pools(self, assessment: etree._Element, node: PoolNode) -> None:
        if node.items or not node.children:
            self._pool(assessment, "", PoolNode(items=node.items))
        for name, child in node.children.items():
            self._pool(assessment, name, child)

    def _pool(self, parent: etree._Element, title: str, node: PoolNode) -> None:
        section = self._section(parent, title)
        self._fill(section, node.items, None)
        for name, child in node.children.items():
            self._pool(section, name, child)

    # Quizzes

    def _quiz_document(self, quiz: Quiz, number: int) -> etree._Element:
        """An assessment, its parts in the order of the standard: duration, control, the score model, sections."""
        root = etree.Element("questestinterop")
        ident = identifiers_of_quizzes(self.bank)[number - 1]
        assessment = sub(root, "assessment", ident=ident, title=quiz.title)
        test_settings.write_duration(assessment, quiz.settings)
        test_settings.write_control(assessment, quiz.settings)
        weighted = any(self._weight(key, part) != 1 for part in quiz.parts for key in self.stock.given_by(part))
        if weighted:
            processing = sub(assessment, "outcomes_processing", scoremodel="SumOfScoresWeighted")
            sub(sub(processing, "outcomes"), "decvar", varname="SCORE", vartype="Decimal")
        for part in quiz.parts:
            self._part(assessment, part, quiz)
        return root

    def _part(self, assessment: etree._Element, part: Part, quiz: Quiz) -> None:
        section = self._section(assessment, part.title)
        if part.instructions:
            self.refs |= set(media_refs(part.instructions))
            material(sub(section, "rubric", view="Candidate"), part.instructions)
        items = [self.items[key] for key in self.stock.given_by(part) if key in self.items]
        if part.draw is not None:
            ordering = sub(section, "selection_ordering")
            selected = selected_of(part, len(items), self.findings)
            if selected:
                sub(sub(ordering, "selection"), "selection_number").text = str(selected)
            sub(ordering, "order", order_type="Random")
        else:
            test_settings.write_order(section, quiz.settings)
        self._fill(section, items, part)

    def _weight(self, key: str, part: Part | None) -> float:
        return 1.0 if part is None or key not in self.items else weight_in(part, self.items[key])

    # Sections and items

    def _section(self, parent: etree._Element, title: str) -> etree._Element:
        self.sections += 1
        section = sub(parent, "section", ident=f"S{self.sections}")
        if title:
            section.set("title", title)
        return section

    def _fill(self, parent: etree._Element, items: list[Item], part: Part | None) -> None:
        """Items in order; those that share a passage stand in a section of their own with it, in a draw each in its own."""
        home, passage = parent, None
        alone = part is not None and part.draw is not None
        for item in items:
            wanted = item.stimulus if item.stimulus in self.stimuli else None
            if wanted is None:
                home = parent
            elif alone or wanted != passage:
                home = self._stimulus(parent, self.stimuli[wanted])
            passage = wanted
            self._item(home, item, part)

    def _stimulus(self, parent: etree._Element, stimulus: Stimulus) -> etree._Element:
        section = self._section(parent, "")
        flow = sub(sub(section, "presentation_material"), "flow_mat", {"class": "List"})
        self.refs |= set(media_refs(stimulus.content))
        material(flow, stimulus.content)
        return section

    def _item(self, parent: etree._Element, item: Item, part: Part | None) -> None:
        if item.id in self.written:
            sub(parent, "itemref", linkrefid=item.id)
            return
        writer = ItemWriter(item, self.pools.get(item.id, ()), self._weight(item.id, part))
        element = write_item(writer)
        self.written.add(item.id)
        if element is None:
            detail = f"QTI 1.2 cannot hold this item: {writer.reason}"
            self.findings.append(LEFT_OUT.at("", item.id, detail=detail))
            return
        self.refs |= writer.refs
        self.findings += writer.findings
        parent.append(element)


def identifiers_of_quizzes(bank: Bank) -> list[str]:
    """The identifiers of the assessments: those of the quizzes, where no item has them."""
    items = {item.id for item in bank.items}
    return [quiz.id if quiz.id and quiz.id not in items else f"A{number}" for number, quiz in enumerate(bank.quizzes, 1)]

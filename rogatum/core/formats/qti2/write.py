"""Writes a QTI 2.1, 2.2 or 3.0 content package: manifest, items, a test for pools and draws, stimuli, media. Deterministic."""

from __future__ import annotations

from dataclasses import dataclass, field

from lxml import etree

from rogatum.core.finding import Finding
from rogatum.core.findings.sources import LEFT_OUT
from rogatum.core.formats.qti2.dialects import LOM, Dialect, in_dialect
from rogatum.core.formats.qti2.elements import Content, identifiers, node
from rogatum.core.formats.qti2.item_types import write_item
from rogatum.core.formats.qti2.item_writer import ItemWriter
from rogatum.core.formats.qti2.test_writer import TestWriter, file_names, test_identifiers
from rogatum.core.formats.shared.base import TEACHERS_COPY, Writer, Written
from rogatum.core.formats.shared.lom import write_lom
from rogatum.core.formats.shared.originals import original_tree
from rogatum.core.formats.shared.packaging import MANIFEST, PackageWriter
from rogatum.core.formats.shared.pool_tree import pool_tree
from rogatum.core.items import Bank, Item, Preserved, Stimulus
from rogatum.core.items.content import media_refs
from rogatum.core.sources import MediaBox


def writer(dialect: Dialect) -> Writer:
    """The writer of one dialect."""
    return lambda bank, media, _options=TEACHERS_COPY: _PackageOf(bank, media, dialect).written()


@dataclass
class _File:
    """One file of the package with what the manifest says of it."""

    path: str
    tree: etree._Element
    kind: str
    identifier: str
    refs: list[str] = field(default_factory=list)
    dependencies: list[str] = field(default_factory=list)
    metadata: dict[str, list[str]] = field(default_factory=dict)
    pool: tuple[str, ...] = ()


class _PackageOf:
    def __init__(self, bank: Bank, media: MediaBox, dialect: Dialect) -> None:
        self.bank, self.media, self.dialect = bank, media, dialect
        self.findings: list[Finding] = []
        self.files: list[_File] = []
        names = identifiers([item.id for item in bank.items], "item")
        self.names = {item.id: name for item, name in zip(bank.items, names, strict=True)}
        self.stimuli = {stimulus.id: f"stimulus{n}" for n, stimulus in enumerate(bank.stimuli, 1)}
        self.written_items: set[str] = set()
        # Where tests are quizzes they do not tell the pools: each item says its own.
        self.pools = bank.pool_paths() if bank.quizzes else {}

    def written(self) -> Written:
        if self.dialect.stimuli:
            used = {item.stimulus for item in self.bank.items}
            for stimulus in self.bank.stimuli:
                if stimulus.id in used:
                    self._stimulus(stimulus)
        for item in self.bank.items:
            self._item(item)
        self._tests()
        refs = sorted({ref for file in self.files for ref in file.refs if ref in self.media})
        package = PackageWriter()
        package.put_xml(MANIFEST, self._manifest(refs))
        for file in self.files:
            package.put(file.path, etree.tostring(file.tree, xml_declaration=True, encoding="UTF-8"))
        package.put_media(refs, self.media)
        return Written(package.data(), ".zip", self.findings)

    # Items

    def _item(self, item: Item) -> None:
        name = self.names[item.id]
        path = f"items/{name}.xml"
        if isinstance(item, Preserved):
            tree = self._verbatim(item)
            if tree is None:
                return
            refs = [ref for content in item.media.values() for ref in media_refs(content)]
        else:
            stimulus = self._stimulus_of(item)
            item_writer = ItemWriter(item, name, self.dialect, stimulus)
            made = write_item(item_writer)
            assert made is not None
            tree = in_dialect(_set_out(made), self.dialect)
            refs = sorted(item_writer.refs)
        dependencies = [self.stimuli[item.stimulus]] if self.dialect.stimuli and item.stimulus in self.stimuli else []
        self.written_items.add(item.id)
        self.files.append(
            _File(path, tree, self.dialect.item_type, name, refs, dependencies, item.metadata, self.pools.get(item.id, ()))
        )

    def _stimulus_of(self, item: Item) -> tuple[str, str, str] | None:
        if not self.dialect.stimuli or item.stimulus not in self.stimuli:
            return None
        stimulus = next(s for s in self.bank.stimuli if s.id == item.stimulus)
        name = self.stimuli[stimulus.id]
        return name, stimulus.title, f"../stimuli/{name}.xml"

    def _verbatim(self, item: Preserved) -> etree._Element | None:
        if item.original_format != self.dialect.format or not item.original:
            detail = f"{self.dialect.label} cannot hold this item: it is a kind that is only preserved, from another format."
            self.findings.append(LEFT_OUT.at("", item.id, detail=detail))
            return None
        root = original_tree(item, lambda ref: f"../{ref}")
        if root is None:
            self.findings.append(LEFT_OUT.at("", item.id, detail="Its original is not well-formed."))
        return root

    # Stimuli and the test

    def _content(self, refs: set[str]) -> Content:
        def address(ref: str) -> str:
            if ref.startswith("media/"):
                refs.add(ref)
                return f"../{ref}"
            return ref

        return Content(self.dialect, address, lambda _blank: None)

    def _stimulus(self, stimulus: Stimulus) -> None:
        name, refs = self.stimuli[stimulus.id], set[str]()
        body = self._content(refs).blocks(node("stimulusBody"), stimulus.content)
        root = node("assessmentStimulus", body, identifier=name, title=stimulus.title)
        tree = in_dialect(root, self.dialect)
        self.files.append(_File(f"stimuli/{name}.xml", tree, self.dialect.stimulus_type, name, sorted(refs)))

    def _tests(self) -> None:
        """A test for each quiz; without quizzes one for the pools, or for the passages that have no other place."""
        names = {key: name for key, name in self.names.items() if key in self.written_items}
        if not self.bank.quizzes:
            if self.bank.pools or self._passages_left(set()):
                test = TestWriter(self.bank, self.dialect, names)
                title, top = pool_tree(self.bank).single_root() or ("", pool_tree(self.bank))
                self._test_file("test.xml", "test1", self.dialect.test_type, test.of_pools("test1", title, top), test)
            return
        used: set[str] = set()
        paths = file_names(len(self.bank.quizzes))
        idents = test_identifiers(self.bank.quizzes, set(self.names.values()))
        for path, ident, quiz in zip(paths, idents, self.bank.quizzes, strict=True):
            test = TestWriter(self.bank, self.dialect, names)
            self._test_file(path, ident, self.dialect.test_type, test.of_quiz(ident, quiz), test)
            used.update(test.used)
        left = self._passages_left(used)
        if left:
            test = TestWriter(self.bank, self.dialect, names)
            self._test_file("passages.xml", "passages", self.dialect.section_type, test.of_passages("passages", left), test)

    def _passages_left(self, used: set[str]) -> list[Item]:
        """Items outside of `used` whose passage has no place but a section."""
        if self.dialect.stimuli:
            return []
        return [item for item in self.bank.items if item.id not in used and item.stimulus in self.stimuli]

    def _test_file(self, path: str, ident: str, kind: str, root: etree._Element, test: TestWriter) -> None:
        self.findings += test.findings
        dependencies = [self.names[item] for item in dict.fromkeys(test.used)]
        made = in_dialect(_set_out(root), self.dialect)
        self.files.append(_File(path, made, kind, ident, sorted(test.refs), dependencies))

    # The manifest

    def _manifest(self, refs: list[str]) -> etree._Element:
        namespace = self.dialect.package_namespace
        nsmap: dict[str | None, str] = {None: namespace, "lom": LOM}

        def sub(parent: etree._Element, name: str, **attributes: str) -> etree._Element:
            return etree.SubElement(parent, f"{{{namespace}}}{name}", attributes)

        root = etree.Element(f"{{{namespace}}}manifest", nsmap=nsmap, identifier="manifest1")  # type: ignore[arg-type]
        metadata = sub(root, "metadata")
        sub(metadata, "schema").text = self.dialect.schema
        sub(metadata, "schemaversion").text = self.dialect.schema_version
        write_lom(metadata, LOM, {}, self.bank.title)
        sub(root, "organizations")
        resources = sub(root, "resources")
        media = {ref: f"media{position}" for position, ref in enumerate(refs, 1)}
        for ref, identifier in media.items():
            sub(sub(resources, "resource", identifier=identifier, type="webcontent", href=ref), "file", href=ref)
        for file in self.files:
            resource = sub(resources, "resource", identifier=file.identifier, type=file.kind, href=file.path)
            if file.metadata or file.pool:
                write_lom(sub(resource, "metadata"), LOM, file.metadata, pool=file.pool)
            sub(resource, "file", href=file.path)
            for identifier in [*file.dependencies, *(media[ref] for ref in file.refs if ref in media)]:
                sub(resource, "dependency", identifierref=identifier)
        return root


def _set_out(root: etree._Element) -> etree._Element:
    """Sets structure out in lines; bodies and feedback stay as they are, since spaces count there."""
    for child in root:
        if child.tag not in ("itemBody", "modalFeedback", "testFeedback"):
            etree.indent(child, space=" ", level=1) if child.find(".//rubricBlock") is None else None
        child.tail = "\n"
    root.text = "\n"
    return root

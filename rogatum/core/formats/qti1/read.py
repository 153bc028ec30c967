"""Reads QTI 1.2: documents, object banks, assessments and sections into pools, items by `item.py`."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from dataclasses import dataclass, field

from lxml import etree

from rogatum.core.accounting import XmlClaims
from rogatum.core.errors import UnreadableSource
from rogatum.core.finding import Finding
from rogatum.core.findings.items import INVALID_ITEM
from rogatum.core.findings.sources import BROKEN_XML, QUESTIONS_MISSING, QUESTIONS_UNREAD
from rogatum.core.formats.qti1.item import read_item
from rogatum.core.formats.qti1.item_metadata import ItemContext
from rogatum.core.formats.qti1.material import MaterialReader
from rogatum.core.formats.qti1.processing import Processing
from rogatum.core.formats.qti1.sniff import holds_qti1
from rogatum.core.formats.qti1.test_reader import TestReader, pick_of
from rogatum.core.formats.qti1.test_settings import beyond_a_quiz
from rogatum.core.formats.shared.base import BankBuilder, Reading, ViewLine, free_path
from rogatum.core.formats.shared.keys import Shapes
from rogatum.core.formats.shared.lom import POOL, account_manifest, manifest_claims
from rogatum.core.formats.shared.media_finder import MediaFinder, is_media
from rogatum.core.formats.shared.packaging import MANIFEST, Manifest, file_of, manifest_of, without_namespaces
from rogatum.core.items import Place, Preserved, Stimulus
from rogatum.core.sources import SourceFile, SourceTree, parse_xml

# Attributes that steer reading or presentation; the others carry content and must be claimed.
STRUCTURAL = frozenset(
    "ident texttype charset respident rcardinality rtiming numtype varname vartype defaultval minvalue maxvalue members action "
    "continue linkrefid feedbacktype view shuffle minnumber maxnumber fibtype prompt encoding rows columns maxchars case index "
    "setmatch class entityref imagtype audiotype videotype embedded width height x0 y0 labelrefid rshuffle rarea rrange "
    "match_group match_max showdraw lowerbound upperbound step startval steplabel orientation scoremodel feedbackstyle maxattempts "
    "hintswitch solutionswitch feedbackswitch order_type seqence_type seq_type sequence_type selectionid version areatype toolvendor "
    "xml:lang xml:space base apid refid vocabulary title".split()
) - {"title"}
BANKS = frozenset({"assessment", "objectbank", "section"})


def read_qti1(tree: SourceTree) -> Reading:
    """Reads a QTI 1.2 file or package. Raises UnreadableSource when nothing in it can be read."""
    return Qti1Reader(tree, "qti-1.2").read()


@dataclass
class _Scope:
    """Where the reader is: the pool path, the stimulus of the section, and whether what stands here is drawn from."""

    path: list[str] = field(default_factory=list)
    stimulus: str | None = None
    within_section: bool = False
    drawn: bool = False


class Qti1Reader:
    """Reads all documents of a source into one bank. `profile` names the dialect, for instance a cartridge's."""

    def __init__(
        self,
        tree: SourceTree,
        format_name: str,
        percent_scores: bool = False,
        path_of_title: Callable[[str], list[str]] = lambda title: [title],
    ) -> None:
        self.tree, self.percent_scores, self.path_of_title = tree, percent_scores, path_of_title
        self.builder = BankBuilder(tree.name, format_name)
        self.finder = MediaFinder(tree, self.builder)
        self.ordinal = 0
        self.document: SourceFile | None = None
        self.broken = False
        self.tests = TestReader()
        self.shared: dict[str, etree._Element] = {}
        self.shapes: Shapes[Processing] = Shapes()

    def read(self) -> Reading:
        manifest = None if self.tree.lone else manifest_of(self.tree)
        failures: list[UnreadableSource] = []
        for file in self._documents(manifest):
            try:
                self._read_document(file)
            except UnreadableSource as error:
                failures.append(error)
                self.builder.note(QUESTIONS_UNREAD.at(file.path, name=file.path, detail=error.why))
        if failures and not self.builder.bank.items:
            raise failures[0]
        self._refuse_ruins()
        self.tests.finish(self.builder)
        if not self.tree.lone:
            read = {place.file for place in self.builder.bank.places.values()}
            self.finder.say_rest(read, lambda path: holds_qti1(self.tree.files[path]))
        if manifest is not None:
            account_manifest(manifest, manifest_claims(self.builder.account))
        self.builder.bank.title = (manifest.title if manifest else "") or self.builder.bank.title
        return self.builder.finish()

    def _refuse_ruins(self) -> None:
        """A broken file of which nothing could be read is no reading, but a refusal."""
        broken = next((f for f in self.builder.bank.findings if f.code == BROKEN_XML.code), None)
        if broken is not None and not self.builder.bank.items:
            name = broken.where.split(":")[0]
            raise UnreadableSource(f"{name} is an XML file", f"{broken.message.rstrip('.')}.", "Export it again.")

    def _documents(self, manifest: Manifest | None) -> Iterator[SourceFile]:
        """The files with questions: those that the manifest names, then any other that holds QTI 1.2."""
        seen: set[str] = set()
        if self.tree.lone:
            yield self.tree.only()
            return
        missing: dict[str, None] = {}
        for resource in manifest.resources if manifest else []:
            if not resource.kind.lower().startswith("imsqti"):
                continue
            assert manifest is not None
            file = file_of(self.tree, manifest, resource)
            if file is None:
                missing[resource.href or ", ".join(resource.files) or resource.identifier] = None
            elif file.path not in seen:
                seen.add(file.path)
                yield file
        self.builder.missing_files(QUESTIONS_MISSING, missing, "document", MANIFEST)
        for path in sorted(self.tree.files):
            file = self.tree.files[path]
            if path not in seen and not is_media(path) and holds_qti1(file):
                yield file

    # Documents

    def _read_document(self, file: SourceFile) -> None:
        document = parse_xml(file.read(), file.path)
        self.builder.bank.findings += document.findings
        root = document.root
        if isinstance(root.tag, str) and root.tag.startswith("{"):
            without_namespaces(root)
        if root.tag != "questestinterop" and root.find(".//item") is None and root.tag != "item":
            raise UnreadableSource(f"{file.path} is an XML file", "It is not QTI 1.2.", "Drop the file that holds the questions.")
        self.document, self.ordinal = file, 0
        self.tests.names.begin_document()
        self.broken = any(finding.code == BROKEN_XML.code for finding in document.findings)
        self.shared = _shared_material(root)
        if root.tag == "item":
            self._item(root, _Scope())
        else:
            self._container(root, _Scope())

    def _container(self, element: etree._Element, scope: _Scope) -> None:
        """Reads the children of questestinterop, assessment, objectbank or section in order."""
        claims = XmlClaims(self.builder.account, STRUCTURAL)
        own, title = scope, ""
        if element.tag in BANKS:
            own, title = self._entered(element, scope, claims)
        told = self.tests.begin(element, title, own.path, claims, scope.within_section)
        if element.tag == "section" and (said := self._instructions(element, claims)):
            self.tests.instruct(said)
        nested = []
        for child in element:
            if child.tag in BANKS or child.tag == "item":
                nested.append(child)
                (self._item if child.tag == "item" else self._container)(child, own)
            elif child.tag == "itemref":
                self.tests.refer(claims.attribute(child, "linkrefid").strip())
            elif child.tag == "sectionref":
                self.tests.refer_section(claims.attribute(child, "linkrefid").strip())
        self.tests.end(element, told, title)
        claims.close(element, self._where(), nested)

    def _entered(self, element: etree._Element, scope: _Scope, claims: XmlClaims) -> tuple[_Scope, str]:
        """The scope within a container, and its title."""
        title = claims.attribute(element, "title").strip() or self._named(element, claims)
        if element.tag != "section" and title and not self.builder.bank.title:
            self.builder.bank.title = title
        path = scope.path + self.path_of_title(title) if title and (not scope.path or scope.path[-1] != title) else scope.path
        drawing = element.tag == "section" and pick_of(element) is not None
        if path and drawing and not scope.drawn:
            taken = {tuple(pool.path) for pool in self.builder.bank.pools}
            path = list(free_path(tuple(path), taken.__contains__))
        own = _Scope(path, scope.stimulus, element.tag == "section", scope.drawn or drawing)
        self._stimulus(element, own, claims)
        for text in beyond_a_quiz(element, claims):
            self.builder.account.leave(self._where(), text)
        # The standard's own metadata of a whole steer a platform.
        for entry in element.iterfind("qtimetadata/qtimetadatafield"):
            if (entry.findtext("fieldlabel") or "").strip().lower().startswith(("cc_", "qmd_")):
                claims.subtree(entry)
        return own, title

    def _named(self, element: etree._Element, claims: XmlClaims) -> str:
        """The name of an object bank, which has no title of its own: a metadata entry that says so."""
        if element.tag != "objectbank":
            return ""
        for entry in element.iterfind("qtimetadata/qtimetadatafield"):
            label = (entry.findtext("fieldlabel") or "").strip().lower()
            if label.endswith(("title", "name")):
                claims.subtree(entry)
                return " ".join((entry.findtext("fieldentry") or "").split())
        return ""

    def _instructions(self, element: etree._Element, claims: XmlClaims) -> str:
        """What a section tells students before its items."""
        where = self._where()
        found = [rubric for rubric in element.iterfind("rubric") if (rubric.get("view") or "All") in ("All", "Candidate")]
        markup = "".join(self._material(claims, where, None).children(rubric) for rubric in found)
        return self.builder.content(markup, where, None, self.finder.resolver(self._path(), where, None)) if found else ""

    def _stimulus(self, element: etree._Element, scope: _Scope, claims: XmlClaims) -> None:
        material = element.find("presentation_material")
        if material is None:
            return
        stimulus_id = f"s{len(self.builder.bank.stimuli) + 1}"
        where = self._where()
        markup = self._material(claims, where, None).children(material)
        content = self.builder.content(markup, where, None, self.finder.resolver(self._path(), where, None))
        # The same passage stands before each item that is drawn on its own.
        known = next((stimulus.id for stimulus in self.builder.bank.stimuli if stimulus.content == content), None)
        if content and known is None:
            self.builder.bank.stimuli.append(Stimulus(id=stimulus_id, content=content))
        if content:
            scope.stimulus = known or stimulus_id

    # Items

    def _path(self) -> str:
        return self.document.path if self.document else ""

    def _where(self) -> str:
        name = self.document.path if self.document else ""
        return name if self.tree.lone else f"{self.tree.name}/{name}"

    def _item(self, element: etree._Element, scope: _Scope) -> None:
        if self.broken and not len(element):
            return  # the tag that the break cut off
        self.ordinal += 1
        where = f"{self._where()}: item {self.ordinal}"
        claims = XmlClaims(self.builder.account, STRUCTURAL)
        ident = claims.attribute(element, "ident").strip()
        item_id = self.builder.free_id(ident, where)
        context = ItemContext(
            builder=self.builder,
            claims=claims,
            item_id=item_id,
            where=where,
            material=self._material(claims, where, item_id),
            resolve=self.finder.resolver(self._path(), where, item_id),
            named_media=lambda markup: self.finder.shown(markup, self._path(), item_id),
            shapes=self.shapes,
            percent_scores=self.percent_scores,
            weighted=self.tests.weighted,
        )
        try:
            item = read_item(element, context)
        except (ValueError, KeyError, IndexError) as error:
            self.builder.note(INVALID_ITEM.at(where, item_id, detail=str(error)[:120]))
            original = etree.tostring(element, encoding="unicode", with_tail=False)
            item = Preserved(id=item_id, stem="", original=original, original_format="qti-1.2", reason="It could not be read.")
            claims.subtree(element)
        item.stimulus = scope.stimulus
        claims.close(element, where)
        assert self.document is not None
        first = len(self.builder.view) + 1
        self._show(element, item_id)
        place = Place(where=where, file=self.document.path, first=first, last=len(self.builder.view))
        self.builder.add(item, place, item.metadata.pop(POOL, None) or scope.path or None)
        self.tests.item(ident or item_id, item_id, context.weight)

    def _show(self, element: etree._Element, item_id: str) -> None:
        """Adds the item's markup, set out in lines, to the view of the source."""
        etree.indent(element, space="  ")
        text = etree.tostring(element, encoding="unicode", with_tail=False)
        first, path = len(self.builder.view) + 1, self.document.path if self.document else ""
        self.builder.view += [ViewLine(n, line, item_id, "", path) for n, line in enumerate(text.split("\n"), first)]

    def _material(self, claims: XmlClaims, where: str, item_id: str | None) -> MaterialReader:
        def note(finding: Finding) -> None:
            self.builder.note(finding)

        return MaterialReader(claims, note, where, item_id, self.finder.embed, self.shared)


def _shared_material(root: etree._Element) -> dict[str, etree._Element]:
    """Material that others may refer to (`matref`, ASI 1.2, 3.6): by its identifier, else by its label."""
    shared: dict[str, etree._Element] = {}
    for name in ("ident", "label"):
        for element in root.iter("material", "mattext", "matemtext", "matimage", "mataudio", "matvideo"):
            if element.get(name):
                shared.setdefault(element.get(name, ""), element)
    return shared

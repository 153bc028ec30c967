"""Reads QTI 2.x and 3.0: packages or bare files of items, tests, sections and stimuli, into one bank."""

from __future__ import annotations

import posixpath
import re
from collections.abc import Iterator
from dataclasses import dataclass

from lxml import etree

from rogatum.core.accounting import XmlClaims
from rogatum.core.errors import UnreadableSource
from rogatum.core.finding import Finding
from rogatum.core.findings.items import INVALID_ITEM
from rogatum.core.findings.sources import (
    BROKEN_XML,
    FILE_UNREAD,
    MANIFEST_DIFFERS,
    QUESTIONS_MISSING,
    QUESTIONS_UNREAD,
    REFERENCE_MISSING,
)
from rogatum.core.formats.qti2.body import BodyReader
from rogatum.core.formats.qti2.dialects import ITEM, QTI_2_1, SECTION, STIMULUS, TEST, Dialect, dialect_of, in_our_names
from rogatum.core.formats.qti2.item import read_item
from rogatum.core.formats.qti2.item_reading import ItemContext
from rogatum.core.formats.qti2.processing import Compiled
from rogatum.core.formats.qti2.sniff import file_dialect, resource_dialect, tree_dialect
from rogatum.core.formats.qti2.structure import Finder, Structure, read_structure, weights_of
from rogatum.core.formats.qti2.test_feedback import read_feedback
from rogatum.core.formats.qti2.test_settings import read_settings
from rogatum.core.formats.shared.base import BankBuilder, Reading, ViewLine
from rogatum.core.formats.shared.keys import Shapes
from rogatum.core.formats.shared.lom import POOL, account_manifest, manifest_claims, read_lom
from rogatum.core.formats.shared.media_finder import MediaFinder
from rogatum.core.formats.shared.packaging import MANIFEST, Manifest, file_of, manifest_of
from rogatum.core.formats.shared.quiz_drafts import PartDraft, QuizDraft, QuizMaker
from rogatum.core.items import Item, Place, Preserved, Stimulus
from rogatum.core.quizzes.model import ScoreFeedback
from rogatum.core.quizzes.phrases import listed
from rogatum.core.quizzes.worth import total_points
from rogatum.core.sources import SourceFile, SourceTree, parse_xml

# Attributes that steer reading or presentation; the others carry content and must be claimed.
STRUCTURAL = frozenset(
    "identifier adaptive timeDependent cardinality baseType responseIdentifier outcomeIdentifier showHide view use shuffle "
    "fixed maxChoices minChoices maxAssociations minAssociations matchMax matchMin matchGroup expectedLength expectedLines "
    "format placeholderText patternMask stringIdentifier template templateLocation toolName toolVersion caseSensitive "
    "toleranceMode tolerance includeLowerBound includeUpperBound roundingMode figures name shape n min max numberRepeats "
    "base class id style interpretation longInterpretation normalMaximum normalMinimum masteryValue required "
    "orientation dir role lang externalScored substring includeBoundary defaultValue sourceValue targetValue "
    "templateIdentifier variableIdentifier weightIdentifier href visible keepTogether select "
    "withReplacement category value label access weightIdentifier variableIdentifier includeCategory excludeCategory".split()
)


_ITEM_ROOT = re.compile(
    rb"^(?:\xef\xbb\xbf)?(?:\s|<\?.*?\?>|<!--.*?-->)*<(?:[\w.-]+:)?(?:assessmentItem|qti-assessment-item)[\s>]", re.S
)


@dataclass
class _Document:
    """A parsed file: its root in our names, and the markup of the root as it stood."""

    file: SourceFile
    root: etree._Element
    original: str
    dialect: Dialect


def read_qti2(tree: SourceTree) -> Reading:
    """Reads a QTI 2.x or 3.0 file or package. Raises UnreadableSource when nothing in it can be read."""
    return Qti2Reader(tree).read()


class Qti2Reader:
    def __init__(self, tree: SourceTree) -> None:
        self.tree = tree
        self.dialect = tree_dialect(tree) or QTI_2_1
        self.builder = BankBuilder(tree.name, self.dialect.format)
        self.finder = MediaFinder(tree, self.builder)
        self.structure = Structure()
        self.stimuli: dict[str, str] = {}
        self.metadata: dict[str, dict[str, list[str]]] = {}
        self.read_paths: set[str] = set()
        self.tests: dict[str, _Document] = {}
        self.walked: set[str] = set()
        self.drafts: list[tuple[QuizDraft, _Document, XmlClaims]] = []
        # The parts of all tests that weigh an item, by its file.
        self.weighing: dict[str, list[PartDraft]] = {}
        self.ids: dict[str, str] = {}
        self.shapes: Shapes[Compiled] = Shapes()
        # The files of items that the manifest names and the package does not hold.
        self.missing: dict[str, None] = {}

    def read(self) -> Reading:
        manifest = None if self.tree.lone else manifest_of(self.tree)
        if manifest is not None:
            self._read_manifest(manifest)
            self.builder.bank.title = manifest.title
        waiting: list[SourceFile] = []
        documents: list[_Document] = []
        for file in self._files(manifest):
            # Items are parsed one by one when their turn comes: a whole bank of trees takes ten times the room of its text.
            if _is_item(file):
                waiting.append(file)
            elif (document := self._parsed(file)) is not None:
                documents.append(document)
        self.tests = {d.file.path: d for d in documents if etree.QName(d.root).localname in (TEST, SECTION)}
        # Tests first: a section in a file of its own stands where a test names it.
        for document in sorted(self.tests.values(), key=lambda document: etree.QName(document.root).localname == SECTION):
            if document.file.path not in self.walked:
                self._read_test(document)
        for document in documents:
            if document.root.tag == STIMULUS:
                self._read_stimulus(document)
        parsed = {document.file.path: document for document in documents if document.root.tag == ITEM}
        items = [*waiting, *(document.file for document in parsed.values())]
        read: set[str] = set()
        for file in sorted(items, key=lambda file: self.structure.order(file.path)):
            own = parsed.get(file.path) or self._parsed(file)
            if own is not None:
                self._read_item(own)
                read.add(file.path)
        if not documents and not read:
            self._refuse()
        self._make_quizzes()
        self._check_references(read)
        if not self.tree.lone:
            self.finder.say_rest(self.read_paths, lambda _path: False)
        return self.builder.finish()

    def _refuse(self) -> None:
        first = next((f for f in self.builder.bank.findings if f.code == QUESTIONS_UNREAD.code), None)
        why = first.message if first is not None else "It has no item, test or stimulus."
        if first is None and self.missing:
            why = f"Its manifest names {listed(list(self.missing)[:3])}, and that is not in it."
        raise UnreadableSource(f"{self.tree.name} is a source in {self.dialect.label}", why, "Export it again with its items.")

    # Files

    def _read_manifest(self, manifest: Manifest) -> None:
        claims = manifest_claims(self.builder.account)
        for resource in manifest.resources:
            file = file_of(self.tree, manifest, resource)
            element = resource.element
            metadata = element.find("{*}metadata") if element is not None else None
            if metadata is not None and file is not None and resource_dialect(resource.kind) is not None:
                self.metadata[file.path] = read_lom(metadata, claims)
        account_manifest(manifest, claims)

    def _files(self, manifest: Manifest | None) -> Iterator[SourceFile]:
        """The files that the manifest names, in its order, then any other that holds QTI."""
        if self.tree.lone:
            yield self.tree.only()
            return
        seen: set[str] = set()
        for resource in manifest.resources if manifest else []:
            if resource_dialect(resource.kind) is None:
                continue
            assert manifest is not None
            file = file_of(self.tree, manifest, resource)
            if file is None:
                name = resource.href or ", ".join(resource.files) or resource.identifier
                if "_item_" in resource.kind or "_apipitem_" in resource.kind:
                    self.missing[name] = None
                else:
                    self.builder.note(MANIFEST_DIFFERS.at(MANIFEST, name=name))
            elif file.path not in seen:
                seen.add(file.path)
                yield file
        for path in sorted(self.tree.files):
            if path not in seen and path.lower().endswith((".xml", ".qti")) and file_dialect(self.tree.files[path]) is not None:
                yield self.tree.files[path]

    def _parsed(self, file: SourceFile) -> _Document | None:
        self.read_paths.add(file.path)
        try:
            parsed = parse_xml(file.read(), file.path)
        except UnreadableSource as error:
            if self.tree.lone:
                raise
            self.builder.note(QUESTIONS_UNREAD.at(file.path, name=file.path, detail=error.why))
            return None
        self.builder.bank.findings += parsed.findings
        root = parsed.root
        dialect = dialect_of(etree.QName(root).namespace or "") or file_dialect(file) or self.dialect
        original = etree.tostring(root, encoding="unicode", with_tail=False)
        in_our_names(root)
        if parsed.findings and any(f.code == BROKEN_XML.code for f in parsed.findings) and root.find("itemBody") is None:
            return None
        return _Document(file, root, original, dialect)

    def _where(self, file: SourceFile) -> str:
        return file.path if self.tree.lone else f"{self.tree.name}/{file.path}"

    # Tests and stimuli

    def _read_test(self, document: _Document) -> None:
        root = document.root
        claims = XmlClaims(self.builder.account, STRUCTURAL)
        title = " ".join(claims.attribute(root, "title").split())
        self.builder.bank.title = self.builder.bank.title or title
        finder = self._finder(document, claims, frozenset({document.file.path}))
        parts = read_structure(root, claims, self.structure, finder, weights_of(root))
        draft = QuizDraft(claims.attribute(root, "identifier"), title, parts)
        if etree.QName(root).localname == TEST:
            draft.settings = read_settings(root, claims)
        # A section alone is a pool, unless something is drawn in it.
        if etree.QName(root).localname == TEST or any(part.pick is not None for part in parts):
            self.drafts.append((draft, document, claims))
            for part in parts:
                for path in part.weights:
                    self.weighing.setdefault(path, []).append(part)
        else:
            claims.close(root, self._where(document.file))

    def _finder(self, document: _Document, claims: XmlClaims, within: frozenset[str] = frozenset()) -> Finder:
        """What a walk through a document needs; `within` are the files of sections that lead to it, which it cannot hold again."""
        base, where = posixpath.dirname(document.file.path), self._where(document.file)

        def said(element: etree._Element) -> str:
            claims.subtree(element)
            markup = BodyReader(lambda _element: None).children(element)
            return self.builder.content(markup, where, None, self.finder.resolver(document.file.path, where, None))

        def passage(element: etree._Element) -> str:
            claims.subtree(element)
            return self._stimulus(BodyReader(lambda _element: None).children(element), where, document.file.path)

        def section(href: str) -> tuple[etree._Element, Finder] | None:
            file = self.tree.find(href, base)
            known = self.tests.get(file.path) if file is not None else None
            if known is None or known.file.path in within:
                return None
            self.walked.add(known.file.path)
            return known.root, self._finder(known, claims, within | {known.file.path})

        return Finder(
            lambda href: self.tree.find(href, base), section, passage, said, lambda text: self.builder.account.leave(where, text)
        )

    def _stimulus(self, markup: str, where: str, path: str) -> str:
        """Adds a passage and returns its id; an empty one has none."""
        content = self.builder.content(markup, where, None, self.finder.resolver(path, where, None))
        known = next((s.id for s in self.builder.bank.stimuli if s.content == content), "")
        if not content or known:
            return known
        identifier = f"s{len(self.builder.bank.stimuli) + 1}"
        self.builder.bank.stimuli.append(Stimulus(id=identifier, content=content))
        return identifier

    def _read_stimulus(self, document: _Document) -> None:
        claims = XmlClaims(self.builder.account, STRUCTURAL)
        body = document.root.find("stimulusBody")
        where = self._where(document.file)
        if body is not None:
            claims.subtree(body)
            reader = BodyReader(lambda _element: None)
            identifier = self._stimulus(reader.children(body), where, document.file.path)
            if identifier:
                self.stimuli[document.file.path] = identifier
                self.stimuli[claims.attribute(document.root, "identifier")] = identifier
                stimulus = next(s for s in self.builder.bank.stimuli if s.id == identifier)
                stimulus.title = " ".join(claims.attribute(document.root, "title").split())
        claims.close(document.root, where)

    # Items

    def _read_item(self, document: _Document) -> None:
        root, path = document.root, document.file.path
        where = self._where(document.file)
        claims = XmlClaims(self.builder.account, STRUCTURAL)
        item_id = self.builder.free_id(claims.attribute(root, "identifier"), where)
        reference = self.structure.references.get(path)
        metadata = self.metadata.get(path, {})
        pool = metadata.get(POOL)
        context = ItemContext(
            builder=self.builder,
            claims=claims,
            item_id=item_id,
            where=where,
            resolve=self.finder.resolver(path, where, item_id),
            named_media=lambda markup: self.finder.shown(markup, path, item_id),
            format=document.dialect.format,
            original=document.original,
            shapes=self.shapes,
            metadata={label: values for label, values in metadata.items() if label not in ("title", POOL)},
        )
        try:
            item = read_item(root, context)
        except (ValueError, KeyError, IndexError, TypeError, OverflowError) as error:
            self.builder.note(INVALID_ITEM.at(where, item_id, detail=str(error)[:120]))
            item = Preserved(
                id=item_id, original=document.original, original_format=document.dialect.format, reason="It could not be read."
            )
            claims.subtree(root)
        item.stimulus = self._stimulus_of(root, path, claims) or (reference.stimulus if reference is not None else None)
        claims.close(root, where)
        first = len(self.builder.view) + 1
        self._show(document, item_id)
        place = Place(where=where, file=path, first=first, last=len(self.builder.view))
        self.ids[path] = item_id
        if not _states_maximum(root):
            self._weigh(item, path)
        self.builder.add(item, place, pool or (list(reference.path) if reference is not None and reference.path else None))

    def _weigh(self, item: Item, path: str) -> None:
        """An item that does not state its maximum is worth what the first test makes it worth; only then are other weights told."""
        parts = self.weighing.get(path)
        if parts and item.points is not None:
            first = parts[0].weights[path] or 1.0
            item.points = round(item.points * first, 6)
            for part in parts:
                part.weights[path] = part.weights[path] / first

    def _stimulus_of(self, root: etree._Element, path: str, claims: XmlClaims) -> str | None:
        for reference in root.iterfind("assessmentStimulusRef"):
            claims.subtree(reference)
            file = self.tree.find(reference.get("href", ""), posixpath.dirname(path))
            found = self.stimuli.get(file.path if file else "") or self.stimuli.get(reference.get("identifier", ""))
            if found:
                return found
            self.builder.note(MANIFEST_DIFFERS.at(path, name=reference.get("href", "")))
        return None

    def _show(self, document: _Document, item_id: str) -> None:
        lines = enumerate(document.original.split("\n"), len(self.builder.view) + 1)
        self.builder.view += [ViewLine(n, line, item_id, "", document.file.path) for n, line in lines]

    # After all items

    def _make_quizzes(self) -> None:
        maker = QuizMaker(self.builder.bank, self.ids)
        for draft, document, claims in self.drafts:
            quiz = maker.quiz_of(draft)
            feedback = self._test_feedback(document, total_points(self.builder.bank, quiz) or 1.0, claims)
            if feedback:
                quiz = quiz.model_copy(update={"settings": quiz.settings.model_copy(update={"feedback": feedback})})
            self.builder.add_quiz(quiz)
            claims.close(document.root, self._where(document.file))

    def _test_feedback(self, document: _Document, points: float, claims: XmlClaims) -> list[ScoreFeedback]:
        where, reader = self._where(document.file), BodyReader(lambda _element: None)

        def content(element: etree._Element) -> str:
            claims.subtree(element)
            resolve = self.finder.resolver(document.file.path, where, None)
            return self.builder.content(reader.children(element), where, None, resolve)

        feedback, left = read_feedback(document.root, points, content)
        for element in left:
            text = " ".join("".join(map(str, element.itertext())).split())
            claims.subtree(element)
            self.builder.account.leave(where, f"feedback of the test that is not shown at the end by its score: {text}")
        return feedback

    def _check_references(self, read: set[str]) -> None:
        self.builder.missing_files(QUESTIONS_MISSING, self.missing, "question", MANIFEST)
        told = {posixpath.basename(name) for name in self.missing}
        rest = dict.fromkeys(href for href in self.structure.missing if posixpath.basename(href) not in told)
        self.builder.missing_files(REFERENCE_MISSING, rest, "part", self.tree.name)
        for path in self.structure.references:
            if path not in read:
                self.builder.note(_unread(path))


def _states_maximum(root: etree._Element) -> bool:
    """Whether an item says what full marks are worth (QTI 2.1, 5.1: `normalMaximum`, or the usual MAXSCORE)."""
    return any(e.get("normalMaximum") or e.get("identifier") == "MAXSCORE" for e in root.iterfind("outcomeDeclaration"))


def _is_item(file: SourceFile) -> bool:
    """Whether the root of a file is an item, told by its beginning alone; one that is not told so is parsed to know."""
    return bool(_ITEM_ROOT.match(file.head()))


def _unread(path: str) -> Finding:
    return FILE_UNREAD.at(path, name=path, detail="The test names it as an item, and it is none.")

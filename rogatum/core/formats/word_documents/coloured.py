"""What pandoc drops, made visible before it reads: colour and shading, tabs, blanks of underlined spaces, labels of RTF lists."""

from __future__ import annotations

import io
import re
import zipfile

from lxml import etree

from rogatum.core.formats.word_documents import odf_lists
from rogatum.core.formats.word_documents.stand_ins import GAP, TAB, with_spaces
from rogatum.core.formats.word_documents.word_numbers import Numbers, type_labels
from rogatum.core.sources.xml import parser

_W = "http://schemas.openxmlformats.org/wordprocessingml/2006/main"
_DARK = re.compile(r"^(?:auto|0{6}|[0-3][0-9A-F][0-3][0-9A-F][0-3][0-9A-F])$", re.I)
_LIGHT = re.compile(r"^(?:auto|clear|nil|f{6})$", re.I)
_ODF_TEXT = "{urn:oasis:names:tc:opendocument:xmlns:style:1.0}text-properties"
_ODF_FO = "{urn:oasis:names:tc:opendocument:xmlns:xsl-fo-compatible:1.0}"
_ODF_LINE = "{urn:oasis:names:tc:opendocument:xmlns:style:1.0}text-line-through-style"
_LIST_LABEL = re.compile(r"\{\\(?:listtext|pntext)(?![a-z])")
# Underlined spaces stand for a blank from this many on, which is then written as other blanks are.
SHORTEST_BLANK = 3
BLANK_TEXT = "________"
_ODF_TAB = "{urn:oasis:names:tc:opendocument:xmlns:text:1.0}tab"


def docx_with_marks(data: bytes) -> bytes:
    """A docx in which coloured and shaded runs are highlighted, underlined spaces are blanks, and labels of lists are typed."""
    numbers = Numbers.of(_part(data, "word/numbering.xml"), _part(data, "word/styles.xml"))

    def change(root: etree._Element) -> bool:
        marked = _mark_runs(root)
        listed = type_labels(root, numbers)
        return _keep_gaps(root) or listed or marked

    return _changed(data, "word/document.xml", change)


def _part(data: bytes, member: str) -> etree._Element | None:
    """The root of a member of a zip; None where there is none, or it is no XML."""
    with zipfile.ZipFile(io.BytesIO(data)) as archive:
        if member not in archive.namelist():
            return None
        try:
            return etree.fromstring(archive.read(member), parser())
        except etree.XMLSyntaxError:
            return None


def _keep_gaps(root: etree._Element) -> bool:
    """Gives empty paragraphs and runs of spaces their stand-ins."""
    changed = False
    for text in root.iter(f"{{{_W}}}t"):
        if text.text and "  " in text.text:
            text.text = with_spaces(text.text)
            changed = True
    for paragraph in root.iter(f"{{{_W}}}p"):
        filled = any(str(inner.tag).rpartition("}")[2] not in _EMPTY for inner in paragraph.iter("*"))
        if not filled and paragraph.getparent() is not None and paragraph.getparent().tag == f"{{{_W}}}body":  # type: ignore[union-attr]
            run = etree.SubElement(paragraph, f"{{{_W}}}r")
            etree.SubElement(run, f"{{{_W}}}t").text = GAP
            changed = True
    return changed


# What a paragraph may hold and yet be empty.
_EMPTY = frozenset(("p", "pPr", "rPr", "pStyle", "spacing", "ind", "jc", "r", "lang", "rFonts", "sz", "szCs", "b", "i", "bookmarkStart", "bookmarkEnd",
                    "keepNext", "keepLines", "contextualSpacing", "widowControl", "suppressAutoHyphens", "proofErr", "lastRenderedPageBreak", "color", "u"))  # fmt: skip


def odt_with_marks(data: bytes) -> tuple[bytes, bool]:
    """An odt in which coloured text is struck out, and whether striking out stands for that alone."""
    found: list[bool] = []

    def change(root: etree._Element) -> bool:
        genuine = any((e.get(_ODF_LINE) or "none") != "none" for e in root.iter(_ODF_TEXT))
        if not genuine:
            for properties in root.iter(_ODF_TEXT):
                colour, ground = properties.get(f"{_ODF_FO}color", ""), properties.get(f"{_ODF_FO}background-color", "")
                shaded = ground and ground != "transparent" and not _LIGHT.match(ground.lstrip("#"))
                if shaded or (colour and not _DARK.match(colour.lstrip("#"))):
                    properties.set(_ODF_LINE, "solid")
                    found.append(True)
        tabs = list(root.iter(_ODF_TAB))
        for tab in tabs:
            _replaced_by_text(tab, TAB)
        listed = odf_lists.type_labels(root, _part(data, "styles.xml"))
        return odf_lists.keep_gaps(root) or listed or bool(found or tabs)

    return _changed(data, "content.xml", change), bool(found)


def with_plain_stand_ins(text: str) -> str:
    """An rtf whose stand-ins for letters beyond its table are escaped: pandoc takes a word that touches one for a part of it."""
    if re.search(r"\\uc(?!1\b)\d", text):
        return text
    return re.sub(r"(\\u-?\d{1,5}+) ?([^\\{}\s])", r"\1\\'3f", text)


def rtf_with_marks(text: str) -> tuple[str, bool]:
    """An rtf in which highlighted and coloured text is struck out, and whether striking out stands for that alone."""
    if re.search(r"\\strike(?!0)", text):
        return text, False
    table = re.search(r"\{\\colortbl\s*+;?([^{}]*)\}", text)
    colours = [re.findall(r"\\(?:red|green|blue)(\d+)", entry) for entry in table[1].split(";")] if table else []
    bright = {str(n) for n, rgb in enumerate(colours, 1) if rgb and max(map(int, rgb)) > 90}
    marked = re.sub(r"\\highlight([1-9]\d*)(?!\d)", r"\\strike", text)
    marked = re.sub(r"\\highlight0(?!\d)", r"\\strike0", marked)
    marked = re.sub(r"\\(?:cf|chcbpat|cb)(\d+)(?!\d)", lambda m: "\\strike" if m[1] in bright else "\\strike0", marked)
    return (marked, True) if "\\strike" in re.sub(r"\\strike0", "", marked) else (text, False)


def rtf_with_tabs_and_labels(text: str) -> str:
    """An rtf whose tabs have a stand-in, and whose list labels are typed as they are shown."""
    text = _with_typed_labels(text)
    return re.sub(r"\\tab(?![a-z]) ?", rf"\\u{ord(TAB)}\\'3f", text)


def _with_typed_labels(text: str) -> str:
    """Labels of lists as text, where all are numbers or letters; pandoc numbers lists anew and knows none without a table."""
    groups = [(match.start(), _end_of_group(text, match.start())) for match in _LIST_LABEL.finditer(text)]
    labels = [re.sub(r"\\[a-z]+-?\d* ?|[{}]", "", text[start:end]).strip() for start, end in groups]
    if not labels or not all(re.fullmatch(r"\(?[0-9A-Za-z]{1,4}[.):]?", label) for label in labels):
        return text
    parts, at = [], 0
    for (start, end), label in zip(groups, labels, strict=True):
        parts += [text[at:start], "{", label, r"\tab }"]
        at = end
    return re.sub(r"\\(?:ls|ilvl)\d+ ?", "", "".join([*parts, text[at:]]))


def _end_of_group(text: str, start: int) -> int:
    depth = 0
    for match in re.finditer(r"\\.|[{}]", text[start:], re.S):
        depth += {"{": 1, "}": -1}.get(match[0], 0)
        if depth == 0:
            return start + match.end()
    return len(text)


def _replaced_by_text(element: etree._Element, text: str) -> None:
    """Puts text where an element stood; what followed it stays."""
    parent, before = element.getparent(), element.getprevious()
    text += element.tail or ""
    if before is not None:
        before.tail = (before.tail or "") + text
    elif parent is not None:
        parent.text = (parent.text or "") + text
    if parent is not None:
        parent.remove(element)


def _mark_runs(root: etree._Element) -> bool:
    changed = False
    for properties in root.iter(f"{{{_W}}}rPr"):
        if properties.getparent() is None or properties.getparent().tag != f"{{{_W}}}r":  # type: ignore[union-attr]
            continue
        changed = _fill_blank(properties) or changed
        colour, shading = properties.find(f"{{{_W}}}color"), properties.find(f"{{{_W}}}shd")
        tinted = colour is not None and not _DARK.match(colour.get(f"{{{_W}}}val", "auto"))
        shaded = shading is not None and not _LIGHT.match(shading.get(f"{{{_W}}}fill", "auto"))
        if (tinted or shaded) and properties.find(f"{{{_W}}}highlight") is None:
            etree.SubElement(properties, f"{{{_W}}}highlight").set(f"{{{_W}}}val", "yellow")
            changed = True
    for tab in [tab for run in root.iter(f"{{{_W}}}r") for tab in run.findall(f"{{{_W}}}tab")]:
        tab.tag, tab.text = f"{{{_W}}}t", TAB
        changed = True
    return changed


def _changed(data: bytes, member: str, change: object) -> bytes:
    """A zip with one XML member changed; the same bytes where nothing changes or the member is no XML."""
    with zipfile.ZipFile(io.BytesIO(data)) as archive:
        if member not in archive.namelist():
            return data
        try:
            root = etree.fromstring(archive.read(member), parser(huge=True))
        except etree.XMLSyntaxError:
            return data
        if not change(root):  # type: ignore[operator]
            return data
        buffer = io.BytesIO()
        with zipfile.ZipFile(buffer, "w", zipfile.ZIP_DEFLATED) as copy:
            for info in archive.infolist():
                content = (
                    etree.tostring(root, xml_declaration=True, encoding="UTF-8") if info.filename == member else archive.read(info)
                )
                copy.writestr(info.filename, content)
    return buffer.getvalue()


_RELATIONS = "word/_rels/document.xml.rels"


def headers_and_footers(data: bytes) -> list[str]:
    """The texts of a docx's page headers and footers, which are no part of the test."""
    found: list[str] = []
    with zipfile.ZipFile(io.BytesIO(data)) as archive:
        for name in sorted(archive.namelist()):
            if re.match(r"word/(?:header|footer)\d*\.xml$", name):
                try:
                    root = etree.fromstring(archive.read(name), parser())
                except etree.XMLSyntaxError:
                    continue
                text = " ".join("".join(str(t.text or "") for t in root.iter(f"{{{_W}}}t")).split())
                if text and text not in found:
                    found.append(text)
    return found


def missing_pictures(data: bytes) -> list[str]:
    """The names of pictures that a docx refers to and does not hold; they would be dropped without a word."""
    with zipfile.ZipFile(io.BytesIO(data)) as archive:
        names = set(archive.namelist())
        if _RELATIONS not in names:
            return []
        try:
            root = etree.fromstring(archive.read(_RELATIONS), parser())
        except etree.XMLSyntaxError:
            return []
    inside = [entry for entry in root if entry.get("TargetMode") != "External" and entry.get("Type", "").endswith("/image")]
    targets = [str(entry.get("Target", "")) for entry in inside]
    return [target for target in targets if target and f"word/{target}" not in names and target.lstrip("/") not in names]


def _fill_blank(properties: etree._Element) -> bool:
    """Makes a blank to be filled in of a run of underlined spaces or tabs, which would be lost as mere space."""
    run, line = properties.getparent(), properties.find(f"{{{_W}}}u")
    if run is None or line is None or line.get(f"{{{_W}}}val") == "none":
        return False
    parts = [part for part in run if part is not properties]
    tags = {str(part.tag).rpartition("}")[2] for part in parts}
    text = "".join(part.text or "" for part in parts)
    if not parts or not tags <= {"t", "tab"} or text.strip() or not ("tab" in tags or len(text) >= SHORTEST_BLANK):
        return False
    for part in parts:
        run.remove(part)
    properties.remove(line)
    etree.SubElement(run, f"{{{_W}}}t").text = BLANK_TEXT
    return True

"""What pandoc drops, made visible before it reads: colour and shading, tabs, blanks of underlined spaces, labels of RTF lists."""

from __future__ import annotations

import io
import re
import zipfile

from lxml import etree

from rogatum.core.formats.word_documents import odf_lists
from rogatum.core.formats.word_documents.stand_ins import CHECKED, GAP, SPACE, TAB, UNCHECKED, with_spaces
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
_TEXT = "urn:oasis:names:tc:opendocument:xmlns:text:1.0"
_ODF_PARAGRAPH = "{urn:oasis:names:tc:opendocument:xmlns:style:1.0}paragraph-properties"
_FIELD = "{urn:openoffice:names:experimental:ooo-ms-interop:xmlns:field:1.0}"
_CONTROL = "{urn:org:documentfoundation:names:experimental:office:xmlns:loext:1.0}content-control"
_ODF_TAB = "{urn:oasis:names:tc:opendocument:xmlns:text:1.0}tab"


def docx_with_marks(data: bytes) -> bytes:
    """A docx in which coloured and shaded runs are highlighted, underlined spaces are blanks, and labels of lists are typed."""
    styles = _part(data, "word/styles.xml")
    numbers = Numbers.of(_part(data, "word/numbering.xml"), styles)
    tinted = _tinted_styles(styles)

    def change(root: etree._Element) -> bool:
        boxes = _open_boxes(root)
        marked = _show_check_boxes(root) or boxes
        marked = _shade_paragraphs(root, tinted) or marked
        marked = _mark_runs(root, tinted) or marked
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


def _is_tinted(properties: etree._Element | None) -> bool:
    """Whether properties of a run, a paragraph or a style colour a text or its ground."""
    if properties is None:
        return False
    colour, shading, light = (properties.find(f"{{{_W}}}{name}") for name in ("color", "shd", "highlight"))
    return (
        (colour is not None and not _DARK.match(colour.get(f"{{{_W}}}val", "auto")))
        or (shading is not None and not _LIGHT.match(shading.get(f"{{{_W}}}fill", "auto")))
        or (light is not None and light.get(f"{{{_W}}}val") != "none")
    )


def _tinted_styles(styles: etree._Element | None) -> frozenset[str]:
    """The styles of characters and paragraphs that colour a text or its ground; those of headings and links tell no key."""
    found = set()
    for style in styles.iter(f"{{{_W}}}style") if styles is not None else ():
        name = style.get(f"{{{_W}}}styleId", "")
        if re.match(r"(?i)heading|title|subtitle|hyperlink|.*link$|caption|header|footer|toc", name):
            continue
        parts = [style.find(f"{{{_W}}}{part}") for part in ("rPr", "pPr")]
        if any(_is_tinted(part) for part in parts):
            found.add(name)
    return frozenset(found)


def _shade_paragraphs(root: etree._Element, tinted: frozenset[str]) -> bool:
    """Highlights the runs of paragraphs and cells that are shaded as a whole."""
    changed = False
    for holder, name in (("p", "pPr"), ("tc", "tcPr")):
        for element in root.iter(f"{{{_W}}}{holder}"):
            properties = element.find(f"{{{_W}}}{name}")
            style = properties.find(f"{{{_W}}}pStyle") if properties is not None else None
            if not _is_shaded(properties) and (style is None or style.get(f"{{{_W}}}val") not in tinted):
                continue
            for run in element.iter(f"{{{_W}}}r"):
                _highlight(run)
                changed = True
    return changed


def _is_shaded(properties: etree._Element | None) -> bool:
    shading = properties.find(f"{{{_W}}}shd") if properties is not None else None
    return shading is not None and not _LIGHT.match(shading.get(f"{{{_W}}}fill", "auto"))


def _highlight(run: etree._Element) -> None:
    properties = run.find(f"{{{_W}}}rPr")
    if properties is None:
        properties = etree.Element(f"{{{_W}}}rPr")
        run.insert(0, properties)
    if properties.find(f"{{{_W}}}highlight") is None:
        etree.SubElement(properties, f"{{{_W}}}highlight").set(f"{{{_W}}}val", "yellow")


def _show_check_boxes(root: etree._Element) -> bool:
    """Types a sign where a legacy form field shows a check box (ECMA-376 part 1, section 17.16.7)."""
    boxes = list(root.iter(f"{{{_W}}}checkBox"))
    for box in boxes:
        said = box.find(f"{{{_W}}}checked")
        said = box.find(f"{{{_W}}}default") if said is None else said
        on = said is not None and said.get(f"{{{_W}}}val", "1") not in ("0", "false", "off")
        run = next((above for above in box.iterancestors(f"{{{_W}}}r")), None)
        parent = run.getparent() if run is not None else None
        if run is None or parent is None:
            continue
        typed = etree.Element(f"{{{_W}}}r")
        etree.SubElement(typed, f"{{{_W}}}t").text = f"{CHECKED if on else UNCHECKED} "
        parent.insert(parent.index(run), typed)
    return bool(boxes)


def _open_boxes(root: etree._Element) -> bool:
    """Puts the paragraphs of text boxes before the paragraph that they are anchored in."""
    changed = False
    for paragraph in [found for found in root.iter(f"{{{_W}}}p")]:
        parent = paragraph.getparent()
        boxes = [box for box in paragraph.iter(f"{{{_W}}}txbxContent") if next(box.iterancestors(f"{{{_W}}}p")) is paragraph]
        if not boxes or parent is None:
            continue
        # The same box may stand twice, for programs of different age.
        for inner in list(boxes[0]):
            parent.insert(parent.index(paragraph), inner)
        for box in boxes:
            run = next((above for above in box.iterancestors(f"{{{_W}}}r")), None)
            holder = run.getparent() if run is not None else None
            if run is not None and holder is not None:
                holder.remove(run)
        changed = True
    return changed


def comments_in(data: bytes) -> list[str]:
    """The texts of a docx's comments, which are no part of the test."""
    root = _part(data, "word/comments.xml")
    found = ("".join(text.text or "" for text in comment.iter(f"{{{_W}}}t")) for comment in root.iter(f"{{{_W}}}comment")) if root is not None else ()
    return [" ".join(text.split()) for text in found if text.strip()]


def odt_comments(data: bytes) -> list[str]:
    """The texts of an odt's comments."""
    root = _part(data, "content.xml")
    notes = root.iter("{urn:oasis:names:tc:opendocument:xmlns:office:1.0}annotation") if root is not None else ()
    return [" ".join(" ".join(map(str, p.itertext())) for p in note.iter(f"{{{_TEXT}}}p")) for note in notes]


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
        controls = _odt_controls(root)
        if not genuine:
            _shade_text_of_paragraphs(root)
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
        return odf_lists.keep_gaps(root) or listed or controls or bool(found or tabs)

    return _changed(data, "content.xml", change), bool(found)


def _shade_text_of_paragraphs(root: etree._Element) -> None:
    """Gives the text of paragraphs whose ground is coloured that ground itself."""
    for properties in list(root.iter(_ODF_PARAGRAPH)):
        ground, style = properties.get(f"{_ODF_FO}background-color", ""), properties.getparent()
        if style is None or not ground or ground == "transparent" or _LIGHT.match(ground.lstrip("#")):
            continue
        text = style.find(_ODF_TEXT)
        text = etree.SubElement(style, _ODF_TEXT) if text is None else text
        text.set(f"{_ODF_FO}background-color", ground)


def _odt_controls(root: etree._Element) -> bool:
    """Puts in the place of form fields, content controls and drop-downs what they show."""
    changed = False
    for mark in list(root.iter(f"{_FIELD}fieldmark", f"{_FIELD}fieldmark-start")):
        if "CHECKBOX" in (mark.get(f"{_FIELD}type") or "").upper():
            on = any("true" in (param.get(f"{_FIELD}value") or "") for param in mark)
            _replaced_by_text(mark, f"{CHECKED if on else UNCHECKED} ")
            changed = True
    for control in list(root.iter(_CONTROL, f"{{{_TEXT}}}drop-down")):
        _replaced_by_text(control, "".join(map(str, control.itertext())))
        changed = True
    return changed


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
    marked = re.sub(r"\\(?:cf|chcbpat|cbpat|cb)(\d+)(?!\d)", lambda m: "\\strike" if m[1] in bright else "\\strike0", marked)
    return (marked, True) if "\\strike" in re.sub(r"\\strike0", "", marked) else (text, False)


_RTF_SPACES = re.compile(r"(?<=[^\\\s{}]) {2,}(?=[^\s\\{}])")


def rtf_with_tabs_and_labels(text: str) -> str:
    """An rtf whose tabs have a stand-in, and whose list labels are typed as they are shown."""
    text = _with_typed_labels(text)
    text = _RTF_SPACES.sub(lambda run: rf"\u{ord(SPACE)}\'3f" * len(run[0]), text)
    return re.sub(r"\\tab(?![a-z]) ?", rf"\\u{ord(TAB)}\\'3f", text)


def _with_typed_labels(text: str) -> str:
    """Labels of lists as text, where all are numbers or letters; pandoc numbers lists anew and knows none without a table."""
    groups = [(match.start(), _end_of_group(text, match.start())) for match in _LIST_LABEL.finditer(text)]
    labels = [_label_of(text[start:end]) for start, end in groups]
    if not labels or not all(len(label) <= LONGEST_LABEL for label in labels):
        return text
    parts, at = [], 0
    for (start, end), label in zip(groups, labels, strict=True):
        parts += [text[at:start], "{", label, r"\tab }"]
        at = end
    return re.sub(r"\\(?:ls|ilvl)\d+ ?", "", "".join([*parts, text[at:]]))


def _label_of(group: str) -> str:
    """The label that a group of an rtf holds; a bullet of any font is a bullet."""
    bullet = re.search(r"\\u-?\d+|\\'[0-9a-f]{2}|\\bullet\b|\\endash\b", group)
    if bullet and not re.search(r"[0-9A-Za-z][.)]", re.sub(r"\\[a-z]+-?\d* ?|\\'..", "", group)):
        return "\\bullet "
    return re.sub(r"\\[a-z]+-?\d* ?|[{}]", "", group).strip()


def without_deleted(text: str) -> str:
    """An rtf without the text whose deletion was recorded."""
    parts, at = [], 0
    for match in re.finditer(r"\{[^{}]{0,200}?\\deleted(?!\d)", text):
        if match.start() >= at:
            parts.append(text[at : match.start()])
            at = _end_of_group(text, match.start())
    return "".join([*parts, text[at:]])


LONGEST_LABEL = 10


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


def _mark_runs(root: etree._Element, tinted_styles: frozenset[str] = frozenset()) -> bool:
    changed = False
    for properties in root.iter(f"{{{_W}}}rPr"):
        if properties.getparent() is None or properties.getparent().tag != f"{{{_W}}}r":  # type: ignore[union-attr]
            continue
        changed = _fill_blank(properties) or changed
        style = properties.find(f"{{{_W}}}rStyle")
        styled = style is not None and style.get(f"{{{_W}}}val") in tinted_styles
        if (styled or _is_tinted(properties)) and properties.find(f"{{{_W}}}highlight") is None:
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

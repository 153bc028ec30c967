"""What pandoc drops of a docx, made visible before it reads: colour, shading, tabs, gaps, blanks, forms, boxes, list labels."""

from __future__ import annotations

import io
import re
import zipfile

from lxml import etree

from rogatum.core.formats.shared.colours import is_coloured, is_tinted
from rogatum.core.formats.word_documents.stand_ins import BLANK_TEXT, CHECKED, GAP, SHORTEST_BLANK, TAB, UNCHECKED, with_spaces
from rogatum.core.formats.word_documents.word_numbers import Numbers, type_labels
from rogatum.core.formats.word_documents.zip_parts import part_of, with_part_changed
from rogatum.core.sources.xml import parser

_W = "http://schemas.openxmlformats.org/wordprocessingml/2006/main"
_RELATIONS = "word/_rels/document.xml.rels"
# What a paragraph may hold and yet be empty.
_EMPTY = frozenset(
    "p pPr rPr pStyle spacing ind jc r lang rFonts sz szCs b i bookmarkStart bookmarkEnd keepNext keepLines contextualSpacing"
    " widowControl suppressAutoHyphens proofErr lastRenderedPageBreak color u".split()
)


def docx_with_marks(data: bytes) -> bytes:
    """A docx in which coloured and shaded runs are highlighted, underlined spaces are blanks, and labels of lists are typed."""
    styles = part_of(data, "word/styles.xml")
    numbers = Numbers.of(part_of(data, "word/numbering.xml"), styles)
    tinted = _tinted_styles(styles)

    def change(root: etree._Element) -> bool:
        boxes = _open_boxes(root)
        marked = _show_check_boxes(root) or boxes
        marked = _shade_paragraphs(root, tinted) or marked
        marked = _mark_runs(root, tinted) or marked
        listed = type_labels(root, numbers)
        return _keep_gaps(root) or listed or marked

    return with_part_changed(data, "word/document.xml", change)


def _is_shown(properties: etree._Element | None) -> bool:
    """Whether properties of a run, a paragraph or a style colour a text or its ground."""
    if properties is None:
        return False
    colour, shading, light = (properties.find(f"{{{_W}}}{name}") for name in ("color", "shd", "highlight"))
    return (
        (colour is not None and is_coloured(colour.get(f"{{{_W}}}val", "auto")))
        or (shading is not None and is_tinted(shading.get(f"{{{_W}}}fill", "auto")))
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
        if any(_is_shown(part) for part in parts):
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
    return shading is not None and is_tinted(shading.get(f"{{{_W}}}fill", "auto"))


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
    for paragraph in list(root.iter(f"{{{_W}}}p")):
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


def _mark_runs(root: etree._Element, tinted_styles: frozenset[str] = frozenset()) -> bool:
    changed = False
    for properties in root.iter(f"{{{_W}}}rPr"):
        run = properties.getparent()
        if run is None or run.tag != f"{{{_W}}}r":
            continue
        changed = _fill_blank(properties) or changed
        style = properties.find(f"{{{_W}}}rStyle")
        styled = style is not None and style.get(f"{{{_W}}}val") in tinted_styles
        if (styled or _is_shown(properties)) and properties.find(f"{{{_W}}}highlight") is None:
            _highlight(run)
            changed = True
    for tab in [tab for run in root.iter(f"{{{_W}}}r") for tab in run.findall(f"{{{_W}}}tab")]:
        tab.tag, tab.text = f"{{{_W}}}t", TAB
        changed = True
    return changed


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


def comments_in(data: bytes) -> list[str]:
    """The texts of a docx's comments, which are no part of the test."""
    root = part_of(data, "word/comments.xml")
    found = (
        ("".join(text.text or "" for text in comment.iter(f"{{{_W}}}t")) for comment in root.iter(f"{{{_W}}}comment"))
        if root is not None
        else ()
    )
    return [" ".join(text.split()) for text in found if text.strip()]


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

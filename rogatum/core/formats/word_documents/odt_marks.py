"""What pandoc drops of an odt, made visible before it reads: colour, shading, tabs, form fields, controls, labels of lists."""

from __future__ import annotations

from lxml import etree

from rogatum.core.formats.shared.colours import is_coloured, is_tinted
from rogatum.core.formats.word_documents import odf_lists
from rogatum.core.formats.word_documents.stand_ins import CHECKED, TAB, UNCHECKED
from rogatum.core.formats.word_documents.zip_parts import part_of, with_part_changed

_ODF_TEXT = "{urn:oasis:names:tc:opendocument:xmlns:style:1.0}text-properties"
_ODF_FO = "{urn:oasis:names:tc:opendocument:xmlns:xsl-fo-compatible:1.0}"
_ODF_LINE = "{urn:oasis:names:tc:opendocument:xmlns:style:1.0}text-line-through-style"
_TEXT = "urn:oasis:names:tc:opendocument:xmlns:text:1.0"
_ODF_PARAGRAPH = "{urn:oasis:names:tc:opendocument:xmlns:style:1.0}paragraph-properties"
_FIELD = "{urn:openoffice:names:experimental:ooo-ms-interop:xmlns:field:1.0}"
_CONTROL = "{urn:org:documentfoundation:names:experimental:office:xmlns:loext:1.0}content-control"
_DRAW = "{urn:oasis:names:tc:opendocument:xmlns:drawing:1.0}"
_ODF_TAB = "{urn:oasis:names:tc:opendocument:xmlns:text:1.0}tab"


def odt_with_marks(data: bytes) -> tuple[bytes, bool]:
    """An odt in which coloured text is struck out, and whether striking out stands for that alone."""
    found: list[bool] = []

    def change(root: etree._Element) -> bool:
        genuine = any((e.get(_ODF_LINE) or "none") != "none" for e in root.iter(_ODF_TEXT))
        controls = _odt_controls(root) | _open_text_boxes(root)
        if not genuine:
            _shade_text_of_paragraphs(root)
            for properties in root.iter(_ODF_TEXT):
                colour, ground = properties.get(f"{_ODF_FO}color", ""), properties.get(f"{_ODF_FO}background-color", "")
                if is_tinted(ground) or is_coloured(colour):
                    properties.set(_ODF_LINE, "solid")
                    found.append(True)
        tabs = list(root.iter(_ODF_TAB))
        for tab in tabs:
            odf_lists.replaced_by_text(tab, TAB)
        listed = odf_lists.type_labels(root, part_of(data, "styles.xml"))
        return odf_lists.keep_gaps(root) or listed or controls or bool(found or tabs)

    return with_part_changed(data, "content.xml", change), bool(found)


def _shade_text_of_paragraphs(root: etree._Element) -> None:
    """Gives the text of paragraphs whose ground is coloured that ground itself."""
    for properties in list(root.iter(_ODF_PARAGRAPH)):
        ground, style = properties.get(f"{_ODF_FO}background-color", ""), properties.getparent()
        if style is None or not is_tinted(ground):
            continue
        text = style.find(_ODF_TEXT)
        text = etree.SubElement(style, _ODF_TEXT) if text is None else text
        text.set(f"{_ODF_FO}background-color", ground)


def _open_text_boxes(root: etree._Element) -> bool:
    """Puts the paragraphs of text boxes before the paragraph that they begin, or behind the one that they stand in."""
    boxes = [box for box in root.iter(f"{_DRAW}text-box") if not any(True for _ in box.iterancestors(f"{_DRAW}text-box"))]
    opened = False
    for box in boxes:
        anchor = next((a for a in box.iterancestors() if a.tag in (f"{{{_TEXT}}}p", f"{{{_TEXT}}}h")), None)
        texts = [child for child in box if child.tag in (f"{{{_TEXT}}}p", f"{{{_TEXT}}}h", f"{{{_TEXT}}}list")]
        # A picture with its caption is a box as well, and is read as it is.
        if anchor is None or not texts or any(True for _ in box.iter(f"{_DRAW}image")):
            continue
        first = not (anchor.text or "").strip() and any(child is anchor[0] for child in box.iterancestors())
        for child in texts if first else reversed(texts):
            (anchor.addprevious if first else anchor.addnext)(child)
        opened = True
    return opened


def _odt_controls(root: etree._Element) -> bool:
    """Puts in the place of form fields, content controls and drop-downs what they show."""
    changed = False
    for mark in list(root.iter(f"{_FIELD}fieldmark", f"{_FIELD}fieldmark-start")):
        if "CHECKBOX" in (mark.get(f"{_FIELD}type") or "").upper():
            on = any("true" in (param.get(f"{_FIELD}value") or "") for param in mark)
            odf_lists.replaced_by_text(mark, f"{CHECKED if on else UNCHECKED} ")
            changed = True
    for control in list(root.iter(_CONTROL, f"{{{_TEXT}}}drop-down")):
        odf_lists.replaced_by_text(control, "".join(map(str, control.itertext())))
        changed = True
    return changed


def odt_comments(data: bytes) -> list[str]:
    """The texts of an odt's comments."""
    root = part_of(data, "content.xml")
    notes = root.iter("{urn:oasis:names:tc:opendocument:xmlns:office:1.0}annotation") if root is not None else ()
    return [" ".join(" ".join(map(str, p.itertext())) for p in note.iter(f"{{{_TEXT}}}p")) for note in notes]

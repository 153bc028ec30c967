"""Which element of a QTI 1.2 item is which part of it (ASI XML Binding 1.2, 3.4)."""

from __future__ import annotations

from lxml import etree

from rogatum.core.formats.shared.source_parts import Outline, PartKind, bare_name
from rogatum.core.items.content import rich

_KINDS: dict[str, PartKind] = {
    "presentation": "stem",
    "responselabel": "choice",
    "response_label": "choice",
    "resprocessing": "marking",
    "itemfeedback": "feedback",
    "qtimetadatafield": "metadata",
    "itemproc_extension": "marking",
    "objectives": "metadata",
    "rubric": "rest",
    "itemrubric": "rest",
}
_WORDS = {"presentation": "Stem", "resprocessing": "Marking", "objectives": "Objectives"}
_FILES = frozenset({"matimage", "mataudio", "matvideo"})


def _label(element: etree._Element) -> str:
    name = bare_name(element)
    if name == "qtimetadatafield":
        return (element.findtext("{*}fieldlabel") or "").strip()
    ident = element.get("ident") or ""
    if name in ("responselabel", "response_label"):
        return f"Choice {ident}".strip()
    return f"Feedback {ident}".strip() if name == "itemfeedback" else _WORDS.get(name, name)


def _content(element: etree._Element) -> str:
    if bare_name(element) == "qtimetadatafield":
        return rich((element.findtext("{*}fieldentry") or "").replace("<", "&lt;"))
    return rich("".join(f"<p>{piece}</p>" for inner in element.iter("*") if (piece := _piece(inner))))


def _piece(element: etree._Element) -> str:
    """The markup of a text, the name of a file."""
    name = bare_name(element)
    if name in ("mattext", "matemtext"):
        text = "".join(map(str, element.itertext())).strip()
        return text if element.get("texttype") != "text/plain" or "<" in text else text.replace("&", "&amp;")
    return f'<img src="{element.get("uri") or "file"}">' if name in _FILES else ""


OUTLINE = Outline(_KINDS, _label, _content, frozenset({"item"}))

"""Which element of a QTI 2.x or 3.0 item is which part of it (QTI 2.1, 6 to 8)."""

from __future__ import annotations

from lxml import etree

from rogatum.core.formats.shared.source_parts import Outline, PartKind, bare_name
from rogatum.core.items.content import rich

_CHOICES = ("simplechoice", "inlinechoice", "simpleassociablechoice", "gaptext", "gapimg", "hottext", "hotspotchoice")
_MARKING = ("responsedeclaration", "outcomedeclaration", "templatedeclaration", "templateprocessing", "responseprocessing")
_FEEDBACK = ("modalfeedback", "feedbackinline", "feedbackblock")
_KINDS: dict[str, PartKind] = {
    "itembody": "stem",
    **dict.fromkeys(_CHOICES, "choice"),
    **dict.fromkeys(_MARKING, "marking"),
    **dict.fromkeys(_FEEDBACK, "feedback"),
    "rubricblock": "rest",
    "stylesheet": "rest",
}


def _label(element: etree._Element) -> str:
    name, ident = bare_name(element), element.get("identifier") or ""
    if name in _CHOICES:
        return f"Choice {ident}".strip()
    return f"Feedback {ident}".strip() if name in _FEEDBACK else "Stem" if name == "itembody" else name


def _content(element: etree._Element) -> str:
    inner = (element.text or "").replace("&", "&amp;").replace("<", "&lt;")
    return rich(inner + "".join(etree.tostring(child, encoding="unicode") for child in element))


OUTLINE = Outline(_KINDS, _label, _content, frozenset({"assessmentitem"}))

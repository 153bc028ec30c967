"""QTI 1.2 `material` (ASI XML Binding 1.2, 3.6): text, pictures, sounds and breaks as one content."""

from __future__ import annotations

import html
import re
from collections.abc import Callable
from dataclasses import dataclass

from lxml import etree

from rogatum.core.accounting import XmlClaims
from rogatum.core.finding import Finding
from rogatum.core.findings.items import TYPE_GUESSED
from rogatum.core.items.content import escape

_MARKUP = re.compile(r"</(?:p|b|i|u|em|strong|div|span|sub|sup|table|ul|ol|font|a)>|<(?:br|img|hr)\b[^<>]*>", re.I)
_ENTITY = re.compile(r"&(?:[a-z]{2,8}|#\d{2,5}|#x[0-9a-f]{2,5});", re.I)
_TWICE = re.compile(r"&lt;/(?:p|b|i|em|strong|div|span|sub|sup)&gt;|&lt;br\s*+/?&gt;", re.I)
CONTAINERS = frozenset(
    {
        "material",
        "flow_mat",
        "flow",
        "altmaterial",
        "flow_label",
        "material_ref",
        "presentation_material",
        "solutionmaterial",
        "hintmaterial",
    }
)


@dataclass
class MaterialReader:
    """Turns material elements into HTML that `content.rich` then makes canonical."""

    claims: XmlClaims
    note: Callable[[Finding], None]
    where: str
    item: str | None
    embed: Callable[[str, bytes], str]
    shared: dict[str, etree._Element]

    def markup(self, element: etree._Element) -> str:
        """The HTML of a material element or of a flow of them."""
        tag = element.tag
        maker = _MAKERS.get(str(tag))
        if maker is not None:
            return maker(self, element)
        if tag in CONTAINERS:
            return self._container(element)
        return ""

    def children(self, element: etree._Element) -> str:
        return "".join(self.markup(child) for child in element)

    def _container(self, element: etree._Element) -> str:
        inner = self.children(element)
        if element.tag == "altmaterial" and any(child.tag == "material" for child in (element.getparent() or [])):
            return ""
        block = element.tag == "flow_mat" and (element.get("class") or "Block").lower() == "block"
        return f"<p>{inner}</p>" if block and inner and not inner.startswith("<p") else inner

    def _text(self, element: etree._Element) -> str:
        kind = element.get("texttype", "").lower()
        text = self.claims.text(element)
        if len(element):
            return self._inline(element)
        if kind in ("text/html", "text/xhtml"):
            return self._html(text)
        if _MARKUP.search(text) or (not kind and _ENTITY.search(text)):
            if kind:
                self.note(
                    TYPE_GUESSED.at(self.where, self.item, detail="text that is called plain holds markup, and was read as such.")
                )
            return text
        # A space at an end parts the text from what stands beside it, for instance a blank.
        before, after = (" " if end.isspace() else "" for end in (text[:1], text[-1:]))
        return before + escape(text.strip()).replace("\n", "<br>") + after

    def _html(self, text: str) -> str:
        if "<" not in text and _TWICE.search(text):
            self.note(TYPE_GUESSED.at(self.where, self.item, detail="markup that was escaped twice was read as markup."))
            return html.unescape(text)
        return text

    def _inline(self, element: etree._Element) -> str:
        """Markup that stands as elements within the text."""
        self.claims.subtree(element)
        parts = [escape(element.text or "")]
        for child in element:
            parts.append(etree.tostring(child, encoding="unicode", with_tail=True))
        return "".join(parts)

    def _emphasised(self, element: etree._Element) -> str:
        return f"<em>{self._text(element)}</em>"

    def _image(self, element: etree._Element) -> str:
        alt = self.claims.attribute(element, "label")
        size = "".join(f' {name}="{html.escape(element.get(name, ""))}"' for name in ("width", "height") if element.get(name))
        return f'<img src="{html.escape(self._address(element))}" alt="{html.escape(alt)}"{size}>'

    def _address(self, element: etree._Element) -> str:
        uri = self.claims.attribute(element, "uri").strip()
        data = self.claims.text(element).strip()
        if not uri and data:
            kind = (element.get("imagtype") or element.get("audiotype") or "image/png").rsplit("/", 1)[-1]
            return self.embed(f"inline.{'jpg' if kind == 'jpeg' else kind}", data.encode())
        return uri

    def _sound(self, element: etree._Element) -> str:
        tag = "audio" if element.tag == "mataudio" else "video"
        self.claims.attribute(element, "label")
        return f'<{tag} src="{html.escape(self._address(element))}" controls=""></{tag}>'

    def _break(self, _element: etree._Element) -> str:
        return "<br>"

    def _reference(self, element: etree._Element) -> str:
        target = self.shared.get(element.get("linkrefid", ""))
        return self.markup(target) if target is not None else ""


_MAKERS: dict[str, Callable[[MaterialReader, etree._Element], str]] = {
    "mattext": MaterialReader._text,
    "matemtext": MaterialReader._emphasised,
    "matimage": MaterialReader._image,
    "mataudio": MaterialReader._sound,
    "matvideo": MaterialReader._sound,
    "matbreak": MaterialReader._break,
    "matref": MaterialReader._reference,
    "material_ref": MaterialReader._reference,
}

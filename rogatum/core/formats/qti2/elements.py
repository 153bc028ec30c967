"""Making elements of QTI in 2.x names, and content of ours as XHTML within them."""

from __future__ import annotations

import re
from collections.abc import Callable, Iterator

from lxml import etree

from rogatum.core.formats.qti2.dialects import HTML_MARK, Dialect
from rogatum.core.formats.qti2.xhtml import has_blocks, in_paragraphs, tidy
from rogatum.core.items.content import plain_text, tree_of
from rogatum.core.sources import media_type

_IDENTIFIER = re.compile(r"^[A-Za-z_][\w.\-]*$", re.ASCII)
_XML_LANG = "{http://www.w3.org/XML/1998/namespace}lang"
# Emphasis that QTI's XHTML has no element for, as a class.
_AS_CLASS = {"u": "qti-underline", "s": "qti-line-through"}
_KEPT_ATTRIBUTES = {
    "img": ("src", "alt", "width", "height"),
    "a": ("href",),
    "td": ("colspan", "rowspan"),
    "th": ("colspan", "rowspan", "scope"),
}


def node(tag: str, *children: etree._Element, **attributes: str) -> etree._Element:
    """An element with children."""
    element = etree.Element(tag, attributes)
    for child in children:
        element.append(child)
    return element


def text_node(tag: str, text: str, **attributes: str) -> etree._Element:
    element = node(tag, **attributes)
    element.text = text
    return element


def identifiers(wanted: list[str], prefix: str) -> list[str]:
    """Identifiers that the standard allows (an NCName in effect), each once; what is none gets a number behind the prefix."""
    found: list[str] = []
    for position, ident in enumerate(wanted, 1):
        candidate, number = ident if _IDENTIFIER.match(ident) else f"{prefix}{position}", position
        while candidate in found:
            number += 1
            candidate = f"{prefix}{number}"
        found.append(candidate)
    return found


class Content:
    """Puts content into elements. `address` turns a media ref into an address; `blank` makes an inline interaction of a blank."""

    def __init__(self, dialect: Dialect, address: Callable[[str], str], blank: Callable[[str], etree._Element | None]) -> None:
        self.dialect, self.address, self.blank = dialect, address, blank

    def inline(self, parent: etree._Element, content: str) -> etree._Element:
        """Content as it is, inline and blocks."""
        self._copy(tidy(tree_of(content)), parent)
        return parent

    def inline_alone(self, parent: etree._Element, content: str) -> etree._Element:
        """Content where no block may stand: as plain text where it has some."""
        tree = tidy(tree_of(content))
        if has_blocks(tree):
            parent.text = plain_text(content)
        else:
            self._copy(tree, parent)
        return parent

    def blocks(self, parent: etree._Element, content: str) -> etree._Element:
        """Content as blocks alone: what stands inline becomes a paragraph."""
        self._copy(in_paragraphs(tidy(tree_of(content))), parent)
        return parent

    def body(self, parent: etree._Element, content: str) -> etree._Element:
        """Content where 3.0 wants a body of its own within, and 2.x has the content at once."""
        if self.dialect.kebab:
            parent.append(self.blocks(node("contentBody"), content))
            return parent
        return self.inline(parent, content)

    def _copy(self, source: etree._Element, target: etree._Element) -> None:
        target.text = (target.text or "") + (source.text or "") if not len(target) else target.text
        for child in source:
            for made in self._made(child):
                target.append(made)
            if len(target):
                target[-1].tail = (target[-1].tail or "") + (child.tail or "")
            else:
                target.text = (target.text or "") + (child.tail or "")

    def _made(self, child: etree._Element) -> Iterator[etree._Element]:
        tag = str(child.tag)
        if tag.startswith("{"):
            copy = etree.fromstring(etree.tostring(child, with_tail=False))
            yield copy
            return
        if tag == "span" and child.get("data-blank"):
            made = self.blank(child.get("data-blank", ""))
            if made is not None:
                yield made
            return
        if tag == "img" and not child.get("src"):
            lost = etree.Element("span", {HTML_MARK: ""})
            lost.text = child.get("title") or child.get("alt")
            yield lost  # a picture that the source lacks has no address to stand under
            return
        yield self._element(child, tag)

    def _element(self, child: etree._Element, tag: str) -> etree._Element:
        if tag in ("audio", "video") and not self.dialect.html5:
            address = child.get("src", "")
            return node("object", **{HTML_MARK: "", "data": self.address(address), "type": media_type(address)})
        made = node("span" if tag in _AS_CLASS else tag, **{HTML_MARK: ""})
        if tag in _AS_CLASS:
            made.set("class", _AS_CLASS[tag])
        for name in _KEPT_ATTRIBUTES.get(tag, ("src",)):
            value = child.get(name)
            if value is not None:
                made.set(name, self.address(value) if name == "src" else value)
        if tag == "img" and made.get("alt") is None:
            made.set("alt", "")
        if child.get("lang"):
            made.set(_XML_LANG, child.get("lang", ""))
        self._copy(child, made)
        return made

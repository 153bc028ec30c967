"""Small helpers that make QTI 1.2 elements."""

from __future__ import annotations

from lxml import etree


def sub(parent: etree._Element, tag: str, attributes: dict[str, str] | None = None, **named: str) -> etree._Element:
    """A child element; attributes whose names are Python words go into the dictionary."""
    return etree.SubElement(parent, tag, {**(attributes or {}), **named})


def material(parent: etree._Element, content: str, kind: str = "text/html") -> etree._Element:
    """Content as a `material` with one `mattext` of escaped HTML."""
    element = sub(parent, "material")
    text = sub(element, "mattext", texttype=kind)
    # Escaped text that looks like markup and stands alone would read as markup escaped twice; a span around it settles that.
    text.text = f"<span>{content}</span>" if "&lt;" in content and "<" not in content else content
    return element

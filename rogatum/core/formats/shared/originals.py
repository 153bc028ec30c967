"""Preserved items: their own markup, with the files that it names where a package puts them."""

from __future__ import annotations

import html
import re
from collections.abc import Callable

from lxml import etree

from rogatum.core.items import Preserved
from rogatum.core.items.content import media_refs
from rogatum.core.sources.xml import parser


def original_tree(item: Preserved, address: Callable[[str], str]) -> etree._Element | None:
    """The tree of an item's own markup; `address` says where a media ref lies. None where the markup is not well-formed."""
    try:
        root = etree.fromstring(item.original, parser())
    except (etree.XMLSyntaxError, ValueError):
        return None
    places = {named: address(refs[0]) for named, content in item.media.items() if (refs := media_refs(content))}
    if places:
        for element in root.iter("*"):
            _move(element, places)
    return root


def _move(element: etree._Element, places: dict[str, str]) -> None:
    for name, value in list(element.attrib.items()):
        if value in places:
            element.set(name, places[str(value)])
    # In QTI 1.2, content stands as escaped HTML within text.
    if element.text and "=" in element.text:
        element.text = _SOURCE.sub(lambda found: _moved(found, places), element.text)


def _moved(found: re.Match[str], places: dict[str, str]) -> str:
    place = places.get(html.unescape(found[2]))
    return found[0] if place is None else f"{found[1]}{html.escape(place)}{found[3]}"


_SOURCE = re.compile(r"""(\b(?:src|href|data)\s*+=\s*+["'])([^"'<>]*)(["'])""")

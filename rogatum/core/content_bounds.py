"""Bounds of rich content: how deep it may lie within itself, and what its numbers may be.

Every writer takes what is within them; beyond, some take exponential time, and others fail.
"""

from __future__ import annotations

import re
from collections import Counter

from lxml import etree

# How often an element may lie within itself, and how deep anything may lie.
MOST_WITHIN = {"table": 3, "ul": 8, "ol": 8, "blockquote": 8}
DEEPEST = 60
MOST_CELLS = 100
_NUMBER = re.compile(r"[0-9]{1,5}\Z")
# The numbers that attributes may hold: from, to.
_BETWEEN = {
    "colspan": (1, MOST_CELLS),
    "rowspan": (1, MOST_CELLS),
    "width": (1, 10_000),
    "height": (1, 10_000),
    "start": (0, 10_000),
}
_HTML = frozenset({"td", "th", "img", "video", "ol"})


def bounded(tree: etree._Element) -> bool:
    """Brings content into bounds, in place; returns whether anything had to change. What lies too deep stays as its text."""
    changed = False
    for element in tree.iter(*_HTML):
        for name in element.attrib.keys() & _BETWEEN.keys():
            changed = _bound_number(element, str(name)) or changed
    return _flattened(tree) or changed


def _bound_number(element: etree._Element, name: str) -> bool:
    """A number that is none goes; one that is out of bounds becomes the nearest that is not."""
    said = (element.get(name) or "").strip()
    low, high = _BETWEEN[name]
    if name in ("width", "height") and said.endswith("%"):
        return False
    if not _NUMBER.match(said):
        is_large = said.isdecimal()
        element.attrib.pop(name)
        if is_large:
            element.set(name, str(high))
        return True
    wanted = str(min(max(int(said), low), high))
    if int(wanted) != int(said):
        element.set(name, wanted)
        return True
    return False


def _flattened(tree: etree._Element) -> bool:
    changed = False
    waiting: list[tuple[etree._Element, int, Counter[str]]] = [(child, 1, Counter()) for child in tree]
    while waiting:
        element, depth, within = waiting.pop()
        name = element.tag if isinstance(element.tag, str) else ""
        if depth > DEEPEST or within[name] >= MOST_WITHIN.get(name, DEEPEST):
            _as_text(element)
            changed = True
            continue
        inner = within + Counter([name]) if name in MOST_WITHIN else within
        waiting += [(child, depth + 1, inner) for child in element]
    return changed


def _as_text(element: etree._Element) -> None:
    """Puts the text of an element in its place."""
    words = " ".join(" ".join(str(part).split()) for part in element.itertext() if part.strip())
    words = f" {words} {element.tail or ''}" if words else element.tail or ""
    parent, before = element.getparent(), element.getprevious()
    assert parent is not None
    parent.remove(element)
    if before is not None:
        before.tail = (before.tail or "") + words
    else:
        parent.text = (parent.text or "") + words

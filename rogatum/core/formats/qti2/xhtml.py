"""Content of ours as the XHTML that QTI lets stand: blocks hold blocks, inline elements inline ones (QTI 2.1, “Content Model”)."""

from __future__ import annotations

from collections.abc import Callable

from lxml import etree

BLOCKS = frozenset("p ul ol table pre blockquote".split())
# Elements of lists and tables, and where alone they may stand.
_HOMES = {
    "li": ("ul", "ol"),
    "caption": ("table",),
    "thead": ("table",),
    "tbody": ("table",),
    "tr": ("thead", "tbody"),
    "td": ("tr",),
    "th": ("tr",),
}
_LISTS = frozenset({"ul", "ol"})
_HOLD_INLINE = frozenset("p pre caption".split())


def tidy(root: etree._Element) -> etree._Element:
    """Puts elements right that stand where the schema wants others; no text is lost. The root holds any content."""
    for element in list(root.iter("*")):
        if element is not root and element.getparent() is not None:
            _settle(element)
    for element in list(root.iter(*_LISTS)):
        _wrap(element, "li", lambda child: child.tag != "li")
    for element in list(root.iter("blockquote")):
        _wrap(element, "p", lambda child: not is_block(child))
    for table in list(root.iter("table")):
        _with_a_body(table)
    return root


def is_block(element: etree._Element) -> bool:
    return element.tag in BLOCKS


def in_paragraphs(root: etree._Element) -> etree._Element:
    """Wraps what stands inline at the top into paragraphs."""
    _wrap(root, "p", lambda child: not is_block(child))
    return root


def has_blocks(root: etree._Element) -> bool:
    return next(root.iter(*BLOCKS), None) is not None


def _settle(element: etree._Element) -> None:
    parent, tag = element.getparent(), str(element.tag)
    assert parent is not None
    homes = _HOMES.get(tag)
    if homes is not None and parent.tag not in homes:
        if tag == "li" and not has_blocks(element):
            element.tag = "p"
        else:
            _dissolve(element)
    elif homes is None and tag not in BLOCKS and not tag.startswith("{") and has_blocks(element):
        _dissolve(element)  # an inline element around blocks
    elif tag in BLOCKS and parent.tag in _HOLD_INLINE:
        _add_text(parent, parent.index(element), " ")
        _dissolve(element)


def _dissolve(element: etree._Element) -> None:
    """Puts what an element holds in its place."""
    parent = element.getparent()
    assert parent is not None
    place = parent.index(element)
    _add_text(parent, place, element.text)
    for child in list(element):
        parent.insert(place, child)
        place += 1
    _add_text(parent, place, element.tail)
    element.tail = None
    parent.remove(element)


def _add_text(parent: etree._Element, place: int, text: str | None) -> None:
    """Adds text before the child at a place."""
    if not text:
        return
    if place == 0:
        parent.text = (parent.text or "") + text
    else:
        parent[place - 1].tail = (parent[place - 1].tail or "") + text


def _wrap(parent: etree._Element, tag: str, loose: Callable[[etree._Element], bool]) -> None:
    """Wraps each run of text and loose children into an element; runs of nothing but spaces go."""
    children, text = list(parent), parent.text
    parent.text = None
    for child in children:
        parent.remove(child)
    run = etree.Element(tag)
    run.text = text
    for child in children:
        tail, child.tail = child.tail, None
        if loose(child):
            run.append(child)
            child.tail = tail
            continue
        _close(parent, run)
        parent.append(child)
        run = etree.Element(tag)
        run.text = tail
    _close(parent, run)


def _close(parent: etree._Element, run: etree._Element) -> None:
    if len(run) or (run.text or "").strip():
        parent.append(run)


def _with_a_body(table: etree._Element) -> None:
    """A table has a body; one without rows is none."""
    if table.find(".//tr") is None:
        _dissolve(table)
        return
    for part in [part for part in table if part.tag in ("thead", "tbody") and part.find("tr") is None]:
        table.remove(part)
    if table.find("tbody") is None:
        heads = table.findall("thead")
        heads[-1].tag = "tbody"

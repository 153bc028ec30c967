"""Accounting: every piece of source content is claimed by a field or by a rule, or it is listed.

Text readers claim lines. XML readers claim the text of elements and the attributes that carry content; they open one
scope per item, so that memory stays that of one item.
"""

from __future__ import annotations

from collections.abc import Iterable

from lxml import etree

from rogatum.core.items import Accounting, Unclaimed

# No list is longer than a person can look through; the count stays exact in the last entry.
SNIPPET = 200


class Account:
    """Counts claims and keeps what nothing claimed."""

    def __init__(self) -> None:
        self.claimed = 0
        self.unclaimed: list[Unclaimed] = []

    def claim(self, count: int = 1) -> None:
        self.claimed += count

    def leave(self, where: str, text: str) -> None:
        """Lists a piece of the source that nothing claimed."""
        text = " ".join(text.split())
        if text:
            self.unclaimed.append(Unclaimed(where=where, text=text[:SNIPPET]))

    def result(self) -> Accounting:
        return Accounting(claimed=self.claimed, unclaimed=self.unclaimed)


class XmlClaims:
    """The claims within one element tree, for instance one item.

    `structural` names the attributes that steer reading and carry no content of their own.
    """

    def __init__(self, total: Account, structural: frozenset[str]) -> None:
        self._total, self._structural = total, structural
        self._elements: set[etree._Element] = set()
        self._attributes: set[tuple[etree._Element, str]] = set()

    def text(self, element: etree._Element) -> str:
        """The element's own text (before its first child), claimed."""
        self._elements.add(element)
        return element.text or ""

    def attribute(self, element: etree._Element, name: str, default: str = "") -> str:
        """The value of an attribute, claimed."""
        self._attributes.add((element, name))
        return element.get(name, default)

    def subtree(self, element: etree._Element) -> None:
        """Claims the texts and attributes of a whole subtree, tails included."""
        for node in element.iter():
            self._elements.add(node)
            self._attributes.update((node, str(name)) for name in node.attrib)

    def close(self, root: etree._Element, where: str, beyond: Iterable[etree._Element] = ()) -> None:
        """Adds this tree's claims to the total and lists what was left; `beyond` are subtrees with scopes of their own."""
        apart = set(beyond)
        self._account(root, where)
        waiting = [child for child in reversed(root) if child not in apart]
        while waiting:
            node = waiting.pop()
            self._account(node, where)
            if len(node):
                waiting += [child for child in reversed(node) if child not in apart]
        self._elements.clear()
        self._attributes.clear()

    def _account(self, node: etree._Element, where: str) -> None:
        if not isinstance(node.tag, str):
            return
        claimed = node in self._elements
        self._text(node.text, claimed, where)
        for child in node:
            self._text(child.tail, claimed, where)
        for name, raw in node.items():
            key, value = str(name), str(raw)
            if (node, key) in self._attributes:
                self._total.claim()
            elif key not in self._structural and not key.startswith("{"):
                self._total.leave(where, f"{etree.QName(node).localname} {key}: {value}" if value.strip() else "")

    def _text(self, text: str | None, claimed: bool, where: str) -> None:
        if text and not text.isspace():
            if claimed:
                self._total.claim()
            else:
                self._total.leave(where, text)

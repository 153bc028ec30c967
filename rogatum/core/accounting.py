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
        self._whole: set[etree._Element] = set()

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
        self._whole.add(element)

    def close(self, root: etree._Element, where: str, beyond: Iterable[etree._Element] = ()) -> None:
        """Adds this tree's claims to the total and lists what was left; `beyond` are subtrees with scopes of their own."""
        apart, claimed = set(beyond), 0
        elements, attributes, structural = self._elements, self._attributes, self._structural
        waiting = [root]
        while waiting:
            node = waiting.pop()
            if not isinstance(node.tag, str):
                continue
            if node in self._whole:
                claimed += _pieces(node)
                continue
            children = list(node)
            for text in [node.text, *[child.tail for child in children]]:
                if text and not text.isspace():
                    if node in elements:
                        claimed += 1
                    else:
                        self._total.leave(where, text)
            for key, value in map_of(node):
                if (node, key) in attributes:
                    claimed += 1
                elif key not in structural and key[0] != "{":
                    self._total.leave(where, f"{etree.QName(node).localname} {key}: {value}" if value.strip() else "")
            children.reverse()
            waiting += [child for child in children if child not in apart] if apart else children
        self._total.claim(claimed)
        elements.clear()
        attributes.clear()
        self._whole.clear()


def map_of(node: etree._Element) -> list[tuple[str, str]]:
    """The attributes of a node, in order."""
    return node.items()  # type: ignore[return-value]


def _pieces(root: etree._Element) -> int:
    """How many pieces of content a subtree has: texts and attributes."""
    return sum(not text.isspace() for text in root.itertext()) + sum(len(node.attrib) for node in root.iter())

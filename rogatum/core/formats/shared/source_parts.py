"""An item's markup as its parts, in the order in which one reads: what it asks, what it offers, its feedback, its metadata.

Made when it is looked at, from the lines that the reading shows: reading itself costs nothing more. An `Outline` says for a dialect
which element is which part; each part has the lines on which it stands, and the field of the item that it became.
"""

from __future__ import annotations

import copy
import re
from collections.abc import Callable, Iterator, Mapping, Sequence
from dataclasses import dataclass, field, replace
from typing import Literal

from lxml import etree

from rogatum.core.errors import UnreadableSource
from rogatum.core.items.content import plain_text, rich
from rogatum.core.sources.xml import parse_xml

PartKind = Literal["title", "stem", "choice", "marking", "feedback", "metadata", "rest"]
ORDER: tuple[PartKind, ...] = ("title", "stem", "choice", "marking", "feedback", "metadata", "rest")
# No item is longer than this and still looked at part by part.
LONGEST, MOST_PARTS = 400_000, 400
_PICTURE = re.compile(r"<(?:img|audio|video)\b[^<>]*?>(?:</(?:audio|video)>)?")
_ADDRESS = re.compile(r'\b(?:src|title)="(?:Missing: )?([^"]*)"')
_DECLARATION = re.compile(r"^\s*<\?xml[^>]*\?>")


@dataclass(frozen=True)
class SourcePart:
    """A part of an item's source.

    `content` is rich content without pictures, which are named; `spans` are lines from first to last, counted from 1 within the
    markup; `field` names what it became: stem, choice:1, feedback, metadata, marking, title.
    """

    kind: PartKind
    label: str
    content: str
    spans: list[tuple[int, int]]
    field: str = ""
    unclaimed: bool = False


@dataclass(frozen=True)
class Outline:
    """Which element is which part, by its name in lower letters without a prefix; and what a part is called and holds."""

    kinds: Mapping[str, PartKind]
    label: Callable[[etree._Element], str]
    content: Callable[[etree._Element], str]
    # Elements of a kind whose attributes say what they are worth showing: the title of an item.
    titled: frozenset[str] = field(default_factory=frozenset)


def bare_name(element: etree._Element) -> str:
    """`qti-simple-choice`, `simpleChoice` and `{ns}simpleChoice` are one name."""
    if not isinstance(element.tag, str):
        return ""
    return element.tag.rsplit("}", 1)[-1].removeprefix("qti-").replace("-", "").lower()


def parts_of(markup: str, outline: Outline, unclaimed: Sequence[str] = ()) -> list[SourcePart]:
    """The parts of an item's markup in reading order; none where it is too long or no XML. `unclaimed` is what nothing claimed."""
    if len(markup) > LONGEST:
        return []
    try:
        root = parse_xml(_DECLARATION.sub("", markup).encode("utf-8", "replace"), "item").root
    except UnreadableSource:
        return []
    found = list(_walk(root, outline))
    # A place to type in is a choice to the dialect, and none to a reader.
    lone = sum(part.kind == "choice" for part in found) == 1
    shown = [part for part in found if part.content or part.kind == "marking" or (part.kind == "choice" and not lone)]
    ordered = sorted(_merged(shown), key=lambda part: ORDER.index(part.kind))
    return _with_unclaimed(_numbered(ordered), unclaimed, markup)[:MOST_PARTS]


def _walk(element: etree._Element, outline: Outline) -> Iterator[SourcePart]:
    """The parts at and below an element, in the order of the source."""
    name = bare_name(element)
    if name in outline.titled and (element.get("title") or "").strip():
        line = _line(element)
        yield SourcePart("title", "Title", rich(_escaped(element.get("title", ""))), [(line, line)], "title")
    kind = outline.kinds.get(name)
    if kind is not None:
        yield SourcePart(
            kind, outline.label(element), named_pictures(outline.content(_alone(element, outline))), [_span(element)], kind
        )
        if kind == "marking":
            return
    elif element.text and element.text.strip() and not len(element):
        yield SourcePart("rest", name, rich(_escaped(element.text)), [_span(element)])
    for child in element:
        if isinstance(child.tag, str) and (kind is None or _holds_part(child, outline)):
            yield from _walk(child, outline) if kind is None else _inner(child, outline)


def _inner(element: etree._Element, outline: Outline) -> Iterator[SourcePart]:
    """The parts within a part: what is none of them belongs to the part itself."""
    if bare_name(element) in outline.kinds:
        yield from _walk(element, outline)
        return
    for child in element:
        if isinstance(child.tag, str):
            yield from _inner(child, outline)


def _holds_part(element: etree._Element, outline: Outline) -> bool:
    return any(bare_name(inner) in outline.kinds for inner in element.iter("*"))


def _alone(element: etree._Element, outline: Outline) -> etree._Element:
    """A part without the parts within it."""
    made = copy.deepcopy(element)
    made.tail = None
    for inner in list(made.iter("*")):
        parent = inner.getparent()
        if inner is not made and parent is not None and bare_name(inner) in outline.kinds:
            _drop(parent, inner)
    return made


def _drop(parent: etree._Element, inner: etree._Element) -> None:
    """Takes an element out and leaves the text behind it."""
    before = inner.getprevious()
    if inner.tail and before is not None:
        before.tail = (before.tail or "") + inner.tail
    elif inner.tail:
        parent.text = (parent.text or "") + inner.tail
    parent.remove(inner)


def _line(element: etree._Element) -> int:
    line = element.sourceline
    return line if isinstance(line, int) else 1


def _span(element: etree._Element) -> tuple[int, int]:
    last = _line(element)
    for inner in element.iter("*"):
        last = max(last, _line(inner) + (inner.text or "").count("\n") if not len(inner) else _line(inner))
    return _line(element), last


def named_pictures(content: str) -> str:
    """Content in which pictures are named instead of shown: the source has them elsewhere."""

    def name(match: re.Match[str]) -> str:
        named = _ADDRESS.search(match[0])
        return f"<code>[{named[1].rsplit('/', 1)[-1] if named else 'picture'}]</code>"

    return _PICTURE.sub(name, content)


def _merged(parts: Sequence[SourcePart]) -> list[SourcePart]:
    """What steers the marking is one part, wherever its pieces stand."""
    marking = [part for part in parts if part.kind == "marking"]
    if not marking:
        return list(parts)
    spans = [span for part in marking for span in part.spans]
    return [*(part for part in parts if part.kind != "marking"), SourcePart("marking", "", "", spans, "marking")]


def _numbered(parts: Sequence[SourcePart]) -> list[SourcePart]:
    choices = [part for part in parts if part.kind == "choice"]
    numbers = {id(part): number for number, part in enumerate(choices, 1)}
    return [replace(part, field=f"choice:{numbers[id(part)]}") if id(part) in numbers else part for part in parts]


def _with_unclaimed(parts: Sequence[SourcePart], unclaimed: Sequence[str], markup: str) -> list[SourcePart]:
    """Marks the parts that nothing claimed, and adds what stands in none of them."""
    left = list(dict.fromkeys(unclaimed))
    made: list[SourcePart] = []
    for part in parts:
        text = " ".join(plain_text(part.content).split())
        hits = [
            said for said in left if text and (said in text or said.partition(": ")[2] == text or (len(text) > 3 and text in said))
        ]
        left = [said for said in left if said not in hits]
        made.append(replace(part, unclaimed=True) if hits else part)
    return made + [SourcePart("rest", "", rich(_escaped(said)), _spans_of(said, markup), unclaimed=True) for said in left]


def _spans_of(said: str, markup: str) -> list[tuple[int, int]]:
    value = (said.partition(": ")[2] or said)[:60]
    at = markup.find(value) if value else -1
    line = markup.count("\n", 0, at) + 1
    return [(line, line)] if at >= 0 else []


def _escaped(text: str) -> str:
    return text.replace("&", "&amp;").replace("<", "&lt;")

"""The numbers of an odt's lists (OpenDocument 1.2 part 1, sections 5.3 and 16.30), typed into their paragraphs; gaps kept."""

from __future__ import annotations

from dataclasses import dataclass, field

from lxml import etree

from rogatum.core.formats.word_documents.numerals import numeral
from rogatum.core.formats.word_documents.stand_ins import GAP, LABEL_END, LABEL_START, SPACE

_TEXT = "urn:oasis:names:tc:opendocument:xmlns:text:1.0"
_STYLE = "urn:oasis:names:tc:opendocument:xmlns:style:1.0"
_OFFICE = "urn:oasis:names:tc:opendocument:xmlns:office:1.0"
_ID = "{http://www.w3.org/XML/1998/namespace}id"
_DEEPEST = 10


def _t(name: str) -> str:
    return f"{{{_TEXT}}}{name}"


def _s(name: str) -> str:
    return f"{{{_STYLE}}}{name}"


@dataclass
class _Level:
    system: str
    before: str
    behind: str
    start: int
    shown: int


@dataclass
class _Lists:
    """The list styles of a document, and how far each list has counted."""

    styles: dict[str, dict[int, _Level]] = field(default_factory=dict)
    counts: dict[str, list[int]] = field(default_factory=dict)
    by_id: dict[str, list[int]] = field(default_factory=dict)

    def learn(self, root: etree._Element) -> None:
        for style in root.iter(_t("list-style")):
            levels = self.styles.setdefault(style.get(_s("name"), ""), {})
            for level in style:
                depth = level.get(_t("level"), "1")
                if depth.isdigit():
                    levels[int(depth)] = _level(level)

    def begin(self, element: etree._Element, style: str) -> list[int]:
        """The counts that a list goes on with."""
        other = self.by_id.get(element.get(_t("continue-list"), ""))
        if other is None and element.get(_t("continue-numbering")) == "true":
            other = self.counts.get(style)
        counts = other if other is not None else [0] * (_DEEPEST + 1)
        self.counts[style] = counts
        if element.get(_ID):
            self.by_id[str(element.get(_ID))] = counts
        return counts

    def label(self, style: str, depth: int, counts: list[int], start: str | None) -> str:
        levels = self.styles.get(style, {})
        level = levels.get(depth)
        if level is None or depth > _DEEPEST:
            return "•"
        if start and start.isdigit():
            counts[depth] = int(start)
        else:
            counts[depth] = counts[depth] + 1 if counts[depth] else level.start
        counts[depth + 1 :] = [0] * (_DEEPEST - depth)
        if level.system == "•":
            return "•"
        if not level.system:
            return ""
        places = range(max(1, depth - level.shown + 1), depth + 1)
        numbers = [numeral(counts[place], levels[place].system if place in levels else "1") for place in places]
        return f"{level.before}{'.'.join(numbers)}{level.behind}".strip()


def _level(element: etree._Element) -> _Level:
    tag = str(element.tag).rpartition("}")[2]
    if tag != "list-level-style-number":
        return _Level("•", "", "", 1, 1)
    start, shown = element.get(_t("start-value"), "1"), element.get(_t("display-levels"), "1")
    return _Level(
        element.get(_s("num-format"), ""),
        element.get(_s("num-prefix"), ""),
        element.get(_s("num-suffix"), ""),
        int(start) if start.isdigit() else 1,
        int(shown) if shown.isdigit() else 1,
    )


def type_labels(root: etree._Element, styles: etree._Element | None) -> bool:
    """Puts the paragraphs of lists where the lists stood, each with its label; whether there were any."""
    lists = _Lists()
    for part in (styles, root):
        if part is not None:
            lists.learn(part)
    tops = [element for element in root.iter(_t("list")) if not _within_list(element)]
    for top in tops:
        style = top.get(_t("style-name"), "")
        found: list[etree._Element] = []
        _collect(top, 1, style, lists, lists.begin(top, style), found)
        parent = top.getparent()
        if parent is None:
            continue
        place = parent.index(top)
        parent.remove(top)
        for offset, paragraph in enumerate(found):
            parent.insert(place + offset, paragraph)
    return bool(tops)


def _within_list(element: etree._Element) -> bool:
    above = element.getparent()
    while above is not None:
        if above.tag == _t("list"):
            return True
        if str(above.tag).endswith(("}table-cell", "}text-box", "}note-body")):
            return False
        above = above.getparent()
    return False


def _collect(
    element: etree._Element, depth: int, style: str, lists: _Lists, counts: list[int], found: list[etree._Element]
) -> None:
    for item in list(element):
        tag = str(item.tag).rpartition("}")[2]
        if tag not in ("list-item", "list-header"):
            continue
        labelled = tag == "list-header"
        for child in list(item):
            if child.tag == _t("list"):
                own = child.get(_t("style-name"), "") or style
                _collect(child, depth + 1, own, lists, counts if own == style else lists.begin(child, own), found)
                continue
            if child.tag in (_t("p"), _t("h")) and not labelled:
                label = lists.label(style, depth, counts, item.get(_t("start-value")))
                if label:
                    child.text = f"{LABEL_START}{min(depth, 9)}:{label}{LABEL_END}{child.text or ''}"
                labelled = True
            found.append(child)


def keep_gaps(root: etree._Element) -> bool:
    """Gives empty paragraphs and runs of spaces their stand-ins."""
    changed = False
    for space in list(root.iter(_t("s"))):
        count = space.get(_t("c"), "1")
        replaced_by_text(space, SPACE * (min(int(count), 200) if count.isdigit() else 1))
        changed = True
    for paragraph in root.iter(_t("p")):
        parent = paragraph.getparent()
        if len(paragraph) == 0 and not (paragraph.text or "").strip() and parent is not None and parent.tag == f"{{{_OFFICE}}}text":
            paragraph.text = GAP
            changed = True
    return changed


def replaced_by_text(element: etree._Element, text: str) -> None:
    """Puts text where an element stood; what followed it stays."""
    parent, before = element.getparent(), element.getprevious()
    text += element.tail or ""
    if before is not None:
        before.tail = (before.tail or "") + text
    elif parent is not None:
        parent.text = (parent.text or "") + text
    if parent is not None:
        parent.remove(element)

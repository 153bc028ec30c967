"""The numbers of a docx's lists as the word processor shows them (ECMA-376 part 1, section 17.9), typed into its paragraphs.

Pandoc numbers lists anew, and takes one that is interrupted, restarted or continued for several.
"""

from __future__ import annotations

import re
from dataclasses import dataclass, field

from lxml import etree

from rogatum.core.formats.word_documents.numerals import numeral
from rogatum.core.formats.word_documents.stand_ins import LABEL_END, LABEL_START

W = "http://schemas.openxmlformats.org/wordprocessingml/2006/main"
_XML_SPACE = "{http://www.w3.org/XML/1998/namespace}space"
_DEEPEST = 9
_SYSTEMS = {"lowerLetter": "a", "upperLetter": "A", "lowerRoman": "i", "upperRoman": "I"}
_PLACE = re.compile(r"%([1-9])")


def _w(name: str) -> str:
    return f"{{{W}}}{name}"


def _value(parent: etree._Element | None, name: str) -> str | None:
    found = parent.find(_w(name)) if parent is not None else None
    return found.get(_w("val")) if found is not None else None


@dataclass
class _Level:
    """One level of a list: the system of its numbers, the text around them, and what it starts with."""

    system: str
    text: str
    start: int


@dataclass
class Numbers:
    """The definitions of a document's lists; `of_style` is the list and level that a paragraph style brings along."""

    levels: dict[str, dict[int, _Level]] = field(default_factory=dict)
    lists: dict[str, str] = field(default_factory=dict)
    overrides: dict[tuple[str, int], int] = field(default_factory=dict)
    of_style: dict[str, tuple[str, int]] = field(default_factory=dict)
    _counts: dict[str, list[int]] = field(default_factory=dict)
    _begun: set[tuple[str, int]] = field(default_factory=set)

    @classmethod
    def of(cls, numbering: etree._Element | None, styles: etree._Element | None) -> Numbers:
        found = cls()
        for abstract in numbering.iter(_w("abstractNum")) if numbering is not None else ():
            name = abstract.get(_w("abstractNumId"), "")
            found.levels[name] = {_depth(level): _level(level) for level in abstract.findall(_w("lvl"))}
        for number in numbering.iter(_w("num")) if numbering is not None else ():
            name = number.get(_w("numId"), "")
            found.lists[name] = _value(number, "abstractNumId") or ""
            for override in number.findall(_w("lvlOverride")):
                start = _value(override, "startOverride")
                if start and start.isdigit():
                    found.overrides[name, _depth(override)] = int(start)
        found._learn_styles(styles)
        return found

    def _learn_styles(self, styles: etree._Element | None) -> None:
        parents: dict[str, str] = {}
        for style in styles.iter(_w("style")) if styles is not None else ():
            name = style.get(_w("styleId"), "")
            parents[name] = _value(style, "basedOn") or ""
            properties = style.find(_w("pPr"))
            given = properties.find(_w("numPr")) if properties is not None else None
            if given is not None:
                level = _value(given, "ilvl") or "0"
                self.of_style[name] = (_value(given, "numId") or "", int(level) if level.isdigit() else 0)
        for name in parents:
            seen = {name}
            above = parents[name]
            while name not in self.of_style and above and above not in seen:
                seen.add(above)
                if above in self.of_style:
                    self.of_style[name] = self.of_style[above]
                above = parents.get(above, "")

    def next(self, name: str, depth: int) -> str | None:
        """The label of the next paragraph of a list at a level (from 0), empty where it has none; None where there is no list."""
        abstract = self.lists.get(name)
        levels = self.levels.get(abstract or "")
        if not levels or depth not in levels or depth >= _DEEPEST:
            return None
        counts = self._counts.setdefault(abstract or "", [0] * _DEEPEST)
        override = self.overrides.get((name, depth))
        if override is not None and (name, depth) not in self._begun:
            counts[depth] = override
        elif counts[depth] == 0:
            counts[depth] = levels[depth].start
        else:
            counts[depth] += 1
        self._begun.add((name, depth))
        counts[depth + 1 :] = [0] * (_DEEPEST - depth - 1)
        if levels[depth].system == "bullet":
            # A list whose sign is a space goes on with the entry above it.
            return "•" if levels[depth].text.strip() else ""
        shown = lambda match: _shown(levels.get(int(match[1]) - 1), counts[int(match[1]) - 1])  # noqa: E731
        return _PLACE.sub(shown, levels[depth].text).strip()


def _depth(element: etree._Element) -> int:
    given = element.get(_w("ilvl"), "0")
    return int(given) if given.isdigit() else 0


def _level(element: etree._Element) -> _Level:
    start = _value(element, "start") or "1"
    return _Level(_value(element, "numFmt") or "decimal", _value(element, "lvlText") or "", int(start) if start.isdigit() else 1)


def _shown(level: _Level | None, number: int) -> str:
    number = max(number, 1 if level is None else level.start)
    system = level.system if level else "decimal"
    if system == "none":
        return ""
    return f"{number:02d}" if system == "decimalZero" else numeral(number, _SYSTEMS.get(system, "1"), repeated=True)


def type_labels(root: etree._Element, numbers: Numbers) -> bool:
    """Types the labels of lists before their paragraphs, which are of no list then; whether there were any."""
    changed = False
    for paragraph in root.iter(_w("p")):
        properties = paragraph.find(_w("pPr"))
        given = properties.find(_w("numPr")) if properties is not None else None
        style = _value(properties, "pStyle") or ""
        name, depth = numbers.of_style.get(style, ("", 0))
        if given is not None:
            level = _value(given, "ilvl") or str(depth)
            name, depth = _value(given, "numId") or name, int(level) if level.isdigit() else 0
        if not name or name == "0":
            continue
        label = numbers.next(name, depth)
        if label is None:
            continue
        if properties is None:
            properties = etree.Element(_w("pPr"))
            paragraph.insert(0, properties)
        if given is not None:
            properties.remove(given)
        if style in numbers.of_style:
            _take_off_list(properties)
        if label:
            _type(paragraph, properties, f"{LABEL_START}{depth + 1}:{label}{LABEL_END}")
        changed = True
    return changed


def _take_off_list(properties: etree._Element) -> None:
    """Says that a paragraph is of no list, whatever its style says."""
    own = etree.SubElement(properties, _w("numPr"))
    etree.SubElement(own, _w("ilvl")).set(_w("val"), "0")
    etree.SubElement(own, _w("numId")).set(_w("val"), "0")


def _type(paragraph: etree._Element, properties: etree._Element, text: str) -> None:
    run = etree.Element(_w("r"))
    typed = etree.SubElement(run, _w("t"))
    typed.text = text
    typed.set(_XML_SPACE, "preserve")
    paragraph.insert(paragraph.index(properties) + 1, run)

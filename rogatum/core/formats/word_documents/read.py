"""Reads Word, OpenDocument, RTF, web pages and Markdown: pandoc does the container, `core.documents` the questions."""

from __future__ import annotations

import io
import posixpath
import re
import zipfile
from collections.abc import Callable
from typing import Any

from lxml import etree
from lxml.html import defs

from rogatum.core.documents import Line
from rogatum.core.errors import UnreadableSource
from rogatum.core.formats.shared import pandoc
from rogatum.core.formats.shared.base import BankBuilder, Reading
from rogatum.core.formats.shared.document_reading import fill
from rogatum.core.formats.shared.media_finder import MediaFinder
from rogatum.core.formats.word_documents.docx_marks import comments_in, docx_with_marks, headers_and_footers, missing_pictures
from rogatum.core.formats.word_documents.markdown_lines import prepared
from rogatum.core.formats.word_documents.odt_marks import odt_comments, odt_with_marks
from rogatum.core.formats.word_documents.rtf_text import (
    notes_in,
    rtf_with_marks,
    rtf_with_tabs_and_labels,
    with_plain_stand_ins,
    without_character_styles,
    without_deleted,
)
from rogatum.core.formats.word_documents.stand_ins import CHECKED, GAP, TAB, UNCHECKED
from rogatum.core.formats.word_documents.tamed import tamed
from rogatum.core.formats.word_documents.tree import LineMaker
from rogatum.core.items.content import MATH_TAGS, escape
from rogatum.core.sources import DAMAGE_OF_BYTES, SourceTree, decode_text
from rogatum.core.sources.text import sound_text

_FONT = re.compile(r"<font\b([^<>]*)>((?:(?!<font\b).)*?)</font>", re.I | re.S)
_COLOUR = re.compile(r"""\bcolor\s*=\s*["']?([#\w]+)""", re.I)


def _lines(builder: BankBuilder, tree: dict[str, Any], strike_marks: bool = False, soft_lines: bool = False) -> list[Line]:
    """The lines of a document; its notes are listed as what no question holds."""
    maker = LineMaker(strike_marks, soft_lines)
    maker.blocks(tree["blocks"])
    for text in maker.notes:
        builder.account.leave("note", text)
    return maker.lines


def _finished(tree: SourceTree, builder: BankBuilder, lines: list[Line], resolve: Callable[[str], str | None]) -> Reading:
    for line in lines:
        line.where = f"line {line.number}"
        for inner in (inner for row in line.grid or [] for cell in row for inner in cell):
            inner.where = f"line {inner.number}"
    fill(builder, lines, tree.options, resolve)
    return builder.finish()


def _from_archive(builder: BankBuilder, data: bytes) -> Callable[[str], str | None]:
    """Finds pictures within a zipped document."""

    def resolve(address: str) -> str | None:
        if address in builder.media or address.startswith(("http:", "https:", "mailto:")):
            return None
        try:
            with zipfile.ZipFile(io.BytesIO(data)) as archive:
                for name in (address, f"word/{address}"):
                    if name in archive.namelist():
                        return builder.media.add_bytes(posixpath.basename(name), archive.read(name))
        except DAMAGE_OF_BYTES:
            pass
        builder.missing_media(escape(address)[:120], "", None)
        return None

    return resolve


def read_docx(tree: SourceTree) -> Reading:
    """Reads one .docx. Raises UnreadableSource."""
    data, builder = tree.only().read(), BankBuilder(tree.name, "docx")
    try:
        marked = docx_with_marks(data)
        for text in headers_and_footers(data):
            builder.account.leave("page header or footer", text)
        for text in comments_in(data):
            builder.account.leave("comment", text)
        for name in missing_pictures(data):
            builder.missing_media(name, tree.name, None)
    except DAMAGE_OF_BYTES:
        raise UnreadableSource(
            f"{tree.name} is a Word document", "It is damaged or protected.", "Save it again without a password."
        ) from None
    return _finished(tree, builder, _lines(builder, pandoc.tree_of(marked, "docx", tree.name)), _from_archive(builder, data))


def read_odt(tree: SourceTree) -> Reading:
    """Reads one .odt. Raises UnreadableSource."""
    data, builder = tree.only().read(), BankBuilder(tree.name, "odt")
    try:
        marked, strikes = odt_with_marks(data)
        for text in odt_comments(data):
            builder.account.leave("comment", text)
    except DAMAGE_OF_BYTES:
        raise UnreadableSource(
            f"{tree.name} is an OpenDocument text", "It is damaged or protected.", "Save it again without a password."
        ) from None
    return _finished(
        tree, builder, _lines(builder, pandoc.tree_of(marked, "odt", tree.name), strikes), _from_archive(builder, data)
    )


def read_rtf(tree: SourceTree) -> Reading:
    """Reads one .rtf with the pictures within it. Raises UnreadableSource."""
    data, builder = tree.only().read(), BankBuilder(tree.name, "rtf")
    kept = without_character_styles(without_deleted(data.decode("latin-1")))
    for note in notes_in(kept):
        builder.account.leave("note", note)
    text, strikes = rtf_with_marks(rtf_with_tabs_and_labels(with_plain_stand_ins(kept)))
    document, media = pandoc.tree_and_media(text.encode("latin-1"), "rtf", tree.name)

    def resolve(address: str) -> str | None:
        if address in media:
            return builder.media.add_bytes(posixpath.basename(address), media[address])
        return None

    return _finished(tree, builder, _lines(builder, document, strikes), resolve)


def read_html(tree: SourceTree) -> Reading:
    """Reads one web page, or what a browser's clipboard gives. Raises UnreadableSource."""
    file = tree.only()
    text, findings = decode_text(file.read(), file.name)
    builder = BankBuilder(tree.name, "html")
    builder.bank.findings += findings
    text = _FONT.sub(_coloured_font, re.sub(r"<(script|style)\b(?:(?!<\1\b).)*?</\1>", "", text, flags=re.I | re.S))
    finder = MediaFinder(tree, builder)
    kind = "html+tex_math_single_backslash+tex_math_dollars"
    text, removed = sound_text(text, file.name)
    builder.bank.findings += removed
    page = _well_nested(text)
    return _finished(tree, builder, _lines(builder, pandoc.tree_of(page, kind, tree.name)), finder.resolver(file.path, "", None))


# What is no element of HTML or MathML holds text as any other; pandoc tries in vain what it might be.
_KNOWN = defs.tags | MATH_TAGS


def _well_nested(text: str) -> bytes:
    """A page whose elements are all closed: on those that are not, pandoc's time doubles with each."""
    try:
        root = etree.fromstring(text.encode("utf-8", "replace"), etree.HTMLParser(encoding="utf-8", no_network=True))
    except (etree.XMLSyntaxError, ValueError):
        return text.encode("utf-8", "replace")
    if root is None:
        return text.encode("utf-8", "replace")
    unknown = {str(element.tag) for element in root.iter("*")} - _KNOWN
    etree.strip_tags(root, *unknown)
    _keep_gaps(root)
    _show_controls(root)
    _shade_text(root)
    return etree.tostring(root, method="html", encoding="utf-8")


def _keep_gaps(root: etree._Element) -> None:
    """Gives empty paragraphs their stand-in."""
    for element in root.iter("p", "div"):
        inner = {str(child.tag) for child in element.iter("*")} - {element.tag}
        if inner <= {"br", "span", "b", "i", "font"} and not "".join(map(str, element.itertext())).strip():
            for child in list(element):
                element.remove(child)
            element.text = GAP


def _show_controls(root: etree._Element) -> None:
    """Puts in the place of check boxes and of chosen options what they show; tabs within a line are gaps."""
    for box in list(root.iter("input")):
        if box.get("type", "").lower() in ("checkbox", "radio"):
            _put_text(box, f"{CHECKED if box.get('checked') is not None else UNCHECKED} ")
    for choice in list(root.iter("select")):
        chosen = [option for option in choice.iter("option") if option.get("selected") is not None]
        _put_text(choice, "".join(map(str, chosen[0].itertext())).strip() if chosen else "")
    for element in root.iter("*"):
        if element.text and "\t" in element.text:
            element.text = _INNER_TABS.sub(TAB, element.text)
        if element.tail and "\t" in element.tail:
            element.tail = _INNER_TABS.sub(TAB, element.tail)


_INNER_TABS = re.compile(r"(?<=[^\s])\t+(?=[^\s])")
_GROUND = re.compile(r"background(?:-color)?\s*:\s*([^;]+)", re.I)
_INK_COLOUR = re.compile(r"(?<![-\w])color\s*:\s*([^;]+)", re.I)


def _put_text(element: etree._Element, text: str) -> None:
    parent, before = element.getparent(), element.getprevious()
    text += element.tail or ""
    if parent is None:
        return
    if before is not None:
        before.tail = (before.tail or "") + text
    else:
        parent.text = (parent.text or "") + text
    parent.remove(element)


def _shade_text(root: etree._Element) -> None:
    """Gives what a coloured paragraph, item or cell holds that colour itself: of theirs nothing is left in the tree."""
    for element in list(root.iter("p", "li", "td", "div")):
        style = element.get("style", "")
        ground, ink = _GROUND.search(style), _INK_COLOUR.search(style)
        colours = (
            [f"background-color: {ground[1]}"]
            if ground
            else [f"background-color: {element.get('bgcolor')}"]
            if element.get("bgcolor")
            else []
        )
        colours += [f"color: {ink[1]}"] if ink else []
        if not colours or any(child.tag in ("p", "div", "table", "ul", "ol", "li") for child in element):
            continue
        span = etree.Element("span", style="; ".join(colours))
        span.text, element.text = element.text, None
        for child in list(element):
            span.append(child)
        element.append(span)


def _coloured_font(match: re.Match[str]) -> str:
    colour = _COLOUR.search(match[1])
    return f'<span style="color: {colour[1]}">{match[2]}</span>' if colour else match[2]


def read_markdown(tree: SourceTree) -> Reading:
    """Reads one Markdown text. Raises UnreadableSource."""
    file = tree.only()
    text, findings = decode_text(file.read(), file.name)
    builder = BankBuilder(tree.name, "markdown")
    builder.bank.findings += findings
    finder = MediaFinder(tree, builder)
    kind = "markdown-smart+tex_math_single_backslash+mark-yaml_metadata_block-citations-example_lists"
    return _finished(
        tree,
        builder,
        _lines(builder, pandoc.tree_of(prepared(tamed(text)).encode(), kind, tree.name), soft_lines=True),
        finder.resolver(file.path, "", None),
    )

"""XML, hardened: no document types, no entities of the document's own, no network; what breaks off is read up to the break."""

from __future__ import annotations

import codecs
import html.entities
import re
from dataclasses import dataclass, field

from lxml import etree

from rogatum.core.errors import UnreadableSource
from rogatum.core.finding import Finding
from rogatum.core.findings.sources import BROKEN_XML, ENTITIES_REPLACED, ENTITIES_UNKNOWN
from rogatum.core.sources.text import decode_text, sound_text
from rogatum.core.spaces import NO_CHARACTERS

_DOCTYPE = re.compile(rb"<!DOCTYPE[^\[>]*(\[.*?\]\s*+)?>", re.S)
_ENTITY = re.compile(r"&([A-Za-z][A-Za-z0-9]*);")
_REFERENCE = re.compile(r"&#(?:x([0-9A-Fa-f]{1,8})|([0-9]{1,8}));")
# Names that are no encodings of files, or that take the square of a file's length.
_NO_ENCODINGS = {"punycode", "idna", "unicode_escape", "raw_unicode_escape", "undefined", "utf_7", "mbcs", "oem"}
_NAME = re.compile(r"[^\W\d][\w.\-]*$")
_BUILT_IN = {"amp", "lt", "gt", "quot", "apos"}
# How the library says that elements are nested beyond its bound.
_TOO_DEEP = "depth in document"
# A namespace with braces in it, which the library's way of naming elements cannot tell from its own.
_BRACES = re.compile(rb"""xmlns[^=<>"']{0,80}=\s*+["'][^"'<>]*[{}]""")
_DECLARED_UTF8 = re.compile(rb"encoding\s*+=\s*+[\"']utf-?8", re.I)
_DECLARED = re.compile(rb"<\?xml[^<>]*encoding\s*=\s*[\"']([^\"']+)")


@dataclass
class XmlDocument:
    """A parsed document: its root, the file's name for places, and what was noticed on the way."""

    root: etree._Element
    name: str
    findings: list[Finding] = field(default_factory=list)


def parser(recover: bool = False, huge: bool = False) -> etree.XMLParser:
    return etree.XMLParser(
        resolve_entities=False,
        load_dtd=False,
        no_network=True,
        dtd_validation=False,
        remove_comments=True,
        remove_pis=True,
        recover=recover,
        huge_tree=huge,
    )


# The library looks each attribute of an element up among all of them.
MOST_ATTRIBUTES = 1000
_LONG_TAG = re.compile(rb"<[^<>]{4000,}")


def _refuse_many_attributes(data: bytes, name: str) -> None:
    for tag in _LONG_TAG.finditer(data):
        if tag[0].count(b'="') + tag[0].count(b"='") > MOST_ATTRIBUTES and not tag[0].startswith((b"<!", b"<?")):
            raise UnreadableSource(
                f"{name} is XML with an element that has very many attributes",
                f"An element may have {MOST_ATTRIBUTES:,} attributes.",
                "Export it again.",
            )


def parse_xml(data: bytes, name: str) -> XmlDocument:
    """Parses XML. Raises UnreadableSource where not even a beginning can be read."""
    findings: list[Finding] = []
    _refuse_many_attributes(data, name)
    data = data.lstrip(b" \t\r\n") if data[:1] in b" \t\r\n" else data
    if data.startswith((codecs.BOM_UTF16_BE, codecs.BOM_UTF16_LE)) and "<!DOCTYPE" in decode_text(data[:65536], name)[0]:
        data = re.sub(r"^<\?xml[^>]*\?>", "", decode_text(data, name)[0].lstrip("\ufeff \n\t")).encode("utf-8", "replace")
    if b"<!DOCTYPE" in data[:65536]:
        start = data.index(b"<!DOCTYPE")
        doctype = _DOCTYPE.match(data, start)
        data = data[:start] + data[doctype.end() :] if doctype else data
    try:
        root = _root(data, parser())
    except etree.XMLSyntaxError as error:
        return _second_try(data, name, findings, error.msg or "")
    if not _is_text(data):
        # The library lets bytes through that are no UTF-8, and characters that are none, and fails when they are asked for.
        return _second_try(data, name, findings, "it is not the UTF-8 that it says")
    if _BRACES.search(data):
        _rename_ruins(root)
    return XmlDocument(root, name, findings)


def _is_text(data: bytes) -> bool:
    """Whether bytes that the library took are of their encoding, and hold nothing but characters."""
    if _DECLARED.search(data[:200]) and not _DECLARED_UTF8.search(data[:200]):
        return not NO_CHARACTERS.search(_declared_text(data))
    try:
        text = data.decode("utf-8")
    except UnicodeDecodeError:
        if not (data.startswith((codecs.BOM_UTF16_BE, codecs.BOM_UTF16_LE)) or b"\x00" in data[:64]):
            return False
        text = decode_text(data, "")[0]
    return not NO_CHARACTERS.search(text)


def _root(data: bytes, with_parser: etree.XMLParser) -> etree._Element:
    root: etree._Element | None = etree.fromstring(data, with_parser)
    if root is None:
        raise UnreadableSource("The file is XML", "It has no element that could be read.", "Export it again.")
    return root


def _second_try(data: bytes, name: str, findings: list[Finding], why: str) -> XmlDocument:
    """Mends undeclared character names and wrong encodings; else reads what stands before the break."""
    text, decoding = decode_text(data, name) if not _DECLARED.search(data[:200]) else (_declared_text(data), [])
    text = re.sub(r"^<\?xml[^>]*\?>", "", text.lstrip("\ufeff \n\t"))
    text, removed = sound_text(text, name)
    decoding = [*decoding, *removed]
    used = set(_ENTITY.findall(text)) - _BUILT_IN
    names = used & html.entities.name2codepoint.keys()
    if used - names:
        decoding.append(ENTITIES_UNKNOWN.at(name, names=", ".join(f"&{entity};" for entity in sorted(used - names)[:6])))
    mended = _REFERENCE.sub(_possible, _ENTITY.sub(_character, text))
    body = mended.encode("utf-8", "replace")
    try:
        root = _root(body, parser())
        if _BRACES.search(body):
            _rename_ruins(root)
        if names:
            findings.append(ENTITIES_REPLACED.at(name, names=", ".join(sorted(names)[:6])))
        return XmlDocument(root, name, [*findings, *decoding])
    except etree.XMLSyntaxError as still:
        if _TOO_DEEP in (still.msg or ""):
            raise UnreadableSource(
                f"{name} is an XML file", "Its parts lie too deep within each other.", "Export it in a simpler form."
            ) from None
        detail = f"line {still.position[0]}, {_lowered(still.msg or 'not well-formed')}"
    try:
        root = _root(body, parser(recover=True))
        _rename_ruins(root)
    except etree.XMLSyntaxError:
        raise UnreadableSource(
            f"{name} is an XML file", f"It is not well-formed ({why}).", "Export it again, or mend that place."
        ) from None
    return XmlDocument(root, name, [*findings, *decoding, BROKEN_XML.at(f"{name}: {detail.split(',')[0]}", detail=detail)])


def _rename_ruins(root: etree._Element) -> None:
    """Gives elements whose names a recovery left ill-formed a name that can be worked with."""
    for element in root.iter("*"):
        tag = str(element.tag)
        if tag.count("}") > 1 or "{" in tag[1:] or not _NAME.match(tag.rsplit("}", 1)[-1]):
            element.tag = "unknown"
        for name in [key for key in element.attrib if not _NAME.match(str(key).rsplit("}", 1)[-1])]:
            del element.attrib[name]


def _declared_text(data: bytes) -> str:
    declared = _DECLARED.search(data[:200])
    encoding = declared[1].decode("ascii", "replace") if declared else "utf-8"
    try:
        if codecs.lookup(encoding).name.replace("-", "_") not in _NO_ENCODINGS:
            return data.decode(encoding, "strict")
    except (LookupError, ValueError):
        pass
    return decode_text(data, "")[0]


def _possible(match: re.Match[str]) -> str:
    """A reference to a character that there is (XML 1.0, 2.2); one to what is none goes, since a recovery would let it through."""
    code = int(match[1], 16) if match[1] else int(match[2])
    sound = code in (9, 10, 13) or 0x20 <= code < 0xD800 or 0xE000 <= code < 0xFFFE or 0x10000 <= code < 0x110000
    return match[0] if sound else ""


def _character(match: re.Match[str]) -> str:
    if match[1] in _BUILT_IN:
        return match[0]
    codepoint = html.entities.name2codepoint.get(match[1])
    return f"&amp;{match[1]};" if codepoint is None else f"&#{codepoint};"


def _lowered(message: str) -> str:
    return message[:1].lower() + message[1:]

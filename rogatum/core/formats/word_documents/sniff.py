"""What kind of document a file is, by its content."""

from __future__ import annotations

import io
import re
import zipfile
from collections.abc import Callable

from rogatum.core.errors import UnreadableSource
from rogatum.core.sources import DAMAGE_OF_BYTES, SourceTree, looks_like_text

# Numbers in bold type, which no plain text has.
_BOLD_NUMBER = re.compile(rb"^[ \t]*+\*\*[ \t]*+(?:Q(?:uestion)?\s*+)?\d{1,3}\s*+[.):]", re.M | re.I)
_MARKDOWN = (
    re.compile(rb"^#{1,6}\s+\S", re.M),
    re.compile(rb"\*\*[^*\n]+\*\*"),
    re.compile(rb"!\[[^\[\]]*+\]\([^()]+\)"),
    re.compile(rb"^[ \t]*+\|?[ \t]*+:?-{3,}+:?[ \t]*+\|", re.M),
    re.compile(rb"^```", re.M),
    re.compile(rb"\\_"),
)


def _members(tree: SourceTree) -> tuple[set[str], bytes]:
    """The names in a zipped document, and its `mimetype`."""
    if not tree.lone or not tree.only().head(4).startswith(b"PK"):
        return set(), b""
    try:
        with zipfile.ZipFile(io.BytesIO(tree.only().read())) as archive:
            names = set(archive.namelist())
            return names, archive.read("mimetype") if "mimetype" in names else b""
    except (UnreadableSource, *DAMAGE_OF_BYTES, RuntimeError):
        return set(), b""


def looks_like_docx(tree: SourceTree) -> float:
    return 0.99 if "word/document.xml" in _members(tree)[0] else 0.0


def looks_like_odt(tree: SourceTree) -> float:
    return 0.99 if b"opendocument.text" in _members(tree)[1] else 0.0


def _by_head(test: Callable[[bytes], bool], sure: float) -> Callable[[SourceTree], float]:
    def looks_like(tree: SourceTree) -> float:
        if not tree.lone:
            return 0.0
        head = tree.only().head(65536)
        return sure if looks_like_text(head[:4096]) and test(head.lstrip(b"\xef\xbb\xbf \t\r\n")) else 0.0

    return looks_like


looks_like_rtf = _by_head(lambda head: head.startswith(b"{\\rtf"), 0.99)
looks_like_html = _by_head(
    lambda head: bool(
        re.match(
            rb"(?:<!--.*?-->\s*)?<(?:!doctype\s+html|html|head|body|meta|p|div|ol|ul|table|h\d|span|b|strong)\b", head, re.I | re.S
        )
    ),
    0.8,
)


def looks_like_markdown(tree: SourceTree) -> float:
    """Text with several signs of Markdown, or one where the name says so too."""
    if not tree.lone:
        return 0.0
    head = tree.only().head(65536)
    if not looks_like_text(head[:4096]) or head.lstrip().startswith((b"<", b"{\\rtf", b"{")):
        return 0.0
    signs = sum(bool(sign.search(head)) for sign in _MARKDOWN)
    named = tree.only().path.lower().endswith((".md", ".markdown"))
    bold_numbers = len(_BOLD_NUMBER.findall(head)) >= 2
    return 0.6 if named else 0.5 if signs >= 3 or bold_numbers else 0.0

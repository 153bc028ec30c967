"""Reads marked text by the pipeline of `core.documents`: lines, roles, items."""

from __future__ import annotations

from rogatum.core.documents import lines_of
from rogatum.core.formats.base import BankBuilder, Reading
from rogatum.core.formats.document_items import fill
from rogatum.core.sources import SourceTree, decode_text, looks_like_text


def looks_like_marked_text(tree: SourceTree) -> float:
    """Any text that is no mark-up may be marked text; other formats are surer."""
    if not tree.lone:
        return 0.0
    head = tree.only().head(4096)
    start = head.replace(b"\x00", b"").lstrip(b"\xef\xbb\xbf\xff\xfe \t\r\n")
    if not looks_like_text(head) or start.startswith((b"<", b"{\\rtf", b'{"')):
        return 0.0
    return 0.3


def read_marked_text(tree: SourceTree) -> Reading:
    """Reads one text file. Raises UnreadableSource when it is no text."""
    file = tree.only()
    text, findings = decode_text(file.read(), file.name)
    builder = BankBuilder(tree.name, "marked-text")
    builder.bank.findings += findings
    fill(builder, lines_of(text), tree.options)
    return builder.finish()

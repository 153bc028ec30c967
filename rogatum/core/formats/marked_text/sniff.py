"""Tells marked text: any text that no other format is surer of."""

from __future__ import annotations

from rogatum.core.sources import SourceTree, looks_like_text


def looks_like_marked_text(tree: SourceTree) -> float:
    """Any text that is no mark-up may be marked text; other formats are surer."""
    if not tree.lone:
        return 0.0
    head = tree.only().head(4096)
    start = head.replace(b"\x00", b"").lstrip(b"\xef\xbb\xbf\xff\xfe \t\r\n")
    if not looks_like_text(head) or start.startswith((b"<", b"{\\rtf", b'{"')):
        return 0.0
    return 0.3

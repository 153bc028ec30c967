"""Whether a file or package holds QTI 2.x or 3.0, and of which dialect, whatever its files are called."""

from __future__ import annotations

import re

from rogatum.core.formats.qti2.dialects import DIALECTS, QTI_2_1, QTI_2_2, QTI_3_0, Dialect, dialect_of
from rogatum.core.formats.shared.packaging import manifest_of
from rogatum.core.sources import SourceFile, SourceTree

_ROOT = re.compile(rb"<(?:[\w.-]+:)?(?:qti-)?assessment-?(?:item|test|section|stimulus)\b", re.I)
_NAMESPACE = re.compile(rb"xmlns(?::[\w.-]+)?\s*=\s*[\"']([^\"']*imsqti[^\"']*|[^\"']*qtiv3[^\"']*)[\"']", re.I)
_RESOURCE = re.compile(r"imsqti_(?:apip)?(?:item|test|section|stimulus)_xmlv([23])p(\d)", re.I)


def file_dialect(file: SourceFile) -> Dialect | None:
    """The dialect of a file whose root is an item, a test, a section or a stimulus."""
    head = file.head(65536).replace(b"\x00", b"")
    start = head.lstrip(b"\xef\xbb\xbf\xff\xfe \t\r\n")
    root = _ROOT.search(head)
    if not start.startswith(b"<") or root is None or b"questestinterop" in head[: root.start()]:
        return None
    for namespace in _NAMESPACE.findall(head):
        dialect = dialect_of(namespace.decode("ascii", "replace"))
        if dialect is not None:
            return dialect
    return QTI_3_0 if b"<qti-" in head[: root.end()] or b":qti-" in head[: root.end()] else QTI_2_1


def resource_dialect(kind: str) -> Dialect | None:
    """The dialect that a manifest's resource type names."""
    match = _RESOURCE.match(kind.strip())
    if match is None:
        return None
    if match[1] == "3":
        return QTI_3_0
    return QTI_2_2 if match[2] == "2" else QTI_2_1


def tree_dialect(tree: SourceTree) -> Dialect | None:
    """The dialect of a source as a whole: what its items are in, else what its manifest says."""
    if tree.lone:
        return file_dialect(tree.only())
    for path in sorted(tree.files):
        if path.lower().endswith((".xml", ".qti")) and not path.lower().endswith("imsmanifest.xml"):
            dialect = file_dialect(tree.files[path])
            if dialect is not None:
                return dialect
    manifest = manifest_of(tree)
    kinds = [resource_dialect(resource.kind) for resource in manifest.resources] if manifest else []
    return next((dialect for dialect in kinds if dialect is not None), None)


def sniffer(dialect: Dialect):  # type: ignore[no-untyped-def]
    """How surely a source is of one dialect."""

    def looks_like(tree: SourceTree) -> float:
        return 0.96 if tree_dialect(tree) is dialect else 0.0

    return looks_like


__all__ = ["DIALECTS", "file_dialect", "resource_dialect", "sniffer", "tree_dialect"]

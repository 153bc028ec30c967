"""Whether a file or package holds QTI 1.2, whatever its files are called."""

import re

from rogatum.core.formats.shared.packaging import manifest_of
from rogatum.core.sources import SourceFile, SourceTree

ROOT = b"questestinterop"
# The type of a resource names the version, and may name the form: an item, a section, an assessment, an object bank.
_KIND = re.compile(r"imsqti_(?:[a-z]+_)?xmlv1p")
_LATER = re.compile(r"imsqti_(?:[a-z]+_)?xmlv[23]p")
BARE_ITEM = (b"<item ", b"<item>", b"<assessment ", b"<objectbank ")


def holds_qti1(file: SourceFile) -> bool:
    """Whether a file's beginning has QTI 1.2's root element, in any encoding."""
    head = file.head(65536).replace(b"\x00", b"")
    start = head.lstrip(b"\xef\xbb\xbf\xff\xfe \t\r\n")
    return start.startswith(b"<") and ROOT in head


def looks_like_qti1(tree: SourceTree) -> float:
    if tree.lone:
        return 0.98 if holds_qti1(tree.only()) else 0.0
    manifest = manifest_of(tree)
    if manifest is not None and any("imscc" in r.kind for r in manifest.resources):
        return 0.0
    if manifest is not None and any(_KIND.match(r.kind.strip().lower()) for r in manifest.resources):
        return 0.95
    if manifest is not None and any(_LATER.match(r.kind.strip().lower()) for r in manifest.resources):
        return 0.0
    return 0.9 if any(holds_qti1(file) for file in _candidates(tree)) else 0.0


def _candidates(tree: SourceTree) -> list[SourceFile]:
    return [f for f in tree.files.values() if f.path.lower().endswith((".xml", ".qti", ".dat", ".txt", ".res"))]

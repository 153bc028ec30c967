"""Tells a Common Cartridge by the resources of its manifest."""

from __future__ import annotations

from rogatum.core.formats.shared.packaging import manifest_of
from rogatum.core.sources import SourceTree


def looks_like_cartridge(tree: SourceTree) -> float:
    """A package whose manifest has resources of a cartridge."""
    manifest = None if tree.lone else manifest_of(tree)
    if manifest is None:
        return 0.0
    kinds = [resource.kind.lower() for resource in manifest.resources]
    if any("imscc" in kind and kind.startswith("imsqti") for kind in kinds):
        return 0.97
    return 0.92 if "common cartridge" in manifest.schema.lower() and any(kind.startswith("imsqti") for kind in kinds) else 0.0

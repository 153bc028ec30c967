"""What a reader or a check can notice, by what it is about. All of it is in the catalogue as soon as any is imported."""

from rogatum.core.findings import advice, contents, items, keys, numbering, sources

__all__ = ["advice", "contents", "items", "keys", "numbering", "sources"]

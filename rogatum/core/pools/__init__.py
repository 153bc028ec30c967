"""Rules of pools: how they are named, and which items are duplicates."""

from rogatum.core.pools.duplicates import DuplicateIndex, Likeness, digest
from rogatum.core.pools.naming import name_pools

__all__ = ["DuplicateIndex", "Likeness", "digest", "name_pools"]

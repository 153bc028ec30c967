"""Rules of pools: how they are named, and which items are near-duplicates."""

from rogatum.core.pools.duplicates import DuplicateIndex, Likeness
from rogatum.core.pools.naming import name_pools

__all__ = ["DuplicateIndex", "Likeness", "name_pools"]

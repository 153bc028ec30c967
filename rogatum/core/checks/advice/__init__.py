"""Advice on the writing of items, by the guidelines of Haladyna, Downing and Rodriguez (2002).

Precision comes before reach: what is said should be deserved, so the rules keep silent in doubt, and those that go by words say
nothing of items that are not in English.
"""

from rogatum.core.checks.advice.balance import KeyPlace, advise_bank, key_place
from rogatum.core.checks.advice.item import advise_item

__all__ = ["KeyPlace", "advise_bank", "advise_item", "key_place"]

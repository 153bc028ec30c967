"""Checks on items, whatever they were read from, and the repairs that findings offer."""

from rogatum.core.checks.bank import check_bank
from rogatum.core.checks.item import check_item
from rogatum.core.checks.repairs import REPAIRS, Repair, apply_repair, repair_named
from rogatum.core.checks.settling import stays
from rogatum.core.checks.ways import Way, ways_of

__all__ = ["REPAIRS", "Repair", "Way", "apply_repair", "check_bank", "check_item", "repair_named", "stays", "ways_of"]

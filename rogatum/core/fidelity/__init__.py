"""Fidelity: the ledger of two banks, and the probes that prove that two forms of an item mark alike."""

from rogatum.core.fidelity.facets import Facet, Verdict
from rogatum.core.fidelity.ledger import FACETS, Ledger, LedgerItem, LedgerNote, Totals, compare
from rogatum.core.fidelity.probes import Disagreement, Probe, disagreements, probes_of

__all__ = [
    "FACETS",
    "Disagreement",
    "Facet",
    "Ledger",
    "LedgerItem",
    "LedgerNote",
    "Probe",
    "Totals",
    "Verdict",
    "compare",
    "disagreements",
    "probes_of",
]

"""Fidelity: the ledger of two banks, and the probes that prove that two forms of an item mark alike."""

from rogatum.core.fidelity.items import Facet
from rogatum.core.fidelity.judging import SEVERITY, Verdict
from rogatum.core.fidelity.ledger import FACETS, Ledger, LedgerItem, LedgerNote, Totals, compare, is_sound
from rogatum.core.fidelity.probes import Disagreement, Origin, Probe, disagreements, probes_of
from rogatum.core.fidelity.quizzes import QUIZ_FACET_WORDS, QUIZ_FACETS, LedgerQuiz, Room

__all__ = [
    "FACETS",
    "QUIZ_FACETS",
    "QUIZ_FACET_WORDS",
    "SEVERITY",
    "LedgerQuiz",
    "Room",
    "Disagreement",
    "Facet",
    "Ledger",
    "LedgerItem",
    "LedgerNote",
    "Origin",
    "Probe",
    "Totals",
    "Verdict",
    "compare",
    "disagreements",
    "is_sound",
    "probes_of",
]

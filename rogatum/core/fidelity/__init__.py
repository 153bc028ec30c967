"""Fidelity: the ledger of two banks, and the probes that prove that two forms of an item mark alike."""

from rogatum.core.fidelity.items import Facet
from rogatum.core.fidelity.judging import SEVERITY, Verdict
from rogatum.core.fidelity.ledger import (
    FACETS,
    OWN_FACETS,
    Ledger,
    LedgerItem,
    LedgerNote,
    SampleProof,
    Totals,
    compare,
    compare_readings,
    is_sound,
)
from rogatum.core.fidelity.marks import Marks, marks_of
from rogatum.core.fidelity.probes import Disagreement, Origin, Probe, disagreements, probes_of
from rogatum.core.fidelity.quizzes import QUIZ_FACET_WORDS, QUIZ_FACETS, LedgerQuiz, Room
from rogatum.core.fidelity.wholeness import Wholeness

__all__ = [
    "FACETS",
    "OWN_FACETS",
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
    "Marks",
    "Origin",
    "Probe",
    "SampleProof",
    "Totals",
    "Verdict",
    "Wholeness",
    "compare",
    "compare_readings",
    "disagreements",
    "is_sound",
    "marks_of",
    "probes_of",
]

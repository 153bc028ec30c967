"""What QTI 1.2 has a place for: all but patterns as answers, and feedback of typed answers."""

from dataclasses import replace

from rogatum.core.formats.shared.base import EVERYTHING

CARRIES = replace(EVERYTHING, feedback=frozenset({"general", "correct", "incorrect", "choice"}), regex=False)

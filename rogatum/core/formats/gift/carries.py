"""What GIFT has a place for."""

from rogatum.core.formats.shared.base import Carries

CARRIES = Carries(
    types=frozenset(
        {
            "multiple_choice",
            "multiple_response",
            "true_false",
            "fill_in",
            "numeric",
            "matching",
            "essay",
            "information",
        }
    ),
    feedback=frozenset({"general", "choice", "answer"}),
    formatting=True,
    formulas=True,
    media=True,
    alt_texts=True,
    metadata=True,
    titles=True,
    pools=True,
    partial_credit=True,
    per_choice=True,
    otherwise={
        "one-right@multiple_response": {"type": "changed", "marking": "changed"},
        "word-list": {"key": "changed", "marking": "changed"},
        "open-range": {"key": "changed", "marking": "changed"},
        "no-key@multiple_response": {"type": "changed"},
        "no-key@true_false": {"type": "changed"},
        "no-key@fill_in": {"type": "changed", "marking": "changed"},
        "unit": {"key": "lost"},
        "general@information": {"feedback": "lost"},
    },
)

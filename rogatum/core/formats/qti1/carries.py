"""What QTI 1.2 has a place for: all but patterns as answers, and half of a quiz's settings."""

from dataclasses import replace

from rogatum.core.formats.qti1.test_settings import PLACES
from rogatum.core.formats.shared.base import EVERYTHING

CARRIES = replace(
    EVERYTHING,
    regex=False,
    # A reference to an item that stands elsewhere says no points.
    weights_by_place=False,
    page_breaks=False,
    settings=PLACES,
    otherwise={
        **dict.fromkeys([f"no-points@{name}" for name in sorted(EVERYTHING.types - {"information"})], {"points": "added"}),
        "keyless-no-points": {"points": "added"},
        "points@information": {"points": "lost"},
        **dict.fromkeys([f"{slot}@information" for slot in ("general", "correct", "incorrect")], {"feedback": "lost"}),
        **dict.fromkeys([f"{slot}@essay" for slot in ("correct", "incorrect")], {"feedback": "lost"}),
        "no-key@fill_in": {"type": "changed", "marking": "changed"},
        **dict.fromkeys(
            [f"keyless-feedback@{name}" for name in ("multiple_choice", "true_false", "fill_in", "numeric")], {"feedback": "lost"}
        ),
        "keyless-feedback@cloze": {"feedback": "lost", "formatting": "added"},
        "glued-blank": {"stem": "recast"},
        "pattern@cloze": {"key": "recast"},
        "pattern@fill_in": {"type": "changed", "key": "lost", "marking": "changed"},
        "unit": {"key": "lost"},
        "best-feedback": {"feedback": "recast"},
    },
)

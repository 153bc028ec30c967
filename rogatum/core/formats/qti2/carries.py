"""What QTI 2.x and 3.0 have a place for: all but settings that belong to a platform."""

from dataclasses import replace

from rogatum.core.formats.qti2.test_settings import PLACES
from rogatum.core.formats.shared.base import EVERYTHING

CARRIES = replace(
    EVERYTHING,
    page_breaks=False,
    settings=PLACES,
    always_says={"navigation": "free", "submission": "at the end"},
    otherwise={
        **dict.fromkeys([f"no-points@{name}" for name in sorted(EVERYTHING.types - {"information", "essay"})], {"points": "added"}),
        **dict.fromkeys(["keyless-feedback@multiple_response", "keyless-feedback@cloze"], {"feedback": "recast"}),
        # Each interaction has to say it: what nobody set is written as the order in which they stand.
        "order-not-set": {"choices": "added"},
        "unit": {"key": "lost"},
        "best-feedback": {"feedback": "recast"},
    },
)

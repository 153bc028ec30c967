"""What QTI 1.2 has a place for: all but patterns as answers, and half of a quiz's settings."""

from dataclasses import replace

from rogatum.core.formats.qti1.test_settings import PLACES
from rogatum.core.formats.shared.base import EVERYTHING

CARRIES = replace(
    EVERYTHING,
    regex=False,
    # A reference to an item that stands elsewhere says no points.
    weights_by_place=False,
    settings=PLACES,
)

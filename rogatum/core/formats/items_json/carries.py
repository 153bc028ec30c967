"""The model itself: a place for everything."""

from rogatum.core.formats.shared.base import EVERYTHING

CARRIES = EVERYTHING

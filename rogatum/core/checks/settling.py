"""What stays of what was said about an item when it is changed."""

from __future__ import annotations

from rogatum.core.admission import missing_media
from rogatum.core.findings.catalogue import CATALOGUE
from rogatum.core.items import Item


def stays(code: str, before: Item, after: Item, by_hand: bool) -> bool:
    """Whether a finding outlives a change. What a check of the item finds is found anew, so it does not.

    `by_hand` says that a person has looked at the whole item and saved it, and so set its key.
    """
    kind = CATALOGUE.get(code)
    if kind is None:
        return True
    if kind.settled_by == "points":
        return before.points == after.points
    if kind.settled_by == "media":
        return not missing_media(before) or bool(missing_media(after))
    if kind.settled_by == "key" and by_hand:
        return False
    return not kind.checked

"""Feedback of items without choices: told from which responses show it, not from what it is called."""

from __future__ import annotations

from collections.abc import Collection

from rogatum.core.items import Item


def plain_feedback(item: Item, right: Collection[str] | None, wrong: Collection[str], texts: dict[str, str]) -> None:
    """Feedback of items without choices: shown for a right response, for wrong ones, or for both.

    `right` and `wrong` are the ids of what they show; `right` is None where no right response is known.
    """
    for ident, text in texts.items():
        on_right, on_wrong = right is not None and ident in right, ident in wrong
        if on_right and not on_wrong:
            append_feedback(item, "correct", text)
        elif on_wrong and not on_right and right is not None:
            append_feedback(item, "incorrect", text)
        else:
            append_feedback(item, "general", text)


def append_feedback(item: Item, slot: str, text: str) -> None:
    known = item.feedback.get(slot)  # type: ignore[call-overload]
    item.feedback[slot] = text if not known else f"<p>{known}</p><p>{text}</p>"  # type: ignore[index]

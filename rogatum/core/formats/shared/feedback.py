"""Feedback of items without choices: told from which responses show it, not from what it is called."""

from __future__ import annotations

from collections.abc import Collection, Sequence

from rogatum.core.items import FillIn, Item, Numeric, NumericAnswer, TextAnswer


def plain_feedback(
    item: Item,
    right: Collection[str] | None,
    wrong: Collection[str],
    texts: dict[str, str],
    by_answer: Sequence[Collection[str]] = (),
) -> None:
    """Feedback of items without choices: shown for a right response, for wrong ones, for both, or for one of several answers.

    `right`, `wrong` and `by_answer` are the ids of what they show; `right` is None where no right response is known.
    """
    for ident, text in texts.items():
        on_right, on_wrong = right is not None and ident in right, ident in wrong
        owners = owners_of(item, ident, by_answer)
        if owners and not on_wrong:
            for answer in owners:
                answer.feedback = text if answer.feedback is None else f"{answer.feedback} {text}"
            continue
        if on_right and not on_wrong:
            append_feedback(item, "correct", text)
        elif on_wrong and not on_right and right is not None:
            append_feedback(item, "incorrect", text)
        else:
            append_feedback(item, "general", text)


def owners_of(item: Item, ident: str, by_answer: Sequence[Collection[str]]) -> list[TextAnswer] | list[NumericAnswer]:
    """The answers whose own a feedback is: those that show it, where they are not just all that are fully right."""
    if not isinstance(item, FillIn | Numeric) or not by_answer:
        return []
    held = [ident in shown for shown in by_answer]
    full = [answer.weight > 0.999 for answer in item.answers]
    if held == full or all(held):
        return []
    return [answer for answer, holds in zip(item.answers, held, strict=True) if holds]  # type: ignore[return-value]


def append_feedback(item: Item, slot: str, text: str) -> None:
    known = item.feedback.get(slot)  # type: ignore[call-overload]
    item.feedback[slot] = text if not known else f"<p>{known}</p><p>{text}</p>"  # type: ignore[index]

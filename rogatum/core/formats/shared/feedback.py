"""Feedback of items without choices: told from which responses show it, not from what it is called."""

from __future__ import annotations

from collections.abc import Callable, Collection, Sequence

from rogatum.core.formats.shared.keys import WRONG, a_wrong_number, meeting
from rogatum.core.items import Blank, Choice, ChoiceBlank, Cloze, FillIn, Item, Numeric, NumericAnswer, NumericBlank, TextAnswer
from rogatum.core.quizzes.marking import Response as Answer

# What may have feedback of its own within an item to fill in.
Owner = TextAnswer | NumericAnswer | Choice
ByOwner = Sequence[tuple[Owner, Collection[str]]]


def plain_feedback(
    item: Item,
    right: Collection[str] | None,
    wrong: Collection[str],
    texts: dict[str, str],
    by_owner: ByOwner = (),
) -> None:
    """Feedback of items without choices: shown for a right response, for wrong ones, for both, or for one of several answers.

    `right`, `wrong` and `by_owner` have the ids of what they show; `right` is None where no right response is known.
    """
    for ident, text in texts.items():
        on_right, on_wrong = right is not None and ident in right, ident in wrong
        owners = owners_of(ident, by_owner)
        if owners and not on_wrong:
            give_own(owners, text)
            continue
        if on_right and not on_wrong:
            append_feedback(item, "correct", text)
        elif on_wrong and not on_right and right is not None:
            append_feedback(item, "incorrect", text)
        else:
            append_feedback(item, "general", text)


def shown_by_owner(item: Item, shown: Callable[[Answer], Collection[str]]) -> list[tuple[Owner, Collection[str]]]:
    """Each answer of an item to fill in, and each choice for a blank, with the ids of what it shows.

    That of a blank is shown beside right answers to the others and beside wrong ones; none is left open, since a rule may not
    decide then.
    """
    if isinstance(item, FillIn | Numeric):
        return [(answer, shown(meeting(answer))) for answer in item.answers]
    if not isinstance(item, Cloze):
        return []
    right = {blank.id: _best(blank) for blank in item.blanks}
    wrong = {blank.id: a_wrong_value(blank) for blank in item.blanks}
    return [
        (owner, set(shown({**right, blank.id: value})).intersection(shown({**wrong, blank.id: value})))
        for blank in item.blanks
        for owner, value in _values(blank)
    ]


def _values(blank: Blank) -> list[tuple[Owner, str]]:
    """What may be put into a blank: its choices by their ids, a text that meets each answer."""
    if isinstance(blank, ChoiceBlank):
        return [(choice, choice.id) for choice in blank.choices]
    return [(answer, meeting(answer)) for answer in blank.answers]


def _best(blank: Blank) -> str:
    return max(_values(blank), key=lambda owned: owned[0].weight, default=(None, WRONG))[1]


def a_wrong_value(blank: Blank) -> str:
    """A wrong value for a blank; none of its choices, since a choice may have feedback of its own."""
    return a_wrong_number(blank.answers) if isinstance(blank, NumericBlank) else WRONG


def owners_of(ident: str, by_owner: ByOwner) -> list[Owner]:
    """The answers whose own a feedback is: those that show it, where they are not just all that are fully right."""
    held = [ident in shown for _, shown in by_owner]
    full = [owner.weight > 0.999 for owner, _ in by_owner]
    if held == full or all(held):
        return []
    return [owner for (owner, _), holds in zip(by_owner, held, strict=True) if holds]


def give_own(owners: Sequence[Owner], text: str) -> None:
    for owner in owners:
        owner.feedback = text if owner.feedback is None else f"{owner.feedback} {text}"


def append_feedback(item: Item, slot: str, text: str) -> None:
    known = item.feedback.get(slot)  # type: ignore[call-overload]
    item.feedback[slot] = text if not known else f"<p>{known}</p><p>{text}</p>"  # type: ignore[index]

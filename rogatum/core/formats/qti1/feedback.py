"""Which feedback is whose: told from which responses show it, not from what it is called."""

from __future__ import annotations

from dataclasses import dataclass

from rogatum.core.formats.qti1.shaped import AnyProcessing
from rogatum.core.formats.shared.feedback import append_feedback
from rogatum.core.items import ChoiceItem, Item, MultipleChoice, MultipleResponse, TrueFalse


@dataclass(frozen=True)
class Shown:
    """A choice and the ids of the feedback that picking it alone shows."""

    ident: str
    markup: str
    feedback: list[str]


def choice_feedback(item: Item, shown: list[Shown], whole: list[str], texts: dict[str, str], processing: AnyProcessing) -> None:
    """Gives each feedback to the choices that show it, or to the item as correct, incorrect or general.

    `whole` is the feedback that the whole key shows, picked at once.
    """
    assert isinstance(item, MultipleChoice | MultipleResponse | TrueFalse)
    several = isinstance(item, MultipleResponse)
    slots: dict[str, str] = {}
    owners_of = {ident: [s.ident for s in shown if ident in s.feedback] for ident in texts}
    for ident, owners in owners_of.items():
        if several:
            slots[ident] = _slot_of_several(owners, ident in whole, len(shown))
        else:
            slots[ident] = _slot_of_one(ident, owners, shown, _right(item, shown), processing)
    # Where wrong choices have feedback of their own, the right one's that is shown in the same manner is its own too.
    manners = {_goes_on(ident, processing) for ident, slot in slots.items() if slot == "choice"}
    if not several and "incorrect" not in slots.values():
        for ident, slot in slots.items():
            if slot == "correct" and owners_of[ident] and _goes_on(ident, processing) in manners:
                slots[ident] = "choice"
    for ident, text in texts.items():
        if slots[ident] == "choice":
            _to_choices(item, owners_of[ident], shown, text)
        else:
            append_feedback(item, slots[ident], text)


def _goes_on(ident: str, processing: AnyProcessing) -> bool:
    """Whether the rules that show a feedback let processing go on."""
    return all(rule.goes_on for rule in processing.rules if ident in rule.feedback)


def _right(item: ChoiceItem | TrueFalse, shown: list[Shown]) -> set[str]:
    if isinstance(item, TrueFalse):
        return set()
    return {entry.ident for entry, choice in zip(shown, item.choices, strict=True) if choice.weight > 0.999}


def _slot_of_several(owners: list[str], with_key: bool, count: int) -> str:
    """Where several can be picked: what the key alone shows is for right responses, what all but the key show for wrong ones."""
    if not owners:
        return "correct" if with_key else "general"
    if len(owners) == count:
        return "general" if with_key else "incorrect"
    return "choice"


def _slot_of_one(ident: str, owners: list[str], shown: list[Shown], right: set[str], processing: AnyProcessing) -> str:
    rules = [rule for rule in processing.rules if ident in rule.feedback]
    scores = any(setting.value > 0 for rule in rules for setting in rule.settings)
    catch_all = any(rule.plain_other or rule.negated for rule in rules)
    idents = {entry.ident for entry in shown}
    if not owners:
        return "correct" if scores else "incorrect" if rules and catch_all else "general"
    if len(owners) == len(idents):
        return "general"
    if scores and set(owners) <= (right or idents):
        return "correct"
    if catch_all or (len(owners) > 1 and right and set(owners) == idents - right):
        return "incorrect"
    return "choice"


def _to_choices(item: ChoiceItem | TrueFalse, owners: list[str], shown: list[Shown], text: str) -> None:
    if isinstance(item, TrueFalse):
        for entry in shown:
            if entry.ident in owners:
                first = entry.markup.lower()
                item.choice_feedback["true" if "true" in first or first.strip("<p>/ .") == "t" else "false"] = text
        return
    for choice, entry in zip(item.choices, shown, strict=True):
        if entry.ident in owners:
            choice.feedback = text if choice.feedback is None else f"{choice.feedback} {text}"

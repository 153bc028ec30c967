"""Which format of a receiver keeps most of a bank, and why."""

from __future__ import annotations

from collections import Counter

from rogatum.core.formats import format_named
from rogatum.core.items import Bank
from rogatum.core.receivers.forecast import forecast
from rogatum.core.receivers.outlook import Forecast
from rogatum.core.receivers.sheet import Sheet
from rogatum.core.receivers.survey import Survey


def best_format(bank: Bank, sheet: Sheet, survey: Survey | None = None, file_name: str = "") -> tuple[Forecast, str]:
    """The forecast in the format that keeps most, the sheet's preference where several keep as much, with the reason in words."""
    survey = survey or Survey(bank)
    made = [forecast(bank, sheet, name, survey, file_name) for name in sheet.format_names()]
    best = min(made, key=_loss)
    return best, _reason(best, [other for other in made if other is not best])


def _loss(made: Forecast) -> tuple[int, ...]:
    """What goes or changes, the worst first: what students see before what only the instructor does."""
    seen, own, of_quizzes = made.sums["for_students"], made.sums["for_you"], Counter(quiz.worst for quiz in made.quizzes)
    quizzes = of_quizzes["lost"] + of_quizzes["changed"]
    return (seen["refused"], seen["lost"], seen["changed"], quizzes, seen["recast"], own["lost"], own["changed"], own["recast"])


_LOSS_WORDS = (
    "refuses",
    "loses something of",
    "changes",
    "loses settings of",
    "recasts",
    "loses what only you see of",
    "changes what only you see of",
    "recasts what only you see of",
)


def _reason(best: Forecast, others: list[Forecast]) -> str:
    if not others:
        return "The only format that it takes."
    told = []
    for other in others:
        differing = [
            (words, mine, its) for words, mine, its in zip(_LOSS_WORDS, _loss(best), _loss(other), strict=True) if mine != its
        ]
        label = format_named(other.format).label
        if not differing:
            told.append(f"{label} keeps as much")
            continue
        words, mine, its = differing[0]
        what = "quizzes" if "settings" in words else "items" if its - mine > 1 else "item"
        more = " more" if mine else ""
        told.append(f"{label} {words} {its - mine}{more} {what}")
    return f"{'; '.join(told)}."

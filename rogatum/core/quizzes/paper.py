"""A quiz on paper: one set drawn for each version, or all that its draws are from; the items in the order in which they stand."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Sequence
from typing import Literal

from rogatum.core.items import Bank, Item, parts
from rogatum.core.quizzes.draws import PartPlan, assemble
from rogatum.core.quizzes.model import Part, Quiz
from rogatum.core.quizzes.versions import version_name
from rogatum.core.quizzes.worth import UNSAID, Stock, stated_points

Draws = Literal["drawn", "stock"]
# What a set is drawn with where nobody chose a seed.
USUAL_SEED = "1"


def has_draws(bank: Bank) -> bool:
    """Whether a bank is one quiz that draws."""
    return len(bank.quizzes) == 1 and any(part.draw for part in bank.quizzes[0].parts)


def drawn_quiz(bank: Bank, seed: str, version: int, held: Callable[[Item], bool]) -> Quiz:
    """The one quiz of a bank with fixed items in the place of its draws.

    The same seed and version (from 0) draw the same. It draws only among what is `held`, so that a paper has as many questions as
    the quiz; a passage that several drawn items share keeps them together.
    """
    quiz, stock = bank.quizzes[0], Stock(bank)
    items = {item.id: item for item in bank.items}
    given = [tuple(key for key in stock.given_by(part) if part.draw is None or held(items[key])) for part in quiz.parts]
    plans = [PartPlan(keys, part.draw.pick if part.draw else None) for part, keys in zip(quiz.parts, given, strict=True)]
    sets = assemble(plans, f"{seed}/{version_name(version)}")
    return quiz.model_copy(update={"parts": [_fixed(part, keys, items) for part, keys in zip(quiz.parts, sets, strict=True)]})


def _fixed(part: Part, keys: Sequence[str], items: dict[str, Item]) -> Part:
    if part.draw is None:
        return part
    runs: dict[str, list[str]] = {}
    for key in keys:
        runs.setdefault(items[key].stimulus or f"\x00{key}", []).append(key)
    return part.model_copy(update={"items": [key for run in runs.values() for key in run], "draw": None})


def as_printed(bank: Bank, quiz: Quiz, unsaid: float | None = UNSAID) -> Bank:
    """The bank as a paper of its quiz: what the quiz gives first and in its order, then what lies beside the quiz.

    `quiz` is the bank's own, or that with a set in the place of its draws: what was not drawn is not printed. Each item is worth
    what the quiz says, and `unsaid` where nobody says anything.
    """
    stock, left = Stock(bank), {item.id: item for item in bank.items}
    items = []
    for part in quiz.parts:
        found = [left.pop(key) for key in stock.given_by(part) if key in left]
        items += [_worth(item, part, unsaid) for item in found]
    not_drawn = {key for part in bank.quizzes[0].parts if part.draw for key in stock.drawn_from(part.draw)}
    items += [item for key, item in left.items() if key not in not_drawn]
    return bank.model_copy(update={"items": items, "quizzes": [quiz]})


def _worth(item: Item, part: Part, unsaid: float | None) -> Item:
    if not parts.is_question(item):
        return item
    stated = stated_points(part, item.id, item.points)
    return item.model_copy(update={"points": unsaid if stated is None else stated})


def on_any(bank: Bank, sets: Iterable[Quiz], unsaid: float | None = UNSAID) -> Bank:
    """The bank with what stands on any of the papers of `sets`, worth what the first of them says."""
    papers = [as_printed(bank, quiz, unsaid) for quiz in sets]
    printed = {item.id: item for paper in reversed(papers) for item in paper.items}
    order = dict.fromkeys(item.id for paper in papers for item in paper.items)
    return bank.model_copy(update={"items": [printed[key] for key in order]})

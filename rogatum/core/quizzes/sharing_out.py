"""A wanted total shared out over a quiz, in steps that a gradebook shows, so that it adds up to the last step."""

from __future__ import annotations

import math
from collections.abc import Collection
from fractions import Fraction

from rogatum.core.errors import QuizRefused
from rogatum.core.quizzes.catalogue import Catalogue
from rogatum.core.quizzes.figures import GivenPart, given_parts, worth_of
from rogatum.core.quizzes.model import Part, Quiz

# What points are shared out in.
STEPS = (1.0, 0.5, 0.25, 0.1, 0.01)


def with_total(quiz: Quiz, catalogue: Catalogue, total: float, step: float, part_ids: Collection[str] = ()) -> Quiz:
    """The quiz, or some of its parts, with points so that they add up to a total, in the proportions that they have.

    All items of a draw stay worth the same, since students are given different ones. Raises QuizRefused.
    """
    chosen = [part for part in given_parts(quiz, catalogue) if (not part_ids or part.part.id in part_ids) and part.count]
    units = Fraction(str(total)) / Fraction(str(step))
    if units.denominator != 1:
        raise QuizRefused(f"{total:g} cannot be made of steps of {step:g}.", "Choose smaller steps.")
    entries = [entry for part in chosen for entry in _entries(part)]
    if not entries:
        raise QuizRefused("There is nothing to share points out to.", "Put items into the quiz first.")
    counts = _whole(int(units), entries)
    worth: dict[str, dict[str, float]] = {}
    for (part_id, key, _, _), count in zip(entries, counts, strict=True):
        worth.setdefault(part_id, {})[key] = float(count * Fraction(str(step)))
    parts = [_worth(part, worth[part.id]) if part.id in worth else part for part in quiz.parts]
    return quiz.model_copy(update={"parts": parts})


# Of a part: its id, an item (or none, for all of a draw), what it is worth now, and how many of it a student gets.
_Entry = tuple[str, str, float, int]


def _entries(given: GivenPart) -> list[_Entry]:
    part = given.part
    if part.draw:
        values = worth_of(part, given.lots)
        return [(part.id, "", sum(values) / len(values) or 1.0, given.count)]
    return [(part.id, key, lot.points_in(part, key) or 1.0, 1) for lot in given.lots if lot.is_question for key in lot.ids]


def _whole(units: int, entries: list[_Entry]) -> list[int]:
    """Units for each item of each entry: what is due by what they are worth, rounded so that all together come to the whole.

    What rounding down leaves goes to draws as wholes, as far as single items cannot take it, and to these one by one.
    """
    whole = sum((Fraction(worth) * size for _, _, worth, size in entries), Fraction(0))
    exact = [Fraction(worth) * units / whole for _, _, worth, _ in entries]
    counts = [math.floor(due) for due in exact]
    left = units - sum(count * size for count, (_, _, _, size) in zip(counts, entries, strict=True))
    order = sorted(range(len(entries)), key=lambda n: counts[n] - exact[n])
    draws = [n for n in order if entries[n][3] > 1]
    singles = [n for n in order if entries[n][3] == 1]
    ways = _sums([entries[n][3] for n in draws], left)
    best = max((total for total in ways if left - total <= len(singles)), default=None)
    if best is None:
        raise QuizRefused("The total does not come out evenly over the draws.", "Choose smaller steps, or another total.")
    for n in [*(draws[place] for place in ways[best]), *singles[: left - best]]:
        counts[n] += 1
    return counts


def _sums(sizes: list[int], most: int) -> dict[int, list[int]]:
    """What some of the sizes can add up to, up to `most`, with the places of those that do; the first places first."""
    found: dict[int, list[int]] = {0: []}
    for place, size in enumerate(sizes):
        for total, places in list(found.items()):
            if total + size <= most and total + size not in found:
                found[total + size] = [*places, place]
    return found


def _worth(part: Part, worth: dict[str, float]) -> Part:
    if part.draw:
        return part.model_copy(update={"points_each": worth[""], "points": {}})
    if len(set(worth.values())) == 1:
        return part.model_copy(update={"points_each": next(iter(worth.values())), "points": {}})
    return part.model_copy(update={"points_each": None, "points": worth})

"""Small quizzes for tests: lots of items by their numbers, and catalogues of pools."""

from __future__ import annotations

from rogatum.core.quizzes.catalogue import Catalogue, Lot
from rogatum.core.quizzes.criteria import Draw
from rogatum.core.quizzes.model import Part, Quiz
from rogatum.core.quizzes.settings import Settings

Pools = dict[str, list[Lot]]


def lot(
    *numbers: int, type_: str = "multiple_choice", points: float | None = 1, hard: str = "", outcome: str = "", path: str = ""
) -> Lot:
    """Items of these numbers that are alike."""
    outcomes, difficulties = ((outcome,) if outcome else ()), ((hard,) if hard else ())
    return Lot(tuple(map(str, numbers)), type_, points, outcomes, difficulties, 60.0, 30.0, (path,) if path else ())


def catalogue(pools: Pools) -> Catalogue:
    """A catalogue of pools by their names; each of their items is known by itself too."""
    placed = {
        (name,): [Lot(x.ids, x.type, x.points, x.outcomes, x.difficulties, x.seconds, x.words, (name,)) for x in lots]
        for name, lots in pools.items()
    }
    singles = {key: Lot((key,), *list(vars(x).values())[1:]) for lots in placed.values() for x in lots for key in x.ids}
    return Catalogue(singles, placed)


def drawn(pool: str, pick: int, each: float | None = 1, **more) -> Part:
    return Part(id=f"{pool}{pick}", title=pool, draw=Draw(pool=[pool], pick=pick, **more), points_each=each)


def fixed(*numbers: int, each: float | None = None, title: str = "Fixed") -> Part:
    return Part(id=f"f{numbers[0]}", title=title, items=[str(n) for n in numbers], points_each=each)


def quiz(*parts: Part, **settings) -> Quiz:
    return Quiz(id="q", title="Week 3", parts=list(parts), settings=Settings(**settings))

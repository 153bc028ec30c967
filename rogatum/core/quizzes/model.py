"""A quiz as a value: parts in order, points, settings, and the plan that it was made by. A bank holds its quizzes."""

from __future__ import annotations

from typing import Any, Literal

from pydantic import BaseModel, Field

from rogatum.core.content_mark import Content
from rogatum.core.quizzes.criteria import Draw
from rogatum.core.quizzes.plan import Plan
from rogatum.core.quizzes.settings import ANY_NUMBER, SETTINGS, ScoreFeedback, Settings


class Part(BaseModel):
    """Fixed items by their ids, or a draw. An item is worth what `points` says of it, else `points_each`, else its own points.

    `instructions` stand before it, and it begins a page where `page_break` says so. `picked_from` is what fixed items were picked
    from by a plan: where one is put back, another of it takes its place.
    """

    id: str = ""
    title: str = ""
    instructions: Content = ""
    page_break: bool = False
    items: list[str] = Field(default_factory=list)
    draw: Draw | None = None
    picked_from: Draw | None = None
    points_each: float | None = None
    points: dict[str, float] = Field(default_factory=dict)


class Quiz(BaseModel):
    id: str = ""
    title: str = ""
    parts: list[Part] = Field(default_factory=list)
    settings: Settings = Field(default_factory=Settings)
    plan: Plan | None = None

    def item_ids(self) -> list[str]:
        """The fixed items, each once, in order."""
        return list(dict.fromkeys(item for part in self.parts for item in part.items))


def renumbered(quiz: Quiz, names: dict[str, str]) -> Quiz:
    """The quiz with its items called as `names` says; what it does not name keeps its id."""
    return quiz.model_copy(update={"parts": [_renumbered(part, names) for part in quiz.parts]})


def _renumbered(part: Part, names: dict[str, str]) -> Part:
    def drawn(draw: Draw | None) -> Draw | None:
        return draw and draw.model_copy(update={"without": [names.get(item, item) for item in draw.without]})

    return part.model_copy(
        update={
            "items": [names.get(item, item) for item in part.items],
            "points": {names.get(item, item): points for item, points in part.points.items()},
            "draw": drawn(part.draw),
            "picked_from": drawn(part.picked_from),
        }
    )


def as_handed_on(quiz: Quiz, names: dict[str, str]) -> Quiz:
    """The quiz by the names of the items that go with it: how it was picked stays behind, and what is not there is not left out."""
    parts = [part.model_copy(update={"picked_from": None, "draw": _known(part.draw, names)}) for part in quiz.parts]
    return renumbered(quiz.model_copy(update={"parts": parts, "plan": None}), names)


def _known(draw: Draw | None, names: dict[str, str]) -> Draw | None:
    return draw and draw.model_copy(update={"without": [item for item in draw.without if item in names]})


def sparse(quiz: Quiz, mode: Literal["json", "python"] = "json") -> dict[str, Any]:
    """A quiz as it stands in a bank's JSON: without what is not said."""
    data = _without_nothing(quiz.model_dump(mode=mode)) | {"id": quiz.id, "title": quiz.title}
    data["parts"] = [_part(part, mode) for part in quiz.parts]
    return data


def _part(part: Part, mode: Literal["json", "python"]) -> dict[str, Any]:
    shown: dict[str, Any] = {} if part.draw else {"items": part.items}
    return shown | _without_nothing(part.model_dump(mode=mode, exclude_defaults=True)) | {"points_each": part.points_each}


def _without_nothing(value: dict[str, Any]) -> dict[str, Any]:
    kept = {name: _without_nothing(part) if isinstance(part, dict) else part for name, part in value.items()}
    return {name: part for name, part in kept.items() if part not in (None, "", [], {})}


__all__ = ["ANY_NUMBER", "SETTINGS", "Draw", "Part", "Quiz", "ScoreFeedback", "Settings", "as_handed_on", "renumbered", "sparse"]

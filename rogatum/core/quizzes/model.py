"""A quiz as a value: parts in order, points, settings. A bank holds its quizzes beside its items and pools.

What nobody said is absent: it is `None` here and left out of the JSON. Times are minutes, shares are from 0 to 1.
"""

from __future__ import annotations

from collections.abc import Iterator
from datetime import UTC, datetime
from typing import Annotated, Any, Literal

from pydantic import AfterValidator, BaseModel, Field
from pydantic_core import PydanticCustomError

from rogatum.core.content_mark import Content

Counts = Literal["last", "best", "first", "average"]
Release = Literal["nothing", "marks", "feedback", "everything"]
ReleaseWhen = Literal["at once", "after closing"]
Navigation = Literal["free", "in order"]
Submission = Literal["at the end", "item by item"]
ANY_NUMBER = 0


def _in_a_zone(time: datetime) -> datetime:
    """A time without a zone is one of the server's."""
    return time if time.tzinfo else time.replace(tzinfo=UTC)


def _of_these_centuries(time: datetime) -> datetime:
    if not 1970 <= time.year <= 2200:
        raise PydanticCustomError("bounds", "This time lies too far away")
    return time


Time = Annotated[datetime, AfterValidator(_in_a_zone), AfterValidator(_of_these_centuries)]


class Draw(BaseModel):
    """`pick` of the items of a pool, with those below it, for each student."""

    pool: list[str]
    pick: int = Field(ge=1)


class Part(BaseModel):
    """Fixed items by their ids, or a draw. An item is worth what `points` says of it, else `points_each`, else its own points."""

    id: str = ""
    title: str = ""
    items: list[str] = Field(default_factory=list)
    draw: Draw | None = None
    points_each: float | None = None
    points: dict[str, float] = Field(default_factory=dict)


class ScoreFeedback(BaseModel):
    """What is shown at the end to who reached `least` of the points and less than `below`."""

    content: Content
    least: float | None = Field(default=None, ge=0, le=1)
    below: float | None = Field(default=None, ge=0, le=1.01)


class Settings(BaseModel):
    time_limit: float | None = Field(default=None, gt=0, le=10_080, description="minutes")
    attempts: int | None = Field(default=None, ge=0, le=100, description="0 for any number")
    counts: Counts | None = None
    shuffle_items: bool | None = None
    shuffle_choices: bool | None = None
    opens: Time | None = None
    closes: Time | None = None
    release: Release | None = None
    release_when: ReleaseWhen | None = None
    navigation: Navigation | None = None
    submission: Submission | None = None
    skipping: bool | None = Field(default=None, description="whether an item may be left without a response")
    review: bool | None = Field(default=None, description="whether responses may be looked at when all is done")
    feedback: list[ScoreFeedback] | None = None

    def said(self) -> Iterator[tuple[str, Any]]:
        """The settings that are said, by name."""
        for name in type(self).model_fields:
            value = getattr(self, name)
            if value is not None:
                yield name, value


SETTINGS: tuple[str, ...] = tuple(Settings.model_fields)


class Quiz(BaseModel):
    id: str = ""
    title: str = ""
    parts: list[Part] = Field(default_factory=list)
    settings: Settings = Field(default_factory=Settings)

    def item_ids(self) -> list[str]:
        """The fixed items, each once, in order."""
        return list(dict.fromkeys(item for part in self.parts for item in part.items))


def renumbered(quiz: Quiz, names: dict[str, str]) -> Quiz:
    """The quiz with its items called as `names` says; what it does not name keeps its id."""
    parts = [
        part.model_copy(
            update={
                "items": [names.get(item, item) for item in part.items],
                "points": {names.get(item, item): points for item, points in part.points.items()},
            }
        )
        for part in quiz.parts
    ]
    return quiz.model_copy(update={"parts": parts})


def sparse(quiz: Quiz, mode: Literal["json", "python"] = "json") -> dict[str, Any]:
    """A quiz as it stands in a bank's JSON: without what is not said."""
    data = _without_nothing(quiz.model_dump(mode=mode)) | {"id": quiz.id, "title": quiz.title}
    data["parts"] = [_part(part, mode) for part in quiz.parts]
    return data


def _part(part: Part, mode: Literal["json", "python"]) -> dict[str, Any]:
    shown: dict[str, Any] = {} if part.draw else {"items": part.items}
    return shown | _without_nothing(part.model_dump(mode=mode)) | {"points_each": part.points_each}


def _without_nothing(value: dict[str, Any]) -> dict[str, Any]:
    kept = {name: _without_nothing(part) if isinstance(part, dict) else part for name, part in value.items()}
    return {name: part for name, part in kept.items() if part not in (None, "", [], {})}

"""A quiz's settings, with their defaults."""

from __future__ import annotations

from datetime import UTC, datetime
from typing import Annotated, Literal

from pydantic import AfterValidator, BaseModel, Field
from pydantic_core import PydanticCustomError


def _in_a_zone(time: datetime) -> datetime:
    """A time without a zone is one of the server's."""
    return time if time.tzinfo else time.replace(tzinfo=UTC)


def _of_these_centuries(time: datetime) -> datetime:
    if not 1970 <= time.year <= 2200:
        raise PydanticCustomError("bounds", "This time lies too far away")
    return time


Time = Annotated[datetime, AfterValidator(_in_a_zone), AfterValidator(_of_these_centuries)]


class QuizSettings(BaseModel):
    time_limit: int | None = Field(default=None, ge=1, le=1440, description="minutes; null for none")
    attempts: int | None = Field(default=1, ge=1, le=100, description="null for any number")
    counts: Literal["last", "best", "first", "average"] = "best"
    shuffle_items: bool = False
    shuffle_choices: bool = True
    opens: Time | None = None
    closes: Time | None = None
    release: Literal["nothing", "marks", "feedback", "everything"] = "feedback"
    release_when: Literal["at once", "after closing"] = "at once"

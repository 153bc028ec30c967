"""What is set of a quiz: when it is open and to whom, how it is taken, what is released and when.

What nobody said is absent: it is `None` here and left out of the JSON. Lengths of time are minutes, shares are from 0 to 1.
"""

from __future__ import annotations

from collections.abc import Iterator
from datetime import UTC, datetime
from typing import Annotated, Any, Literal, get_args

from pydantic import AfterValidator, BaseModel, Field, model_validator
from pydantic_core import PydanticCustomError

from rogatum.core.content_mark import Content

Counts = Literal["last", "best", "first", "average"]
Late = Literal["refused", "taken", "with a deduction"]
TimeUp = Literal["handed in", "refused", "may go on"]
Shown = Literal["all at once", "by parts", "one at a time"]
Navigation = Literal["free", "in order"]
Submission = Literal["at the end", "item by item"]
ReleaseWhen = Literal["never", "on submitting", "after the last attempt", "after closing"]
RELEASE_WHEN: tuple[ReleaseWhen, ...] = get_args(ReleaseWhen)
ANY_NUMBER = 0


def _in_a_zone(time: datetime) -> datetime:
    """A time without a zone is one of the server's."""
    return time if time.tzinfo else time.replace(tzinfo=UTC)


def _of_these_centuries(time: datetime) -> datetime:
    if not 1970 <= time.year <= 2200:
        raise PydanticCustomError("bounds", "This time lies too far away")
    return time


Time = Annotated[datetime, AfterValidator(_in_a_zone), AfterValidator(_of_these_centuries)]
# When something is shown to students: at one of these times of a quiz, or at a moment.
Release = ReleaseWhen | Time
Minutes = Annotated[float, Field(gt=0, le=10_080)]
Name = Annotated[str, Field(min_length=1, max_length=200)]


class Window(BaseModel):
    """When work may be begun (`opens`), is on time (`due`), and ends (`closes`)."""

    opens: Time | None = None
    due: Time | None = None
    closes: Time | None = None


WINDOW: tuple[str, ...] = tuple(Window.model_fields)


class SectionDates(Window):
    """The dates of one section of the course, where they are its own."""

    section: Name


class StudentException(Window):
    """What is otherwise for one student: more time (`time_factor`), dates of their own, more attempts."""

    student: Name
    section: str = Field(default="", max_length=200)
    time_factor: float | None = Field(default=None, ge=1, le=10)
    attempts: int | None = Field(default=None, ge=0, le=100, description="0 for any number")


class ScoreFeedback(BaseModel):
    """What is shown at the end to who reached `least` of the points and less than `below`."""

    content: Content
    least: float | None = Field(default=None, ge=0, le=1)
    below: float | None = Field(default=None, ge=0, le=1.01)


class Settings(Window):
    late: Late | None = Field(default=None, description="what happens to work that is handed in after `due`")
    late_deduction: float | None = Field(default=None, ge=0, le=1, description="the share of the marks that each late day costs")
    sections: list[SectionDates] | None = Field(default=None, max_length=200)
    exceptions: list[StudentException] | None = Field(default=None, max_length=1000)

    attempts: int | None = Field(default=None, ge=0, le=100, description="0 for any number")
    counts: Counts | None = None
    pause: Annotated[float, Field(gt=0, le=100_000)] | None = Field(default=None, description="minutes between attempts")
    time_limit: Minutes | None = Field(default=None, description="minutes")
    time_up: TimeUp | None = Field(default=None, description="what happens when the time limit is over")
    one_sitting: bool | None = Field(default=None, description="whether leaving, or a lost connection, ends an attempt")
    access_code: str | None = Field(default=None, max_length=100)
    out_of: float | None = Field(default=None, gt=0, le=1_000_000, description="the total that the gradebook is to show")

    shown: Shown | None = None
    navigation: Navigation | None = Field(default=None, description="whether there is a way back")
    submission: Submission | None = None
    skipping: bool | None = Field(default=None, description="whether an item may be left without a response")
    shuffle_parts: bool | None = None
    shuffle_items: bool | None = None
    shuffle_choices: bool | None = None

    show_marks: Release | None = None
    show_responses: Release | None = None
    show_right: Release | None = Field(default=None, description="which responses were right")
    show_key: Release | None = None
    show_feedback: Release | None = None
    feedback: list[ScoreFeedback] | None = None

    @model_validator(mode="before")
    @classmethod
    def _of_older(cls, said: Any) -> Any:
        """Settings of before each thing that is shown had its own time."""
        if not isinstance(said, dict) or not {"release", "release_when", "review"} & said.keys():
            return said
        kept = {name: value for name, value in said.items() if name not in ("release", "release_when", "review")}
        return _released_as(said.get("release"), said.get("release_when"), said.get("review")) | kept

    def said(self) -> Iterator[tuple[str, Any]]:
        """The settings that are said, by name."""
        for name in SETTINGS:
            value = getattr(self, name)
            if value is not None:
                yield name, value


SETTINGS: tuple[str, ...] = tuple(Settings.model_fields)
RELEASED: tuple[str, ...] = tuple(name for name in SETTINGS if name.startswith("show_"))
# What each is where a quiz does not say: what the platforms of most receivers do.
USUAL_RELEASE: dict[str, ReleaseWhen] = {name: "never" if name == "show_key" else "on submitting" for name in RELEASED}
# What a pattern of settings leaves out: it is of one quiz, at one time, for its students.
OF_ONE_QUIZ = frozenset({*WINDOW, "sections", "exceptions", "out_of", "feedback"})

_OLDER = {
    "nothing": frozenset[str](),
    "marks": frozenset({"show_marks"}),
    "feedback": frozenset({"show_marks", "show_right", "show_feedback"}),
    "everything": frozenset({"show_marks", "show_right", "show_feedback", "show_key"}),
}


def _released_as(release: Any, when: Any, review: Any) -> dict[str, Any]:
    found: dict[str, Any] = {}
    shown: ReleaseWhen = "after closing" if when == "after closing" else "on submitting"
    if release in _OLDER:
        named = ("show_marks", "show_right", "show_feedback", "show_key")
        found = {name: shown if name in _OLDER[release] else "never" for name in named}
    if review is not None:
        found["show_responses"] = shown if review else "never"
    return found


def pattern_of(settings: Settings) -> Settings:
    """What of the settings another quiz can have too."""
    return settings.model_copy(update=dict.fromkeys(OF_ONE_QUIZ))


def with_pattern(settings: Settings, pattern: Settings) -> Settings:
    """The settings as a pattern has them; what is of this quiz alone stays."""
    return pattern.model_copy(update={name: getattr(settings, name) for name in OF_ONE_QUIZ})

"""A quiz's settings, with their defaults."""

from __future__ import annotations

from datetime import datetime
from typing import Literal

from pydantic import BaseModel, Field


class QuizSettings(BaseModel):
    time_limit: int | None = Field(default=None, ge=1, le=1440, description="minutes; null for none")
    attempts: int | None = Field(default=1, ge=1, le=100, description="null for any number")
    counts: Literal["last", "best", "first", "average"] = "best"
    shuffle_items: bool = False
    shuffle_choices: bool = True
    opens: datetime | None = None
    closes: datetime | None = None
    release: Literal["nothing", "marks", "feedback", "everything"] = "feedback"
    release_when: Literal["at once", "after closing"] = "at once"

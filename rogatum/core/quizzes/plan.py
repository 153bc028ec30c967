"""A plan as a value: where the items of a quiz come from, and how many of each kind. It stays with the quiz."""

from __future__ import annotations

from pydantic import BaseModel, Field

from rogatum.core.quizzes.criteria import Draw

MOST_ROWS = 100


class Plan(BaseModel):
    """Each row is as many items as it picks of where they come from.

    What is picked is fixed, or a draw for each student (`as_draws`). `apart_from` are ids of quizzes whose items are left out.
    """

    rows: list[Draw] = Field(default_factory=list, max_length=MOST_ROWS)
    as_draws: bool = False
    apart_from: list[str] = Field(default_factory=list, max_length=200)
    seed: str = Field(default="", max_length=100)

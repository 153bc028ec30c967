"""What can be asked for: one model for each repair, with what a person says for it."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import BaseModel, Field, StringConstraints

Number = Annotated[float, Field(ge=-1e12, le=1e12, allow_inf_nan=False)]
Code = Annotated[str, StringConstraints(min_length=1, max_length=300, strip_whitespace=True)]
Typed = Annotated[str, StringConstraints(max_length=200_000)]


class PointsByRatio(BaseModel):
    """All points on another scale: what is `was` becomes `becomes`, the rest in the same ratio."""

    kind: Literal["points-ratio"] = "points-ratio"
    was: float = Field(gt=0, le=1e9, allow_inf_nan=False)
    becomes: float = Field(ge=0, le=10_000, allow_inf_nan=False)


class PointsByTable(BaseModel):
    """Points by their distinct values; values that are not in the table stay. Null stands for none."""

    kind: Literal["points-table"] = "points-table"
    table: list[tuple[Number | None, Annotated[float, Field(ge=0, le=10_000, allow_inf_nan=False)] | None]] = Field(max_length=1000)


class ToNumeric(BaseModel):
    """Typed answers that are numbers become numbers, with a tolerance that is absolute or a per cent of the value."""

    kind: Literal["to-numeric"] = "to-numeric"
    tolerance: float = Field(default=0.0, ge=0, le=1e12, allow_inf_nan=False)
    relative: bool = False


class PartUnits(BaseModel):
    """Numbers that are typed with a unit become numbers, and the unit stands apart."""

    kind: Literal["part-units"] = "part-units"


class OutcomesByNumber(BaseModel):
    """Outcomes by the numbers of questions, “1–5: 2.1; 6, 8: 2.2”; with `replace` they take the place of those that are there."""

    kind: Literal["outcomes-by-number"] = "outcomes-by-number"
    text: Typed
    replace: bool = False


class OutcomesByChapter(BaseModel):
    """Outcomes by the chapters (pools) of the source."""

    kind: Literal["outcomes-by-chapter"] = "outcomes-by-chapter"
    table: list[tuple[list[Annotated[str, StringConstraints(max_length=300)]], list[Code]]] = Field(max_length=1000)
    replace: bool = False


class KeysFromList(BaseModel):
    """Keys from a list that was pasted: “1 C 2 A”, one a line, groups, rows of a table."""

    kind: Literal["keys"] = "keys"
    text: Typed


class FeedbackFromSheet(BaseModel):
    """Feedback by the numbers of questions: rows of a sheet, each a number and a text, parted by a tab, a bar or a semicolon."""

    kind: Literal["feedback"] = "feedback"
    text: Typed
    slot: Literal["general", "correct", "incorrect"] = "general"


class PicturesByName(BaseModel):
    """Pictures that are missing, by the names that items give them; `files` are the refs of media by the names of dropped files."""

    kind: Literal["pictures"] = "pictures"
    files: dict[Annotated[str, StringConstraints(max_length=500)], Annotated[str, StringConstraints(max_length=200)]] = Field(
        max_length=2000
    )


Wish = Annotated[
    PointsByRatio
    | PointsByTable
    | ToNumeric
    | PartUnits
    | OutcomesByNumber
    | OutcomesByChapter
    | KeysFromList
    | FeedbackFromSheet
    | PicturesByName,
    Field(discriminator="kind"),
]

_WORDS = {
    "points-ratio": "Set points to another scale",
    "points-table": "Set points by table",
    "to-numeric": "Made typed numbers numeric",
    "part-units": "Parted units from numbers",
    "outcomes-by-number": "Set outcomes by number",
    "outcomes-by-chapter": "Set outcomes by chapter",
    "keys": "Set keys from a list",
    "feedback": "Put feedback onto items",
    "pictures": "Put pictures in their places",
}


def wish_words(wish: Wish) -> str:
    """What was done, for the history."""
    return _WORDS[wish.kind]

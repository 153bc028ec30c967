"""What goes in and out of the API of hand-offs."""

from __future__ import annotations

from datetime import datetime

from ninja import Field, Schema

from rogatum.core.fidelity import Ledger, Totals
from rogatum.core.formats.shared.base import Copy
from rogatum.web.bounds import Id, In, Name
from rogatum.web.pools.schemas import Selection


class FormatOut(Schema):
    name: str
    label: str
    suffix: str
    read: bool
    write: bool
    types: list[str]
    carries: list[str]
    lacks: list[str]
    # The settings of a quiz that it has no place for, in words; none where it has no place for quizzes at all.
    settings_lacking: list[str]
    copies: list[Copy]
    most_versions: int


class HandOffIn(In):
    format: Name
    selection: Selection | None = None
    quiz: Id | None = None
    copy_for: Copy = "teacher"
    versions: int = Field(1, ge=1, le=26)


class HandOffRow(Schema):
    id: int
    title: str
    format: str
    label: str
    items: int
    size: int
    created: datetime
    totals: Totals
    # Nothing was changed and nothing was lost, of items and of quizzes.
    sound: bool
    file_name: str
    # For whom and in how many versions, where that is not the usual.
    made_as: str = ""


class HandOffOut(HandOffRow):
    ledger: Ledger

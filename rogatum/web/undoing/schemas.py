"""What goes in and out of the API of undoing."""

from __future__ import annotations

from datetime import datetime
from uuid import UUID

from ninja import Schema


class OperationOut(Schema):
    id: int
    label: str
    created: datetime
    undone: bool


class LastOut(Schema):
    """What an account did last and did not undo, in whatever course; and what it has asked for that is still being done."""

    operation: OperationOut | None
    course: int | None
    course_name: str
    still: str


class UndoneOut(OperationOut):
    """`job` is what still undoes it, where it is much."""

    job: UUID | None = None

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


class UndoneOut(OperationOut):
    """`job` is what still undoes it, where it is much."""

    job: UUID | None = None

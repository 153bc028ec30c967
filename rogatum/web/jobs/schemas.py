"""What goes in and out of the API of jobs."""

from __future__ import annotations

from datetime import datetime
from typing import Any
from uuid import UUID

from ninja import Schema

from rogatum.web.errors import Problem


class JobOut(Schema):
    id: UUID
    work: str
    label: str
    state: str
    done: int
    total: int
    seen: bool
    created: datetime
    result: dict[str, Any] | None
    problem: Problem | None


class WorkerOut(Schema):
    running: bool

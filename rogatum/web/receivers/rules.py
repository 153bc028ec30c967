"""Who may see a receiver sheet: whose it is. Those that ship are everybody's."""

from __future__ import annotations

from typing import Any

from django.db.models import QuerySet

from rogatum.web.receivers.models import Receiver


def can_see(user: Any, row: Receiver) -> bool:
    return bool(user is not None and user.is_authenticated and row.owner_id == user.pk)


def receivers_for(user: Any) -> QuerySet[Receiver]:
    """The sheets of an account's own."""
    return Receiver.objects.filter(owner=user) if user.is_authenticated else Receiver.objects.none()

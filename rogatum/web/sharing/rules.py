"""Who may see an offer: who sent it and whom it was sent to."""

from __future__ import annotations

from typing import Any

from django.db.models import Q, QuerySet

from rogatum.web.sharing.models import Offer


def can_see(user: Any, row: Offer) -> bool:
    return bool(user is not None and user.is_authenticated and user.pk in (row.sender_id, row.recipient_id))


def is_recipient(user: Any, row: Offer) -> bool:
    return bool(user is not None and user.is_authenticated and user.pk == row.recipient_id)


def is_sender(user: Any, row: Offer) -> bool:
    return bool(user is not None and user.is_authenticated and user.pk == row.sender_id)


def offers_for(user: Any) -> QuerySet[Offer]:
    """The offers that an account sent or was sent."""
    if not user.is_authenticated:
        return Offer.objects.none()
    return Offer.objects.filter(Q(sender=user) | Q(recipient=user)).select_related("sender", "recipient", "source")

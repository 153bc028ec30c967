"""Signing in, throttled: after some failures an account or an address waits, and a flood of tries cannot hold up the others.

Two limits, since a college may sit behind one address: few for one account, more for one address.
"""

from __future__ import annotations

import threading
from collections.abc import Iterator
from contextlib import contextmanager
from datetime import timedelta

from django.http import HttpRequest
from django.utils import timezone

from rogatum.web.accounts.models import FailedSignIn
from rogatum.web.errors import NotPossible

WINDOW = timedelta(minutes=10)
MOST_OF_AN_ACCOUNT = 10
MOST_OF_AN_ADDRESS = 60
# Hashing takes a processor for a while, and that is its purpose: two do it at once, a few more wait for them, and the rest are told
# to come again, so that most of the server's threads stay free for those who are in.
_hashing = threading.BoundedSemaphore(2)
_places = threading.BoundedSemaphore(4)
LONGEST_WAIT = 5.0


def _account(name: str) -> str:
    return name.strip().casefold()[:150]


def address(request: HttpRequest) -> str:
    """The other side's address as the server knows it; a header counts only where a trusted proxy was named at the start."""
    return str(request.META.get("REMOTE_ADDR") or "")[:64]


def refuse_too_many(request: HttpRequest, name: str) -> None:
    """Raises NotPossible (429) where an account or an address failed too often of late. Nothing is hashed for it."""
    recent = FailedSignIn.objects.filter(at__gt=timezone.now() - WINDOW)
    of_account = recent.filter(account=_account(name)).count()
    of_address = recent.filter(address=address(request)).count()
    if of_account >= MOST_OF_AN_ACCOUNT or of_address >= MOST_OF_AN_ADDRESS:
        minutes = int(WINDOW.total_seconds() // 60)
        raise NotPossible("There were too many tries that failed.", f"Wait {minutes} minutes, and try again.", status=429)


def note_failure(request: HttpRequest, name: str) -> None:
    now = timezone.now()
    FailedSignIn.objects.filter(at__lt=now - WINDOW).delete()
    FailedSignIn.objects.create(account=_account(name), address=address(request), at=now)


def note_success(name: str) -> None:
    """An account that got in starts anew; what failed for others from its address still counts there."""
    FailedSignIn.objects.filter(account=_account(name)).delete()


_TOO_MANY = NotPossible("Too many are signing in just now.", "Wait a moment, and try again.", status=503)


@contextmanager
def turn_to_hash() -> Iterator[None]:
    """A place among the few that hash at once. Raises NotPossible (503) where all are taken."""
    if not _places.acquire(blocking=False):
        raise _TOO_MANY
    try:
        if not _hashing.acquire(timeout=LONGEST_WAIT):
            raise _TOO_MANY
        try:
            yield
        finally:
            _hashing.release()
    finally:
        _places.release()

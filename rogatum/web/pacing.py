"""How many requests one account may have at work at a time, and what becomes of those that nobody waits for any more."""

from __future__ import annotations

import threading
from collections import Counter
from collections.abc import Callable
from typing import Any

from django.http import HttpRequest, HttpResponse

from rogatum.apart.runner import still_wanted
from rogatum.web.errors import problem

# As many as a browser asks for at once are at work, and some more wait for their turn. There are more threads than both
# together, so that no account keeps another from an answer.
MOST_AT_ONCE, MOST_WAITING, PATIENCE = 6, 2, 10.0

_turns = threading.Condition()
_at_work: Counter[Any] = Counter()
_waiting: Counter[Any] = Counter()


def pace(answer: Callable[[HttpRequest], HttpResponse]) -> Callable[[HttpRequest], HttpResponse]:
    """Middleware: refuses what one account asks for beyond that, and lets work end whose client is gone."""

    def paced(request: HttpRequest) -> HttpResponse:
        key = request.user.pk if request.user.is_authenticated else None
        if key is not None and not _begun(key):
            return problem(429, "You have asked for much at once.", way_out="Wait until some of it is there, and try again.")
        gone = request.META.get("waitress.client_disconnected")
        token = still_wanted.set((lambda: not gone()) if gone else None)
        try:
            return answer(request)
        finally:
            still_wanted.reset(token)
            if key is not None:
                _ended(key)

    return paced


def _begun(key: Any) -> bool:
    with _turns:
        if _at_work[key] >= MOST_AT_ONCE:
            if _waiting[key] >= MOST_WAITING:
                return False
            _waiting[key] += 1
            free = _turns.wait_for(lambda: _at_work[key] < MOST_AT_ONCE, PATIENCE)
            _less(_waiting, key)
            if not free:
                return False
        _at_work[key] += 1
        return True


def _ended(key: Any) -> None:
    with _turns:
        _less(_at_work, key)
        _turns.notify_all()


def _less(counts: Counter[Any], key: Any) -> None:
    counts[key] -= 1
    if counts[key] <= 0:
        del counts[key]

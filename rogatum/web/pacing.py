"""How many requests one account may have at work at a time, and what becomes of those that nobody waits for any more."""

from __future__ import annotations

import threading
from collections import Counter
from collections.abc import Callable
from typing import Any

from django.http import HttpRequest, HttpResponse

from rogatum.apart.runner import still_wanted
from rogatum.web.errors import problem

# As many as a browser asks for at once. There are more threads than that, so that no account keeps another from an answer.
MOST_AT_ONCE = 6

_lock = threading.Lock()
_at_work: Counter[Any] = Counter()


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
    with _lock:
        if _at_work[key] >= MOST_AT_ONCE:
            return False
        _at_work[key] += 1
        return True


def _ended(key: Any) -> None:
    with _lock:
        _at_work[key] -= 1
        if not _at_work[key]:
            del _at_work[key]

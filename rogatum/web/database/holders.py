"""Who works at the moment, for the watch on the lock."""

from __future__ import annotations

from collections.abc import Callable
from contextvars import ContextVar

from django.http import HttpRequest, HttpResponse

holder: ContextVar[str] = ContextVar("holder", default="a command")


def name_request(answer: Callable[[HttpRequest], HttpResponse]) -> Callable[[HttpRequest], HttpResponse]:
    """Middleware that names each request as the holder of what it locks."""

    def named(request: HttpRequest) -> HttpResponse:
        token = holder.set(f"{request.method} {request.path}")
        try:
            return answer(request)
        finally:
            holder.reset(token)

    return named

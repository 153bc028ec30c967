"""The page that holds the interface."""

from __future__ import annotations

from django.conf import settings
from django.http import HttpRequest, HttpResponse
from django.views.decorators.csrf import ensure_csrf_cookie

NOT_BUILT = "<!doctype html><title>Rogatum</title><p>The interface is not built yet: run <code>make demo</code>."


@ensure_csrf_cookie
def index(_request: HttpRequest) -> HttpResponse:
    page = settings.FRONTEND / "index.html"
    response = HttpResponse(page.read_bytes() if page.exists() else NOT_BUILT)
    response["Cache-Control"] = "no-cache"
    return response

"""One shape for every error: what the fact is, where, and the way out. All exceptions become it here."""

from __future__ import annotations

import logging
from typing import Any

from django.core.exceptions import ValidationError as DjangoValidationError
from django.http import Http404, HttpRequest, HttpResponse, JsonResponse
from ninja import NinjaAPI, Schema
from ninja.errors import AuthenticationError, HttpError
from ninja.errors import ValidationError as NinjaValidationError
from pydantic import ValidationError

from rogatum.core.errors import UnknownFormat, UnreadableSource

log = logging.getLogger(__name__)


class Problem(Schema):
    """An error as the interface shows it. `keys` counts those of a source that holds nothing else: they can be joined to a test."""

    fact: str
    place: str = ""
    way_out: str = ""
    keys: int = 0


class NotPossible(Exception):
    """A change that the rules refuse; the interface shows its words."""

    def __init__(self, fact: str, way_out: str = "", status: int = 409) -> None:
        super().__init__(fact)
        self.problem, self.status = Problem(fact=fact, way_out=way_out), status


def problem(status: int, fact: str, place: str = "", way_out: str = "") -> JsonResponse:
    return JsonResponse(Problem(fact=fact, place=place, way_out=way_out).model_dump(), status=status)


def _invalid(errors: list[Any]) -> JsonResponse:
    first = errors[0] if errors else {}
    place = ".".join(str(part) for part in first.get("loc", ()) if part not in ("body", "payload"))
    return problem(422, f"{first.get('msg', 'The request is not valid')}.", place, "Correct it and try again.")


def csrf_failure(request: HttpRequest, reason: str = "") -> HttpResponse:
    return problem(403, "The page is too old for this.", way_out="Load it again.")


def install(api: NinjaAPI) -> None:
    """Maps every exception that may leave an endpoint to a problem."""

    def on(kind: type[Exception], respond: Any) -> None:
        api.add_exception_handler(kind, lambda _request, error: respond(error))

    on(AuthenticationError, lambda _e: problem(401, "You are not signed in.", way_out="Sign in."))
    on(Http404, lambda _e: problem(404, "There is no such thing here.", way_out="Go back to the course."))
    on(NotPossible, lambda e: JsonResponse(e.problem.model_dump(), status=e.status))
    on(UnreadableSource, lambda e: problem(422, f"{e.what}. {e.why}", way_out=e.way_out))
    on(UnknownFormat, lambda e: problem(422, str(e), way_out="Choose another format."))
    on(NinjaValidationError, lambda e: _invalid(e.errors))
    on(ValidationError, lambda e: _invalid([dict(error) for error in e.errors()]))
    on(DjangoValidationError, lambda e: problem(422, " ".join(e.messages)))
    on(HttpError, lambda e: problem(e.status_code, str(e)))


def unexpected(_request: HttpRequest, error: Exception) -> HttpResponse:
    log.exception("unexpected error", exc_info=error)
    return problem(500, "Something went wrong in the program.", way_out="Try again; nothing was changed.")

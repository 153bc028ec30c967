"""One shape for every error: what the fact is, where, and the way out. All exceptions become it here."""

from __future__ import annotations

import errno
import logging
from typing import Any

from django.core.exceptions import RequestDataTooBig, SuspiciousOperation, TooManyFilesSent
from django.core.exceptions import ValidationError as DjangoValidationError
from django.db import IntegrityError, OperationalError
from django.http import Http404, HttpRequest, HttpResponse, JsonResponse, UnreadablePostError
from django.http.multipartparser import MultiPartParserError
from ninja import NinjaAPI, Schema
from ninja.errors import AuthenticationError, HttpError
from ninja.errors import ValidationError as NinjaValidationError
from pydantic import ValidationError

from rogatum.apart import BrokeOff, NoLongerWanted
from rogatum.core.errors import NoSuchForm, NoSuchKey, NoSuchType, NothingToMend, UnknownFormat, UnreadableSource

log = logging.getLogger(__name__)


class Problem(Schema):
    """An error as the interface shows it.

    `keys` counts those of a source that holds nothing else: they can be joined to a test. `rest` counts what of an operation can be
    undone, where something stands in the way of the whole.
    """

    fact: str
    place: str = ""
    way_out: str = ""
    keys: int = 0
    rest: int = 0


class Conflict(Problem):
    """A save over a change that it has not seen: the version that is there now, and what it holds, beside what was sent."""

    version: str = ""
    current: dict[str, Any] = {}


class NotPossible(Exception):
    """A change that the rules refuse; the interface shows its words."""

    def __init__(self, fact: str, way_out: str, status: int = 409) -> None:
        super().__init__(fact)
        self.problem, self.status = Problem(fact=fact, way_out=way_out), status


class Outdated(NotPossible):
    """A save over a change that it has not seen."""

    def __init__(self, version: str, current: dict[str, Any]) -> None:
        super().__init__("This was changed in the meantime.", "Look at both, and keep one of them.", status=412)
        self.problem = Conflict(**self.problem.model_dump(), version=version, current=current)


def no_room() -> Problem:
    return Problem(
        fact="There is no room left on the server's disk; nothing was kept.",
        way_out="Make room, or ask whoever runs the server, and start it again.",
    )


# The database itself refuses what names something that is gone, or takes a place that is taken.
_OVERTAKEN = ("What this builds on was changed in the meantime; nothing was kept.", "", "Load the page again.")


_FULL = {errno.ENOSPC, errno.EDQUOT, errno.EFBIG}


def is_full(error: BaseException | None) -> bool:
    """Whether an error says that a disk is full, whoever raised it."""
    if isinstance(error, OSError) and error.errno in _FULL:
        return True
    if isinstance(error, OperationalError) and ("full" in str(error) or "disk I/O" in str(error)):
        return True
    cause = error.__cause__ if error else None
    return is_full(cause) if cause else False


def is_busy(error: BaseException) -> bool:
    return isinstance(error, OperationalError) and "locked" in str(error)


def problem(status: int, fact: str, place: str = "", way_out: str = "") -> JsonResponse:
    return JsonResponse(Problem(fact=fact, place=place, way_out=way_out).model_dump(), status=status)


def _invalid(errors: list[Any]) -> JsonResponse:
    first = errors[0] if errors else {}
    place = first.get("ctx", {}).get("place") or ".".join(
        str(part)[:80] for part in first.get("loc", ())[:12] if part not in ("body", "payload", "path", "query")
    )
    words = _WORDS.get(first.get("type", ""), first.get("msg", "The request is not valid"))
    fact = words.format_map(first.get("ctx", {})) if words in _WORDS.values() else words
    return problem(422, f"{fact.rstrip('.')}.", place, "Correct it and try again.")


# What is said of the usual errors of validation, instead of the library's own words.
_WORDS = {
    "missing": "This is missing",
    "greater_than_equal": "This must be at least {ge:g}",
    "less_than_equal": "This must be at most {le:g}",
    "string_too_long": "This must have at most {max_length} characters",
    "too_long": "There are too many of these; at most {max_length} can be given",
    "int_parsing": "This must be a whole number",
    "int_type": "This must be a whole number",
    "int_from_float": "This must be a whole number",
    "int_parsing_size": "This number is too large",
    "float_parsing": "This must be a number",
    "float_type": "This must be a number",
    "finite_number": "This must be a number",
    "string_type": "This must be a text",
    "bool_parsing": "This must be true or false",
    "uuid_parsing": "This is no name of a job",
    "literal_error": "This must be one of {expected}",
}


def csrf_failure(request: HttpRequest, reason: str = "") -> HttpResponse:
    return problem(403, "The page is too old for this.", way_out="Load it again.")


def install(api: NinjaAPI) -> None:
    """Maps every exception that may leave an endpoint to a problem."""

    def on(kind: type[Exception], respond: Any) -> None:
        api.add_exception_handler(kind, lambda _request, error: respond(error))

    on(AuthenticationError, lambda _e: problem(401, "You are not signed in.", way_out="Sign in."))
    on(Http404, lambda _e: problem(404, "There is no such thing here.", way_out="Go back to the course."))
    on(FileNotFoundError, lambda _e: problem(404, "What was stored is no longer there.", way_out="Make it again."))
    on(NotPossible, lambda e: JsonResponse(e.problem.model_dump(), status=e.status))
    on(UnreadableSource, lambda e: problem(422, f"{e.what}. {e.why}", way_out=e.way_out))
    on(NoSuchKey, lambda e: problem(422, str(e), way_out="Choose among what the item shows."))
    on(NoSuchType, lambda e: problem(422, str(e), way_out="Choose another type."))
    on(NoSuchForm, lambda e: problem(422, str(e), way_out="Leave it as it is, or give it two bounds that count."))
    on(NothingToMend, lambda e: problem(422, e.fact, way_out=e.way_out))
    on(UnknownFormat, lambda e: problem(422, str(e), way_out="Choose another format."))
    on(NinjaValidationError, lambda e: _invalid(e.errors))
    on(ValidationError, lambda e: _invalid([dict(error) for error in e.errors()]))
    on(DjangoValidationError, lambda e: problem(422, " ".join(e.messages)))
    on(HttpError, lambda e: problem(e.status_code, f"{str(e).rstrip('.')}.", way_out="Correct it and try again."))
    on(MultiPartParserError, lambda _e: problem(400, "What was sent breaks off or is no form.", way_out="Send it again."))
    on(RequestDataTooBig, lambda _e: problem(413, "This is too much at once.", way_out="Send less, or a file."))
    on(TooManyFilesSent, lambda _e: problem(413, "These are too many files at once.", way_out="Drop them as one archive."))
    on(UnreadablePostError, lambda _e: problem(400, "What was sent broke off.", way_out="Send it again."))
    on(SuspiciousOperation, lambda _e: problem(400, "This cannot be taken as it is.", way_out="Correct it and try again."))
    on(IntegrityError, lambda _e: problem(409, *_OVERTAKEN))
    on(RecursionError, lambda _e: problem(422, "This lies too deep within itself.", way_out="Make it flatter."))
    on(NoLongerWanted, lambda _e: problem(503, "Nobody waits for this any more.", way_out="Ask for it again."))
    on(BrokeOff, lambda _e: problem(500, "Something went wrong in the program.", way_out="Try again; nothing was changed."))


def unexpected(_request: HttpRequest, error: Exception) -> HttpResponse:
    if is_full(error):
        return JsonResponse(no_room().model_dump(), status=507)
    if is_busy(error):
        return problem(503, "The database is busy.", way_out="Try again in a moment; nothing was changed.")
    log.exception("unexpected error", exc_info=error)
    return problem(500, "Something went wrong in the program.", way_out="Try again; nothing was changed.")

"""What is answered when a request failed through no fault of its sender."""

import sys

from django.db import OperationalError
from django.http import HttpRequest, HttpResponse, JsonResponse

from core.sentence import sentence
from server.base.errors import TryLater
from server.base.incident import NOBODYS, log, record_incident
from server.base.language import translated
from server.base.retrying import has_lost

# The database is back within half a minute, or its operator has been called.
AGAIN_AFTER_S = 5


def unreachable(request: HttpRequest, error: Exception) -> TryLater:
    """What is said when the database could not answer, or ended a transaction for another's."""
    if isinstance(error, OperationalError) and has_lost(error):
        log.warning("lost against another at %s %s: %s", request.method, request.path, error)
        return TryLater(
            sentence("Others were changing the same; nothing was changed. Try again."), 1
        )
    log.exception("the database failed at %s %s", request.method, request.path)
    return TryLater(
        sentence(
            "The database can't be reached just now. Try again in a moment, and look whether what "
            "you did is there."
        ),
        AGAIN_AFTER_S,
    )


def broken(request: HttpRequest) -> str:
    """Record the exception under way, and what is said of it."""
    number = record_incident(f"unexpected failure at {request.method} {request.path}")
    return sentence(
        "Something went wrong on our side (incident {number}); nothing was changed. Try again.",
        number=number,
    )


def handler500(request: HttpRequest) -> HttpResponse:
    """What fails outside of the API's own handlers: on the way in, or on the way out."""
    error = sys.exc_info()[1]
    if isinstance(error, NOBODYS):
        later = unreachable(request, error)
        answer = _answer(request, later.status, later.message)
        answer["Retry-After"] = str(later.seconds)
        return answer
    return _answer(request, 500, broken(request))


def _answer(request: HttpRequest, status: int, message: str) -> HttpResponse:
    message = translated(message)
    if request.path.startswith("/api"):
        return JsonResponse({"message": message, "problems": []}, status=status)
    return HttpResponse(message, status=status, content_type="text/plain; charset=utf-8")

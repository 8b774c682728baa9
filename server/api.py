"""The HTTP API: routers of every noun, and how refusals read."""

import logging

from django.core.exceptions import RequestDataTooBig, SuspiciousOperation
from django.db import DataError, IntegrityError, InterfaceError, OperationalError
from django.http import HttpRequest, HttpResponse, UnreadablePostError
from django.http.multipartparser import MultiPartParserError
from ninja import NinjaAPI
from ninja.errors import AuthenticationError, HttpError, ValidationError

from core.sentence import sentence
from server.accounts.api import router as accounts
from server.accounts.people_api import router as people
from server.advice.api import router as advice
from server.advice.decisions_api import router as decisions
from server.advice.finish_api import router as finish
from server.advice.learned_api import router as learned
from server.advice.paddy_api import router as paddies_at_work
from server.advice.refill_api import router as refill_seen
from server.advice.seasons_api import router as season_courses
from server.advice.yield_api import router as yield_value
from server.base.error_schema import ErrorOut, ProblemOut
from server.base.errors import Problem, RequestError, TryLater
from server.base.failures import broken, unreachable
from server.base.incident import record_incident
from server.base.json_out import FiniteJson
from server.base.signed_in import Session
from server.base.value_problems import value_problem
from server.blocks.api import router as blocks
from server.blocks.seasons_api import router as seasons
from server.calibration.api import router as calibration
from server.checklist.api import router as checklist
from server.crops.api import router as crops
from server.cuttings.api import router as cuttings
from server.deficits.api import router as deficits
from server.devices.api import router as devices
from server.events.api import router as events
from server.farms.api import router as farms
from server.farms.changes_api import router as changes
from server.fieldwork.api import router as fieldwork
from server.fieldwork.rounds_api import router as rounds
from server.findings.api import router as findings
from server.findings.application_api import router as application_seen
from server.imports.api import router as imports
from server.instruments.api import router as instruments
from server.instruments.feel_api import router as feel
from server.leaves.api import router as leaves
from server.limits.api import router as limits
from server.maps.api import router as maps
from server.paddies.api import router as paddies
from server.plan.api import router as run_sheet
from server.plan.jobs_api import router as jobs
from server.readings.api import router as readings
from server.readings.views_api import router as reading_views
from server.sensorthings.api import router as sensorthings
from server.siting.api import router as siting
from server.siting.spots.api import router as spots
from server.soils.api import router as soils
from server.supply.api import router as supply
from server.surveys.api import router as surveys
from server.today.api import router as today
from server.valves.api import router as valves
from server.valves.controller_api import router as valve_controllers
from server.water.api import router as water
from server.water.sets_api import router as sets
from server.weather.api import router as weather

log = logging.getLogger(__name__)

api = NinjaAPI(
    title="Even Furrow",
    version="0.1",
    description="Readings in; when, how much and how many hours out.",
    auth=Session(),
    docs_url=None,
    openapi_url=None,
    renderer=FiniteJson(),
)
for _router in (
    accounts,
    people,
    farms,
    changes,
    checklist,
    siting,
    spots,
    surveys,
    soils,
    crops,
    blocks,
    seasons,
    limits,
    maps,
    supply,
    water,
    sets,
    weather,
    instruments,
    feel,
    readings,
    reading_views,
    imports,
    findings,
    devices,
    fieldwork,
    rounds,
    calibration,
    sensorthings,
    events,
    advice,
    learned,
    refill_seen,
    application_seen,
    season_courses,
    decisions,
    run_sheet,
    finish,
    paddies,
    paddies_at_work,
    yield_value,
    leaves,
    deficits,
    cuttings,
    jobs,
    today,
    valves,
    valve_controllers,
):
    api.add_router("", _router)


def _refusal(
    request: HttpRequest, status: int, message: str, problems: tuple[Problem, ...] = ()
) -> HttpResponse:
    body = ErrorOut(
        message=message,
        problems=[ProblemOut.model_validate(p, from_attributes=True) for p in problems],
    )
    return api.create_response(request, body, status=status)


@api.exception_handler(RequestError)
def _refused(request: HttpRequest, exc: RequestError) -> HttpResponse:
    return _refusal(request, exc.status, exc.message, exc.problems)


@api.exception_handler(TryLater)
def _later(request: HttpRequest, exc: TryLater) -> HttpResponse:
    answer = _refusal(request, exc.status, exc.message)
    answer["Retry-After"] = str(exc.seconds)
    return answer


@api.exception_handler(RequestDataTooBig)
def _too_big(request: HttpRequest, exc: RequestDataTooBig) -> HttpResponse:
    return _refusal(
        request, 413, sentence("That is too large to be sent at once; nothing was changed.")
    )


@api.exception_handler(AuthenticationError)
def _not_signed_in(request: HttpRequest, exc: AuthenticationError) -> HttpResponse:
    return _refusal(request, 401, sentence("You are not signed in."))


@api.exception_handler(HttpError)
def _unreadable(request: HttpRequest, exc: HttpError) -> HttpResponse:
    return _refusal(
        request, exc.status_code, sentence("The request could not be read: {exc}.", exc=exc)
    )


@api.exception_handler(MultiPartParserError)
@api.exception_handler(UnreadablePostError)
@api.exception_handler(SuspiciousOperation)
def _no_request(request: HttpRequest, exc: Exception) -> HttpResponse:
    """What is no form, or broke off, or has more parts than any form."""
    log.warning("unreadable %s %s: %s", request.method, request.path, exc)
    return _refusal(request, 400, sentence("The request could not be read; nothing was changed."))


@api.exception_handler(ValidationError)
def _invalid(request: HttpRequest, exc: ValidationError) -> HttpResponse:
    problems = tuple(value_problem(error) for error in exc.errors)
    return _refusal(request, 422, sentence("Some of the values can't be used."), problems)


@api.exception_handler(DataError)
def _unstorable(request: HttpRequest, exc: DataError) -> HttpResponse:
    # U+0000 in a column of text; in one of JSON that, or half a character written as its escape.
    if "NUL" in str(exc) or "Unicode escape" in str(exc) or "surrogate" in str(exc):
        return _no_text(request)
    number = record_incident(f"unstorable at {request.method} {request.path}")
    return _refusal(
        request,
        422,
        sentence(
            "A value can't be stored; nothing was changed. Check the figures and dates (incident "
            "{number}).",
            number=number,
        ),
    )


def _no_text(request: HttpRequest) -> HttpResponse:
    return _refusal(
        request,
        422,
        sentence("Some of the text can't be stored; nothing was changed."),
        (Problem(message=sentence("Enter it again without invisible or control characters.")),),
    )


@api.exception_handler(UnicodeEncodeError)
def _half_a_character(request: HttpRequest, exc: UnicodeEncodeError) -> HttpResponse:
    # One half of a pair that stands for a character: JSON can write it, no text holds it.
    return _no_text(request)


@api.exception_handler(IntegrityError)
def _in_the_way(request: HttpRequest, exc: IntegrityError) -> HttpResponse:
    # Checked before, so it came in between: two people at the same thing at once.
    log.warning("constraint at %s %s: %s", request.method, request.path, exc)
    return _refusal(
        request,
        422,
        sentence(
            "Someone else changed the same thing just now; nothing was changed. Reload the page."
        ),
    )


@api.exception_handler(Exception)
def _broken(request: HttpRequest, exc: Exception) -> HttpResponse:
    return _refusal(request, 500, broken(request))


@api.exception_handler(InterfaceError)
@api.exception_handler(OperationalError)
def _unreachable(request: HttpRequest, exc: Exception) -> HttpResponse:
    return _later(request, unreachable(request, exc))

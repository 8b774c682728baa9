"""The farm itself: its clock, and the ET0 stated for the days ahead."""

from datetime import datetime

from django.http import HttpRequest
from ninja import Router

from core.crop.reference import RATIO_RANGE
from server.base.error_schema import ERRORS
from server.base.errors import Problem, RequestError
from server.base.schema import Schema
from server.base.signed_in import person
from server.farms.access import enter
from server.farms.models import Role
from server.farms.people import people_of
from server.farms.rules import Action

router = Router(tags=["farms"])


class StatedEtIn(Schema):
    """Reference ET on grass [mm/day]; all null returns to the recorded weather.

    ``alfalfa_ratio`` is alfalfa-reference ET over grass-reference ET; null: not stated.
    """

    low: float | None
    expected: float | None
    high: float | None
    alfalfa_ratio: float | None = None


class ClockOut(Schema):
    """The farm's own instant; a demo's may stand still."""

    now: datetime
    time_zone: str


class PersonRef(Schema):
    id: int
    name: str
    role: Role


@router.get(
    "/farms/{slug}/people", response={200: list[PersonRef], **ERRORS}, operation_id="people"
)
def get_people(request: HttpRequest, slug: str) -> list[PersonRef]:
    """Who belongs to the farm."""
    farm = enter(person(request), slug).farm
    return [PersonRef(id=m.user.pk, name=m.user.name, role=Role(m.role)) for m in people_of(farm)]


@router.get("/farms/{slug}/clock", response={200: ClockOut, **ERRORS}, operation_id="clock")
def get_clock(request: HttpRequest, slug: str) -> ClockOut:
    farm = enter(person(request), slug).farm
    return ClockOut(now=farm.now(), time_zone=farm.time_zone)


@router.put(
    "/farms/{slug}/stated-et", response={200: StatedEtIn, **ERRORS}, operation_id="state_et"
)
def state_et(request: HttpRequest, slug: str, data: StatedEtIn) -> StatedEtIn:
    access = enter(person(request), slug, Action.STATE_ET)
    low, mid, high = data.low, data.expected, data.high
    given = [x for x in (low, mid, high) if x is not None]
    if given and len(given) < 3:
        raise RequestError(
            "The ET was not saved.",
            (Problem(field="expected", message="Give low, expected and high, or none."),),
        )
    if (
        low is not None
        and mid is not None
        and high is not None
        and not 0 <= low <= mid <= high <= 20
    ):
        raise RequestError(
            "The ET was not saved.",
            (
                Problem(
                    field="expected",
                    message="The three must rise from low to high, between 0 and 20 mm a day.",
                ),
            ),
        )
    ratio = data.alfalfa_ratio
    if ratio is not None and not RATIO_RANGE[0] <= ratio <= RATIO_RANGE[1]:
        raise RequestError(
            "The ET was not saved.",
            (
                Problem(
                    field="alfalfa_ratio",
                    message="Alfalfa over grass ET lies between 1.0 and 1.5, about 1.2.",
                ),
            ),
        )
    farm = access.farm
    farm.et0_low, farm.et0_expected, farm.et0_high = low, mid, high
    farm.alfalfa_ratio = ratio
    farm.save(update_fields=["et0_low", "et0_expected", "et0_high", "alfalfa_ratio"])
    return data

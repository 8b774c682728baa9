"""The farm itself: its clock, and the ET0 stated for the days ahead."""

from datetime import datetime

from django.http import HttpRequest
from ninja import Router

from server.base.error_schema import ERRORS
from server.base.schema import Schema
from server.base.signed_in import person
from server.farms.access import enter
from server.farms.stated_et import ExpectedEtIn, enter_et

router = Router(tags=["farms"])


class ClockOut(Schema):
    """The farm's own instant; a demo's may stand still."""

    now: datetime
    time_zone: str


@router.get("/farms/{slug}/clock", response={200: ClockOut, **ERRORS}, operation_id="clock")
def get_clock(request: HttpRequest, slug: str) -> ClockOut:
    farm = enter(person(request), slug).farm
    return ClockOut(now=farm.now(), time_zone=farm.time_zone)


@router.put(
    "/farms/{slug}/stated-et", response={200: ExpectedEtIn, **ERRORS}, operation_id="enter_et"
)
def put_stated_et(request: HttpRequest, slug: str, data: ExpectedEtIn) -> ExpectedEtIn:
    return enter_et(enter(person(request), slug), data)

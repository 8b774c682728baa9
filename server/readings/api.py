"""Readings typed by hand, and the last ones."""

from datetime import datetime

from django.http import HttpRequest
from ninja import Field, Router

from core.instrument.reading_units import ReadingUnit
from server.base.error_schema import ERRORS
from server.base.moment import Moment
from server.base.schema import Body, Schema
from server.base.signed_in import person
from server.farms.access import enter
from server.instruments.services import find_instrument
from server.readings.services import (
    HandReading,
    enter_readings,
    last_readings,
)
from server.readings.store import UpsertCount

router = Router(tags=["readings"])


class HandValue(Body):
    channel_id: int
    value: float


class HandIn(Body):
    """``time`` without an offset is the farm's local time."""

    time: Moment
    unit: ReadingUnit
    values: list[HandValue] = Field(max_length=200)


class CountOut(Schema):
    new: int
    changed: int
    unchanged: int


class LastReading(Schema):
    channel_id: int
    time: datetime
    value: float
    unit: ReadingUnit


@router.post(
    "/farms/{slug}/instruments/{instrument_id}/readings",
    response={200: CountOut, **ERRORS},
    operation_id="enter_readings",
)
def post_readings(request: HttpRequest, slug: str, instrument_id: int, data: HandIn) -> UpsertCount:
    access = enter(person(request), slug)
    instrument = find_instrument(access, instrument_id)
    values = [HandReading(v.channel_id, v.value) for v in data.values]
    return enter_readings(access, instrument, data.time, data.unit, values)


@router.get(
    "/farms/{slug}/instruments/{instrument_id}/last",
    response={200: list[LastReading], **ERRORS},
    operation_id="last_readings",
)
def get_last(request: HttpRequest, slug: str, instrument_id: int) -> list[LastReading]:
    instrument = find_instrument(enter(person(request), slug), instrument_id)
    return [
        LastReading(channel_id=k, time=r.time, value=r.value, unit=r.in_unit)
        for k, r in last_readings(instrument).items()
    ]

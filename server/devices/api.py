"""Loggers: their tokens for people, and the door through which they send."""

from datetime import datetime
from typing import Any, cast

from django.http import HttpRequest
from django.utils import timezone
from ninja import Field, Router, Status

from core.instrument.kinds import InstrumentKind, Quantity
from core.instrument.reading_units import ReadingUnit, units_of
from core.sentence import sentence
from server.base.error_schema import ERRORS, ErrorOut
from server.base.errors import Problem, RequestError
from server.base.schema import Body, Keys, Schema
from server.base.signed_in import person
from server.devices.auth import DeviceToken
from server.devices.body import CSV_COLUMNS, Sent, from_csv, from_json, inflated
from server.devices.ingest import CLOCK_WRONG_SECONDS, channels_of, ingest
from server.devices.models import Device
from server.devices.services import Issued, add_device, find_device, renew_token, revoke
from server.farms.access import enter
from server.instruments.models import Channel

router = Router(tags=["devices"])
TOKEN = DeviceToken()


class DeviceOut(Schema):
    """``skew_seconds`` is the device's clock less ours; null is unknown."""

    id: int
    name: str
    simulated: bool
    token_hint: str
    instruments: list[int]
    made_at: datetime
    revoked_at: datetime | None
    last_seen_at: datetime | None
    skew_seconds: float | None
    clock_wrong: bool
    battery_v: float | None
    signal_dbm: float | None
    last_refused: int


class IssuedOut(Schema):
    """The token is shown this once; only its hash is kept."""

    device: DeviceOut
    token: str


class DeviceIn(Body):
    name: str = Field(max_length=80)
    instruments: Keys = []


class RefusedRowOut(Schema):
    row: int
    reason: str


class IngestOut(Schema):
    """``row`` counts the readings in the order sent, from 0: first all series, then readings."""

    batch: int
    repeated: bool
    new: int
    changed: int
    unchanged: int
    refused_count: int
    refused: list[RefusedRowOut]
    skew_seconds: float | None
    clock_wrong: bool


class IngestClock(Schema):
    """``rate`` is farm seconds in a real one: 1, but for a demo; 0 while its clock stands."""

    now: datetime
    time_zone: str
    rate: float


class IngestChannel(Schema):
    """A channel the device may write to; depth in mm."""

    id: int
    block: str
    instrument: str
    kind: InstrumentKind
    depth_mm: float | None
    quantity: Quantity
    units: list[ReadingUnit]


def device_out(row: Device) -> DeviceOut:
    """A device; its instruments should be prefetched."""
    skew = row.skew_seconds
    return DeviceOut(
        id=row.pk,
        name=row.name,
        simulated=row.simulated,
        token_hint=row.token_hint,
        instruments=[i.pk for i in row.instruments.all()],
        made_at=row.made_at,
        revoked_at=row.revoked_at,
        last_seen_at=row.last_seen_at,
        skew_seconds=skew,
        clock_wrong=_clock_wrong(skew),
        battery_v=row.battery_v,
        signal_dbm=row.signal_dbm,
        last_refused=row.last_refused,
    )


def _clock_wrong(skew_seconds: float | None) -> bool:
    return skew_seconds is not None and abs(skew_seconds) > CLOCK_WRONG_SECONDS


def _issued(issued: Issued) -> IssuedOut:
    return IssuedOut(device=device_out(issued.device), token=issued.token)


@router.get(
    "/farms/{slug}/devices", response={200: list[DeviceOut], **ERRORS}, operation_id="devices"
)
def get_devices(request: HttpRequest, slug: str) -> list[DeviceOut]:
    farm = enter(person(request), slug).farm
    rows = Device.objects.for_farm(farm).prefetch_related("instruments").order_by("name")
    return [device_out(d) for d in rows]


@router.post(
    "/farms/{slug}/devices",
    response={201: IssuedOut, **ERRORS},
    operation_id="add_device",
)
def post_device(request: HttpRequest, slug: str, data: DeviceIn) -> Status[IssuedOut]:
    access = enter(person(request), slug)
    return Status(201, _issued(add_device(access, data.name, data.instruments)))


@router.post(
    "/farms/{slug}/devices/{device_id}/token",
    response={200: IssuedOut, **ERRORS},
    operation_id="renew_device_token",
)
def post_token(request: HttpRequest, slug: str, device_id: int) -> IssuedOut:
    access = enter(person(request), slug)
    return _issued(renew_token(access, device_id))


@router.delete(
    "/farms/{slug}/devices/{device_id}/token",
    response={200: DeviceOut, **ERRORS},
    operation_id="revoke_device",
)
def delete_token(request: HttpRequest, slug: str, device_id: int) -> DeviceOut:
    access = enter(person(request), slug)
    revoke(access, device_id)
    return device_out(find_device(access, device_id))


_BODY: dict[str, Any] = {
    "requestBody": {
        "required": True,
        "content": {
            "application/json": {
                "schema": {
                    "type": "object",
                    "properties": {
                        "batch": {"type": "string", "maxLength": 80},
                        "sent_at": {"type": "string", "format": "date-time"},
                        "battery_v": {"type": "number"},
                        "signal_dbm": {"type": "number"},
                        "series": {
                            "type": "array",
                            "items": {
                                "type": "object",
                                "required": ["channel", "unit", "times", "values"],
                                "properties": {
                                    "channel": {"type": "integer"},
                                    "unit": {"type": "string"},
                                    "times": {
                                        "type": "array",
                                        "items": {"type": "string", "format": "date-time"},
                                    },
                                    "values": {"type": "array", "items": {"type": "number"}},
                                },
                            },
                        },
                        "readings": {
                            "type": "array",
                            "items": {
                                "type": "object",
                                "required": ["channel", "time", "value", "unit"],
                                "properties": {
                                    "channel": {"type": "integer"},
                                    "time": {"type": "string", "format": "date-time"},
                                    "value": {"type": "number"},
                                    "unit": {"type": "string"},
                                },
                            },
                        },
                    },
                }
            },
            "text/csv": {
                "schema": {"type": "string", "example": ",".join(CSV_COLUMNS)},
            },
        },
    }
}


def _sent(request: HttpRequest) -> Sent:
    body = inflated(request.body, request.headers.get("Content-Encoding", "").strip().lower())
    kind = (request.content_type or "").lower()
    if kind == "text/csv":
        return from_csv(body)
    if kind in ("application/json", ""):
        return from_json(body)
    raise RequestError(
        sentence("The batch can't be read; nothing was stored."),
        (
            Problem(
                message=sentence(
                    "The body must be application/json or text/csv, not {kind!r}.", kind=kind[:60]
                )
            ),
        ),
    )


@router.post(
    "/ingest",
    auth=TOKEN,
    response={200: IngestOut, frozenset({401, 422, 429}): ErrorOut},
    operation_id="ingest",
    openapi_extra=_BODY,
)
def post_ingest(request: HttpRequest) -> IngestOut:
    """A device's readings; good rows are stored, each once, bad ones are named.

    The token goes in the Authorization header. A batch with a name is stored once, however
    often it is sent; without one its readings still are. Bodies may be gzip.
    """
    device = cast(Device, request.auth)  # type: ignore[attr-defined]
    report = ingest(device, _sent(request), timezone.now())
    return IngestOut(
        batch=report.batch,
        repeated=report.repeated,
        new=report.count.new,
        changed=report.count.changed,
        unchanged=report.count.unchanged,
        refused_count=report.refused_count,
        refused=[RefusedRowOut(row=r.row, reason=r.reason) for r in report.refused],
        skew_seconds=report.skew_seconds,
        clock_wrong=_clock_wrong(report.skew_seconds),
    )


@router.get(
    "/ingest/clock",
    auth=TOKEN,
    response={200: IngestClock, 401: ErrorOut},
    operation_id="ingest_clock",
)
def get_ingest_clock(request: HttpRequest) -> IngestClock:
    """The instant by which readings are judged, for a device to set its clock by."""
    farm = cast(Device, request.auth).farm  # type: ignore[attr-defined]
    moving = farm.fixed_now is None or farm.clock_started_at is not None
    rate = farm.clock_rate if farm.fixed_now is not None else 1.0
    return IngestClock(now=farm.now(), time_zone=farm.time_zone, rate=rate if moving else 0.0)


@router.get(
    "/ingest/channels",
    auth=TOKEN,
    response={200: list[IngestChannel], 401: ErrorOut},
    operation_id="ingest_channels",
)
def get_channels(request: HttpRequest) -> list[IngestChannel]:
    """What the device may write to, by the numbers it sends."""
    device = cast(Device, request.auth)  # type: ignore[attr-defined]
    allowed = channels_of(device)
    rows = (
        Channel.objects.for_farm(device.farm)
        .filter(pk__in=allowed)
        .select_related("instrument__block")
        .order_by("instrument__block__name", "instrument__label", "depth_mm")
    )
    return [
        IngestChannel(
            id=c.pk,
            block=c.instrument.block.name,
            instrument=c.instrument.label,
            kind=InstrumentKind(c.instrument.kind),
            depth_mm=c.depth_mm,
            quantity=allowed[c.pk],
            units=units_of(allowed[c.pk]),
        )
        for c in rows
    ]

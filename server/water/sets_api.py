"""Water given and to come: sets, rain by gauge beside them, holds."""

from collections.abc import Sequence
from datetime import datetime, timedelta

from django.db.models import Q
from django.http import HttpRequest, HttpResponse
from ninja import Field, Query, Router, Status

from core.irrigation.system import SystemKind
from server.base.error_schema import ERRORS
from server.base.json_out import json_answer
from server.base.moment import Moment
from server.base.schema import Body, DoneOut, Keys, Schema
from server.base.signed_in import person
from server.blocks.models import Block
from server.farms.access import Access, enter
from server.water.equipment import block_system
from server.water.holds import HoldIn, HoldOut, add_holds, hold_out, remove_hold
from server.water.meter import beside_on_meter, count_by_meter, meter_of
from server.water.models import Hold, Irrigation
from server.water.passes import SeenAt, moves_on, pass_of
from server.water.sets import (
    LONGEST,
    SetFigures,
    add_position,
    add_sets,
    cancel_set,
    correct_set,
    remove_position,
    start_set,
)
from server.weather.models import WeatherDay

router = Router(tags=["water"])
# What of a set's block and of who made it is long, and not told.
UNTOLD = ("block__outline", "block__design", "made_by__password")


class SetIn(Body):
    """A set as it is planned, runs or ran; see `SetFigures`. Depth [mm gross] on the part that
    was watered, meters [m3], times without an offset farm-local."""

    status: Irrigation.Status
    started_at: Moment
    ended_at: Moment | None = None
    hours: float | None = Field(None, gt=0, le=240)
    gross_mm: float | None = Field(None, gt=0, le=1000)
    meter_start_m3: float | None = Field(None, ge=0, le=1e12)
    meter_end_m3: float | None = Field(None, ge=0, le=1e12)
    share: float = Field(1, gt=0, le=1)
    place_from: float | None = Field(None, ge=0, le=1)
    place_to: float | None = Field(None, ge=0, le=1)
    note: str = Field("", max_length=300)

    def figures(self) -> SetFigures:
        return SetFigures(**self.model_dump())


class SetsIn(SetIn):
    block_ids: Keys


class BeginIn(Body):
    at: Moment | None = None
    meter_m3: float | None = Field(None, ge=0, le=1e12)


class WayOut(Schema):
    """An irrigation on its way over the block, places as shares of it [-].

    ``place`` is where it is now, or where it ended; ``expected_end`` by where it was seen.
    """

    place_from: float
    place_to: float
    place: float
    expected_end: datetime
    positions: list[SeenAt]


class SetOut(Schema):
    """``gross_mm`` over the whole block; planned figures beside those of the run.

    ``meter_shared_with`` counts the other blocks whose water the same meter counted. ``way`` is
    null where the water does not move over the block.
    """

    id: int
    block_id: int
    block: str
    status: Irrigation.Status
    started_at: datetime
    ended_at: datetime
    gross_mm: float
    net_mm: float
    volume_m3: float
    share: float
    amount_from: Irrigation.AmountFrom
    planned_start_at: datetime | None
    planned_gross_mm: float | None
    meter_start_m3: float | None
    meter_end_m3: float | None
    meter_shared_with: int
    note: str
    made_by: str | None
    way: WayOut | None


class WaterBlock(Schema):
    """What a set on a block is reckoned from."""

    id: int
    name: str
    area_m2: float
    rate_mm_h: float
    moves: bool
    system: SystemKind
    supply: str
    irrigator: str | None


class GaugeDay(Schema):
    date: str
    rain_mm: float | None
    source: str


class WaterOut(Schema):
    """``given_count``: irrigations given or cancelled in the stretch, listed or not."""

    now: datetime
    time_zone: str
    sets: list[SetOut]
    given_count: int
    holds: list[HoldOut]
    rain: list[GaugeDay]


class WaterStretch(Body):
    """``find`` is a part of a block's name; ``given`` irrigations that are over are listed, and
    every one that is not."""

    days: int = Field(14, ge=1, le=366)
    block_id: int | None = None
    find: str = Field("", max_length=80)
    given: int = Field(100, ge=1, le=5000)


def _way_out(row: Irrigation, now: datetime) -> WayOut:
    way = pass_of(row, now)
    return WayOut(
        place_from=way.first,
        place_to=way.last,
        place=way.place_at(0.0),
        expected_end=now + timedelta(hours=way.expected_end_hours),
        positions=[SeenAt.model_validate(p) for p in row.positions],
    )


def set_out(row: Irrigation, now: datetime, shared: int, moves: bool) -> SetOut:
    """A set with its block's name, which should be loaded; ``shared`` by how many others on its
    meter, ``moves`` when its block is irrigated part by part."""
    return SetOut(
        id=row.pk,
        block_id=row.block_id,
        block=row.block.name,
        status=Irrigation.Status(row.status),
        started_at=row.started_at,
        ended_at=row.ended_at,
        gross_mm=row.gross_mm,
        net_mm=row.gross_mm * row.block.efficiency,
        volume_m3=row.gross_mm / 1000 * row.block.area_m2,
        share=row.share,
        amount_from=Irrigation.AmountFrom(row.amount_from),
        planned_start_at=row.planned_start_at,
        planned_gross_mm=row.planned_gross_mm,
        meter_start_m3=row.meter_start_m3,
        meter_end_m3=row.meter_end_m3,
        meter_shared_with=shared,
        note=row.note,
        made_by=row.made_by.name if row.made_by else None,
        way=_way_out(row, now) if moves else None,
    )


def _set_out(access: Access, row: Irrigation) -> SetOut:
    return set_out(row, access.now(), len(beside_on_meter(row)), moves_on(row.block))


@router.get("/farms/{slug}/water", response={200: WaterOut, **ERRORS}, operation_id="water")
def water(request: HttpRequest, slug: str, stretch: Query[WaterStretch]) -> HttpResponse:
    """Sets to come and running, then those that are over; holds that are not over; rain."""
    farm = enter(person(request), slug).farm
    now = farm.now()
    since = now - timedelta(days=stretch.days)
    sets = Irrigation.objects.for_farm(farm).filter(
        ended_at__gt=since, started_at__gt=since - LONGEST, block__name__icontains=stretch.find
    )
    holds = Hold.objects.for_farm(farm).filter(ends_at__gt=now)
    if stretch.block_id is not None:
        sets, holds = sets.filter(block=stretch.block_id), holds.filter(block=stretch.block_id)
    to_do = Q(status__in=[Irrigation.Status.PLANNED, Irrigation.Status.RUNNING])
    listed = sets.select_related("block", "made_by").defer(*UNTOLD)
    listed = listed.order_by("-started_at", "block__name")
    days = WeatherDay.objects.for_farm(farm).filter(date__gte=since.date(), rain_mm__gt=0)
    return json_answer(
        request,
        WaterOut(
            now=now,
            time_zone=farm.time_zone,
            sets=_sets_out([*listed.filter(to_do), *listed.exclude(to_do)[: stretch.given]], now),
            given_count=sets.exclude(to_do).count(),
            holds=[hold_out(h) for h in holds.select_related("block")],
            rain=[
                GaugeDay(date=d.date.isoformat(), rain_mm=d.rain_mm, source=d.source)
                for d in days.order_by("-date")
            ],
        ),
    )


def _sets_out(rows: Sequence[Irrigation], now: datetime) -> list[SetOut]:
    """Sets whose blocks are loaded."""
    on_meter = count_by_meter(rows)
    return [
        set_out(row, now, max(on_meter.get(meter_of(row), 0) - 1, 0), moves_on(row.block))
        for row in rows
    ]


@router.get(
    "/farms/{slug}/water/blocks",
    response={200: list[WaterBlock], **ERRORS},
    operation_id="water_blocks",
)
def blocks_to_water(request: HttpRequest, slug: str) -> HttpResponse:
    """The blocks on which water can be logged, by name."""
    farm = enter(person(request), slug).farm
    rows = Block.objects.for_farm(farm).defer("outline").select_related("irrigator")
    blocks = [
        WaterBlock(
            id=b.pk,
            name=b.name,
            area_m2=b.area_m2,
            rate_mm_h=block_system(b).application_rate_mm_h,
            moves=moves_on(b),
            system=SystemKind(b.system_kind),
            supply=b.supply,
            irrigator=b.irrigator.name if b.irrigator else None,
        )
        for b in rows.order_by("name")
    ]
    return json_answer(request, blocks)


@router.post(
    "/farms/{slug}/water", response={201: list[SetOut], **ERRORS}, operation_id="add_irrigations"
)
def give(request: HttpRequest, slug: str, data: SetsIn) -> Status[list[SetOut]]:
    """Plan, begin or log the same set on one block or several; all or none."""
    access = enter(person(request), slug)
    rows = add_sets(access, data.block_ids, SetFigures(**data.model_dump(exclude={"block_ids"})))
    on_meter = len(rows) - 1 if data.meter_start_m3 is not None else 0
    now = access.now()
    return Status(201, [set_out(r, now, on_meter, moves_on(r.block)) for r in rows])


@router.put(
    "/farms/{slug}/water/{set_id}", response={200: SetOut, **ERRORS}, operation_id="correct_set"
)
def mend(request: HttpRequest, slug: str, set_id: int, data: SetIn) -> SetOut:
    """End a running set, or correct one."""
    access = enter(person(request), slug)
    return _set_out(access, correct_set(access, set_id, data.figures()))


@router.post(
    "/farms/{slug}/water/{set_id}/begin",
    response={200: SetOut, **ERRORS},
    operation_id="start_set",
)
def begin(request: HttpRequest, slug: str, set_id: int, data: BeginIn) -> SetOut:
    access = enter(person(request), slug)
    return _set_out(access, start_set(access, set_id, data.at, data.meter_m3))


@router.post(
    "/farms/{slug}/water/{set_id}/positions",
    response={200: SetOut, **ERRORS},
    operation_id="add_position",
)
def see_machine(request: HttpRequest, slug: str, set_id: int, data: SeenAt) -> SetOut:
    """Record where a machine is and where it goes from there."""
    access = enter(person(request), slug)
    return _set_out(access, add_position(access, set_id, data))


@router.delete(
    "/farms/{slug}/water/{set_id}/positions",
    response={200: SetOut, **ERRORS},
    operation_id="remove_position",
)
def remove_machine_position(request: HttpRequest, slug: str, set_id: int) -> SetOut:
    """Take back the position recorded last."""
    access = enter(person(request), slug)
    return _set_out(access, remove_position(access, set_id))


@router.delete(
    "/farms/{slug}/water/{set_id}", response={200: SetOut, **ERRORS}, operation_id="cancel_set"
)
def cancel(request: HttpRequest, slug: str, set_id: int) -> SetOut:
    """It will not run, or never did; it stays on record as cancelled."""
    access = enter(person(request), slug)
    return _set_out(access, cancel_set(access, set_id))


@router.post(
    "/farms/{slug}/holds", response={201: list[HoldOut], **ERRORS}, operation_id="add_holds"
)
def hold(request: HttpRequest, slug: str, data: HoldIn) -> Status[list[HoldOut]]:
    return Status(201, [hold_out(h) for h in add_holds(enter(person(request), slug), data)])


@router.delete(
    "/farms/{slug}/holds/{hold_id}", response={200: DoneOut, **ERRORS}, operation_id="remove_hold"
)
def lift(request: HttpRequest, slug: str, hold_id: int) -> DoneOut:
    remove_hold(enter(person(request), slug), hold_id)
    return DoneOut()

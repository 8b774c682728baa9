"""A block's wetting events."""

from datetime import timedelta

from django.http import HttpRequest
from ninja import Query, Router, Status

from server.base.error_schema import ERRORS
from server.base.moment import Day
from server.base.schema import Body, DoneOut
from server.base.signed_in import person
from server.blocks.services import find_block
from server.events.adopt import adopt_full, horizons_by_season
from server.events.bring_up import bring_up
from server.events.models import Wetting
from server.events.reading import midnight
from server.events.roots import block_root_activity
from server.events.run_hours import block_run_hours
from server.events.schemas import (
    AdoptIn,
    Brought,
    HorizonFullOut,
    RootActivityOut,
    RunHoursOut,
    SeenOnBlockOut,
    SensorAnswer,
    WettingOut,
)
from server.events.seen_on_soil import seen_on_soil
from server.events.supplies import irrigations_of
from server.farms.access import enter
from server.soils.services import find_soil
from server.water.models import Irrigation

router = Router(tags=["events"])


class SinceDay(Body):
    """The first and the last day asked for; none is all that is kept."""

    since: Day | None = None
    until: Day | None = None


@router.get(
    "/farms/{slug}/blocks/{block_id}/wettings",
    response={200: list[WettingOut], **ERRORS},
    operation_id="wettings",
)
def wettings(
    request: HttpRequest, slug: str, block_id: int, days: Query[SinceDay]
) -> list[WettingOut]:
    """Wetting events of a block in order of arrival, read up to its newest reading."""
    access = enter(person(request), slug)
    block = find_block(access, block_id)
    bring_up(access.farm, [block.pk])
    now = access.now()
    rows = Wetting.objects.for_farm(access.farm).filter(block=block).select_related("instrument")
    if days.since is not None:
        rows = rows.filter(began_by__gte=midnight(days.since, now))
    if days.until is not None:
        rows = rows.filter(began_by__lt=midnight(days.until + timedelta(days=1), now))
    found = list(rows)
    brought = irrigations_of(access.farm, found)
    return [wetting_out(row, brought) for row in found]


@router.get(
    "/farms/{slug}/blocks/{block_id}/run-hours",
    response={200: RunHoursOut | None, **ERRORS},
    operation_id="run_hours",
)
def block_hours(request: HttpRequest, slug: str, block_id: int) -> RunHoursOut | None:
    """How long irrigations should run to just wet the roots, by what the last ones did; null where
    they tell nothing yet."""
    access = enter(person(request), slug)
    block = find_block(access, block_id)
    bring_up(access.farm, [block.pk])
    return block_run_hours(access.farm, block, access.now())


@router.get(
    "/farms/{slug}/blocks/{block_id}/root-activity",
    response={200: list[RootActivityOut], **ERRORS},
    operation_id="root_activity",
)
def block_roots(request: HttpRequest, slug: str, block_id: int) -> list[RootActivityOut]:
    """How deep roots feed, by what each depth loses by day beyond its nights; instruments that
    tell nothing are left out."""
    access = enter(person(request), slug)
    return block_root_activity(access.farm, find_block(access, block_id), access.now())


@router.get(
    "/farms/{slug}/blocks/{block_id}/full-points",
    response={200: list[HorizonFullOut], **ERRORS},
    operation_id="full_points",
)
def block_full_points(request: HttpRequest, slug: str, block_id: int) -> list[HorizonFullOut]:
    """The full point of each horizon as the block's sensors have shown it, beside the one in use;
    horizons of which none tells it are left out."""
    access = enter(person(request), slug)
    block = find_block(access, block_id)
    found, before = horizons_by_season(access.farm, block)
    return [
        HorizonFullOut(**vars(h), can_be_adopted=h.can_be_adopted, last_season=before.get(h.index))
        for h in found
    ]


@router.get(
    "/farms/{slug}/soils/{soil_id}/full-points",
    response={200: list[SeenOnBlockOut], **ERRORS},
    operation_id="full_points_on_soil",
)
def full_points_on_soil(request: HttpRequest, slug: str, soil_id: int) -> list[SeenOnBlockOut]:
    """The full points that sensors have shown on the blocks of a soil."""
    access = enter(person(request), slug)
    return [
        SeenOnBlockOut(
            block_id=x.block.pk,
            block=x.block.name,
            index=x.horizon.index,
            seen=x.horizon.seen,
            low=x.horizon.low,
            high=x.horizon.high,
        )
        for x in seen_on_soil(access, find_soil(access, soil_id))
    ]


@router.post(
    "/farms/{slug}/blocks/{block_id}/full-points",
    response={201: DoneOut, **ERRORS},
    operation_id="adopt_full_points",
)
def adopt_full_points(
    request: HttpRequest, slug: str, block_id: int, data: AdoptIn
) -> Status[DoneOut]:
    """Make full points that were seen those of the soil under the block."""
    access = enter(person(request), slug)
    block = find_block(access, block_id)
    adopt_full(access, block, data.horizons, data.from_on, data.reason)
    return Status(201, DoneOut())


def wetting_out(row: Wetting, irrigations: dict[int, Irrigation]) -> WettingOut:
    """A row for the wire; irrigations that are no longer on record are left out."""
    sensors = zip(
        row.depth_mm, row.arrived_after, row.arrived_by, row.wettest_at, row.rise, strict=True
    )
    given = [irrigations[pk] for pk in row.irrigations if pk in irrigations]
    return WettingOut(
        **{name: getattr(row, name) for name in WettingOut.model_fields if name not in _MADE},
        instrument=row.instrument.label,
        sensors=[
            SensorAnswer(
                depth_mm=depth, arrived_after=after, arrived_by=by, wettest_at=peak, rise=rise
            )
            for depth, after, by, peak, rise in sensors
        ],
        irrigations=[
            Brought(id=s.pk, starts_at=s.started_at, ends_at=s.ended_at, gross_mm=s.gross_mm)
            for s in given
        ],
    )


_MADE = frozenset(("instrument", "sensors", "irrigations"))

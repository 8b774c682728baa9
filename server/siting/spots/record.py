"""What became of a spot: its core, its probe settling, checks by hand, and whether it stays."""

from dataclasses import dataclass
from datetime import date, datetime, timedelta
from zoneinfo import ZoneInfo

from core.instrument.kinds import InstrumentKind, kinds
from core.instrument.life import LifeStatus, installed_at, life_status
from core.siting.hand_check import CheckedDepth, HandWay, next_check
from server.farms.access import Access
from server.readings.sites import soil_channels
from server.siting.models import ProbeSpot, SpotCheck, SpotCheckDepth, SpotDecision
from server.siting.spots.chosen import find_spot
from server.siting.spots.install import spot_soil
from server.siting.spots.schemas import (
    CheckedDepthOut,
    SpotCheckOut,
    SpotDecisionOut,
    SpotLine,
    SpotRecord,
)
from server.siting.spots.standing import standing_in


def spot_record(access: Access, spot_id: int) -> SpotRecord:
    """All that is on record of a spot.

    Raises
    ------
    NotFound
    """
    row = find_spot(access, spot_id)
    checks = list(row.checks.select_related("made_by").prefetch_related("depths"))
    life = spot_life(access, row)
    return SpotRecord(
        core_on=row.core_on,
        soil=spot_soil(row.soil) if row.soil else None,
        instrument=row.instrument.label if row.instrument else "",
        installed_at=life.installed_at,
        settled_at=life.settled_at,
        status=life.status,
        next_check=life.next_check,
        depths_mm=[c.depth_mm or 0.0 for c in soil_channels(row.instrument)]
        if row.instrument
        else [],
        checks=[_check_out(c) for c in checks],
        decisions=[_decision_out(d) for d in row.decisions.select_related("made_by", "moved_to")],
        standing=standing_in(access, row.block_id) if row.instrument else None,
    )


@dataclass(frozen=True)
class SpotLife:
    """How far a spot's probe is; all None where none stands there."""

    installed_at: datetime | None
    settled_at: datetime | None
    status: LifeStatus | None
    next_check: date | None


def spot_life(access: Access, row: ProbeSpot) -> SpotLife:
    """When a spot's probe was put in, when it settles, and when it is to be checked by hand.

    The events of the instrument and the spot's checks should be prefetched where many are asked.
    """
    if row.instrument is None:
        return SpotLife(None, None, None, None)
    zone = ZoneInfo(access.farm.time_zone)
    log = [e.entry for e in row.instrument.events.all()]
    settles = kinds()[InstrumentKind(row.instrument.kind)].settles_days
    installed = installed_at(log, access.now())
    settled = installed + timedelta(days=settles) if installed else None
    return SpotLife(
        installed,
        settled,
        life_status(log, settles, access.now()),
        next_check(
            settled.astimezone(zone).date() if settled else None,
            [c.at.astimezone(zone).date() for c in row.checks.all()],
        ),
    )


def spot_lines(access: Access) -> list[SpotLine]:
    """The farm's chosen spots, by their blocks."""
    rows = ProbeSpot.objects.for_farm(access.farm).select_related("block", "instrument")
    lines = []
    for row in rows.prefetch_related("checks", "instrument__events").order_by("block__name", "pk"):
        life = spot_life(access, row)
        lines.append(
            SpotLine(
                id=row.pk,
                name=row.name,
                block=row.block.name,
                core_on=row.core_on,
                instrument=row.instrument.label if row.instrument else "",
                status=life.status,
                settled_at=life.settled_at,
                next_check=life.next_check,
            )
        )
    return lines


def _check_out(row: SpotCheck) -> SpotCheckOut:
    return SpotCheckOut(
        id=row.pk,
        at=row.at,
        way=HandWay(row.way),
        note=row.note,
        made_by=row.made_by.name if row.made_by else "",
        depths=[_depth_out(d) for d in row.depths.all()],
    )


def _depth_out(row: SpotCheckDepth) -> CheckedDepthOut:
    sensor = float("nan") if row.sensor is None else row.sensor
    told = CheckedDepth(row.depth_mm, row.by_hand, sensor)
    return CheckedDepthOut(
        depth_mm=row.depth_mm, by_hand=row.by_hand, sensor=row.sensor, differs=told.differs
    )


def _decision_out(row: SpotDecision) -> SpotDecisionOut:
    return SpotDecisionOut(
        id=row.pk,
        kept=row.kept,
        why=row.why,
        moved_to=row.moved_to.name if row.moved_to else "",
        difference=row.difference,
        spread=row.spread,
        sites=row.sites,
        days=row.days,
        made_at=row.made_at,
        made_by=row.made_by.name if row.made_by else "",
    )

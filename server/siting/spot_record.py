"""What became of a spot: its core, its probe settling, checks by hand, and whether it stays."""

from dataclasses import dataclass
from datetime import date, datetime, timedelta
from zoneinfo import ZoneInfo

from core.instrument.kinds import InstrumentKind, kinds
from core.instrument.life import LifeStatus, LogKind, installed_at, life_status
from core.instrument.site import Site
from core.sentence import sentence
from core.siting.hand_check import (
    CheckedDepth,
    HandWay,
    checked,
    next_check,
    theta_by_hand,
)
from core.soil.profile import Profile
from server.base.errors import NotFound, Problem, RequestError
from server.blocks.loading import Ground, blocks_of
from server.farms.access import Access
from server.farms.acting import acting
from server.farms.changes import Done, record
from server.farms.rules import Action
from server.instruments.models import Instrument
from server.readings.recent import thinned_readings
from server.readings.sites import channel_ids, instrument_sites, soil_channels
from server.siting.install import spot_soil, write_log
from server.siting.models import ProbeSpot, SpotCheck, SpotCheckDepth, SpotDecision
from server.siting.schemas import (
    CheckedDepthOut,
    SpotCheckIn,
    SpotCheckOut,
    SpotCoreIn,
    SpotDecisionIn,
    SpotDecisionOut,
    SpotLine,
    SpotRecord,
    SpotStanding,
)
from server.siting.spots import find_spot
from server.siting.standing import standing_in
from server.soils.schemas import SoilIn
from server.soils.services import assign_soil, find_soil, save_soil

_PARTS = ("soils__soil__horizons", "instruments__channels", "instruments__events")
# Around a check, of which readings are looked at.
AROUND = timedelta(hours=6)


def _named(row: ProbeSpot) -> str:
    return f"{row.block.name}, {row.name}"


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


@acting(Action.SET_UP_GROUND)
def record_core(access: Access, spot_id: int, data: SpotCoreIn) -> ProbeSpot:
    """Write down what a soil core showed: a soil of the library that was seen.

    Raises
    ------
    RequestError
        When the core is of a day to come, or the soil can't be described so.
    """
    row = find_spot(access, spot_id)
    if data.taken_on > access.now().date():
        raise RequestError(
            sentence("The core was not saved."),
            (Problem(field="taken_on", message=sentence("That day is in the future.")),),
        )
    described = find_soil(access, data.describes) if data.describes is not None else None
    name = data.name.strip() or (described.name if described else _named(row)[:120])
    soil = save_soil(
        access,
        SoilIn(
            name=name,
            note=data.note.strip() or f"core at {_named(row)}, {data.taken_on}",
            horizons=data.horizons,
            from_on=data.taken_on if described else None,
            reason=f"core at {_named(row)}"[:300] if described else "",
        ),
        described.pk if described else None,
    )
    # A soil of a survey that was seen is one of the farm.
    soil.survey = None
    soil.save()
    row.soil, row.core_on = soil, data.taken_on
    row.save()
    if data.for_block:
        why = f"core at {_named(row)}"[:300]
        assign_soil(access, [row.block_id], soil.pk, data.taken_on, why)
    record(access, Done.SPOT_CORE_RECORDED, _named(row), block=row.block_id)
    return row


def _site_at(access: Access, instrument: Instrument, at: datetime) -> tuple[Profile, Site | None]:
    """The soil of an instrument's block, and what it said around an instant."""
    block = blocks_of(access.farm, _PARTS).get(pk=instrument.block_id)
    until = min(at + AROUND, access.now())
    soil = Ground().under(block, at.date()) or Ground().under(block, access.now().date())
    profile = soil[-1].profile
    days = 2 * AROUND / timedelta(days=1)
    readings = thinned_readings(channel_ids([block]), until, days, 1.0)
    sites = instrument_sites(block, profile, readings, until)
    return profile, next((s for i, s in sites if i.pk == instrument.pk), None)


@acting(Action.RECORD_READINGS)
def add_check(access: Access, spot_id: int, data: SpotCheckIn) -> SpotCheck:
    """Hold a probe against what was found by hand; what it said then is kept beside it.

    Raises
    ------
    RequestError
        When nothing was installed, the check is of a time to come, or a depth appears twice.
    """
    row = find_spot(access, spot_id)
    if row.instrument is None:
        raise RequestError(sentence("No instrument stands at this spot. Install one first."))
    now = access.now()
    at = data.at or now
    if at.tzinfo is None:
        at = at.replace(tzinfo=ZoneInfo(access.farm.time_zone))
    problems = []
    if at > now + timedelta(minutes=5):
        problems.append(Problem(field="at", message=sentence("That time is in the future.")))
    if len({d.depth_mm for d in data.depths}) < len(data.depths):
        problems.append(Problem(field="depths", message=sentence("A depth appears twice.")))
    if problems:
        raise RequestError(sentence("The check was not saved."), tuple(problems))
    profile, site = _site_at(access, row.instrument, at)
    depths = sorted(data.depths, key=lambda d: d.depth_mm)
    mm = [d.depth_mm for d in depths]
    by_hand = theta_by_hand(data.way, mm, [d.value for d in depths], profile)
    hours = (at - min(at + AROUND, now)).total_seconds() / 3600
    made = SpotCheck(
        spot=row,
        at=at,
        way=str(data.way),
        note=data.note.strip(),
        made_at=now,
        made_by=access.user,
    )
    made.save()
    for depth in checked(site, hours, mm, [float(v) for v in by_hand]):
        SpotCheckDepth(
            spot_check=made,
            depth_mm=depth.depth_mm,
            by_hand=min(max(depth.by_hand, 0.0), 1.0),
            sensor=None if depth.sensor != depth.sensor else depth.sensor,
        ).save()
    record(access, Done.SPOT_CHECKED, _named(row), block=row.block_id)
    return made


@acting(Action.SET_UP_GROUND)
def remove_check(access: Access, check_id: int) -> None:
    """Take a check off the record.

    Raises
    ------
    NotFound
    """
    rows = SpotCheck.objects.for_farm(access.farm).select_related("spot__block")
    row = rows.filter(pk=check_id).first()
    if row is None:
        raise NotFound(sentence("There is no such check on this farm."))
    record(access, Done.SPOT_CHECK_REMOVED, _named(row.spot), block=row.spot.block_id)
    row.delete()


@acting(Action.SET_UP_GROUND)
def decide_on_spot(access: Access, spot_id: int, data: SpotDecisionIn) -> SpotDecision:
    """Keep a probe where it is, or move it, with the reason and how it stood among the others.

    Moved to another spot its log begins anew there, and it settles again.

    Raises
    ------
    RequestError
        When nothing stands at the spot, or the other spot is not one of the block's that is free.
    """
    row = find_spot(access, spot_id)
    instrument = row.instrument
    if instrument is None:
        raise RequestError(sentence("No instrument stands at this spot. Install one first."))
    to = None
    if not data.kept and data.moved_to is not None:
        to = find_spot(access, data.moved_to)
        if to.block_id != row.block_id or to.instrument is not None or to.pk == row.pk:
            raise RequestError(
                sentence("The decision was not saved."),
                (
                    Problem(
                        field="moved_to",
                        message=sentence("Choose a spot of this block at which nothing stands."),
                    ),
                ),
            )
    standing = standing_in(access, row.block_id)
    own = _own(standing, instrument)
    made = SpotDecision(
        spot=row,
        kept=data.kept,
        why=data.why.strip(),
        moved_to=to,
        difference=own[0] if own else None,
        spread=own[1] if own else None,
        sites=len(standing.probes) if standing and own else None,
        days=standing.days if standing and own else None,
        made_at=access.now(),
        made_by=access.user,
    )
    made.save()
    if not data.kept:
        _move(access, row, to, instrument, data.why.strip())
    done = Done.SPOT_KEPT if data.kept else Done.SPOT_MOVED
    record(access, done, _named(row), block=row.block_id)
    return made


def _own(standing: SpotStanding | None, instrument: Instrument) -> tuple[float, float] | None:
    probes = standing.probes if standing else []
    found = next((p for p in probes if p.instrument == instrument.pk), None)
    return (found.difference, found.spread) if found else None


def _move(
    access: Access, row: ProbeSpot, to: ProbeSpot | None, instrument: Instrument, why: str
) -> None:
    row.instrument = None
    row.save()
    if to is None:
        write_log(access, instrument, LogKind.RETIRED, note=why)
        return
    to.instrument = instrument
    to.save()
    instrument.position = to.position
    instrument.site = f"{to.name}: {to.why}"[:300]
    instrument.save()
    write_log(access, instrument, LogKind.REPLACED, note=why)

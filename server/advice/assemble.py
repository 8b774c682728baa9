"""From the database to the core's inputs: everything of a farm's blocks in a few queries."""

from collections.abc import Sequence
from datetime import datetime, time, timedelta
from zoneinfo import ZoneInfo

import numpy as np

from core.advice.gather import MOVING_DAYS
from core.advice.holds import Hold as CoreHold
from core.advice.holds import HoldKind
from core.advice.inputs import BlockInputs, PlannedSet, Watering
from core.arrays import Bools, Floats
from core.crop.salinity import leaching_share
from core.crop.season import CropSeason
from core.instrument.kinds import InstrumentKind, Quantity, kinds
from core.instrument.life import silent_stretches
from core.instrument.site import Site
from core.irrigation.intake import BASIC_INTAKE_MM_H
from core.soil.profile import Profile
from core.state.weighing import Weighing
from core.weather.effective_rain import effective_rain
from server.blocks.models import Block
from server.farms.models import Farm
from server.ground.facts import block_facts
from server.instruments.models import Channel, Instrument
from server.readings.recent import Thinned, thinned_readings
from server.water.equipment import block_system, root_share
from server.water.models import Hold, Irrigation
from server.weather.recorded import FarmWeather

# How far back a block's record is followed, from the first day with weather on: what it has shown
# of its soil, its crop and its sensors counts all season.
PAST_DAYS = 120.0
BUCKET_HOURS = 3.0
RAIN_SIGMA = 0.2  # what falls on a block against what the gauge caught; no source
RAIN_AT = time(14)  # a day's rain is placed here: its hour is not recorded


def _intake(profile: Profile) -> float:
    """What the top of the soil takes in [mm/h], by its texture."""
    return BASIC_INTAKE_MM_H[profile.limits[0].texture]


def _hours_to(moment: datetime, now: datetime) -> float:
    return (moment - now).total_seconds() / 3600


def _planned(
    sets: Sequence[Irrigation], efficiency: float, now: datetime
) -> tuple[PlannedSet, ...]:
    """Sets that run or are to come; one whose time went by unlogged is not counted on."""
    return tuple(
        PlannedSet(
            _hours_to(s.started_at, now), _hours_to(s.ended_at, now), s.gross_mm * efficiency
        )
        for s in sets
        if s.status in (Irrigation.Status.PLANNED, Irrigation.Status.RUNNING) and s.ended_at > now
    )


def _leaching(block: Block, season: CropSeason | None) -> float:
    """Share of the water that carries salts below the roots; none where it is not known, or
    where no leaching would be enough: the limits say so."""
    salt = season.crop.salt if season else None
    share = leaching_share(salt.threshold_ds_m if salt else None, block.water_ecw)
    return share if share is not None and share < 1 else 0.0


def current_holds(farm: Farm, blocks: Sequence[Block], now: datetime) -> dict[int, list[Hold]]:
    """Stretches without water that are not over, by block."""
    found: dict[int, list[Hold]] = {}
    rows = Hold.objects.for_farm(farm).filter(block__in=[b.pk for b in blocks], ends_at__gt=now)
    for row in rows:
        found.setdefault(row.block_id, []).append(row)
    return found


def _waterings(
    sets: Sequence[Irrigation], weather: FarmWeather, block: Block, intake: float, now: datetime
) -> tuple[Watering, ...]:
    """Sets and effective rain with the hour at which they had reached the root zone.

    Of rain only what falls on the watered strip counts where roots keep to it.
    """
    efficiency, share = block.efficiency, root_share(block)
    out = [
        Watering(_hours_to(s.ended_at, now), s.gross_mm * efficiency)
        for s in sets
        if s.status == Irrigation.Status.DONE and s.ended_at <= now
    ]
    zone = now.tzinfo
    for day in weather.days:
        if day.rain_mm:
            at = datetime.combine(day.date, RAIN_AT, tzinfo=zone)
            # Where ET0 is unknown no rain is too small to count.
            taken = effective_rain(day.rain_mm, day.et0_mm or 0.0, intake).infiltrated_mm
            hours, net = _hours_to(at, now), float(taken) * share
            if net > 0:
                out.append(Watering(hours, net, RAIN_SIGMA, is_rain=True))
    return tuple(out)


def soil_channels(instrument: Instrument) -> list[Channel]:
    """Channels of an instrument that tell of the soil's water, shallow to deep."""
    if not kinds()[InstrumentKind(instrument.kind)].in_soil:
        return []
    return sorted(
        (
            c
            for c in instrument.channels.all()
            if c.depth_mm is not None and c.quantity != Quantity.TEMPERATURE
        ),
        key=lambda c: c.depth_mm or 0.0,
    )


def _silent(instrument: Instrument, hours: Floats, now: datetime) -> Bools:
    """Moments at which the log says that an instrument is not to be heard.

    One that is doubted or gone now is not heard by what it said shortly before, either.
    """
    out = np.zeros(hours.shape, bool)
    age = kinds()[InstrumentKind(instrument.kind)].max_age_hours
    for start, end in silent_stretches([e.entry for e in instrument.events.all()]):
        first = (start - now).total_seconds() / 3600 - (age if end is None else 0.0)
        last = np.inf if end is None else (end - now).total_seconds() / 3600
        out |= (hours >= first) & (hours < last)
    return out


def block_sites(
    block: Block, profile: Profile, readings: Thinned, now: datetime
) -> tuple[Site, ...]:
    """The block's instruments that have channels, with their readings."""
    sites = []
    for instrument in sorted(block.instruments.all(), key=lambda i: i.label):
        channels = soil_channels(instrument)
        if not channels:
            continue
        hours, value, flags = readings.table([c.pk for c in channels])
        sites.append(
            Site.from_readings(
                instrument.label,
                InstrumentKind(instrument.kind),
                [c.depth_mm or 0.0 for c in channels],
                hours,
                value,
                profile,
                suspect=np.array([c.suspect for c in channels])
                | _silent(instrument, hours, now)[:, None],
                flag=flags,
            )
        )
    return tuple(sites)


def channel_ids(blocks: Sequence[Block]) -> list[int]:
    """Channels of blocks, from the prefetched rows."""
    return [c.pk for b in blocks for i in b.instruments.all() for c in soil_channels(i)]


def recent_sets(
    farm: Farm, blocks: Sequence[Block], now: datetime, days: float = PAST_DAYS
) -> dict[int, list[Irrigation]]:
    """Sets of the past days by block, and those under way or to come."""
    found: dict[int, list[Irrigation]] = {}
    rows = (
        Irrigation.objects.for_farm(farm)
        .filter(
            block__in=[b.pk for b in blocks],
            # What came shortly before is still on its way at the start.
            ended_at__gt=now - timedelta(days=days + MOVING_DAYS),
        )
        .exclude(status=Irrigation.Status.CANCELLED)
        .order_by("started_at")
    )
    for row in rows:
        found.setdefault(row.block_id, []).append(row)
    return found


def block_inputs(
    farm: Farm,
    blocks: Sequence[Block],
    now: datetime,
    weather: FarmWeather,
    sets: dict[int, list[Irrigation]],
    days: float = PAST_DAYS,
    bucket_hours: float = BUCKET_HOURS,
) -> dict[int, BlockInputs]:
    """Inputs of the core for each block, by block id; one query for all readings.

    ``days`` back, one reading per ``bucket_hours``; weather and sets should reach as far,
    since a reading is judged by the water that came before it.
    """
    local = now.astimezone(ZoneInfo(farm.time_zone))
    readings = thinned_readings(channel_ids(blocks), local, days, bucket_hours)
    out = {}
    past = weather.past(local.date(), int(max(days, PAST_DAYS)))
    facts = block_facts(farm, blocks, local, weather)
    holds = current_holds(farm, blocks, local)
    for block in blocks:
        fact = facts[block.pk]
        profile = fact.soils[-1].profile
        intake = _intake(profile)
        mine = sets.get(block.pk, [])
        waterings = _waterings(mine, weather, block, intake, local)
        share = root_share(block)
        out[block.pk] = BlockInputs(
            now=local,
            profile=profile,
            season=fact.season,
            sites=block_sites(block, profile, readings, local),
            waterings=waterings,
            et=weather.stated,
            system=block_system(block),
            rules=fact.rules,
            rain_room_mm=block.rain_room_mm,
            soils=fact.soils,
            alfalfa_ratio=farm.alfalfa_ratio,
            past=past,
            forecast=weather.forecast,
            weighing=Weighing(block.weighing),
            root_share=share,
            intake_mm_h=intake,
            dual=block.dual,
            wetted=share,
            capillary_mm_day=block.capillary_mm_day,
            leaching_share=_leaching(block, fact.season),
            seed=block.pk,
            planned=_planned(mine, block.efficiency, local),
            holds=tuple(
                CoreHold(
                    _hours_to(h.starts_at, local), _hours_to(h.ends_at, local), HoldKind(h.kind)
                )
                for h in holds.get(block.pk, [])
            ),
        )
    return out

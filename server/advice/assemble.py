"""From the database to the core's inputs: everything of a farm's blocks in a few queries."""

from collections.abc import Sequence
from dataclasses import dataclass, replace
from datetime import date, datetime, time, timedelta
from zoneinfo import ZoneInfo

import numpy as np
from django.db.models import QuerySet

from core.advice.inputs import BlockInputs, StatedEt, Watering
from core.crop.season import CropSeason as SeasonInput
from core.instrument.kinds import InstrumentKind
from core.instrument.site import Site
from core.irrigation.system import IrrigationSystem, SystemKind
from core.limits.by_day import DatedSoil
from core.limits.school import LimitRule
from core.soil.profile import Profile
from server.blocks.crop import season_input, season_under_way
from server.blocks.models import Block, CropSeason
from server.blocks.services import BLOCK_PARTS
from server.farms.models import Farm
from server.limits.change import dated_soils, limit_rules
from server.readings.recent import Thinned, thinned_readings
from server.soils.convert import soil_profile
from server.water.models import Irrigation
from server.weather.models import WeatherDay

PAST_DAYS = 9.0
BUCKET_HOURS = 3.0
ET_DAYS = 14
RAIN_AT = time(14)  # a day's rain is placed here: its hour is not recorded


@dataclass(frozen=True)
class FarmWeather:
    """Recorded days of the farm, rising, and the ET0 stated for the days ahead."""

    days: tuple[WeatherDay, ...]
    stated: StatedEt | None


@dataclass(frozen=True)
class BlockFacts:
    """What a block's limits are made of, without its readings."""

    soils: tuple[DatedSoil, ...]
    season: SeasonInput | None
    rules: tuple[LimitRule, ...]
    et: StatedEt | None
    alfalfa_ratio: float | None

    def on_et_surface(self, season: SeasonInput, et: StatedEt) -> SeasonInput:
        """The season with its Kc on the ET's own surface.

        Raises
        ------
        SurfacesDiffer
        """
        return replace(season, crop=season.crop.on(et.surface, self.alfalfa_ratio))


class Ground:
    """The soils of a farm's blocks as the core takes them; a soil shared by many is read once."""

    def __init__(self) -> None:
        self._profiles: dict[int, Profile] = {}

    def under(self, block: Block, today: date) -> tuple[DatedSoil, ...]:
        """The soils of a block up to today, the one in force last; they should be prefetched."""
        rows = block.soils.all()
        for row in rows:
            if row.undone_at is None and row.soil_id not in self._profiles:
                self._profiles[row.soil_id] = soil_profile(row.soil)
        return dated_soils(rows, today, self._profiles)


def block_facts(
    farm: Farm, blocks: Sequence[Block], now: datetime, weather: FarmWeather
) -> dict[int, BlockFacts]:
    """What the limits of each block are made of, by block id."""
    ground, today = Ground(), now.date()
    out = {}
    for block in blocks:
        season = season_under_way(block, today)
        out[block.pk] = BlockFacts(
            soils=ground.under(block, today),
            season=season_input(season, weather.days, now) if season else None,
            rules=limit_rules(block.refill_rules.all()),
            et=weather.stated,
            alfalfa_ratio=farm.alfalfa_ratio,
        )
    return out


def block_system(block: Block) -> IrrigationSystem:
    """The equipment of a block."""
    return IrrigationSystem(
        kind=SystemKind(block.system_kind),
        area_m2=block.area_m2,
        efficiency=block.efficiency,
        rate_mm_h=block.rate_mm_h,
        flow_m3_h=block.flow_m3_h,
        smallest_mm=block.smallest_mm,
        largest_mm=block.largest_mm,
    )


def blocks_of(
    farm: Farm, parts: Sequence[str] = BLOCK_PARTS, outlines: bool = False
) -> QuerySet[Block]:
    """A farm's blocks with all that an answer needs, in a fixed number of queries.

    ``parts`` may leave out what a page does not show. Their outlines may be large and are left
    in the database unless asked for.
    """
    rows: QuerySet[Block] = Block.objects.for_farm(farm)
    if not outlines:
        rows = rows.defer("outline")
    return rows.prefetch_related(*parts).order_by("name")


def warmth_since(blocks: Sequence[Block], today: date) -> date | None:
    """The planting from which temperatures are needed; None where no block counts warmth."""
    under_way = [season_under_way(b, today) for b in blocks]
    by_warmth = [s.planted_on for s in under_way if s and s.clock == CropSeason.Clock.DEGREE_DAYS]
    return min(by_warmth, default=None)


def farm_weather(
    farm: Farm, now: datetime, days: int = ET_DAYS, since: date | None = None
) -> FarmWeather:
    """Recorded weather of the past days, or further back to a date, and the stated ET0.

    The farm's own statement leads; without one, the past fortnight's recorded days stand in:
    their mean, with the 10th and 90th percentile as the range. None when neither exists.
    """
    today = now.date()
    first = today - timedelta(days=max(days, ET_DAYS))
    recorded = tuple(
        WeatherDay.objects.for_farm(farm)
        .filter(date__gte=min(first, since or first), date__lt=today)
        .order_by("date")
    )
    if farm.et0_expected is not None and farm.et0_low is not None and farm.et0_high is not None:
        stated = StatedEt(farm.et0_low, farm.et0_expected, farm.et0_high, "stated for the farm")
        return FarmWeather(recorded, stated)
    lately = [d for d in recorded if d.date >= today - timedelta(days=ET_DAYS)]
    known = [d.et0_mm for d in lately if d.et0_mm is not None]
    if not known:
        return FarmWeather(recorded, None)
    low, high = np.percentile(known, [10, 90])
    source = f"mean of {len(known)} recorded days"
    if any("simulated" in d.source for d in lately):
        source += ", simulated weather"
    return FarmWeather(recorded, StatedEt(float(low), float(np.mean(known)), float(high), source))


def _waterings(
    sets: Sequence[Irrigation], weather: FarmWeather, efficiency: float, now: datetime
) -> tuple[Watering, ...]:
    """Sets and rain with the hour at which they had reached the root zone."""
    out = [
        Watering((s.ended_at - now).total_seconds() / 3600, s.gross_mm * efficiency)
        for s in sets
        if s.ended_at <= now
    ]
    zone = now.tzinfo
    for day in weather.days:
        if day.rain_mm:
            at = datetime.combine(day.date, RAIN_AT, tzinfo=zone)
            out.append(Watering((at - now).total_seconds() / 3600, day.rain_mm))
    return tuple(out)


def block_sites(
    block: Block, profile: Profile, readings: Thinned, water_hours: list[float]
) -> tuple[Site, ...]:
    """The block's instruments that have channels, with their readings."""
    sites = []
    for instrument in sorted(block.instruments.all(), key=lambda i: i.label):
        channels = sorted(instrument.channels.all(), key=lambda c: c.depth_mm)
        if not channels:
            continue
        hours, value = readings.table([c.pk for c in channels])
        sites.append(
            Site.from_readings(
                instrument.label,
                InstrumentKind(instrument.kind),
                [c.depth_mm for c in channels],
                hours,
                value,
                profile,
                suspect=[c.suspect for c in channels],
                water_hours=water_hours,
            )
        )
    return tuple(sites)


def channel_ids(blocks: Sequence[Block]) -> list[int]:
    """Channels of blocks, from the prefetched rows."""
    return [c.pk for b in blocks for i in b.instruments.all() for c in i.channels.all()]


def recent_sets(
    farm: Farm, blocks: Sequence[Block], now: datetime, days: float = PAST_DAYS
) -> dict[int, list[Irrigation]]:
    """Sets of the past days by block."""
    found: dict[int, list[Irrigation]] = {}
    rows = (
        Irrigation.objects.for_farm(farm)
        .filter(
            block__in=[b.pk for b in blocks],
            ended_at__gt=now - timedelta(days=days),
            started_at__lte=now,
        )
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
    facts = block_facts(farm, blocks, local, weather)
    for block in blocks:
        fact = facts[block.pk]
        profile = fact.soils[-1].profile
        waterings = _waterings(sets.get(block.pk, []), weather, block.efficiency, local)
        out[block.pk] = BlockInputs(
            now=local,
            profile=profile,
            season=fact.season,
            sites=block_sites(block, profile, readings, [w.hours for w in waterings]),
            waterings=waterings,
            et=weather.stated,
            system=block_system(block),
            rules=fact.rules,
            rain_room_mm=block.rain_room_mm,
            soils=fact.soils,
            alfalfa_ratio=farm.alfalfa_ratio,
        )
    return out

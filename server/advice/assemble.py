"""From the database to the core's inputs: everything of a farm's blocks in a few queries."""

from collections.abc import Mapping, Sequence
from datetime import date, datetime, time, timedelta
from zoneinfo import ZoneInfo

import numpy as np

from core.advice.assumptions import Assumptions
from core.advice.gather import MOVING_DAYS
from core.advice.holds import Hold as CoreHold
from core.advice.holds import HoldKind
from core.advice.inputs import BlockInputs, Watering
from core.advice.to_the_end import FINISH_DAYS, ripens
from core.arrays import Floats
from core.crop.season import CropSeason
from core.estimate.checkpoint import Checkpoint
from core.irrigation.intake import BASIC_INTAKE_MM_H
from core.soil.profile import Profile
from core.state.estimate_from import EstimateFrom
from core.weather.effective_rain import effective_rain
from server.blocks.models import Block
from server.blocks.record_days import LONGEST_DAYS, first_day
from server.cuttings.calendars import calendars
from server.deficits.models import less_water_of
from server.farms.models import Farm
from server.leaves.models import steering_of
from server.leaves.recorded import leaf_rounds
from server.limits.facts import block_facts
from server.paddies.models import paddy_of
from server.readings.recent import thinned_readings
from server.readings.sites import block_sites, heard_channels
from server.readings.water_table import water_tables
from server.readings.water_tubes import water_tubes
from server.water.equipment import block_design, system_on, wetted_share
from server.water.models import Hold, Irrigation
from server.water.passes import crosses_unseen, hours_to, planned, waterings
from server.water.salt import block_leaching
from server.weather.recorded import FarmWeather
from server.weather.years_back import weather_record

# How far back a block's record is read where its ensemble goes on from a checkpoint [days]: what
# the board and the newest days of the working show.
LATELY_DAYS = 16.0
# And its readings: for the ribbon, and from the checkpoint on.
HEARD_DAYS = 8.0
# Every block draws the same numbers: no answer hangs on the order in which blocks were made.
DRAWS = 2
BUCKET_HOURS = 3.0
STAGES_BEFORE_BOOK = 30.0  # at most [days]; working assumption, no source
RAIN_AT = time(14)  # a day's rain is placed here: its hour is not recorded


def _intake(profile: Profile) -> float:
    """What the top of the soil takes in [mm/h], by its texture."""
    return BASIC_INTAKE_MM_H[profile.limits[0].texture]


def _ends_soon(season: CropSeason | None, today: date) -> bool:
    """Whether a crop may be ripe so soon that the weather of the years before tells of its end: its
    stages may be some weeks before the book's."""
    if season is None or not ripens(season):
        return False
    left = sum(season.crop.stage_days) - (today - season.planted_on).days
    return left <= FINISH_DAYS + STAGES_BEFORE_BOOK


def current_holds(farm: Farm, blocks: Sequence[Block], now: datetime) -> dict[int, list[Hold]]:
    """Stretches without water that are not over, by block."""
    found: dict[int, list[Hold]] = {}
    of = {b.pk: b for b in blocks}
    for row in Hold.objects.for_farm(farm).filter(block__in=of, ends_at__gt=now):
        row.block = of[row.block_id]
        found.setdefault(row.block_id, []).append(row)
    return found


class _Rain:
    """The farm's recorded rain as it entered soils, by what their top takes in."""

    def __init__(self, weather: FarmWeather, now: datetime) -> None:
        days = [d for d in weather.days if d.rain_mm]
        self._hours = [
            hours_to(datetime.combine(d.date, RAIN_AT, tzinfo=now.tzinfo), now) for d in days
        ]
        self._fell = np.array([d.rain_mm for d in days], float)
        # Where ET0 is unknown no rain is too small to count.
        self._et0 = np.array([d.et0_mm or 0.0 for d in days])
        self._entered: dict[float, Floats] = {}

    def waterings(self, intake_mm_h: float, share: float) -> list[Watering]:
        """Of rain only what falls on the watered strip counts where roots keep to it."""
        if intake_mm_h not in self._entered:
            taken = effective_rain(self._fell, self._et0, intake_mm_h).infiltrated_mm
            self._entered[intake_mm_h] = taken
        net = (self._entered[intake_mm_h] * share).tolist()
        return [
            Watering(h, mm, is_rain=True)
            for h, mm in zip(self._hours, net, strict=True)
            if mm > 0 and h <= 0
        ]


def recent_sets(
    farm: Farm, blocks: Sequence[Block], now: datetime, days: float = LATELY_DAYS
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


def tended_blocks(farm: Farm, blocks: Sequence[Block], now: datetime) -> set[int]:
    """Blocks for which anybody logged a set in the past year."""
    rows = Irrigation.objects.for_farm(farm).filter(
        block__in=[b.pk for b in blocks],
        status=Irrigation.Status.DONE,
        ended_at__gt=now - timedelta(days=LONGEST_DAYS),
        ended_at__lte=now,
    )
    return set(rows.values_list("block_id", flat=True).distinct())


def block_inputs(
    farm: Farm,
    blocks: Sequence[Block],
    now: datetime,
    weather: FarmWeather,
    sets: dict[int, list[Irrigation]],
    days: float = LATELY_DAYS,
    bucket_hours: float = BUCKET_HOURS,
    kept: Mapping[int, Checkpoint] | None = None,
) -> dict[int, BlockInputs]:
    """Inputs of the core for each block, by block id; one query for all readings.

    ``days`` back, one reading per ``bucket_hours``; weather and sets should reach as far,
    since a reading is judged by the water that came before it. ``kept`` are checkpoints from
    which blocks may go on.
    """
    local = now.astimezone(ZoneInfo(farm.time_zone))
    heard = HEARD_DAYS if days == LATELY_DAYS else days
    readings = thinned_readings(heard_channels(blocks), local, heard, bucket_hours)
    out = {}
    past = weather.past(local.date(), int(days))
    facts = block_facts(farm, blocks, local, weather, water_tables(blocks, local))
    holds = current_holds(farm, blocks, local)
    tended = tended_blocks(farm, blocks, local)
    rain = _Rain(weather, local)
    tubes = water_tubes(blocks, local)
    rounds = leaf_rounds(farm, blocks, local)
    cuts = calendars(farm, blocks, local.date())
    # A ponded field is drained by its own rule.
    ending = any(_ends_soon(facts[b.pk].season, local.date()) for b in blocks if not paddy_of(b))
    years = weather_record(farm, local.date()) if ending else None
    for block in blocks:
        paddy, steering, less = paddy_of(block), steering_of(block), less_water_of(block)
        fact = facts[block.pk]
        profile = fact.soils[-1].profile
        intake = _intake(profile)
        own_sets = sets.get(block.pk, [])
        share = wetted_share(block).share
        # What stands in a bunded field runs off nowhere.
        given = (
            *waterings(own_sets, block, local),
            *rain.waterings(np.inf if paddy else intake, share),
        )
        assumed = Assumptions(
            profile=profile,
            season=fact.season,
            et=weather.stated,
            system=system_on(block, intake),
            rules=fact.rules,
            rain_room_mm=block.rain_room_mm,
            soils=fact.soils,
            alfalfa_ratio=farm.alfalfa_ratio,
            forecast=weather.forecast,
            estimate_from=EstimateFrom(block.estimate_from),
            wetted_share=share,
            intake_mm_h=intake,
            dual=block.dual,
            capillary_mm_day=block.capillary_mm_day,
            water_table=fact.water_table,
            design=block_design(block),
            slope_percent=block.slope_percent,
            little_and_often=block.little_and_often,
            leaching=block_leaching(block, fact.season),
            ponded=paddy.field if paddy else None,
            leaf=steering.settled if steering else None,
            deficit=less.plan if less else None,
            cutting=cuts.get(block.pk),
        )
        out[block.pk] = BlockInputs(
            now=local,
            assumed=assumed,
            sites=block_sites(block, profile, readings, local),
            waterings=given,
            past=past,
            seed=DRAWS,
            since=first_day(block, local.date()),
            tended=block.pk in tended,
            tubes=tubes.get(block.pk, ()),
            leaf_rounds=rounds.get(block.pk, ()),
            years=years,
            checkpoint=kept.get(block.pk) if kept else None,
            planned=planned(own_sets, block, local),
            crossing=crosses_unseen(own_sets, block, local),
            holds=tuple(
                CoreHold(hours_to(h.starts_at, local), hours_to(h.ends_at, local), HoldKind(h.kind))
                for h in holds.get(block.pk, [])
            ),
        )
    return out

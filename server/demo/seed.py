"""Fills the database with the demo farm: simulated season, readings, sets, weather, people."""

from datetime import datetime, timedelta
from zoneinfo import ZoneInfo

import numpy as np
from django.db import transaction

from core.arrays import Floats
from core.crop.catalogue import crop
from core.crop.season import CoverSeen
from core.crop.season import CropSeason as SeasonInput
from core.instrument.kinds import InstrumentKind, kinds
from core.instrument.reading_units import code_of, from_core
from core.soil.profile import Profile
from core.units import water_depth_mm
from core.world.column import (
    STEP_HOURS,
    STEPS_PER_DAY,
    ColumnBlock,
    ColumnRun,
    Given,
    Policy,
    simulate_columns,
)
from core.world.instruments import simulate_readings
from core.world.weather import Weather, simulate_weather
from server.accounts.models import User
from server.blocks.models import Block, CropSeason, EventKind, SeasonEvent
from server.crops.models import FarmCrop
from server.demo.farm import (
    BLOCKS,
    CATCH_CANS,
    DRY_TAIL_DAYS,
    FIRST_DAY,
    NAME,
    NOW,
    OWN_CROP,
    REFILL_CHANGE,
    SEED,
    SLUG,
    ZONE,
    DemoBlock,
    DemoInstrument,
)
from server.demo.life import give_life, make_rounds
from server.demo.people import PEOPLE
from server.demo.plan import FEATURES, OUTLINES
from server.farms.models import Farm, Membership, Role
from server.instruments.models import Channel, Instrument
from server.limits.models import BlockSoil, RefillRule
from server.maps.models import MapFeature
from server.maps.outlines import give_outline
from server.readings.binary_copy import Records
from server.readings.models import ReadingBatch
from server.readings.store import ROW, store_readings
from server.readings.surroundings import HOUR_US
from server.soils.models import Horizon, SoilProfile
from server.water.models import CatchCanTest, Irrigation
from server.weather.models import WeatherDay

START = datetime(FIRST_DAY.year, FIRST_DAY.month, FIRST_DAY.day, tzinfo=ZoneInfo(ZONE))
HOURS = (NOW - START).total_seconds() / 3600
STEPS = int(HOURS / STEP_HOURS)
DAYS = STEPS // STEPS_PER_DAY + 1
SOURCE = "simulated"
# The scout's round: Monday, Wednesday and Friday at seven.
ROUND_DAYS, ROUND_HOUR = frozenset({0, 2, 4}), 7


def _rate(block: DemoBlock) -> float:
    """Gross application rate [mm/h]."""
    if block.rate_mm_h is not None:
        return block.rate_mm_h
    return water_depth_mm(block.flow_m3_h or 0.0, block.hectares * 10_000)


def _season(block: DemoBlock) -> SeasonInput:
    """The season as the simulated crop lives it: by the book's days, cut and shaded as told."""
    covers = () if block.cover is None else (block.cover,)
    return SeasonInput(
        crop=crop(block.crop),
        planted_on=block.planted,
        covers=tuple(CoverSeen((d - block.planted).days, c, h) for d, c, h in covers),
        cuts=tuple((d - block.planted).days for d in block.cuts),
    )


def _column(block: DemoBlock) -> ColumnBlock:
    return ColumnBlock(
        profile=Profile.from_horizons(block.horizons),
        season=_season(block),
        policy=Policy(
            trigger=block.trigger,
            refill_share=block.refill_share,
            net_rate_mm_h=_rate(block) * block.efficiency,
            start_hour=block.start_hour,
            until_day=DAYS - 1 - block.until_days,
            given=tuple(Given(DAYS - 1 - d, hour, net) for d, hour, net in block.given),
        ),
    )


def simulate() -> tuple[Weather, ColumnRun]:
    """The season up to the demo's now."""
    weather = simulate_weather(DAYS, FIRST_DAY.timetuple().tm_yday, SEED, DRY_TAIL_DAYS)
    return weather, simulate_columns([_column(b) for b in BLOCKS], weather, FIRST_DAY, STEPS)


def _steps_read(instrument: DemoInstrument) -> list[int]:
    """The 15-minute steps at which an instrument is read."""
    last = STEPS - int(instrument.silent_days * STEPS_PER_DAY)
    if instrument.kind is not InstrumentKind.TENSIOMETER:
        return list(range(0, last + 1))
    steps = []
    for day in range(DAYS):
        if (FIRST_DAY + timedelta(days=day)).weekday() in ROUND_DAYS:
            step = day * STEPS_PER_DAY + int(ROUND_HOUR / STEP_HOURS)
            if step <= last:
                steps.append(step)
    return steps


def _reading_rows(
    demo: DemoBlock,
    instrument: DemoInstrument,
    channels: list[Channel],
    theta: Floats,
    node_mm: Floats,
    rng: np.random.Generator,
) -> Records:
    steps = np.array(_steps_read(instrument))
    profile = Profile.from_horizons(demo.horizons)
    depths = [d * 10.0 for d in instrument.depths_cm]
    core = simulate_readings(instrument.kind, profile, depths, theta[steps], node_mm, rng)
    raw = np.round(from_core(core, instrument.unit), 3)
    if instrument.dead_cm is not None:
        column = depths.index(instrument.dead_cm * 10.0)
        frozen = steps > STEPS - instrument.dead_days * STEPS_PER_DAY
        raw[frozen, column] = raw[~frozen, column][-1]
    rows = np.empty(raw.shape, ROW)
    rows["channel_id"] = [c.pk for c in channels]
    rows["time"] = round(START.timestamp() * 1e6) + (steps * STEP_HOURS * HOUR_US)[:, None]
    rows["value"], rows["unit"] = raw, code_of(instrument.unit)
    return rows.ravel()


def _make_soil(farm: Farm, demo: DemoBlock) -> SoilProfile:
    soil = SoilProfile(farm=farm, name=demo.soil)
    soil.save()
    for h in demo.horizons:
        Horizon(
            profile=soil,
            top_mm=h.top_mm,
            bottom_mm=h.bottom_mm,
            sand=h.sand,
            silt=h.silt,
            clay=h.clay,
            texture=str(h.texture or ""),
            organic_matter=h.organic_matter,
            gravel=h.gravel,
            bulk_density=h.bulk_density,
            ece=h.ece,
            points=[list(p) for p in h.points],
        ).save()
    return soil


def _make_season(block: Block, demo: DemoBlock) -> None:
    season = CropSeason(block=block, crop_key=demo.crop, planted_on=demo.planted, clock=demo.clock)
    season.save()
    for on in demo.cuts:
        SeasonEvent(season=season, kind=EventKind.CUT, on=on).save()
    for on, key in demo.seen:
        SeasonEvent(season=season, kind=EventKind.STAGE, on=on, stage_key=key).save()
    if demo.cover is not None:
        on, cover, height = demo.cover
        SeasonEvent(season=season, kind=EventKind.COVER, on=on, cover=cover, height_m=height).save()


def _make_block(farm: Farm, demo: DemoBlock) -> Block:
    block = Block(
        farm=farm,
        name=demo.name,
        area_m2=demo.hectares * 10_000,
        slope_percent=demo.slope_percent,
        water_ecw=demo.water_ecw,
        design=dict(demo.design),
        system_kind=str(demo.system),
        rate_mm_h=demo.rate_mm_h,
        flow_m3_h=demo.flow_m3_h,
        efficiency=demo.efficiency,
        smallest_mm=demo.smallest_mm,
        largest_mm=demo.largest_mm,
        rain_room_mm=demo.rain_room_mm,
    )
    properties = {"name": demo.name}
    outline = {"type": "Feature", "properties": properties, "geometry": OUTLINES[demo.name]}
    give_outline(block, outline)
    block.save()
    BlockSoil(block=block, soil=_make_soil(farm, demo), reason="set-up", made_at=START).save()
    _make_season(block, demo)
    return block


def _make_ground(farm: Farm, blocks: dict[str, Block]) -> None:
    """What stands on the plan, a limit changed in the season, a test of the sprinklers."""
    for kind, name, geometry in FEATURES:
        MapFeature(farm=farm, kind=kind, name=name, geometry=geometry).save()
    adviser = User.objects.get(email=PEOPLE[Role.ADVISER][1])
    block, on, school, value, reason = REFILL_CHANGE
    RefillRule(
        block=blocks[block],
        school=school,
        value=value,
        from_on=on,
        reason=reason,
        made_at=datetime(on.year, on.month, on.day, 9, tzinfo=ZoneInfo(ZONE)),
        made_by=adviser,
    ).save()
    block, on, catch = CATCH_CANS
    CatchCanTest(block=blocks[block], on=on, catch_mm=list(catch), note="two laterals").save()
    name, book_key, values, reason = OWN_CROP
    FarmCrop(farm=farm, name=name, book_key=book_key, values=values, reason=reason).save()


def _make_people(farm: Farm) -> None:
    for role, (name, email) in PEOPLE.items():
        user = User.objects.filter(email=email).first() or User.objects.create_user(email, name)
        Membership(user=user, farm=farm, role=role).save()


@transaction.atomic
def seed_demo() -> Farm:
    """Make the demo farm; the database must not hold it yet."""
    weather, run = simulate()
    farm = Farm(name=NAME, slug=SLUG, time_zone=ZONE, fixed_now=NOW, simulated=True)
    farm.save()
    _make_people(farm)
    WeatherDay.unscoped.bulk_create(
        WeatherDay(
            farm=farm,
            date=FIRST_DAY + timedelta(days=d),
            et0_mm=float(weather.et0_mm[d]),
            rain_mm=float(weather.rain_mm[d]),
            t_min_c=float(weather.t_min_c[d]),
            t_max_c=float(weather.t_max_c[d]),
            source=SOURCE,
        )
        for d in range(DAYS - 1)
    )
    blocks = [_make_block(farm, demo) for demo in BLOCKS]
    _make_ground(farm, {b.name: b for b in blocks})
    Irrigation.unscoped.bulk_create(
        Irrigation(
            block=blocks[s.block],
            started_at=START + timedelta(hours=s.start_hours),
            ended_at=START + timedelta(hours=s.end_hours),
            gross_mm=round(s.net_mm / BLOCKS[s.block].efficiency, 1),
        )
        for s in run.sets
    )
    rng = np.random.default_rng(SEED)
    for i, (demo, block) in enumerate(zip(BLOCKS, blocks, strict=True)):
        for spec in demo.instruments:
            instrument = Instrument(block=block, label=spec.label, kind=str(spec.kind))
            instrument.save()
            give_life(instrument)
            quantity = str(kinds()[spec.kind].quantity)
            channels = [
                Channel(instrument=instrument, quantity=quantity, depth_mm=d * 10.0)
                for d in spec.depths_cm
            ]
            for channel in channels:
                channel.save()
            batch = ReadingBatch(farm=farm, origin=ReadingBatch.Origin.SIMULATED)
            batch.save()
            store_readings(
                batch,
                _reading_rows(demo, spec, channels, run.theta[:, i, :], run.node_mm, rng),
            )
    make_rounds(farm)
    return farm

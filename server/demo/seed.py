"""Fills the database with the demo farm: simulated season, readings, sets, weather, people."""

from collections import defaultdict
from collections.abc import Iterable, Iterator
from datetime import datetime, timedelta
from zoneinfo import ZoneInfo

import numpy as np
from django.db import transaction

from core.arrays import Floats
from core.instrument.kinds import kinds
from core.instrument.reading_units import code_of
from core.world.column import (
    STEP_HOURS,
    STEPS_PER_DAY,
    SimulatedSet,
)
from core.world.wind import simulate_wind
from server.accounts.demo_people import PEOPLE
from server.accounts.models import User
from server.blocks.loading import blocks_of
from server.blocks.models import Block, CropSeason, EventKind, SeasonEvent
from server.crops.models import FarmCrop
from server.demo.cuts import give_cuts
from server.demo.decided import decide_the_past, give_care, plan_ahead
from server.demo.farm import (
    ADOPTED,
    BLOCKS,
    CATCH_CANS,
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
from server.demo.history import write_history
from server.demo.last_year import BLOCK as LAST_YEARS
from server.demo.last_year import give_last_year
from server.demo.leaves import VINEYARD, give_leaves
from server.demo.life import give_life, make_rounds
from server.demo.network import give_network
from server.demo.paddies import demo_blocks, give_paddies
from server.demo.plan import FEATURES, OUTLINES, SOUTH, WEST
from server.demo.simulated_season import (
    DAYS,
    START,
    STEPS,
    forecasts,
    raw_readings,
    simulate,
    steps_read,
)
from server.demo.siting import BLOCK as SURVEYED
from server.demo.siting import give_layers
from server.demo.valves import give_valves
from server.demo.weather import record_weather
from server.events.adopt import adopt_full, horizons_seen
from server.farms.access import Access
from server.farms.models import Farm, Membership, Role
from server.instruments.models import Channel, Instrument
from server.limits.models import BlockSoil, RefillRule
from server.maps.models import MapFeature
from server.maps.outlines import give_outline
from server.plan.making import make_sheet
from server.plan.models import RunSheet
from server.readings.binary_copy import Records
from server.readings.models import ReadingBatch
from server.readings.store import ROW, store_readings
from server.readings.surroundings import HOUR_US
from server.soils.models import Horizon, SoilProfile
from server.water.models import CatchCanTest, Irrigation
from server.weather.models import WeatherForecast


def _reading_rows(
    demo: DemoBlock,
    instrument: DemoInstrument,
    channels: list[Channel],
    theta: Floats,
    node_mm: Floats,
    rng: np.random.Generator,
) -> Records:
    steps = np.array(steps_read(instrument))
    depths = [d * 10.0 for d in instrument.depths_cm]
    raw = raw_readings(demo, instrument, theta[steps], node_mm, rng)
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
        estimate_from=str(demo.estimate_from),
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
    block, on, refill_method, value, reason = REFILL_CHANGE
    RefillRule(
        block=blocks[block],
        refill_method=refill_method,
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


def _adopt_seen(farm: Farm, blocks: dict[str, Block]) -> None:
    """Adopt the full points of a block as its manager would."""
    name, reason = ADOPTED
    manager = Membership.objects.get(farm=farm, role=Role.MANAGER)
    access = Access(user=manager.user, farm=farm, role=Role.MANAGER)
    block = blocks_of(farm).get(pk=blocks[name].pk)
    seen = [h.index for h in horizons_seen(farm, block) if h.can_be_adopted]
    adopt_full(access, block, seen, farm.now().date(), reason)


def _logged(blocks: list[Block], sets: Iterable[SimulatedSet]) -> Iterator[Irrigation]:
    """What is on record: every set but those that were forgotten, and those that did not run."""
    ran: dict[int, list[SimulatedSet]] = defaultdict(list)
    for one in sets:
        ran[one.block].append(one)
    for i, (demo, block) in enumerate(zip(BLOCKS, blocks, strict=True)):
        by_time = sorted(ran[i], key=lambda x: x.start_hours, reverse=True)
        for k, one in enumerate(by_time):
            if k != demo.unlogged:
                gross = round(one.net_mm / (demo.efficiency * demo.came), 1)
                yield _irrigation(block, one.start_hours, one.end_hours, gross)
        for days, hour, lasts, gross in demo.not_run:
            start = (DAYS - 1 - days) * 24 + hour
            yield _irrigation(block, start, start + lasts, gross)


def _irrigation(block: Block, start: float, end: float, gross_mm: float) -> Irrigation:
    return Irrigation(
        block=block,
        started_at=START + timedelta(hours=start),
        ended_at=START + timedelta(hours=end),
        gross_mm=gross_mm,
        made_by=block.irrigator,
    )


def _make_people(farm: Farm) -> None:
    for number, (role, (name, email)) in enumerate(PEOPLE.items()):
        user = User.objects.filter(email=email).first() or User.objects.create_user(email, name)
        user.last_login = NOW - timedelta(hours=10 + 17 * number)
        user.save(update_fields=["last_login"])
        Membership(user=user, farm=farm, role=role).save()


@transaction.atomic
def _plan_run_sheet(farm: Farm) -> None:
    """The run sheet of this morning, planned and not announced yet."""
    manager = User.objects.get(email=PEOPLE[Role.MANAGER][1])
    sheet = RunSheet(farm=farm, asked_at=farm.now(), asked_by=manager)
    sheet.save()
    make_sheet(sheet.pk)


def seed_demo() -> Farm:
    """Make the demo farm; the database must not hold it yet."""
    weather, run = simulate()
    farm = Farm(
        name=NAME,
        slug=SLUG,
        time_zone=ZONE,
        fixed_now=NOW,
        simulated=True,
        latitude=SOUTH,
        longitude=WEST,
        elevation_m=4,
    )
    farm.save()
    _make_people(farm)
    record_weather(farm, weather, FIRST_DAY, DAYS - 1)
    for issued, et0, rain in forecasts():
        WeatherForecast(
            farm=farm,
            issued_at=issued,
            first_day=issued.date(),
            members=et0.shape[0],
            et0_mm=np.round(et0, 2).ravel().tolist(),
            rain_mm=np.round(rain, 1).ravel().tolist(),
            wind_m_s=simulate_wind((issued.date() - FIRST_DAY).days, et0.shape[1], SEED).tolist(),
            source="simulated forecast",
        ).save()
    blocks = [_make_block(farm, demo) for demo in BLOCKS]
    rice = [_make_block(farm, demo) for demo in demo_blocks()]
    by_name = {b.name: b for b in (*blocks, *rice)}
    _make_ground(farm, by_name)
    give_care(by_name)
    Irrigation.unscoped.bulk_create(_logged(blocks, run.sets))
    rng = np.random.default_rng(SEED)
    for i, (demo, block) in enumerate(zip(BLOCKS, blocks, strict=True)):
        for spec in demo.instruments:
            instrument = Instrument(
                block=block, label=spec.label, kind=str(spec.kind), pass_place=spec.pass_place
            )
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
    give_paddies(farm, by_name, weather)
    vines = [b.name for b in BLOCKS].index(VINEYARD)
    give_leaves(blocks[vines], BLOCKS[vines], run.theta[:, vines, :], run.node_mm)
    give_cuts(by_name)
    give_layers(farm, by_name[SURVEYED])
    give_last_year(farm, by_name[LAST_YEARS])
    make_rounds(farm)
    decide_the_past(farm)
    plan_ahead(by_name)
    write_history(farm)
    give_network(farm, by_name)
    give_valves(farm, by_name)
    _adopt_seen(farm, by_name)
    _plan_run_sheet(farm)
    return farm

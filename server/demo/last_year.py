"""The season before on one of the demo's fields: for the farm's people to lay the new one over."""

from dataclasses import replace
from datetime import date, datetime, timedelta
from zoneinfo import ZoneInfo

import numpy as np

from core.instrument.reading_units import code_of
from core.world.column import STEP_HOURS, STEPS_PER_DAY, ColumnRun, simulate_columns
from core.world.weather import Weather, simulate_weather
from server.blocks.models import Block, CropSeason
from server.demo.farm import BLOCKS, SEED, ZONE, DemoBlock
from server.demo.simulated_season import column, raw_readings
from server.demo.weather import record_weather
from server.farms.models import Farm
from server.instruments.models import Channel
from server.readings.models import ReadingBatch
from server.readings.store import ROW, store_readings
from server.readings.surroundings import HOUR_US
from server.water.models import Irrigation

BLOCK = "Long Tye"
FIRST_DAY, DAYS, PLANTED = date(2025, 4, 1), 180, date(2025, 4, 27)
START = datetime(FIRST_DAY.year, FIRST_DAY.month, FIRST_DAY.day, tzinfo=ZoneInfo(ZONE))
HOURLY = int(1 / STEP_HOURS)
# He waited longer then, and gave more at a time.
TRIGGER, REFILL_SHARE = 0.8, 0.9


def give_last_year(farm: Farm, block: Block) -> None:
    """Weather of last year for the farm, and for one block its crop, water and readings.

    Parameters
    ----------
    block : Block
        `BLOCK`, with its instruments.
    """
    demo = next(b for b in BLOCKS if b.name == BLOCK)
    weather = simulate_weather(DAYS, FIRST_DAY.timetuple().tm_yday, SEED + 1)
    run = _run(demo, weather)
    record_weather(farm, weather, FIRST_DAY, DAYS)
    CropSeason(block=block, crop_key=demo.crop, planted_on=PLANTED, clock=demo.clock).save()
    Irrigation.unscoped.bulk_create(
        Irrigation(
            block=block,
            started_at=START + timedelta(hours=one.start_hours),
            ended_at=START + timedelta(hours=one.end_hours),
            gross_mm=round(one.net_mm / (demo.efficiency * demo.came), 1),
            made_by=block.irrigator,
        )
        for one in run.sets
    )
    _record_readings(farm, block, demo, run)


def _run(demo: DemoBlock, weather: Weather) -> ColumnRun:
    now = column(demo)
    then = replace(
        now,
        season=replace(now.season, planted_on=PLANTED, cuts=(), covers=()),
        policy=replace(
            now.policy,
            trigger=TRIGGER,
            refill_share=REFILL_SHARE,
            until_day=DAYS,
            given=(),
        ),
    )
    return simulate_columns([then], weather, FIRST_DAY, DAYS * STEPS_PER_DAY - 1)


def _record_readings(farm: Farm, block: Block, demo: DemoBlock, run: ColumnRun) -> None:
    rng = np.random.default_rng(SEED + 1)
    steps = np.arange(0, run.theta.shape[0], HOURLY)
    for spec in demo.instruments:
        channels = Channel.objects.for_farm(farm).filter(
            instrument__block=block, instrument__label=spec.label
        )
        raw = raw_readings(demo, spec, run.theta[steps, 0, :], run.node_mm, rng)
        rows = np.empty(raw.shape, ROW)
        rows["channel_id"] = [c.pk for c in channels.order_by("depth_mm")]
        rows["time"] = round(START.timestamp() * 1e6) + (steps * STEP_HOURS * HOUR_US)[:, None]
        rows["value"], rows["unit"] = raw, code_of(spec.unit)
        batch = ReadingBatch(farm=farm, origin=ReadingBatch.Origin.SIMULATED)
        batch.save()
        store_readings(batch, rows.ravel())

"""How long a block's irrigations should run, by what its last ones did."""

import math
from collections.abc import Sequence
from datetime import datetime, timedelta

import numpy as np

from core.arrays import Floats
from core.events.reach import Reach
from core.events.run_hours import MOST, Run, RunHours, run_hours
from server.base.json_out import known
from server.blocks.models import Block
from server.events.models import Wetting
from server.events.reading import roots_and_use
from server.events.schemas import HoursOut, RunHoursOut
from server.events.supplies import irrigations_of
from server.farms.models import Farm
from server.limits.facts import block_facts, warmth_since
from server.readings.water_table import water_tables
from server.water.models import Irrigation
from server.weather.recorded import farm_weather

# Roots are looked up so many days ahead, and hours of where they are deeper by so much [mm].
AHEAD_DAYS = (14, 28)
DEEPER_MM = 50.0
HOUR = timedelta(hours=1)


def block_run_hours(farm: Farm, block: Block, now: datetime) -> RunHoursOut | None:
    """What the block's irrigations tell; None where they tell nothing yet."""
    roots = _roots(farm, block, now)
    if not roots or roots[0] <= 0:
        return None
    rows = Wetting.objects.for_farm(farm).filter(block=block, rain_days=[], irrigations__len=1)
    alone = [row for row in rows if row.given_mm is not None and row.root_mm is not None]
    given = irrigations_of(farm, alone)
    alone = [row for row in alone if row.irrigations[0] in given]
    runs = [_run(row, given[row.irrigations[0]]) for row in alone]
    sites = len({row.instrument_id for row in alone})
    hours = run_hours(runs, roots[0], roots[1:], MOST * max(sites, 1))
    if hours is None:
        return None
    return _out(hours, [given[alone[k].irrigations[0]] for k in hours.runs])


def _roots(farm: Farm, block: Block, now: datetime) -> list[float]:
    """Depth of the roots today, and of deeper ones to come [mm]; empty without a crop."""
    weather = farm_weather(farm, now, since=warmth_since([block], now.date()))
    facts = block_facts(farm, [block], now, weather, water_tables([block], now))[block.pk]
    last = now + timedelta(days=max(AHEAD_DAYS))
    _, root, _ = roots_and_use(facts, weather, now.date(), last, 1.0)
    if not root.size:
        return []
    out = [float(root[0])]
    for day in AHEAD_DAYS:
        if float(root[day]) >= out[-1] + DEEPER_MM:
            out.append(float(root[day]))
    return out


def _run(row: Wetting, given: Irrigation) -> Run:
    def by_sensor(values: Sequence[float | None]) -> Floats:
        return np.array([math.nan if v is None else v for v in values])

    high = math.inf if row.reached_high_mm is None else row.reached_high_mm
    return Run(
        hours=(given.ended_at - given.started_at) / HOUR,
        given_mm=row.given_mm or 0.0,
        root_mm=row.root_mm or 0.0,
        reach=Reach(row.reached_mm, row.reached_low_mm, high),
        top_mm=by_sensor(row.top_mm),
        bottom_mm=by_sensor(row.bottom_mm),
        added_mm=by_sensor(row.added_mm),
        drained_mm=row.drained_mm,
    )


def _out(hours: RunHours, given: Sequence[Irrigation]) -> RunHoursOut:
    gross = float(np.median([s.gross_mm for s in given]))
    return RunHoursOut(
        irrigations=sorted({s.pk for s in given}),
        habit_hours=hours.habit_hours,
        habit_net_mm=hours.habit_mm,
        habit_gross_mm=gross,
        reached_mm=known(hours.reached_mm),
        passed_mm=hours.passed_mm,
        enough=[
            HoursOut(
                root_mm=h.root_mm,
                low=h.low,
                likely=h.likely,
                high=known(h.high),
                gross_mm=gross * h.likely / hours.habit_hours,
            )
            for h in hours.enough
        ],
    )

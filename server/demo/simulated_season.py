"""The season that the demo's fields lived through, simulated; and how it goes on."""

import copy
from dataclasses import replace
from datetime import datetime, timedelta
from zoneinfo import ZoneInfo

import numpy as np

from core.arrays import Floats
from core.crop.catalogue import crop
from core.crop.season import CoverSeen
from core.crop.season import CropSeason as SeasonInput
from core.instrument.kinds import InstrumentKind
from core.instrument.reading_units import from_core
from core.irrigation.usual import usual_performance
from core.soil.profile import Profile
from core.units import water_depth_mm
from core.world.climates import FORECAST_DAYS, simulate_forecast
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
from server.demo.farm import (
    BLOCKS,
    DRY_TAIL_DAYS,
    FIRST_DAY,
    NOW,
    SEED,
    ZONE,
    DemoBlock,
    DemoInstrument,
)

START = datetime(FIRST_DAY.year, FIRST_DAY.month, FIRST_DAY.day, tzinfo=ZoneInfo(ZONE))
HOURS = (NOW - START).total_seconds() / 3600
STEPS = int(HOURS / STEP_HOURS)
DAYS = STEPS // STEPS_PER_DAY + 1
# The scout's round: Monday, Wednesday and Friday at seven.
ROUND_DAYS, ROUND_HOUR = frozenset({0, 2, 4}), 7
# The weather service: how many of its forecasts are kept, when it issues, and what it holds of
# the climate.
FORECASTS_KEPT, ISSUE_HOUR = 10, 4
WET_CHANCE, WET_MM = 0.2, 7.0


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


def _strip(block: DemoBlock) -> float:
    """Share of the ground that is irrigated: by the design, else what is usual of the system."""
    usual = usual_performance()[block.system].wetted
    return float(dict(block.design).get("wetted_fraction", 1.0 if usual is None else usual[0]))


def column(block: DemoBlock) -> ColumnBlock:
    """A block of the demo as its column is simulated."""
    return ColumnBlock(
        profile=Profile.from_horizons(block.horizons),
        season=_season(block),
        place=next((i.pass_place for i in block.instruments), None),
        strip=_strip(block),
        policy=Policy(
            trigger=block.trigger,
            refill_share=block.refill_share,
            net_rate_mm_h=_rate(block) * block.efficiency * block.came,
            start_hour=block.start_hour,
            until_day=DAYS - 1 - block.until_days,
            given=tuple(Given(DAYS - 1 - d, hour, net) for d, hour, net in block.given),
        ),
    )


def _weather() -> Weather:
    return simulate_weather(DAYS, FIRST_DAY.timetuple().tm_yday, SEED, DRY_TAIL_DAYS)


def _run(weather: Weather, steps: int) -> ColumnRun:
    return simulate_columns([column(b) for b in BLOCKS], weather, FIRST_DAY, steps)


def simulate() -> tuple[Weather, ColumnRun]:
    """The season up to the demo's now."""
    weather = _weather()
    return weather, _run(weather, STEPS)


def steps_read(instrument: DemoInstrument) -> list[int]:
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


def raw_readings(
    block: DemoBlock,
    instrument: DemoInstrument,
    theta: Floats,
    node_mm: Floats,
    rng: np.random.Generator,
) -> Floats:
    """What an instrument writes down over steps, in its own unit; shape (steps, depths)."""
    profile = Profile.from_horizons(block.horizons)
    depths = [d * 10.0 for d in instrument.depths_cm]
    core = simulate_readings(instrument.kind, profile, depths, theta, node_mm, rng)
    return np.round(from_core(core, instrument.unit), 3)


def forecasts() -> list[tuple[datetime, Floats, Floats]]:
    """Ensembles of the last days, each with its hour of issue: ET0 and rain, (members, days)."""
    weather = _weather()
    rng = np.random.default_rng(SEED)
    usual = float(weather.et0_mm[-14:].mean())
    # What comes after now is dry, as the stand-ins have it.
    et0 = np.concatenate([weather.et0_mm, np.full(FORECAST_DAYS, usual)])
    rain = np.concatenate([weather.rain_mm, np.zeros(FORECAST_DAYS)])
    out = []
    for day in range(DAYS - FORECASTS_KEPT, DAYS):
        ahead = slice(day, day + FORECAST_DAYS)
        members = simulate_forecast(et0[ahead], rain[ahead], WET_CHANCE, WET_MM, rng)
        out.append((START + timedelta(days=day, hours=ISSUE_HOUR), *members))
    return out


def simulate_on(days: int) -> dict[str, Floats]:
    """Raw readings of every instrument from the demo's now on, by its label.

    The same soil, and each sensor with the bias it had; it does not rain and nobody waters.

    Returns
    -------
    dict of arrays, shape (days * 96, depths)
        Every 15 minutes from the first quarter of an hour after the demo's now.
    """
    weather = _weather()
    dry = np.full(days + 1, float(weather.et0_mm[-14:].mean()))
    longer = replace(
        weather,
        et0_mm=np.concatenate([weather.et0_mm, dry]),
        rain_mm=np.concatenate([weather.rain_mm, dry * 0]),
        t_min_c=np.concatenate([weather.t_min_c, dry * 0 + weather.t_min_c[-1]]),
        t_max_c=np.concatenate([weather.t_max_c, dry * 0 + weather.t_max_c[-1]]),
    )
    run = _run(longer, STEPS + days * STEPS_PER_DAY)
    rng = np.random.default_rng(SEED)
    readings = {}
    for i, block in enumerate(BLOCKS):
        for instrument in block.instruments:
            # The bias is drawn first: a copy draws it again, the past then moves the state on.
            again = copy.deepcopy(rng)
            past = np.array(steps_read(instrument))
            raw_readings(block, instrument, run.theta[past, i, :], run.node_mm, rng)
            ahead = run.theta[STEPS + 1 :, i, :]
            readings[instrument.label] = raw_readings(block, instrument, ahead, run.node_mm, again)
    return readings

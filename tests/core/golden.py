"""Drawn blocks and what is said of them, kept to notice when an answer changes.

`python -m tests.core.golden` writes the file anew; it refuses while `RULES_VERSION` is still that
of the file, for advice on record names the version by which it was given.
"""

import json
import sys
from dataclasses import replace
from datetime import timedelta
from pathlib import Path
from typing import Any

import numpy as np

from core.advice.assess import assess_blocks
from core.advice.inputs import BlockInputs, PastWeather, Watering
from core.advice.version import RULES_VERSION
from core.crop.catalogue import crop
from core.crop.climate import Climate
from core.crop.salinity import leaching
from core.crop.season import CropSeason
from core.instrument.kinds import InstrumentKind
from core.instrument.site import Site
from core.irrigation.fixed import Drip
from core.irrigation.system import IrrigationSystem, SystemKind
from core.outlook.forecast import Forecast
from core.soil.horizon import Horizon
from core.soil.profile import Profile
from core.soil.texture import TextureClass
from core.soil.water_table import WaterTable
from core.state.estimate_from import EstimateFrom
from core.weather.years import WeatherRecord
from tests.core.blocks import NOW, block, changed

FILE = Path(__file__).with_name("golden_answers.json")
PLAIN, DAYS = 30, 40
# Beyond the plain ones each has one thing more; beyond those crops are near their end.
MORE, CASES = 40, 44
CROPS = ("potato", "maize-grain", "onion-dry", "apple", "lucerne-hay")
KINDS = (
    InstrumentKind.CAPACITANCE_PROBE,
    InstrumentKind.TENSIOMETER,
    InstrumentKind.GRANULAR_MATRIX,
    None,
)


def _site(rng: np.random.Generator, kind: InstrumentKind, profile: Profile) -> Site:
    depth = np.array([150.0, 300.0, 600.0])
    hours = np.arange(-24.0 * DAYS, 0.1, 6.0)
    swing = np.abs(np.mod(hours / 24 + rng.uniform(0, 6), 6) - 5.5)[:, None]
    if kind is InstrumentKind.CAPACITANCE_PROBE:
        h = profile.horizon_at(depth)
        full, wilt = profile.theta_full[h], profile.theta_wilt[h]
        value = full - (full - wilt) * np.array([0.08, 0.05, 0.02]) * (5.5 - swing)
    else:
        value = np.array([8.0, 7.0, 6.0]) * (6.5 - swing)
    value = value * (1 + rng.normal(0, 0.01, value.shape))
    return Site.from_readings("S", kind, depth, hours, value, profile)


def drawn(number: int) -> BlockInputs:
    """One of the blocks."""
    rng = np.random.default_rng(number)
    top, below = rng.choice(list(TextureClass), 2)
    profile = Profile.from_horizons(
        [
            Horizon(0, 350, texture=TextureClass(top)),
            Horizon(350, 1500, texture=TextureClass(below)),
        ]
    )
    kind = KINDS[number % len(KINDS)]
    key = CROPS[number % len(CROPS)]
    et0 = rng.uniform(3, 7, DAYS)
    return block(
        profile=profile,
        season=CropSeason(crop(key), NOW.date() - timedelta(days=int(rng.integers(45, 90)))),
        sites=() if kind is None else (_site(rng, kind, profile),),
        waterings=tuple(Watering(-144.0 * k - 20, 25.0) for k in range(6)),
        past=PastWeather(NOW.date() - timedelta(days=DAYS), et0),
        forecast=Forecast.of(rng.uniform(3, 7, (50, 10)), rng.gamma(0.2, 6.0, (50, 10)), 31),
        estimate_from=list(EstimateFrom)[0 if number % 5 else number % 3],
        seed=number,
    )


def _more(of: BlockInputs, number: int) -> BlockInputs:
    """The block with wind, a water table, salty water, a pan, or drip given little and often."""
    assert of.assumed.season is not None
    first = NOW.date() - timedelta(days=DAYS + 30)
    days = DAYS + 30
    kind = number % 5
    if kind == 0:
        windy = Climate.before_days(first, np.full(days, 4.0), np.full(days, 25.0))
        return changed(of, season=replace(of.assumed.season, climate=windy))
    if kind == 1:
        depth = np.linspace(1900.0, 1100.0, days)
        return changed(of, water_table=WaterTable(first, depth, "drawn"))
    if kind == 2:
        return changed(of, leaching=leaching(1.7, 12.0, 1.5))
    if kind == 3:
        pan = Horizon(500, 1500, texture=TextureClass.CLAY, bulk_density=1.6)
        loam = Horizon(0, 500, texture=TextureClass.LOAM)
        return changed(of, profile=Profile.from_horizons([loam, pan]), sites=())
    drip = IrrigationSystem(SystemKind.DRIP, 50_000, 0.9, rate_mm_h=1.6 / 0.9)
    return changed(
        of,
        system=drip,
        design=Drip(1.6, 0.3, 3.0, 0.3),
        little_and_often=True,
        wetted_share=0.3,
        tended=True,
    )


def _ending(of: BlockInputs, number: int) -> BlockInputs:
    """The block under maize that is ripe in 15, 25, 35 or 45 days, with ten years of weather."""
    maize = crop("maize-grain")
    left = 15 + 10 * (number - MORE)
    planted = NOW.date() - timedelta(days=int(sum(maize.stage_days)) - left)
    day, rng = np.arange(3650), np.random.default_rng(number)
    rain = rng.gamma(0.2, 6.0, day.size)
    years = WeatherRecord(day, day % 365 + 1, rng.uniform(3, 7, day.size), rain)
    return changed(of, season=CropSeason(maize, planted), years=years)


def _case(number: int) -> BlockInputs:
    of = drawn(number)
    if number < PLAIN:
        return of
    return _more(of, number) if number < MORE else _ending(of, number)


def answers() -> list[dict[str, Any]]:
    """What is said of all of them."""
    out = []
    for number in range(CASES):
        a = assess_blocks([_case(number)], past=False)[0]
        out.append(
            {
                "state": str(a.state),
                "deficit_mm": a.deficit_mm,
                "sigma_mm": a.sigma_mm,
                "raw_mm": float(a.outlook.raw_mm[0]) if a.outlook else None,
                "days_left": a.outlook.days_left if a.outlook else None,
                "net_mm": a.amount.net_mm if a.amount else None,
            }
        )
    return out


def main() -> int:
    if FILE.exists() and json.loads(FILE.read_text())["version"] == RULES_VERSION:
        print("raise RULES_VERSION in core/advice/version.py first", file=sys.stderr)
        return 1
    kept = {"version": RULES_VERSION, "answers": answers()}
    FILE.write_text(json.dumps(kept, indent=1) + "\n")
    return 0


if __name__ == "__main__":
    sys.exit(main())

"""Refill points that simulated crops have shown, beside where the fields themselves run short."""

from collections.abc import Sequence
from copy import copy
from dataclasses import dataclass, replace
from datetime import datetime, timedelta

import numpy as np

from core.advice.assumptions import Assumptions
from core.advice.decide import decide
from core.advice.inputs import BlockInputs, PastWeather, Watering
from core.advice.learned import learned
from core.advice.stated_et import StatedEt
from core.arrays import Floats
from core.events.event import wetting_events
from core.events.record import SiteRecord
from core.learned.refill_point import RefillPoint, SiteRefill, refill_point, site_refill
from core.learned.uptake import uptake_days
from core.outlook.forecast import Forecast
from core.soil.retention import WILTING_TENSION_KPA
from core.world.by_advice import ZONE
from core.world.events_trial import drawn_habits, site_records
from core.world.farm import FIRST, Farm
from core.world.irrigators import Habit
from core.world.richards import CELL_BOTTOM_CM, CELL_CM, Water, saturation_at, theta_of
from core.world.truths import KPA_PER_CM, LayeredTruth, RichardsTruth
from core.world.watched import Watched

# A field dries from full under such a sky, as long as this, with the roots of so long before the
# end [mm/day, days].
SKY_MM, DRIES_DAYS, BEFORE_END = 5.0, 60, 15
LATE_DUE, LATE_SHARES = (0.5, 2.0), (0.5, 0.8, 1.2)


@dataclass(frozen=True)
class RefillJudged:
    """What a field showed; its refill point told, None where it was silent, the depletion at which
    it truly runs short, and what its roots truly hold [mm]."""

    site: SiteRefill
    told: RefillPoint | None
    true_mm: float
    available_mm: float


def late_habits(farm: Farm, seed: int) -> list[Habit]:
    """Fields watered in time, late and far too late."""
    return drawn_habits(farm, seed, LATE_DUE, LATE_SHARES)


def true_onset_mm(truth: LayeredTruth | RichardsTruth, day: int) -> Floats:
    """Depletion in the middle of the first day on which each field runs short, dried from full
    with the crop of a day; array (fields,) [mm], NaN where it never does."""
    dry = copy(truth)
    if isinstance(dry, LayeredTruth):
        dry.fields = dry.fields.copy()
        dry.fields.theta = dry.fields.full * 2 ** (1 / dry.fields.power)
    else:
        width = dry.columns.theta_s - dry.columns.theta_r
        dry.water = Water((dry.full - dry.columns.theta_r) / width, np.zeros(dry.arrives.size))
    none = np.zeros(dry.arrives.size)
    out = np.full(dry.arrives.size, np.nan)
    for _ in range(DRIES_DAYS):
        before = dry.depletion_mm(day)
        dry.until_evening(day, SKY_MM, none, none)
        short, _ = dry.until_morning(day, SKY_MM, none, none)
        middle = (before + dry.depletion_mm(day)) / 2
        out = np.where(short & np.isnan(out), middle, out)
    return out


def true_available_mm(truth: LayeredTruth | RichardsTruth, day: int) -> Floats:
    """Between full and wilting in the true roots; array (fields,) [mm]."""
    if isinstance(truth, LayeredTruth):
        return truth.fields.morning(day, SKY_MM).taw_mm
    columns = truth.columns
    wilting = saturation_at(columns, -WILTING_TENSION_KPA / KPA_PER_CM)
    wilt = theta_of(columns, Water(wilting, np.zeros(1)))
    deep = truth.root_mm[:, day, None] / 10
    inside = np.clip((deep - (CELL_BOTTOM_CM - CELL_CM)) / CELL_CM, 0, 1)
    out: Floats = ((truth.full - wilt) * CELL_CM * 10 * inside).sum(axis=1)
    return out


def refill_judged(
    farm: Farm,
    truth: LayeredTruth | RichardsTruth,
    season: Watched,
    depth_mm: Sequence[float],
    seed: int,
) -> list[RefillJudged]:
    """Of every field at the season's end; see `core.world.events_trial.find_and_judge`."""
    stated = farm.kcb[:, : farm.days] * farm.weather.et0_mm[: farm.days]
    records = [
        replace(r, use_mm=use)
        for r, use in zip(site_records(farm, season, depth_mm, seed), stated, strict=True)
    ]
    day = farm.days - BEFORE_END
    onset, available = true_onset_mm(truth, day), true_available_mm(truth, day)
    found = decide([_inputs(farm, row, r) for row, r in enumerate(records)], farm.seasons)
    out = []
    for row, (record, events) in enumerate(zip(records, wetting_events(records), strict=True)):
        block = learned(found, row)
        if block is None:
            raise RuntimeError("a trial's fields have all that an estimate takes")
        full = np.array([level.estimated for level in block.levels])
        days = uptake_days(record, events, farm.profiles[row], full)
        site = site_refill(days)
        told = refill_point([site], block.raw_mm, block.raw_sigma_mm)
        out.append(RefillJudged(site, told, float(onset[row]), float(available[row])))
    return out


def _inputs(farm: Farm, row: int, record: SiteRecord) -> BlockInputs:
    """A field as the application has it on the morning after the last day."""
    w, last = farm.weather, farm.days - 1
    mean = float(w.forecast_et0_mm[last].mean())
    assumed = Assumptions(
        profile=farm.profiles[row],
        season=farm.seasons[row],
        et=StatedEt(0.85 * mean, mean, 1.15 * mean, "forecast"),
        system=farm.equipment.system,
        forecast=Forecast.of(w.forecast_et0_mm[last], w.forecast_rain_mm[last], 31),
    )
    return BlockInputs(
        now=datetime(FIRST.year, FIRST.month, FIRST.day, tzinfo=ZONE) + timedelta(days=farm.days),
        assumed=assumed,
        sites=(record.site,),
        waterings=tuple(Watering(s.start_hours, s.mm, is_rain=s.is_rain) for s in record.supplies),
        past=PastWeather(FIRST, w.et0_mm[: farm.days]),
        seed=row,
    )

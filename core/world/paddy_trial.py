"""Seasons of simulated paddies that are watered as the advice says, tubes read once a day."""

from collections.abc import Sequence
from dataclasses import dataclass, replace
from datetime import date, datetime, time, timedelta
from zoneinfo import ZoneInfo

import numpy as np

from core.advice.answer import Assessment
from core.advice.assumptions import Assumptions
from core.advice.inputs import BlockInputs, PastWeather, Watering
from core.advice.stated_et import StatedEt
from core.arrays import Floats
from core.crop.catalogue import crop
from core.crop.season import CropSeason, season_days
from core.irrigation.system import IrrigationSystem, SystemKind
from core.outlook.forecast import Forecast
from core.ponded.field import PondedField
from core.ponded.phases import PhaseDays, phase_days
from core.ponded.season_water import continuous_levels
from core.ponded.tube import Tube
from core.regime.assess import assess_blocks
from core.soil.horizon import Horizon
from core.soil.profile import Profile
from core.soil.texture import TextureClass
from core.world.climates import FORECAST_DAYS, Climate, simulate_season
from core.world.paddy import Paddy, drawn_ground

SOIL = Profile.from_horizons([Horizon(0, 800, texture=TextureClass.CLAY)])
READING_MM = 4.0
PLANTED = date(2027, 5, 15)
STARTED_MM = 30.0
# A tube is read each morning, and again at these hours of a day on which water is due before the
# next of them.
READ_HOURS = (6, 12, 18)
FLOW_M3_H, AREA_M2, EFFICIENCY = 150.0, 20_000.0, 0.95


@dataclass(frozen=True)
class PaddySeason:
    """A season; levels are the field's own, hour by hour [mm].

    level_mm, tube_mm : arrays, shape (hours,), from planting on; in the field and in its tube
    phases : by day, from planting on
    given_mm, continuous_mm : water let in until it is drained, in truth, and what would have kept
        it ponded; less what stood in it at the end
    fills : of irrigations, hours since planting at which each began
    record : all that was known on the morning on which it is drained
    """

    level_mm: Floats
    tube_mm: Floats
    phases: PhaseDays
    given_mm: float
    continuous_mm: float
    fills: tuple[float, ...]
    record: BlockInputs


class _Farmer:
    """One field with its weather, and a person who waters it as the advice says."""

    def __init__(self, seed: int, climate: Climate, missed: float) -> None:
        self._rng = np.random.default_rng([seed, 17])
        self.ground = drawn_ground(self._rng)
        self.field = PondedField(bund_mm=float(round(self.ground.bund_mm)))
        self.season = CropSeason(crop("rice"), PLANTED)
        self.days = sum(self.season.crop.stage_days)
        self._missed = missed
        self._weather = simulate_season(climate, self.days, self._rng)
        made = season_days([self.season], PLANTED, self.days)
        self.phases = phase_days(self.field, self.season, PLANTED, made.book_day[0])
        hour = np.arange(24)
        light = np.where((hour >= 6) & (hour < 20), np.sin(np.pi * (hour - 5.5) / 14), 0.0)
        daily = (made.kc[0] * self._weather.et0_mm)[:, None]
        self.use = (daily * light / light.sum()).ravel()
        self.rain = np.zeros(self.days * 24)
        fell = np.arange(self.days) * 24 + self._rng.integers(0, 24, self.days)
        self.rain[fell] = self._weather.rain_mm
        self.system = IrrigationSystem(SystemKind.PADDY, AREA_M2, EFFICIENCY, flow_m3_h=FLOW_M3_H)
        self._paddy = Paddy(self.ground, STARTED_MM)
        self._read: list[tuple[int, float]] = []
        self.given: list[tuple[float, float, float]] = []
        self._running: tuple[float, float] | None = None
        self._planned: tuple[float, float] | None = None
        self._due = np.inf
        self.level = np.zeros(self.days * 24)
        self.inflow = np.zeros(self.days * 24)

    def asks(self, hour: int) -> bool:
        """Whether the person reads the tube and asks: each morning, and where water is due before
        the next hour of reading; not while it runs."""
        clock = hour % 24
        if clock not in READ_HOURS or self._running is not None:
            return False
        later = [h for h in READ_HOURS if h > clock]
        before = hour - clock + (later[0] if later else 24 + READ_HOURS[0])
        morning = clock == READ_HOURS[0]
        if not morning and self._due >= before:
            return False
        missed = self._rng.random() < self._missed
        # Nobody forgets the tube of a field on the day on which water is due.
        if not missed or self._due < before + 12:
            at = self._paddy.level_mm + self.ground.tube_off_mm
            self._read.append((hour, at + self._rng.normal(0, READING_MM)))
        return True

    def inputs(self, hour: int) -> BlockInputs:
        """All that is known at an hour."""
        day = hour // 24
        et0, rain = self._weather.forecast_et0_mm[day], self._weather.forecast_rain_mm[day]
        mean = float(et0.mean())
        hours = np.array([h - hour for h, _ in self._read], float)
        level = np.array([x for _, x in self._read])
        return BlockInputs(
            now=datetime.combine(PLANTED, time(), ZoneInfo("UTC")) + timedelta(hours=hour),
            assumed=Assumptions(
                profile=SOIL,
                season=self.season,
                et=StatedEt(0.85 * mean, mean, 1.15 * mean, "simulated"),
                system=self.system,
                forecast=Forecast.of(et0, rain, FORECAST_DAYS),
                ponded=self.field,
            ),
            sites=(),
            waterings=self._waterings(hour),
            past=PastWeather(PLANTED, self._weather.et0_mm[:day]),
            tubes=(Tube("tube", hours, level, np.ones(hours.size, bool)),),
        )

    def _waterings(self, hour: int) -> tuple[Watering, ...]:
        """What was logged, and the rain of each day, placed at 14:00."""
        sets = [
            Watering(e - hour, mm, begun_hours=b - hour) for b, e, mm in self.given if e <= hour
        ]
        fell = [
            Watering(day * 24 + 14.0 - hour, float(mm), is_rain=True)
            for day, mm in enumerate(self._weather.rain_mm[: (hour + 10) // 24])
            if mm > 0
        ]
        return (*sets, *fell)

    def hears(self, hour: int, answer: Assessment) -> None:
        """What the advice says to do, and when."""
        self._planned, self._due = None, np.inf
        if answer.start_at is None or answer.amount is None:
            return
        first = datetime.combine(PLANTED, time(), ZoneInfo("UTC"))
        self._due = (answer.start_at - first).total_seconds() / 3600
        self._planned = (max(self._due, hour), answer.amount.hours)

    def hour(self, hour: int) -> None:
        """An hour goes by."""
        if self._running is None and self._planned and hour >= self._planned[0]:
            self._running, self._planned = (float(hour), hour + self._planned[1]), None
        inflow = 0.0
        if self._running is not None:
            begun, ends = self._running
            rate = self.system.application_rate_mm_h * EFFICIENCY
            inflow = min(ends - hour, 1.0) * rate * self.ground.inlet_factor
            if hour + 1 >= ends:
                self.given.append((begun, ends, (ends - begun) * rate))
                self._running, self._due = None, np.inf
        self._paddy.hour(self.use[hour], self.rain[hour], inflow)
        self.level[hour], self.inflow[hour] = self._paddy.level_mm, inflow

    def _held_more(self, hour: int) -> float:
        """Water that stands in the field at an hour, less that of the first [mm]."""
        return Paddy(self.ground, self.level[hour - 1]).store_mm - STARTED_MM

    def told(self, record: BlockInputs) -> PaddySeason:
        """The season as it was."""
        until = (self.phases.drain_on - PLANTED).days * 24
        ponded = Paddy(replace(self.ground, crack_mm_day=0.0), STARTED_MM)
        low, to = continuous_levels(self.field)
        return PaddySeason(
            level_mm=self.level,
            tube_mm=self.level + self.ground.tube_off_mm,
            phases=self.phases,
            given_mm=float(self.inflow[:until].sum()) - self._held_more(until),
            continuous_mm=ponded.continuous_mm(self.use[:until], self.rain[:until], low, to),
            fills=tuple(g[0] for g in self.given),
            record=record,
        )


def run_seasons(seeds: Sequence[int], missed: float = 0.1) -> tuple[PaddySeason, ...]:
    """A season of each field, watered as the advice says; the climates go round.

    Parameters
    ----------
    missed : float
        Share of the mornings, water not being due, on which nobody reads the tube [-].
    """
    climates = tuple(Climate)
    farmers = [_Farmer(k, climates[k % len(climates)], missed) for k in seeds]
    drained = (farmers[0].phases.drain_on - PLANTED).days * 24 + READ_HOURS[0]
    records: list[BlockInputs] = []
    for hour in range(farmers[0].days * 24):
        if hour == drained:
            records = [f.inputs(hour) for f in farmers]
        asking = [f for f in farmers if f.asks(hour)]
        answers = assess_blocks([f.inputs(hour) for f in asking], past=False) if asking else ()
        for f, answer in zip(asking, answers, strict=True):
            f.hears(hour, answer)
        for f in farmers:
            f.hour(hour)
    return tuple(f.told(r) for f, r in zip(farmers, records, strict=True))

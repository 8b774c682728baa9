"""The last weeks of simulated maize seasons, watered as the advice says, until the crop is ripe."""

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date, datetime, time, timedelta
from zoneinfo import ZoneInfo

import numpy as np

from core.advice.answer import Assessment
from core.advice.assumptions import Assumptions
from core.advice.gather import AHEAD_DAYS
from core.advice.inputs import BlockInputs, PastWeather, Watering
from core.advice.stated_et import StatedEt
from core.advice.vocabulary import State
from core.arrays import Floats
from core.crop.catalogue import crop
from core.crop.season import CropSeason, season_days
from core.instrument.kinds import InstrumentKind
from core.instrument.site import Site
from core.irrigation.system import IrrigationSystem, SystemKind
from core.outlook.forecast import Forecast
from core.regime.assess import assess_blocks
from core.soil.horizon import Horizon
from core.soil.profile import Profile
from core.soil.texture import TextureClass
from core.world.climates import FORECAST_DAYS, Climate, simulate_season

PLANTED = date(2027, 4, 20)
SOIL = Profile.from_horizons([Horizon(0, 1200, texture=TextureClass.SILT_LOAM)])
# The probe is read each morning from this day of the season on; what it is off for good, and at
# each reading [m3/m3].
FIRST_DAY, PROBE_MM, PROBE_OFF, PROBE_NOISE = 85, (200.0, 500.0, 800.0), 0.012, 0.002
SYSTEM = IrrigationSystem(SystemKind.PIVOT, 300_000, 0.85, flow_m3_h=250.0, smallest_mm=8.0)
# Water that falls short by less than a day's use harms no ripening crop [mm].
SHORT_MM = 5.0


@dataclass(frozen=True)
class FinishedSeason:
    """How a season ended; depths [mm].

    said_on : day of the season on which it was first said to be finished; None where it never was
    short_mm : by how much the water that the crop could use fell short after that
    left_mm : available water when the crop was ripe
    too_many : irrigations of the days from which the end was in sight, that were not needed
    """

    said_on: int | None
    short_mm: float
    left_mm: float
    too_many: int


class _Field:
    """One field with its weather and a person who waters it as the advice says."""

    def __init__(self, seed: int, climate: Climate) -> None:
        self._rng = np.random.default_rng([seed, 37])
        self.season = CropSeason(crop("maize-grain"), PLANTED)
        self.days = int(sum(self.season.crop.stage_days))
        self._weather = simulate_season(climate, self.days, self._rng)
        made = season_days([self.season], PLANTED, self.days)
        self._kc = made.kc[0] * self._rng.normal(1.0, 0.08)
        self._root = float(made.root_mm[0, -1])
        limits = SOIL.limits[0]
        self._full, self._wilt = limits.theta_full, limits.theta_wilt
        # The field holds more or less than the book has it.
        self._taw = (self._full - self._wilt) * self._root * self._rng.uniform(0.85, 1.15)
        self._held = self._taw * self._rng.uniform(0.5, 0.8)
        self._off = self._rng.normal(0, PROBE_OFF, len(PROBE_MM))
        self._read: list[Floats] = []
        self.given: list[tuple[int, float]] = []
        self._planned = 0.0
        self.said_on: int | None = None
        self.short_mm = 0.0

    def inputs(self, day: int) -> BlockInputs:
        """All that is known at six in the morning of a day."""
        et0 = self._weather.forecast_et0_mm[day]
        mean = float(et0.mean())
        theta = self._wilt + self._held / self._taw * (self._full - self._wilt)
        self._read.append(theta + self._off + self._rng.normal(0, PROBE_NOISE, len(PROBE_MM)))
        hours = 24.0 * (np.arange(len(self._read)) - len(self._read) + 1) - 0.1
        kind = InstrumentKind.CAPACITANCE_PROBE
        site = Site.from_readings(
            "Probe", kind, np.array(PROBE_MM), hours, np.array(self._read), SOIL
        )
        sets = [Watering(24.0 * (k - day) + 12, mm) for k, mm in self.given]
        rain = [
            Watering(24.0 * (k - day) + 8, float(mm), is_rain=True)
            for k, mm in enumerate(self._weather.rain_mm[:day])
            if mm > 0 and k >= FIRST_DAY
        ]
        return BlockInputs(
            now=datetime.combine(PLANTED, time(6), ZoneInfo("UTC")) + timedelta(days=day),
            assumed=Assumptions(
                profile=SOIL,
                season=self.season,
                et=StatedEt(0.85 * mean, mean, 1.15 * mean, "simulated"),
                system=SYSTEM,
                forecast=Forecast.of(et0, self._weather.forecast_rain_mm[day], FORECAST_DAYS),
            ),
            sites=(site,),
            waterings=(*sets, *rain),
            past=PastWeather(
                PLANTED + timedelta(days=FIRST_DAY), self._weather.et0_mm[FIRST_DAY:day]
            ),
            since=PLANTED + timedelta(days=FIRST_DAY),
            tended=True,
        )

    def hears(self, day: int, answer: Assessment) -> None:
        """What the advice says; water that is due before the next morning is given today."""
        self._planned = 0.0
        if answer.state is State.FINISHED:
            self.said_on = day if self.said_on is None else self.said_on
        elif answer.start_at is not None and answer.amount is not None:
            now = datetime.combine(PLANTED, time(6), ZoneInfo("UTC")) + timedelta(days=day)
            if answer.start_at < now + timedelta(days=1):
                self._planned = answer.amount.net_mm

    def day(self, day: int) -> None:
        """A day goes by."""
        if self._planned > 0:
            self.given.append((day, self._planned))
        rain = float(self._weather.rain_mm[day])
        self._held = min(self._held + (rain if rain > 2 else 0.0) + self._planned, self._taw)
        use = float(self._kc[day] * self._weather.et0_mm[day])
        if self.said_on is not None:
            self.short_mm += max(use - self._held, 0.0)
        self._held = max(self._held - use, 0.0)

    def ended(self) -> FinishedSeason:
        """How it ended."""
        left, too_many = self._held, 0
        for day, mm in reversed(self.given):
            # Without it as much would have been missing, or it would have been of no use.
            if day >= self.days - AHEAD_DAYS and mm <= left:
                left, too_many = left - mm, too_many + 1
        return FinishedSeason(self.said_on, self.short_mm, self._held, too_many)


def run_finishes(seeds: Sequence[int]) -> tuple[FinishedSeason, ...]:
    """The end of a season of each field, watered as the advice says; the climates go round."""
    climates = tuple(Climate)
    fields = [_Field(k, climates[k % len(climates)]) for k in seeds]
    for day in range(FIRST_DAY, fields[0].days):
        answers = assess_blocks([f.inputs(day) for f in fields], past=False)
        for f, answer in zip(fields, answers, strict=True):
            f.hears(day, answer)
            f.day(day)
    return tuple(f.ended() for f in fields)

"""Fields that are watered as the advice says."""

from datetime import datetime, timedelta
from zoneinfo import ZoneInfo

import numpy as np

from core.advice.assumptions import Assumptions
from core.advice.decide import Decisions, decide
from core.advice.inputs import BlockInputs, PastWeather, Watering
from core.advice.stated_et import StatedEt
from core.arrays import Floats
from core.estimate.checkpoint import Checkpoint
from core.outlook.forecast import Forecast
from core.state.estimate_from import EstimateFrom
from core.weather.effective_rain import effective_rain
from core.weather.years import WeatherRecord
from core.world.climates import Climate
from core.world.farm import FIRST, Farm
from core.world.field_readings import Readings
from core.world.truths import Truth

ZONE = ZoneInfo("UTC")
DECISION_HOUR = 6
# Room that the owner keeps for rain, as one does where it rains [mm].
ROOM = {Climate.ARID: 0.0, Climate.MIXED: 4.0, Climate.HUMID: 8.0}


class Owner:
    """What someone who waters keeps in mind: the water that was logged, and the rain."""

    def __init__(self, farm: Farm) -> None:
        self.farm = farm
        self.logged = np.zeros((farm.count, farm.days))


class ByAdvice:
    """Waters in the day where the latest start falls before the next morning's look."""

    def __init__(
        self, farm: Farm, estimate_from: EstimateFrom, years: WeatherRecord | None = None
    ) -> None:
        self.found: Decisions | None = None
        self._farm, self._estimate_from, self._years = farm, estimate_from, years

    def __call__(self, day: int, _: Truth, readings: Readings, owner: Owner) -> Floats:
        farm, w = self._farm, self._farm.weather
        on = FIRST + timedelta(days=day)
        now = datetime(on.year, on.month, on.day, DECISION_HOUR, tzinfo=ZONE)
        past = PastWeather(FIRST, w.et0_mm[:day])
        ahead = Forecast.of(w.forecast_et0_mm[day], w.forecast_rain_mm[day], 31)
        mean = float(w.forecast_et0_mm[day].mean())
        et = StatedEt(0.85 * mean, mean, 1.15 * mean, "forecast")
        rain = effective_rain(w.rain_mm[:day], w.et0_mm[:day]).infiltrated_mm
        back = (np.arange(day) - day) * 24.0
        rains = tuple(
            Watering(float(h) + 16 - DECISION_HOUR, float(mm) * farm.equipment.strip, is_rain=True)
            for h, mm in zip(back, rain, strict=True)
            if mm > 0
        )
        blocks = []
        for row, profile in enumerate(farm.profiles):
            given = tuple(
                Watering(float(h) + 12 - DECISION_HOUR, float(mm))
                for h, mm in zip(back, owner.logged[row, :day], strict=True)
                if mm > 0
            )
            assumed = Assumptions(
                profile=profile,
                season=farm.seasons[row],
                et=et,
                system=farm.equipment.system,
                wetted_share=farm.equipment.strip,
                forecast=ahead,
                rain_room_mm=ROOM[farm.climate],
                estimate_from=self._estimate_from,
            )
            blocks.append(
                BlockInputs(
                    now=now,
                    assumed=assumed,
                    sites=readings.sites(row, profile, day * 24.0 + DECISION_HOUR),
                    waterings=(*rains, *given),
                    past=past if day else None,
                    seed=row,
                    years=self._years,
                    checkpoint=_newest(self.found, row),
                )
            )
        self.found = decide(blocks, farm.seasons)
        return np.where(self.found.start_hours < 24, self.found.amounts.net_mm, 0.0)


def _newest(found: Decisions | None, row: int) -> Checkpoint | None:
    """Where yesterday's ensemble of a field stood; None before there was one."""
    kept = found.checkpoints[row] if found else ()
    return kept[-1] if kept else None

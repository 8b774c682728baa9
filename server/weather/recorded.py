"""Recorded weather of a farm, and the reference ET stated for the days ahead."""

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date, datetime, timedelta

import numpy as np

from core.advice.inputs import PastWeather
from core.advice.stated_et import StatedEt
from core.crop.climate import MEAN_DAYS, Climate
from core.outlook.forecast import Forecast
from core.weather.filling import lowest_humidity
from core.weather.station import DailyWeather, day_of_year
from server.farms.models import Farm
from server.weather.forecasts import forecast_at
from server.weather.models import WeatherDay

ET_DAYS = 14
# What stations tell of wind and of the air's moisture.
AIR = ("wind_m_s", "dew_c", "rh_min", "rh_max", "rh_mean")


@dataclass(frozen=True)
class FarmWeather:
    """Recorded days of the farm, rising, the ET0 stated for the days ahead, the forecast, and the
    wind and humidity that crops stood in; None where they were never measured."""

    days: tuple[WeatherDay, ...]
    stated: StatedEt | None
    forecast: Forecast | None = None
    climate: Climate | None = None

    def past(self, today: date, days: int) -> PastWeather | None:
        """ET0 of the days before today, from the first recorded on; None where none was."""
        first = today - timedelta(days=days)
        et0 = np.full(days, np.nan)
        for row in self.days:
            if first <= row.date < today and row.et0_mm is not None:
                et0[(row.date - first).days] = row.et0_mm
        recorded = np.flatnonzero(~np.isnan(et0))
        if not recorded.size:
            return None
        begin = int(recorded[0])
        return PastWeather(first + timedelta(days=begin), et0[begin:])


def _climate(days: Sequence[WeatherDay], first: date, last: date) -> Climate | None:
    """Wind and lowest humidity of days, from what stations measured."""
    length = (last - first).days
    columns = {name: np.full(length, np.nan) for name in ("t_min_c", "t_max_c", *AIR)}
    for row in days:
        at = (row.date - first).days
        for name, column in columns.items():
            measured = getattr(row, name) if name.startswith("t_") else row.measured.get(name)
            if measured is not None:
                column[at] = measured
    wind = columns["wind_m_s"]
    if np.isnan(wind).all():
        return None
    doy = day_of_year([first + timedelta(days=k) for k in range(length)])
    return Climate.before_days(first, wind, lowest_humidity(DailyWeather(doy, **columns)))


def farm_weather(
    farm: Farm, now: datetime, days: int = ET_DAYS, since: date | None = None
) -> FarmWeather:
    """Recorded weather of the past days, or further back to a date, and the stated ET0.

    The farm's own statement leads, then the forecast; without either, the past fortnight's
    recorded days stand in: their mean, with the 10th and 90th percentile as the range. None
    when nothing exists.
    """
    today = now.date()
    first = min(today - timedelta(days=max(days, ET_DAYS)), since or today)
    before = first - timedelta(days=MEAN_DAYS)
    rows = (
        WeatherDay.objects.for_farm(farm).filter(date__gte=before, date__lt=today).order_by("date")
    )
    found = list(rows)
    recorded = tuple(d for d in found if d.date >= first)
    stated, forecast = _stated(farm, now, recorded)
    return FarmWeather(recorded, stated, forecast, _climate(found, before, today))


def _stated(
    farm: Farm, now: datetime, recorded: Sequence[WeatherDay]
) -> tuple[StatedEt | None, Forecast | None]:
    """The ET0 of the days ahead, and the forecast where that is what it comes from."""
    if farm.et0_expected is not None and farm.et0_low is not None and farm.et0_high is not None:
        stated = StatedEt(farm.et0_low, farm.et0_expected, farm.et0_high, "entered for the farm")
        return stated, None
    ahead = forecast_at(farm, now)
    if ahead is not None:
        return ahead[1], ahead[0]
    lately = [d for d in recorded if d.date >= now.date() - timedelta(days=ET_DAYS)]
    known = [d.et0_mm for d in lately if d.et0_mm is not None]
    if not known:
        return None, None
    low, high = np.percentile(known, [10, 90])
    source = f"mean of {len(known)} recorded days"
    if any("simulated" in d.source for d in lately):
        source += ", simulated weather"
    return StatedEt(float(low), float(np.mean(known)), float(high), source), None

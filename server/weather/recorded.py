"""Recorded weather of a farm, and the reference ET stated for the days ahead."""

from dataclasses import dataclass
from datetime import date, datetime, timedelta

import numpy as np

from core.advice.inputs import PastWeather
from core.advice.stated_et import StatedEt
from core.outlook.forecast import Forecast
from server.farms.models import Farm
from server.weather.forecasts import forecast_at
from server.weather.models import WeatherDay

ET_DAYS = 14


@dataclass(frozen=True)
class FarmWeather:
    """Recorded days of the farm, rising, the ET0 stated for the days ahead, and the forecast."""

    days: tuple[WeatherDay, ...]
    stated: StatedEt | None
    forecast: Forecast | None = None

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


def farm_weather(
    farm: Farm, now: datetime, days: int = ET_DAYS, since: date | None = None
) -> FarmWeather:
    """Recorded weather of the past days, or further back to a date, and the stated ET0.

    The farm's own statement leads, then the forecast; without either, the past fortnight's
    recorded days stand in: their mean, with the 10th and 90th percentile as the range. None
    when nothing exists.
    """
    today = now.date()
    first = today - timedelta(days=max(days, ET_DAYS))
    recorded = tuple(
        WeatherDay.objects.for_farm(farm)
        .filter(date__gte=min(first, since or first), date__lt=today)
        .order_by("date")
    )
    if farm.et0_expected is not None and farm.et0_low is not None and farm.et0_high is not None:
        stated = StatedEt(farm.et0_low, farm.et0_expected, farm.et0_high, "stated for the farm")
        return FarmWeather(recorded, stated)
    ahead = forecast_at(farm, now)
    if ahead is not None:
        return FarmWeather(recorded, ahead[1], ahead[0])
    lately = [d for d in recorded if d.date >= today - timedelta(days=ET_DAYS)]
    known = [d.et0_mm for d in lately if d.et0_mm is not None]
    if not known:
        return FarmWeather(recorded, None)
    low, high = np.percentile(known, [10, 90])
    source = f"mean of {len(known)} recorded days"
    if any("simulated" in d.source for d in lately):
        source += ", simulated weather"
    return FarmWeather(recorded, StatedEt(float(low), float(np.mean(known)), float(high), source))

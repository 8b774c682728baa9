"""The forecast in force for a farm."""

from dataclasses import dataclass
from datetime import date, datetime, timedelta

import numpy as np

from core.advice.stated_et import StatedEt
from core.outlook.forecast import Forecast
from server.farms.models import Farm
from server.weather.models import WeatherForecast

# A forecast counts until another comes, but not beyond this: it has nothing left to say.
LONGEST = timedelta(days=3)
STATED_DAYS = 7
RAIN_DAY_MM = 1.0


@dataclass(frozen=True)
class DayAhead:
    """What a forecast holds of one day [mm/day]: mean ET0 with its tenth and ninetieth percentile,
    the share of members with a millimetre of rain or more, what most of them bring, and what one
    in ten exceeds."""

    on: date
    et0_mm: float
    et0_low_mm: float
    et0_high_mm: float
    rain_chance: float
    rain_likely_mm: float
    rain_high_mm: float


def days_ahead(forecast: Forecast | None, today: date) -> list[DayAhead]:
    """The days that a forecast was given for, from today on; none without one."""
    if forecast is None:
        return []
    days = forecast.known_days
    et0, rain = forecast.et0_mm[:, :days], forecast.rain_mm[:, :days]
    columns = (
        et0.mean(axis=0),
        *np.percentile(et0, [10, 90], axis=0),
        (rain >= RAIN_DAY_MM).mean(axis=0),
        np.median(rain, axis=0),
        np.percentile(rain, 90, axis=0),
    )
    return [
        DayAhead(today + timedelta(days=k), *(float(c[k]) for c in columns)) for k in range(days)
    ]


def forecast_row(farm: Farm, now: datetime) -> WeatherForecast | None:
    """The newest forecast issued before an instant; None where there is none, or it is too old."""
    rows = WeatherForecast.objects.for_farm(farm).filter(
        issued_at__lte=now, issued_at__gt=now - LONGEST
    )
    return rows.order_by("-issued_at").first()


def forecast_at(farm: Farm, now: datetime) -> tuple[Forecast, StatedEt] | None:
    """The newest forecast issued before an instant, from today on, and the ET0 it states.

    Parameters
    ----------
    now : datetime
        In the farm's time zone.

    Returns
    -------
    tuple or None
        The members, and the mean ET0 of the coming week with the members' tenth and ninetieth
        percentile; None where there is no forecast, or it is too old.
    """
    row = forecast_row(farm, now)
    if row is None:
        return None
    et0, rain = (np.reshape(x, (row.members, -1)) for x in (row.et0_mm, row.rain_mm))
    gone = (now.date() - row.first_day).days
    if gone < 0 or gone >= et0.shape[1]:
        return None
    et0, rain = et0[:, gone:], rain[:, gone:]
    week = et0[:, :STATED_DAYS].mean(axis=1)
    low, high = np.percentile(week, [10, 90])
    issued = row.issued_at.astimezone(now.tzinfo)
    source = f"{row.source} of {issued:%d %B, %H:%M}"
    stated = StatedEt(float(low), float(week.mean()), float(high), source)
    return Forecast.of(et0, rain, et0.shape[1]), stated

"""What a weather station measured, by day and by hour; NaN where it measured nothing."""

from dataclasses import dataclass, field
from datetime import date

import numpy as np

from core.arrays import ArrayLike, Floats


@dataclass(frozen=True)
class Station:
    """Where a station stands [degrees, east and north positive; m].

    ``coastal``: near a large water, which damps the day's temperature range.

    Raises
    ------
    ValueError
        When a figure lies off the earth.
    """

    latitude_deg: float
    longitude_deg: float = 0.0
    elevation_m: float = 0.0
    coastal: bool = False

    def __post_init__(self) -> None:
        if not -90 <= self.latitude_deg <= 90 or not -180 <= self.longitude_deg <= 180:
            raise ValueError("a latitude lies within 90, a longitude within 180 degrees")
        if not -430 <= self.elevation_m <= 6000:
            raise ValueError("an elevation lies between -430 and 6000 m")


def _unknown() -> Floats:
    return np.array(np.nan)


@dataclass(frozen=True)
class DailyWeather:
    """Days of one station; arrays of shape (days,) or of any that broadcasts to it.

    day_of_year : 1-366
    t_min_c, t_max_c, dew_c [degrees C]; rh_min, rh_max, rh_mean [percent]
    solar_mj [MJ/m2/day]; sunshine_h [h]; wind_m_s : at 2 m [m/s]
    """

    day_of_year: ArrayLike
    t_min_c: ArrayLike
    t_max_c: ArrayLike
    dew_c: ArrayLike = field(default_factory=_unknown)
    rh_min: ArrayLike = field(default_factory=_unknown)
    rh_max: ArrayLike = field(default_factory=_unknown)
    rh_mean: ArrayLike = field(default_factory=_unknown)
    solar_mj: ArrayLike = field(default_factory=_unknown)
    sunshine_h: ArrayLike = field(default_factory=_unknown)
    wind_m_s: ArrayLike = field(default_factory=_unknown)


@dataclass(frozen=True)
class HourlyWeather:
    """Hours of one station; arrays of shape (hours,).

    day_of_year, utc_hour : of the middle of the hour, in UTC
    temperature_c : mean [degrees C]; vapour_kpa : actual [kPa]
    solar_mj [MJ/m2/h]; wind_m_s : at 2 m [m/s]
    """

    day_of_year: ArrayLike
    utc_hour: ArrayLike
    temperature_c: ArrayLike
    vapour_kpa: ArrayLike
    solar_mj: ArrayLike
    wind_m_s: ArrayLike


def day_of_year(days: list[date]) -> Floats:
    """Day of the year of each date, 1-366; shape (days,)."""
    return np.array([d.timetuple().tm_yday for d in days], float)

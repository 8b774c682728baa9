"""What stands in for a variable that was not measured, and the mark that it did.

References
----------
.. [1] Allen, R. G. et al. (1998), FAO-56, chapter 3, "Estimating missing climatic data".
"""

from dataclasses import dataclass
from enum import IntFlag

import numpy as np

from core.arrays import Floats
from core.weather import radiation
from core.weather.atmosphere import (
    pressure_from_humidity_kpa,
    pressure_from_mean_humidity_kpa,
    saturation_pressure_kpa,
)
from core.weather.station import DailyWeather, Station

USUAL_WIND_M_S = 2.0  # mean over 2000 stations [1]_


class Filled(IntFlag):
    """Which variables of a day did not come from their own instrument."""

    HUMIDITY = 1  # dew point taken as the night's lowest temperature
    SUNSHINE = 2  # radiation from hours of bright sun
    RADIATION = 4  # radiation from the day's temperature range
    WIND = 8  # 2 m/s


@dataclass(frozen=True)
class Complete:
    """Days with every variable; arrays of shape (days,). ``filled`` holds `Filled` bits."""

    t_min_c: Floats
    t_max_c: Floats
    vapour_kpa: Floats
    solar_mj: Floats
    clear_mj: Floats
    extraterrestrial_mj: Floats
    wind_m_s: Floats
    filled: np.ndarray


def lowest_humidity(weather: DailyWeather) -> Floats:
    """Lowest relative humidity of days [percent]: as read, or from what else was measured of the
    air's moisture at the highest temperature (eq. 63 and 64 of [1]_); NaN where nothing was."""
    low, high, read = np.broadcast_arrays(
        *(np.asarray(x, float) for x in (weather.t_min_c, weather.t_max_c, weather.rh_min))
    )
    at_noon = 100 * _vapour(weather, low, high) / saturation_pressure_kpa(high)
    return np.where(np.isnan(read), np.minimum(at_noon, 100.0), read)


def _vapour(w: DailyWeather, low: Floats, high: Floats) -> Floats:
    """Actual vapour pressure by the best that was measured [1]_; NaN where nothing was."""
    dew, rh_low, rh_high, rh_mean = (
        np.asarray(x, float) for x in (w.dew_c, w.rh_min, w.rh_max, w.rh_mean)
    )
    best = [
        saturation_pressure_kpa(dew),
        pressure_from_humidity_kpa(low, high, rh_low, rh_high),
        saturation_pressure_kpa(low) * rh_high / 100,  # eq. 18
        pressure_from_mean_humidity_kpa(low, high, rh_mean),
    ]
    out = np.full(low.shape, np.nan)
    for vapour in reversed(best):
        out = np.where(np.isnan(vapour), out, vapour)
    return out


def complete(weather: DailyWeather, station: Station) -> Complete:
    """Fill what a station did not measure by FAO-56's own procedures [1]_.

    Temperatures have no stand-in: without them a day stays unknown (NaN).
    """
    doy, low, high, solar, sunshine, wind = np.broadcast_arrays(
        *(
            np.asarray(x, float)
            for x in (
                weather.day_of_year,
                weather.t_min_c,
                weather.t_max_c,
                weather.solar_mj,
                weather.sunshine_h,
                weather.wind_m_s,
            )
        )
    )
    ra = radiation.extraterrestrial_day(station.latitude_deg, doy)
    clear = radiation.clear_sky(ra, station.elevation_m)
    filled = np.zeros(low.shape, int)

    vapour = _vapour(weather, low, high)
    missing = np.isnan(vapour)
    filled |= np.where(missing, Filled.HUMIDITY, 0)
    vapour = np.where(missing, saturation_pressure_kpa(low), vapour)

    by_sun = radiation.from_sunshine(
        sunshine, np.maximum(radiation.daylight_hours(station.latitude_deg, doy), 1e-6), ra
    )
    by_range = radiation.from_temperatures(low, high, ra, clear, station.coastal)
    no_solar, no_sun = np.isnan(solar), np.isnan(sunshine)
    filled |= np.where(no_solar, np.where(no_sun, Filled.RADIATION, Filled.SUNSHINE), 0)
    solar = np.where(no_solar, np.where(no_sun, by_range, by_sun), solar)

    calm = np.isnan(wind)
    filled |= np.where(calm, Filled.WIND, 0)
    return Complete(
        t_min_c=low,
        t_max_c=high,
        vapour_kpa=vapour,
        solar_mj=solar,
        clear_mj=clear,
        extraterrestrial_mj=ra,
        wind_m_s=np.where(calm, USUAL_WIND_M_S, wind),
        filled=filled,
    )

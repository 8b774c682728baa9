"""Reference ET of days and hours from what a station measured.

References
----------
.. [1] Allen, R. G. et al. (1998), FAO-56, chapters 2 and 4.
.. [2] ASCE-EWRI (2005), The ASCE standardized reference evapotranspiration equation.
"""

from dataclasses import dataclass
from enum import StrEnum

import numpy as np

from core.arrays import Bools, Floats
from core.crop.reference import Surface
from core.weather import radiation
from core.weather.atmosphere import (
    air_pressure_kpa,
    mean_saturation_pressure_kpa,
    psychrometric_constant,
    saturation_pressure_kpa,
    saturation_slope,
)
from core.weather.equations import (
    Surroundings,
    asce_daily,
    asce_hourly,
    fao56_daily,
    fao56_hourly,
    hargreaves_daily,
)
from core.weather.filling import Filled, complete
from core.weather.station import DailyWeather, HourlyWeather, Station

# Sun below this height says nothing of the clouds; the last ratio by day stands in [2]_.
LOW_SUN_RAD = 0.3
NIGHT_CLOUD_RATIO = 0.7  # where no day is at hand; FAO-56 gives 0.4-0.8 by climate


class EtMethod(StrEnum):
    """How a day's reference ET was found."""

    FAO56 = "fao56_penman_monteith"
    ASCE = "asce_standardized"
    HARGREAVES = "hargreaves_samani"


@dataclass(frozen=True)
class DailyEt:
    """Arrays of shape (days,): et_mm [mm/day], NaN where the temperatures are unknown;
    filled : `Filled` bits; hargreaves : where temperatures were all there was."""

    et_mm: Floats
    surface: Surface
    method: EtMethod
    filled: np.ndarray
    hargreaves: Bools


def daily_et(
    weather: DailyWeather,
    station: Station,
    surface: Surface = Surface.GRASS,
    method: EtMethod = EtMethod.FAO56,
) -> DailyEt:
    """Reference ET by day.

    Parameters
    ----------
    weather : DailyWeather
    station : Station
    surface : Surface
        FAO-56 and Hargreaves know the grass surface only.
    method : EtMethod
        With a Penman-Monteith method, a grass day with nothing but temperatures is taken by
        Hargreaves-Samani; any other gap is filled by FAO-56's procedures and marked.

    Returns
    -------
    DailyEt

    Raises
    ------
    ValueError
        When the method has no form for the surface.
    """
    if surface is Surface.ALFALFA and method is not EtMethod.ASCE:
        raise ValueError(f"{method} is for the grass surface; alfalfa needs the ASCE equation")
    c = complete(weather, station)
    mean = (c.t_min_c + c.t_max_c) / 2
    by_range = hargreaves_daily(c.t_min_c, c.t_max_c, c.extraterrestrial_mj)
    if method is EtMethod.HARGREAVES:
        everywhere = np.ones(mean.shape, bool)
        return DailyEt(by_range, surface, method, np.zeros(mean.shape, int), everywhere)
    cloud = c.solar_mj / np.maximum(c.clear_mj, 1e-9)
    out = radiation.net_longwave_day(c.t_min_c, c.t_max_c, c.vapour_kpa, cloud)
    around = Surroundings(
        temperature_c=mean,
        net_mj=radiation.net_shortwave(c.solar_mj) - out,
        ground_mj=np.zeros(mean.shape),  # small over a day [1]_
        wind_m_s=c.wind_m_s,
        # Air on a foggy day reads wetter than saturated: it takes up nothing, and gives nothing.
        saturation_kpa=np.maximum(mean_saturation_pressure_kpa(c.t_min_c, c.t_max_c), c.vapour_kpa),
        vapour_kpa=c.vapour_kpa,
        slope_kpa=saturation_slope(mean),
        gamma_kpa=psychrometric_constant(air_pressure_kpa(station.elevation_m)),
    )
    et = fao56_daily(around) if method is EtMethod.FAO56 else asce_daily(around, surface)
    only = Filled.HUMIDITY | Filled.RADIATION | Filled.WIND
    bare = (c.filled == only) & (surface is Surface.GRASS)
    return DailyEt(
        et_mm=np.where(bare, by_range, np.maximum(et, 0.0)),
        surface=surface,
        method=method,
        filled=np.where(bare, 0, c.filled),
        hargreaves=bare,
    )


def _cloud_ratio(ratio: Floats, seen: Bools) -> Floats:
    """Rs/Rso by hour, carried through the night from the last hour with the sun well up."""
    rows = np.arange(ratio.size)
    before = np.maximum.accumulate(np.where(seen, rows, -1))
    after = np.minimum.accumulate(np.where(seen, rows, ratio.size)[::-1])[::-1]
    at = np.where(before >= 0, before, after)
    known = at < ratio.size
    return np.where(known, ratio[np.where(known, at, 0)], NIGHT_CLOUD_RATIO)


def hourly_et(
    weather: HourlyWeather,
    station: Station,
    surface: Surface = Surface.GRASS,
    method: EtMethod = EtMethod.FAO56,
    night_cloud_ratio: float | None = None,
) -> Floats:
    """Reference ET by hour.

    Parameters
    ----------
    weather : HourlyWeather
        Hours in order; a night takes the cloud of the afternoon before it.
    night_cloud_ratio : float, optional
        Rs/Rso for hours with the sun low, where it is known otherwise.

    Returns
    -------
    array, shape (hours,) [mm/h]
        NaN where a variable is missing; may lie a little below zero at night (dew).

    Raises
    ------
    ValueError
        When the method has no hourly form or none for the surface.
    """
    if method is EtMethod.HARGREAVES:
        raise ValueError("Hargreaves-Samani has no hourly form")
    if surface is Surface.ALFALFA and method is not EtMethod.ASCE:
        raise ValueError(f"{method} is for the grass surface; alfalfa needs the ASCE equation")
    doy, utc, t, vapour, solar, wind = np.broadcast_arrays(
        *(
            np.asarray(x, float)
            for x in (
                weather.day_of_year,
                weather.utc_hour,
                weather.temperature_c,
                weather.vapour_kpa,
                weather.solar_mj,
                weather.wind_m_s,
            )
        )
    )
    where = (station.latitude_deg, station.longitude_deg)
    clear = radiation.clear_sky(
        radiation.extraterrestrial_hour(*where, doy, utc), station.elevation_m
    )
    high = (radiation.sun_angle(*where, doy, utc) >= LOW_SUN_RAD) & (clear > 0)
    ratio = np.clip(solar / np.where(clear > 0, clear, np.nan), *radiation.CLOUD_RANGE)
    if night_cloud_ratio is not None:
        cloud = np.where(high, ratio, night_cloud_ratio)
    else:
        cloud = _cloud_ratio(ratio, high & ~np.isnan(ratio))
    net = radiation.net_shortwave(solar) - radiation.net_longwave_hour(t, vapour, cloud)
    day = net > 0
    tall = surface is Surface.ALFALFA
    ground = np.where(day, 0.04 if tall else 0.1, 0.2 if tall else 0.5) * net
    around = Surroundings(
        temperature_c=t,
        net_mj=net,
        ground_mj=ground,
        wind_m_s=wind,
        saturation_kpa=saturation_pressure_kpa(t),
        vapour_kpa=vapour,
        slope_kpa=saturation_slope(t),
        gamma_kpa=psychrometric_constant(air_pressure_kpa(station.elevation_m)),
    )
    if method is EtMethod.FAO56:
        return fao56_hourly(around)
    return asce_hourly(around, surface, day)

"""The published equations of reference ET, one function each.

References
----------
.. [1] Allen, R. G. et al. (1998), FAO-56, eq. 6, 52 and 53.
.. [2] ASCE-EWRI (2005), The ASCE standardized reference evapotranspiration equation, table 1.
"""

from dataclasses import dataclass

import numpy as np

from core.arrays import ArrayLike, Floats
from core.crop.reference import Surface


@dataclass(frozen=True)
class Surroundings:
    """What Penman-Monteith needs of a period, arrays of one shape.

    temperature_c : mean [degrees C]
    net_mj, ground_mj : net radiation and soil heat flux [MJ/m2 in the period]
    wind_m_s : at 2 m [m/s]
    saturation_kpa, vapour_kpa : saturation and actual vapour pressure [kPa]
    slope_kpa, gamma_kpa : slope of saturation, psychrometric constant [kPa/degree C]
    """

    temperature_c: Floats
    net_mj: Floats
    ground_mj: Floats
    wind_m_s: Floats
    saturation_kpa: Floats
    vapour_kpa: Floats
    slope_kpa: Floats
    gamma_kpa: Floats


def _combine(s: Surroundings, numerator: ArrayLike, denominator: ArrayLike) -> Floats:
    """Eq. 1 of [2]_, of which the FAO-56 forms are special cases [mm in the period]."""
    radiation = 0.408 * s.slope_kpa * (s.net_mj - s.ground_mj)
    dryness = s.saturation_kpa - s.vapour_kpa
    wind = s.gamma_kpa * np.asarray(numerator, float) / (s.temperature_c + 273) * s.wind_m_s
    below = s.slope_kpa + s.gamma_kpa * (1 + np.asarray(denominator, float) * s.wind_m_s)
    return (radiation + wind * dryness) / below


def fao56_daily(s: Surroundings) -> Floats:
    """FAO-56 Penman-Monteith over a day, eq. 6 of [1]_ [mm/day]; grass reference."""
    return _combine(s, 900, 0.34)


def fao56_hourly(s: Surroundings) -> Floats:
    """FAO-56 Penman-Monteith over an hour, eq. 53 of [1]_ [mm/h]; grass reference."""
    return _combine(s, 37, 0.34)


def asce_daily(s: Surroundings, surface: Surface) -> Floats:
    """ASCE standardised equation over a day, for short (grass) or tall (alfalfa) [2]_ [mm/day]."""
    return _combine(s, *((1600, 0.38) if surface is Surface.ALFALFA else (900, 0.34)))


def asce_hourly(s: Surroundings, surface: Surface, daylight: ArrayLike) -> Floats:
    """ASCE standardised equation over an hour [2]_ [mm/h].

    ``daylight`` is true where the hour's net radiation is above zero: stomata close at night,
    and another surface resistance holds.
    """
    day = np.asarray(daylight, bool)
    if surface is Surface.ALFALFA:
        return _combine(s, 66, np.where(day, 0.25, 1.7))
    return _combine(s, 37, np.where(day, 0.24, 0.96))


def hargreaves_daily(
    t_min_c: ArrayLike, t_max_c: ArrayLike, extraterrestrial_mj: ArrayLike
) -> Floats:
    """Hargreaves-Samani, eq. 52 of [1]_ [mm/day]; grass reference, never below zero."""
    low, high = np.asarray(t_min_c, float), np.asarray(t_max_c, float)
    ra_mm = 0.408 * np.asarray(extraterrestrial_mj, float)
    et = 0.0023 * ((low + high) / 2 + 17.8) * np.sqrt(np.maximum(high - low, 0)) * ra_mm
    return np.maximum(et, 0.0)

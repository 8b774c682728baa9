"""Pressure, humidity and wind as reference ET needs them.

References
----------
.. [1] Allen, R. G. et al. (1998), Crop evapotranspiration, FAO Irrigation and Drainage Paper
   56, chapter 3.
"""

import numpy as np

from core.arrays import ArrayLike, Floats


def air_pressure_kpa(elevation_m: ArrayLike) -> Floats:
    """Mean air pressure at an elevation [m], eq. 7 of [1]_ [kPa]."""
    z = np.asarray(elevation_m, float)
    return 101.3 * ((293 - 0.0065 * z) / 293) ** 5.26


def psychrometric_constant(pressure_kpa: ArrayLike) -> Floats:
    """Psychrometric constant at an air pressure [kPa], eq. 8 of [1]_ [kPa/degree C]."""
    return 0.665e-3 * np.asarray(pressure_kpa, float)


def saturation_pressure_kpa(temperature_c: ArrayLike) -> Floats:
    """Saturation vapour pressure at a temperature [degrees C], eq. 11 of [1]_ [kPa]."""
    t = np.asarray(temperature_c, float)
    return 0.6108 * np.exp(17.27 * t / (t + 237.3))


def mean_saturation_pressure_kpa(t_min_c: ArrayLike, t_max_c: ArrayLike) -> Floats:
    """Mean saturation vapour pressure of a day, eq. 12 of [1]_ [kPa]."""
    return (saturation_pressure_kpa(t_min_c) + saturation_pressure_kpa(t_max_c)) / 2


def saturation_slope(temperature_c: ArrayLike) -> Floats:
    """Slope of the saturation pressure curve, eq. 13 of [1]_ [kPa/degree C]."""
    t = np.asarray(temperature_c, float)
    return 4098 * saturation_pressure_kpa(t) / (t + 237.3) ** 2


def pressure_from_humidity_kpa(
    t_min_c: ArrayLike, t_max_c: ArrayLike, rh_min: ArrayLike, rh_max: ArrayLike
) -> Floats:
    """Actual vapour pressure of a day from its extremes, eq. 17 of [1]_ [kPa].

    Parameters
    ----------
    t_min_c, t_max_c : array [degrees C]
    rh_min, rh_max : array [percent]
    """
    night = saturation_pressure_kpa(t_min_c) * np.asarray(rh_max, float)
    noon = saturation_pressure_kpa(t_max_c) * np.asarray(rh_min, float)
    return (night + noon) / 200


def pressure_from_mean_humidity_kpa(
    t_min_c: ArrayLike, t_max_c: ArrayLike, rh_mean: ArrayLike
) -> Floats:
    """Actual vapour pressure of a day from its mean humidity [percent], eq. 19 of [1]_ [kPa]."""
    mean = mean_saturation_pressure_kpa(t_min_c, t_max_c)
    return np.asarray(rh_mean, float) / 100 * mean


def pressure_from_bulbs_kpa(
    t_dry_c: ArrayLike, t_wet_c: ArrayLike, pressure_kpa: ArrayLike, coefficient: float = 0.000662
) -> Floats:
    """Actual vapour pressure from a dry and a wet bulb, eq. 15 and 16 of [1]_ [kPa].

    ``coefficient`` of the instrument [1/degree C]: 0.000662 with a fan (5 m/s), 0.000800 with
    natural draught (1 m/s), 0.001200 indoors.
    """
    dry, wet = np.asarray(t_dry_c, float), np.asarray(t_wet_c, float)
    gamma = coefficient * np.asarray(pressure_kpa, float)
    return saturation_pressure_kpa(wet) - gamma * (dry - wet)


def wind_at_2_m(wind_m_s: ArrayLike, height_m: ArrayLike) -> Floats:
    """Wind speed at 2 m above grass from one at another height, eq. 47 of [1]_ [m/s].

    Raises
    ------
    ValueError
        When the height is not above 0.1 m, where the profile has no meaning.
    """
    height = np.asarray(height_m, float)
    if np.any(height <= 0.1):
        raise ValueError("wind is measured higher than 0.1 m above the ground")
    return np.asarray(wind_m_s, float) * 4.87 / np.log(67.8 * height - 5.42)

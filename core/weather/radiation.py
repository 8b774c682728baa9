"""Radiation of a day or an hour, from the sun's place and what was measured.

References
----------
.. [1] Allen, R. G. et al. (1998), FAO-56, chapter 3.
.. [2] ASCE-EWRI (2005), The ASCE standardized reference evapotranspiration equation.
.. [3] Hargreaves, G. H., Samani, Z. A. (1982), Estimating potential evapotranspiration,
   J. Irrig. Drain. 108:225-230.
"""

import numpy as np

from core.arrays import ArrayLike, Floats

SOLAR_CONSTANT = 0.0820  # MJ/m2/min
STEFAN_BOLTZMANN = 4.903e-9  # MJ/K4/m2/day
ALBEDO = 0.23  # both reference surfaces
# Rs/Rso below 0.3 is no weather but an instrument, above 1 a reflection (limits of [2]_).
CLOUD_RANGE = (0.3, 1.0)


def _declination(day_of_year: ArrayLike) -> tuple[Floats, Floats]:
    """Inverse relative distance to the sun and declination, eq. 23 and 24 of [1]_ [-, rad]."""
    angle = 2 * np.pi / 365 * np.asarray(day_of_year, float)
    return 1 + 0.033 * np.cos(angle), 0.409 * np.sin(angle - 1.39)


def _sunset_angle(latitude: Floats, declination: Floats) -> Floats:
    """Sunset hour angle, eq. 25 of [1]_ [rad]; 0 in the polar night, pi in the midnight sun."""
    return np.arccos(np.clip(-np.tan(latitude) * np.tan(declination), -1, 1))


def daylight_hours(latitude_deg: ArrayLike, day_of_year: ArrayLike) -> Floats:
    """Longest possible sunshine of a day, eq. 34 of [1]_ [h]."""
    _, declination = _declination(day_of_year)
    return 24 / np.pi * _sunset_angle(np.radians(latitude_deg), declination)


def extraterrestrial_day(latitude_deg: ArrayLike, day_of_year: ArrayLike) -> Floats:
    """Radiation above the air over a day, eq. 21 of [1]_ [MJ/m2/day].

    Parameters
    ----------
    latitude_deg : array, broadcastable [degrees, north positive]
    day_of_year : array, broadcastable [1-366]
    """
    distance, declination = _declination(day_of_year)
    latitude = np.radians(np.asarray(latitude_deg, float))
    sunset = _sunset_angle(latitude, declination)
    height = sunset * np.sin(latitude) * np.sin(declination) + np.cos(latitude) * np.cos(
        declination
    ) * np.sin(sunset)
    return 24 * 60 / np.pi * SOLAR_CONSTANT * distance * height


def _solar_angle(longitude_deg: ArrayLike, day_of_year: ArrayLike, utc_hour: ArrayLike) -> Floats:
    """Solar time angle at a moment, eq. 31-33 of [1]_ [rad]; 0 at solar noon, within +-pi."""
    b = 2 * np.pi * (np.asarray(day_of_year, float) - 81) / 364
    correction = 0.1645 * np.sin(2 * b) - 0.1255 * np.cos(b) - 0.025 * np.sin(b)
    solar = np.asarray(utc_hour, float) + np.asarray(longitude_deg, float) / 15 + correction
    return (np.pi / 12 * (solar - 12) + np.pi) % (2 * np.pi) - np.pi


def sun_angle(
    latitude_deg: ArrayLike, longitude_deg: ArrayLike, day_of_year: ArrayLike, utc_hour: ArrayLike
) -> Floats:
    """Height of the sun above the horizon at a moment [rad]; ``utc_hour`` of the day in UTC."""
    latitude = np.radians(np.asarray(latitude_deg, float))
    _, declination = _declination(day_of_year)
    angle = _solar_angle(longitude_deg, day_of_year, utc_hour)
    sine = np.sin(latitude) * np.sin(declination) + np.cos(latitude) * np.cos(declination) * np.cos(
        angle
    )
    return np.arcsin(np.clip(sine, -1, 1))


def extraterrestrial_hour(
    latitude_deg: ArrayLike,
    longitude_deg: ArrayLike,
    day_of_year: ArrayLike,
    utc_hour: ArrayLike,
    hours: float = 1.0,
) -> Floats:
    """Radiation above the air over a period of hours, eq. 28 of [1]_ [MJ/m2 in the period].

    Parameters
    ----------
    longitude_deg : array [degrees, east positive]
    utc_hour : array [h]
        The middle of the period, in UTC: the zone of a station's clock does not enter.
    """
    distance, declination = _declination(day_of_year)
    latitude = np.radians(np.asarray(latitude_deg, float))
    sunset = _sunset_angle(latitude, declination)
    middle = _solar_angle(longitude_deg, day_of_year, utc_hour)
    half = np.pi * hours / 24
    # Only the part of the period between sunrise and sunset counts [2]_.
    first = np.clip(middle - half, -sunset, sunset)
    last = np.clip(middle + half, -sunset, sunset)
    height = (last - first) * np.sin(latitude) * np.sin(declination) + np.cos(latitude) * np.cos(
        declination
    ) * (np.sin(last) - np.sin(first))
    return np.maximum(12 * 60 / np.pi * SOLAR_CONSTANT * distance * height, 0.0)


def from_sunshine(
    sunshine_h: ArrayLike, daylight_h: ArrayLike, extraterrestrial_mj: ArrayLike
) -> Floats:
    """Solar radiation from hours of bright sun, eq. 35 of [1]_ with as 0.25, bs 0.50 [MJ/m2]."""
    share = np.asarray(sunshine_h, float) / np.asarray(daylight_h, float)
    return (0.25 + 0.50 * share) * np.asarray(extraterrestrial_mj, float)


def from_temperatures(
    t_min_c: ArrayLike,
    t_max_c: ArrayLike,
    extraterrestrial_mj: ArrayLike,
    clear_sky_mj: ArrayLike,
    coastal: bool = False,
) -> Floats:
    """Solar radiation from the day's temperature range, eq. 50 of [1]_ after [3]_ [MJ/m2/day].

    The adjustment is 0.16 inland and 0.19 near a coast; never above a clear sky.
    """
    swing = np.asarray(t_max_c, float) - np.asarray(t_min_c, float)
    rs = (0.19 if coastal else 0.16) * np.sqrt(swing) * np.asarray(extraterrestrial_mj, float)
    return np.minimum(rs, clear_sky_mj)


def clear_sky(extraterrestrial_mj: ArrayLike, elevation_m: ArrayLike) -> Floats:
    """Solar radiation under a clear sky, eq. 37 of [1]_, in the unit of the input."""
    return (0.75 + 2e-5 * np.asarray(elevation_m, float)) * np.asarray(extraterrestrial_mj, float)


def net_shortwave(solar_mj: ArrayLike) -> Floats:
    """Net short-wave radiation of the reference surface, eq. 38 of [1]_."""
    return (1 - ALBEDO) * np.asarray(solar_mj, float)


def net_longwave_day(
    t_min_c: ArrayLike, t_max_c: ArrayLike, vapour_kpa: ArrayLike, cloud_ratio: ArrayLike
) -> Floats:
    """Net long-wave radiation that leaves over a day, eq. 39 of [1]_ [MJ/m2/day].

    ``cloud_ratio`` is Rs/Rso, kept within 0.3-1.
    """
    low, high = (np.asarray(t, float) + 273.16 for t in (t_min_c, t_max_c))
    return _longwave(STEFAN_BOLTZMANN * (low**4 + high**4) / 2, vapour_kpa, cloud_ratio)


def net_longwave_hour(
    temperature_c: ArrayLike, vapour_kpa: ArrayLike, cloud_ratio: ArrayLike
) -> Floats:
    """The same over an hour [MJ/m2/h]."""
    kelvin = np.asarray(temperature_c, float) + 273.16
    return _longwave(STEFAN_BOLTZMANN / 24 * kelvin**4, vapour_kpa, cloud_ratio)


def _longwave(black: Floats, vapour_kpa: ArrayLike, cloud_ratio: ArrayLike) -> Floats:
    cloud = np.clip(np.asarray(cloud_ratio, float), *CLOUD_RANGE)
    air = 0.34 - 0.14 * np.sqrt(np.asarray(vapour_kpa, float))
    return black * air * (1.35 * cloud - 0.35)

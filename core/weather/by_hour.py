"""Days out of a station's samples of an hour or less, with reference ET summed over the hours.

References
----------
.. [1] Allen, R. G. et al. (1998), FAO-56, ch. 4, eq. 53: over an hour the change of wind, sun
   and air within the day counts, which daily means hide.
"""

from dataclasses import dataclass

import numpy as np

from core.arrays import Bools, Floats
from core.weather.atmosphere import saturation_pressure_kpa
from core.weather.reference_et import hourly_et
from core.weather.station import HourlyWeather, Station

# A day with more hours without a temperature than this is not known (common practice, no source).
MOST_MISSING_HOURS = 2
HOURS_A_DAY = 24


@dataclass(frozen=True)
class Samples:
    """What was measured, arrays (samples,) rising in time; NaN where nothing was.

    middle_h : hours since 1970 in UTC of the middle of each
    temperature_c, dew_c [degrees C]; rh [percent]; solar_mj_h [MJ/m2/h]; wind_m_s : at 2 m [m/s];
    rain_mm, et0_mm : of each sample [mm]
    """

    middle_h: Floats
    temperature_c: Floats
    dew_c: Floats
    rh: Floats
    solar_mj_h: Floats
    wind_m_s: Floats
    rain_mm: Floats
    et0_mm: Floats


@dataclass(frozen=True)
class DaysByHour:
    """Days, arrays (days,); NaN where nothing was measured, or too little of the day.

    missing : hours without a temperature
    t_min_c, t_max_c, dew_c [degrees C]; rh_min, rh_max [percent]; solar_mj [MJ/m2/day];
    wind_m_s : mean [m/s at 2 m]; rain_mm; et0_mm : sum of the hours
    as_given : whether that is the station's own
    """

    missing: np.ndarray
    t_min_c: Floats
    t_max_c: Floats
    dew_c: Floats
    rh_min: Floats
    rh_max: Floats
    solar_mj: Floats
    wind_m_s: Floats
    rain_mm: Floats
    et0_mm: Floats
    as_given: Bools

    @property
    def whole(self) -> Bools:
        """Days of which enough was measured."""
        out: Bools = self.missing <= MOST_MISSING_HOURS
        return out


def _grouped(values: Floats, group: np.ndarray, groups: int) -> tuple[Floats, Floats]:
    """Sum and count of the known values of each group."""
    known = ~np.isnan(values)
    total: Floats = np.bincount(group[known], values[known], groups).astype(float)
    return total, np.bincount(group[known], minlength=groups).astype(float)


def _mean(values: Floats, group: np.ndarray, groups: int) -> Floats:
    total, count = _grouped(values, group, groups)
    return np.where(count > 0, total / np.maximum(count, 1), np.nan)


def _sum(values: Floats, group: np.ndarray, groups: int) -> Floats:
    total, count = _grouped(values, group, groups)
    return np.where(count > 0, total, np.nan)


def _extreme(values: Floats, group: np.ndarray, groups: int, highest: bool) -> Floats:
    known = ~np.isnan(values)
    out = np.full(groups, -np.inf if highest else np.inf)
    (np.maximum if highest else np.minimum).at(out, group[known], values[known])
    return np.where(np.isfinite(out), out, np.nan)


def _bridged(values: Floats) -> Floats:
    """Gaps closed straight between the hours beside them."""
    known = np.flatnonzero(~np.isnan(values))
    if not known.size:
        return values
    return np.interp(np.arange(values.size), known, values[known])


def days_by_hour(samples: Samples, bounds_h: Floats, station: Station | None) -> DaysByHour:
    """Days of a station that samples by the hour or more often.

    Parameters
    ----------
    samples : Samples
    bounds_h : array, shape (days + 1,) [hours since 1970, UTC]
        Where the local days begin, and where the last one ends; all samples lie within.
    station : Station or None
        Without its place no reference ET is worked out.

    Returns
    -------
    DaysByHour
        Reference ET is the sum of the hourly FAO-56 equation [1]_ where temperature, moisture,
        sun and wind were measured in enough of the hours of a day; the station's own sums
        come before it.
    """
    days = bounds_h.size - 1
    of_day = np.clip(np.searchsorted(bounds_h, samples.middle_h, side="right") - 1, 0, days - 1)
    # Hours begin with the local day, also where clocks stand half an hour off.
    hours = round(float(bounds_h[-1] - bounds_h[0]))
    hour = np.clip(np.floor(samples.middle_h - bounds_h[0]).astype(int), 0, hours - 1)
    middle = bounds_h[0] + np.arange(hours) + 0.5
    day = np.clip(np.searchsorted(bounds_h, middle, side="right") - 1, 0, days - 1)
    vapour = np.where(
        np.isnan(samples.dew_c),
        saturation_pressure_kpa(samples.temperature_c) * samples.rh / 100,
        saturation_pressure_kpa(samples.dew_c),
    )
    t, ea, sun, wind = (
        _mean(x, hour, hours)
        for x in (samples.temperature_c, vapour, samples.solar_mj_h, samples.wind_m_s)
    )
    missing = np.bincount(day[np.isnan(t)], minlength=days)
    et = _et(t, ea, sun, wind, middle, station) if station else np.full(hours, np.nan)
    own, own_count = _grouped(samples.et0_mm, of_day, days)
    lacking = np.bincount(day[np.isnan(et)], minlength=days)
    by_hours = np.where(lacking <= MOST_MISSING_HOURS, _sum(_bridged(et), day, days), np.nan)
    dark = np.bincount(day[np.isnan(sun)], minlength=days)
    light = np.where(dark <= MOST_MISSING_HOURS, _sum(_bridged(sun), day, days), np.nan)
    return DaysByHour(
        missing=missing,
        t_min_c=_extreme(samples.temperature_c, of_day, days, highest=False),
        t_max_c=_extreme(samples.temperature_c, of_day, days, highest=True),
        dew_c=_mean(samples.dew_c, of_day, days),
        rh_min=_extreme(samples.rh, of_day, days, highest=False),
        rh_max=_extreme(samples.rh, of_day, days, highest=True),
        solar_mj=light,
        wind_m_s=_mean(samples.wind_m_s, of_day, days),
        rain_mm=_sum(samples.rain_mm, of_day, days),
        et0_mm=np.where(own_count > 0, own, np.maximum(by_hours, 0.0)),
        as_given=own_count > 0,
    )


def _et(
    t: Floats, vapour: Floats, sun: Floats, wind: Floats, middle_h: Floats, station: Station
) -> Floats:
    """Reference ET of hours [mm/h]."""
    moment = (middle_h * 3600).astype("datetime64[s]")
    year = moment.astype("datetime64[Y]").astype("datetime64[D]")
    doy = (moment.astype("datetime64[D]") - year).astype(int) + 1
    return hourly_et(
        HourlyWeather(
            day_of_year=doy,
            utc_hour=np.mod(middle_h, HOURS_A_DAY),
            temperature_c=t,
            vapour_kpa=vapour,
            solar_mj=sun,
            wind_m_s=wind,
        ),
        station,
    )

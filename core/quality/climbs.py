"""Soil that gets wetter although no water came.

References
----------
.. [1] Dorigo, W. A. et al. (2013), doi:10.2136/vzj2012.0097 (D04).
"""

import numpy as np

from core.arrays import Bools, Floats
from core.quality.series import Series, window_sums

DAY_HOURS = 24.0
MIN_RISE = 0.01  # [m3/m3]; below it a rise is noise (working assumption)
SURFACE_MM, ARRIVES_MM_PER_DAY = 100.0, 200.0
JUMP = 0.02  # [m3/m3] in one reading, at three depths or more
JUMP_DEPTHS = 3
JUMP_WATER_HOURS = 12.0
NIGHT_FROM, NIGHT_TO = 22.0, 4.0


def arrives_within_h(depth_mm: Floats) -> Floats:
    """How much later than at 10 cm water may come down to a depth [h]; NaN counts as 10 cm."""
    deeper = np.maximum(np.nan_to_num(depth_mm) - SURFACE_MM, 0.0)
    out: Floats = DAY_HOURS * deeper / ARRIVES_MM_PER_DAY
    return out


def rises_without_water(series: Series, watered_since: Floats, depth_mm: Floats) -> Bools:
    """Rising now, and above yesterday by more than twice the day's spread, with no water.

    Parameters
    ----------
    watered_since : array, shape (readings,) [h]
    depth_mm : array, shape (readings,) [mm], NaN where unknown

    Notes
    -----
    The published rule is for sensors down to 10 cm and looks back one day; deeper down water
    may arrive later, and 24 h are allowed for each 20 cm more (working assumption).
    """
    wait = DAY_HOURS + arrives_within_h(depth_mm)
    x = series.value
    at, known = series.at_or_before(DAY_HOURS)
    first, end = series.window(DAY_HOURS, 0.0)
    n = end - first
    with np.errstate(divide="ignore", invalid="ignore"):
        level = x.mean() if x.size else 0.0
        y = x - level
        mean = window_sums(y, first, end) / n
        square = window_sums(y**2, first, end) / n
        spread = np.sqrt(np.maximum(square - mean**2, 0) * n / (n - 1))
        rise = x - x[at]
        hour_at, hour_known = series.at_or_before(1.0)
        rising = np.where(hour_known, x - x[hour_at], x - series.shift(x, 1)) > 0
        out: Bools = (
            known & rising & (rise >= MIN_RISE) & (rise > 2 * spread) & (watered_since > wait)
        )
    return out


def night_climbs(series: Series, local_hour: Floats, watered_since: Floats) -> Bools:
    """Readings of a night in which the soil climbed by 0.01 with no water in the day before.

    Parameters
    ----------
    local_hour : array, shape (readings,) [h], clock of the farm
    """
    x = series.value
    into_night = (local_hour - NIGHT_FROM) % DAY_HOURS
    night = into_night <= (NIGHT_TO - NIGHT_FROM) % DAY_HOURS
    axis = series.axis
    start = np.searchsorted(axis, axis - into_night - 1e-3, "left")
    start = np.minimum(start, np.arange(x.size))
    dry = watered_since > DAY_HOURS
    out: Bools = night & dry & (x - x[start] >= MIN_RISE) & (into_night > 0)
    return out


def jumps_at_all_depths(series: Series, instrument: np.ndarray, watered_since: Floats) -> Bools:
    """Three or more depths of an instrument rising at one reading with no water.

    Parameters
    ----------
    instrument : array of int, shape (readings,)
    """
    x = series.value
    with np.errstate(invalid="ignore"):
        rose = (x - series.shift(x, 1) >= JUMP) & (watered_since > JUMP_WATER_HOURS)
    if not rose.any():
        return rose
    # Sensors of a logger share its clock; whole minutes keep rounding out of it.
    minute = np.round(series.hours * 60).astype(np.int64)
    moment = np.stack([instrument, minute], axis=1)
    _, place = np.unique(moment, axis=0, return_inverse=True)
    place = place.reshape(-1)
    rising = np.bincount(place, weights=rose)
    heard = np.bincount(place)
    all_rise = (rising >= JUMP_DEPTHS) & (rising == heard)
    out: Bools = rose & all_rise[place]
    return out

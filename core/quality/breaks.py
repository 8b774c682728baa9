"""Breaks: steps between quiet stretches, falls to zero, and columns of water that broke.

References
----------
.. [1] Dorigo, W. A. et al. (2013), doi:10.2136/vzj2012.0097, eq. 7-9 (D07, D08).
"""

import numpy as np

from core.arrays import Bools, Floats
from core.quality.climbs import arrives_within_h
from core.quality.series import Series, window_sums
from core.quality.spikes import AROUND_HOURS, second_difference

BREAK_FROM_KPA = 70.0
BREAK_WITHIN_HOURS = 24.0
BREAK_TO_KPA = 10.0
# Working assumptions, no source.
DRAINED_SHARE, DRAINS_WITHIN_HOURS = 0.2, (3.0, 6.0, 12.0, 18.0, 24.0)
MIN_AROUND = 4  # readings of the day around a break, below which nothing is said


def theta_breaks(series: Series) -> Bools:
    """Steps of water content that no wetting front makes.

    Notes
    -----
    More than 10 % and 0.01 m3/m3 in one reading (eq. 7), ten times the day's mean slope
    (eq. 8), and a second derivative that turns at once (eq. 9). A fall of more than 0.05 to
    zero is one as well.
    """
    x = series.value
    before = series.shift(x, 1)
    change = x - before
    slope = (series.shift(x, -1) - before) / 2
    bend = second_difference(series)
    first, end = series.window(AROUND_HOURS, AROUND_HOURS)
    known = np.isfinite(slope)
    count = window_sums(known.astype(float), first, end)
    with np.errstate(divide="ignore", invalid="ignore", over="ignore"):
        usual = np.abs(window_sums(np.where(known, slope, 0.0), first, end) / count) * 10
        usual = np.where(count >= MIN_AROUND, usual, np.nan)
        turns = np.abs(np.round(np.abs(series.shift(bend, 1) / bend), 1) - 1) < 0.011
        dies = np.abs(bend / series.shift(bend, -2)) > 10
        step = (
            (np.abs(change / x) > 0.1)
            & (np.abs(change) > 0.01)
            & (x != 0)
            & (np.abs(slope) > usual * (1 + 1e-9))
            & turns
            & (bend != 0)
            & dies
        )
    to_zero = (x == 0) & (change < -0.05)
    out: Bools = step | to_zero
    return out


def broken_columns(
    series: Series, watered_since: Floats, refilled_since: Floats, depth_mm: Floats
) -> Bools:
    """Readings from a fall of tension that no water explains until the tube holds again.

    Parameters
    ----------
    watered_since, refilled_since : array, shape (readings,) [h]
        Time since water last came and since the tube was last refilled; inf if never.
    depth_mm : array, shape (readings,) [mm], NaN where unknown

    Notes
    -----
    From 70 kPa or more to 10 or less between one reading and the next, or within a day of
    frequent ones: air may take hours to come in, and then the way down is doubted too. The doubt
    ends with a refill, or when the gauge again holds more than 10; water does not fill the tube.
    Water may have come before the fall began, by as long as it takes down to the tip.
    """
    x, t, c = series.value, series.hours, series.channel
    if x.size < 2:
        return np.zeros(x.shape, bool)
    at = np.arange(x.size)
    high, low = x >= BREAK_FROM_KPA, x <= BREAK_TO_KPA
    before = _last_before(high)
    first_low = low & (_last_before(low) < before)
    known = (before >= 0) & (c[before] == c)
    gone = np.where(known, t - t[before], np.inf)
    fell = first_low & known & ((before == at - 1) | (gone <= BREAK_WITHIN_HOURS))
    explained = (watered_since - arrives_within_h(depth_mm) <= gone) | (refilled_since <= gone)
    broken = np.zeros(x.shape, bool)
    for start in np.flatnonzero(fell & ~explained):
        broken[before[start] + 1 : start] = True
        end = int(np.searchsorted(c, c[start], "right"))
        stretch = slice(start, end)
        mended = np.flatnonzero(
            (refilled_since[stretch] < t[stretch] - t[start]) | (x[stretch] > BREAK_TO_KPA)
        )
        broken[start : start + mended[0] if mended.size else end] = True
    return broken


def _last_before(where: Bools) -> np.ndarray:
    """For each place the last one before it that is marked; -1 where there is none."""
    last = np.maximum.accumulate(np.where(where, np.arange(where.size), -1))
    return np.concatenate([[-1], last[:-1]])


def drains_off(series: Series) -> Bools:
    """Rises of which a fifth is gone at some time of the next day: water that came and drains,
    where a sensor that was moved or failed stays at its new level."""
    x = series.value
    risen = x - series.shift(x, 1)
    lowest = x
    for hours in DRAINS_WITHIN_HOURS:
        _, end = series.window(0.0, hours)
        lowest = np.minimum(lowest, x[end - 1])
    with np.errstate(invalid="ignore"):
        out: Bools = (risen > 0) & (x - lowest > DRAINED_SHARE * risen)
    return out

"""Spikes: readings that stand off from both neighbours and come back.

References
----------
.. [1] Dorigo, W. A. et al. (2013), Global automated quality control of in situ soil
   moisture data, Vadose Zone J. 12(3), doi:10.2136/vzj2012.0097, eq. 4-6 (D06).
"""

import numpy as np

from core.arrays import Bools, Floats
from core.quality.series import Series, window_sums

AROUND_HOURS = 12.0
TENSION_SHARE, TENSION_KPA = 0.3, 10.0
SPIKE_THETA = 0.01  # least size, as that of a break; working assumption [m3/m3]
SPIKE_STEP_HOURS = 6.0  # between rounds days apart anything may have happened


def second_difference(series: Series) -> Floats:
    """x(t-1) - 2 x(t) + x(t+1): a quadratic through three readings, twice derived."""
    x = series.value
    return series.shift(x, 1) - 2 * x + series.shift(x, -1)


def full_window(series: Series, first: np.ndarray, end: np.ndarray, hours: float) -> Bools:
    """Windows in which no reading is missing."""
    with np.errstate(invalid="ignore"):
        wanted = np.round(hours / series.step) + 1
    return end - first >= wanted


def theta_spikes(series: Series) -> Bools:
    """Spikes of water content, of one reading or two equal ones.

    Notes
    -----
    More than 15 % off the reading before (eq. 4), the second derivative before and after it
    alike within 20 % (eq. 5), and the day around it quiet (eq. 6: variance over mean below
    1 in volume percent).
    """
    x = series.value
    before, after, later = series.shift(x, 1), series.shift(x, -1), series.shift(x, -2)
    bend = second_difference(series)
    with np.errstate(divide="ignore", invalid="ignore", over="ignore"):
        ratio = np.round(x / before, 3)
        bends = np.round(np.abs(series.shift(bend, 1) / series.shift(bend, -1)), 3)
    single = ((before < x) & (x > after)) | ((before > x) & (x < after))
    double = (x == after) & (((before < x) & (after > later)) | ((before > x) & (after < later)))
    second_of_two = np.nan_to_num(series.shift(double.astype(float), 1)) > 0
    step = (ratio > 1.15) | (ratio < 0.85)
    spike = (
        (step | second_of_two)
        & (bends > 0.8)
        & (bends < 1.2)
        & (_restlessness(series) < 1)
        & (single | double)
    )
    spike_before = np.nan_to_num(series.shift(spike.astype(float), 1)) > 0
    out: Bools = spike | (spike_before & second_of_two)
    return out


def steps_off(series: Series) -> Bools:
    """Readings more than `SPIKE_THETA` off the one before or two before: in dry soil a share of
    the reading alone is noise."""
    x = series.value
    with np.errstate(invalid="ignore"):
        one, two = (np.abs(x - series.shift(x, k)) for k in (1, 2))
        out: Bools = (one > SPIKE_THETA) | (two > SPIKE_THETA)
    return out


def _restlessness(series: Series) -> Floats:
    """Variance over mean of the day around each reading without itself [volume percent].

    NaN where the day is not whole.
    """
    x = series.value * 100
    first, end = series.window(AROUND_HOURS, AROUND_HOURS)
    n = end - first - 1
    with np.errstate(divide="ignore", invalid="ignore", over="ignore"):
        # Centred before squaring, or rounding would swamp a quiet day.
        level = x.mean() if x.size else 0.0
        y = x - level
        mean = (window_sums(y, first, end) - y) / n
        square = (window_sums(y**2, first, end) - y**2) / n
        variance = np.maximum(square - mean**2, 0) * n / (n - 1)
        out: Floats = variance / (mean + level)
    whole = full_window(series, first, end, 2 * AROUND_HOURS)
    return np.where(whole & (n > 1), out, np.nan)


def tension_spikes(series: Series) -> Bools:
    """A tension more than 30 % and 10 kPa off two neighbours that agree; own rule, no source.

    Only where readings are six hours apart or less.
    """
    x = series.value
    before, after = series.shift(x, 1), series.shift(x, -1)
    with np.errstate(invalid="ignore"):
        level = (before + after) / 2
        off = np.abs(x - level)
        agree = np.abs(before - after) <= np.maximum(0.1 * level, 2.0)
        out: Bools = (
            agree
            & (off > TENSION_KPA)
            & (off > TENSION_SHARE * level)
            & (series.step <= SPIKE_STEP_HOURS)
        )
    return out

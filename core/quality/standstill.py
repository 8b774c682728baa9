"""Sensors that stand still: the very same value for days."""

import numpy as np

from core.arrays import Bools
from core.quality.series import Series

FLAT_HOURS = 48.0
FLAT_MIN_READINGS = 8  # fewer than this may agree by chance, or be a weekly round


def flat_stretches(series: Series) -> Bools:
    """Readings of a constant stretch of two days or more, eight at least."""
    x, t, c = series.value, series.hours, series.channel
    if x.size == 0:
        return np.zeros(0, bool)
    new = np.concatenate([[True], (x[1:] != x[:-1]) | (c[1:] != c[:-1])])
    starts = np.flatnonzero(new)
    ends = np.append(starts[1:], x.size)
    count = ends - starts
    flat = (count >= FLAT_MIN_READINGS) & (t[ends - 1] - t[starts] >= FLAT_HOURS)
    out: Bools = np.repeat(flat, count)
    return out

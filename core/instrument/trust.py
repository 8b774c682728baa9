"""Which readings may be believed, by stated rules; a doubted reading is kept, not used.

References
----------
.. [1] Dorigo, W. A. et al. (2013), Global automated quality control of in situ soil
   moisture data, Vadose Zone J. 12(3), doi:10.2136/vzj2012.0097 (range, saturation, plateau).
"""

from enum import StrEnum
from itertools import pairwise

import numpy as np

from core.arrays import ArrayLike, Bools
from core.instrument.kinds import InstrumentKind, Quantity, kinds

OVER_SATURATION_MARGIN = 0.03  # pore space itself is estimated from texture [m3/m3]
FLAT_HOURS = 48.0
FLAT_MIN_READINGS = 8  # fewer than this may agree by chance, or be a weekly round
BREAK_FROM_KPA = 70.0
BREAK_TO_KPA = 10.0


class Doubt(StrEnum):
    """Why a reading is not used; empty when it is trusted."""

    NONE = ""
    MISSING = "missing"
    RANGE = "outside the instrument's range"
    OVER_SATURATION = "above saturation"
    FLAT = "flat line"
    BROKEN_COLUMN = "water column broke"
    STALE = "too old"
    SUSPECT = "marked suspect"


def _flat(hours: np.ndarray, value: np.ndarray) -> Bools:
    """Readings at the end of a constant stretch of two days or more, per sensor."""
    flat = np.zeros(value.shape, bool)
    for j in range(value.shape[1]):
        seen = np.flatnonzero(~np.isnan(value[:, j]))
        v, t = value[seen, j], hours[seen]
        if v.size < FLAT_MIN_READINGS:
            continue
        starts = np.flatnonzero(np.diff(v, prepend=np.nan) != 0)
        for first, end in zip(starts, np.append(starts[1:], v.size), strict=True):
            if end - first >= FLAT_MIN_READINGS and t[end - 1] - t[first] >= FLAT_HOURS:
                flat[seen[first:end], j] = True
    return flat


def _broken_column(hours: np.ndarray, value: np.ndarray, water_hours: np.ndarray) -> Bools:
    """Readings after a fall from dry to wet that no water explains, until refilled."""
    broken = np.zeros(value.shape, bool)
    for j in range(value.shape[1]):
        seen = np.flatnonzero(~np.isnan(value[:, j]))
        for before, after in pairwise(seen):
            fell = value[before, j] >= BREAK_FROM_KPA and value[after, j] <= BREAK_TO_KPA
            watered = np.any((water_hours > hours[before]) & (water_hours <= hours[after]))
            if fell and not watered:
                broken[after:, j] = True
                break
    return broken


def doubts(
    kind: InstrumentKind,
    hours: ArrayLike,
    value: ArrayLike,
    theta_sat: ArrayLike,
    water_hours: ArrayLike = (),
) -> np.ndarray:
    """The first rule that each reading fails.

    Parameters
    ----------
    kind : InstrumentKind
    hours : array, shape (times,), rising [h, any origin]
    value : array, shape (times, sensors) [m3/m3 or kPa]
        NaN where there is no reading.
    theta_sat : array, shape (sensors,) [m3/m3]
    water_hours : array, shape (waterings,) [h, same origin]
        Irrigations and rain; a tensiometer that falls without any has lost its column.

    Returns
    -------
    array of str, shape (times, sensors)
        Values of `Doubt`; empty where trusted.
    """
    t = np.asarray(hours, float)
    v = np.asarray(value, float)
    facts = kinds()[kind]
    over = np.zeros(v.shape, bool)
    broken = np.zeros(v.shape, bool)
    flat = np.zeros(v.shape, bool)
    if facts.quantity is Quantity.THETA:
        over = v > np.asarray(theta_sat, float) + OVER_SATURATION_MARGIN
        flat = _flat(t, v)
    elif kind is InstrumentKind.TENSIOMETER:
        broken = _broken_column(t, v, np.asarray(water_hours, float))
    return np.select(
        [np.isnan(v), (v < facts.low) | (v > facts.high), broken, over, flat],
        [
            str(Doubt.MISSING),
            str(Doubt.RANGE),
            str(Doubt.BROKEN_COLUMN),
            str(Doubt.OVER_SATURATION),
            str(Doubt.FLAT),
        ],
        default=str(Doubt.NONE),
    )

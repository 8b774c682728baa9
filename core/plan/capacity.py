"""What a source can bring, beside what the blocks on it use; and by when they must begin.

References
----------
.. [1] 1 L/s on 1 ha is 8.64 mm in a day of 24 hours; 18.86 US gallons a minute on an acre are an
   inch a day: both exact by their units.
"""

from dataclasses import dataclass

import numpy as np

from core.arrays import Floats

# By definition [s/h], [L/m3], [mm/m].
SECONDS_PER_HOUR, LITRES_PER_M3, MM_PER_M = 3600.0, 1000.0, 1000.0
# In so many of the years no block may pass refill: eight of ten.
OF_YEARS = 0.8


def capacity_mm_day(flow_l_s: float, area_m2: float, hours: float, efficiency: float) -> float:
    """What a flow brings to the roots of an area each day [mm/day] [1]_.

    Parameters
    ----------
    flow_l_s : float [L/s]
    area_m2 : float [m2]
    hours : float [h], of each day in which it runs
    efficiency : float [-]

    Raises
    ------
    ValueError
        Where there is no area.
    """
    if area_m2 <= 0:
        raise ValueError("area_m2 must be above zero")
    m3 = flow_l_s * SECONDS_PER_HOUR * hours / LITRES_PER_M3
    return m3 * efficiency / area_m2 * MM_PER_M


@dataclass(frozen=True)
class SupplyNeed:
    """Blocks on one source.

    area_m2, efficiency : arrays, shape (blocks,)
    depletion_mm, raw_mm : arrays, shape (blocks,) [mm], at the first day, and what may be missing
    gain_mm : array, shape (years, blocks, days) [mm], use less rain of each day
    """

    area_m2: Floats
    efficiency: Floats
    depletion_mm: Floats
    raw_mm: Floats
    gain_mm: Floats


@dataclass(frozen=True)
class LatestStart:
    """By when watering must begin.

    day : int or None, the last day, from 0, on which it may begin; None where even the first one
        is too late
    kept : float [-], share of the years in which no block passes refill with that start
    never_kept : array of bool, shape (blocks,), those that pass refill in more than two of ten
        years though watering begins on the first day
    """

    day: int | None
    kept: float
    never_kept: np.ndarray


def latest_start(need: SupplyNeed, m3_day: float) -> LatestStart:
    """The last day to begin so that no block passes refill in eight of ten years.

    Parameters
    ----------
    m3_day : float [m3], what the source brings in a day

    Notes
    -----
    Each day's water goes where the largest share of the allowable depletion is gone, as if sets
    could be cut at will: what is too late by this is too late by any run sheet.
    """
    days = need.gain_mm.shape[2]
    passed = _passed(need, m3_day, 0)
    never = passed.mean(axis=0) > 1 - OF_YEARS
    kept = _kept(passed)
    if kept < OF_YEARS:
        return LatestStart(None, kept, never)
    # A later start is never better, so half of the days are left out each time.
    low, high = 0, days
    while high - low > 1:
        middle = (low + high) // 2
        if _kept(_passed(need, m3_day, middle)) >= OF_YEARS:
            low = middle
        else:
            high = middle
    return LatestStart(low, _kept(_passed(need, m3_day, low)), never)


def _kept(passed: np.ndarray) -> float:
    return float((~passed.any(axis=1)).mean())


def _passed(need: SupplyNeed, m3_day: float, start: int) -> np.ndarray:
    """Whether each block passes refill in each year; array of bool, (years, blocks)."""
    years, blocks, days = need.gain_mm.shape
    m3_mm = need.area_m2 / MM_PER_M / need.efficiency
    missing = np.broadcast_to(need.depletion_mm, (years, blocks)).copy()
    passed = np.zeros((years, blocks), bool)
    for day in range(days):
        missing = np.maximum(missing + need.gain_mm[:, :, day], 0.0)
        if day >= start:
            missing -= _shared_out(missing, need.raw_mm, m3_mm, m3_day)
        passed |= missing > need.raw_mm + 1e-9
    return passed


def _shared_out(missing: Floats, raw: Floats, m3_mm: Floats, m3_day: float) -> Floats:
    """Depths of one day [mm]: down to the same share gone of all that are above it, so that the
    water is used up or nothing is missing; arrays (years, blocks)."""
    share = missing / raw
    high, low = share.max(axis=1), np.zeros(missing.shape[0])
    for _ in range(40):
        middle = (high + low) / 2
        used = (np.maximum(missing - middle[:, None] * raw, 0.0) * m3_mm).sum(axis=1)
        enough = used <= m3_day
        high, low = np.where(enough, middle, high), np.where(enough, low, middle)
    out: Floats = np.maximum(missing - high[:, None] * raw, 0.0)
    return out

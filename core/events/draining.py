"""How a wetted soil drains: what it loses at night, when roots take hardly anything."""

from dataclasses import dataclass
from itertools import pairwise

import numpy as np

from core.arrays import Bools, Floats
from core.quality.climbs import DAY_HOURS

# A soil that loses no more than this is drained: what full means [mm/day].
DRAINED_MM_DAY = 1.0
# A night is judged by readings over at least so much of it [h].
LEAST_NIGHT_H = 3.0


@dataclass(frozen=True)
class Night:
    """Loss of a depth of soil over one night, at the rate of a whole day [mm/day]."""

    middle_hours: float
    loss_mm_day: float


def night_slopes(hours: Floats, night: Bools, store_mm: Floats) -> tuple[Floats, Floats]:
    """Loss of each night from several depths of soil at once.

    Parameters
    ----------
    hours : array, shape (times,), rising [h]
    night : array of bool, shape (times,)
    store_mm : array, shape (times, depths) [mm]

    Returns
    -------
    middle_hours : array, shape (nights,) [h]
    loss_mm_day : array, shape (nights, depths), by a straight line; NaN where not known
    """
    rows = np.flatnonzero(night)
    apart = hours[rows[1:]] - hours[rows[:-1]]
    cuts = [0, *(np.flatnonzero(apart > DAY_HOURS / 4) + 1).tolist(), rows.size]
    middle, loss = [], []
    for start, end in pairwise(cuts):
        part = rows[start:end]
        if not part.size or hours[part[-1]] - hours[part[0]] < LEAST_NIGHT_H:
            continue
        off = hours[part] - hours[part].mean()
        middle.append(float(hours[part].mean()))
        loss.append(-(off @ store_mm[part]) / (off @ off) * DAY_HOURS)
    return np.array(middle), np.array(loss).reshape(-1, store_mm.shape[1])


def night_losses(hours: Floats, night: Bools, store_mm: Floats) -> list[Night]:
    """Loss of each night, by a straight line through its readings.

    Parameters
    ----------
    hours : array, shape (times,), rising [h]
    night : array of bool, shape (times,)
    store_mm : array, shape (times,) [mm], NaN where not known
    """
    known = night & ~np.isnan(store_mm)
    middle, loss = night_slopes(hours, known, store_mm[:, None])
    return [Night(m, x) for m, x in zip(middle.tolist(), loss[:, 0].tolist(), strict=True)]


@dataclass(frozen=True)
class Draining:
    """What left downwards after the water had come.

    ends_hours : when no more than 1 mm a day was lost; NaN where it was cut off before
    low_hours, high_hours : the nights before and at which that was seen; NaN as above
    lost_mm : what the nights tell was lost from then till now or till it was over
    """

    ends_hours: float
    low_hours: float
    high_hours: float
    lost_mm: float


def draining(nights: list[Night], from_hours: float, till_hours: float) -> Draining:
    """How long a soil drained after a wetting, and what it lost in that time.

    Parameters
    ----------
    nights : list of Night
        Of the root zone.
    from_hours : float
        When it held most.
    till_hours : float
        The next wetting's beginning, or the last reading.

    Notes
    -----
    A rate is held from half-way to the night before it to half-way to the one after; the first
    one from the wetting on.
    """
    after = [n for n in nights if from_hours <= n.middle_hours <= till_hours]
    lost, since, before = 0.0, from_hours, from_hours
    for k, night in enumerate(after):
        if night.loss_mm_day <= DRAINED_MM_DAY:
            middle = (before + night.middle_hours) / 2
            return Draining(middle, before, night.middle_hours, lost)
        following = after[k + 1].middle_hours if k + 1 < len(after) else till_hours
        until = min((night.middle_hours + following) / 2, till_hours)
        lost += night.loss_mm_day * (until - since) / DAY_HOURS
        since, before = until, night.middle_hours
    nan = float("nan")
    return Draining(nan, nan, nan, lost)

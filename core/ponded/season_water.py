"""A season's water on a ponded field, and what keeping it ponded would have taken."""

from dataclasses import dataclass

import numpy as np

from core.arrays import Floats
from core.outlook.forecast import scores
from core.ponded.field import PondedField
from core.ponded.water import Losses, level_of, store_mm

# A field kept ponded is flooded to the deeper whenever it is down to the shallower (common
# practice, no source) [mm].
CONTINUOUS_LOW_MM, CONTINUOUS_TO_MM = 50.0, 100.0
# What a field would lose at depths at which it was not kept is known no better (working
# assumption; set on simulated fields) [-].
UNSEEN_SIGMA = 0.06


def continuous_levels(field: PondedField) -> tuple[float, float]:
    """Between which levels a field is kept where it is kept ponded [mm]; lower where its bund
    is."""
    to = min(CONTINUOUS_TO_MM, field.highest_mm)
    return min(CONTINUOUS_LOW_MM, to / 2), to


@dataclass(frozen=True)
class SeasonWater:
    """Net water of a field since planting, until now or until it was drained [mm].

    given_mm : as it was logged; rain_mm, use_mm : over the same days
    needed_mm : array, shape (courses,), that the levels which were read have taken
    continuous_mm : array, shape (courses,), that would have kept it ponded
    """

    given_mm: float
    rain_mm: float
    use_mm: float
    needed_mm: Floats
    continuous_mm: Floats

    @property
    def saved(self) -> tuple[float, float, float]:
        """Share saved against keeping it ponded: a tenth, half and nine tenths of the courses [-];
        below zero where more was used.

        Both waters are of the same losses, so that an error of these, of the inlet or of the log
        is in neither alone.
        """
        unseen = 1.0 + UNSEEN_SIGMA * scores(self.continuous_mm.size, 17)
        share = 1.0 - self.needed_mm / np.maximum(unseen * self.continuous_mm, 1.0)
        low, middle, high = np.quantile(share, [0.1, 0.5, 0.9])
        return float(low), float(middle), float(high)


def needed_mm(
    losses: Losses, days: Floats, use_mm: Floats, rain_mm: Floats, level_mm: Floats
) -> Floats:
    """Water that a field took whose level is known, for each course of its losses.

    Parameters
    ----------
    level_mm : array, shape (steps + 1,)
        At the begin of each step and at the end of the last [mm].
    days, use_mm, rain_mm : see `continuous_mm`
    """
    middle = (level_mm[1:] + level_mm[:-1]) / 2
    lost = sum(losses.at(x) * d for x, d in zip(middle, days, strict=True))
    held = store_mm(level_mm[-1], losses.porosity) - store_mm(level_mm[0], losses.porosity)
    out: Floats = use_mm.sum(axis=1) + lost + held - rain_mm.sum()
    return np.maximum(out, 0.0)


def continuous_mm(
    field: PondedField,
    losses: Losses,
    days: Floats,
    use_mm: Floats,
    rain_mm: Floats,
    start_mm: float,
) -> Floats:
    """Water that keeps a field ponded from step to step, for each course of its losses.

    Parameters
    ----------
    days : array, shape (steps,) [day], how long each step lasts
    use_mm, rain_mm : arrays, shape (courses, steps) and (steps,) [mm]
    start_mm : level at the begin of the first step [mm]

    Returns
    -------
    array, shape (courses,) [mm]
    """
    low, to = continuous_levels(field)
    phi = losses.porosity
    store, given = store_mm(start_mm, phi) + np.zeros(phi.shape), np.zeros(phi.shape)
    for k in range(days.size):
        level = level_of(store, phi)
        filled = np.where(level <= low, np.maximum(to - store, 0.0), 0.0)
        given += filled
        gone = losses.at(level_of(store + filled, phi)) * days[k]
        store = np.minimum(store + filled + rain_mm[k] - use_mm[:, k] - gone, field.bund_mm)
    # What stands in it at the end was not used.
    return given - (store - store_mm(start_mm, phi))

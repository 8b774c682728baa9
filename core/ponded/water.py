"""Water in a bunded field from one moment to the next: ponded, and below the surface.

Above the surface a level is a depth of water. Below it the level falls by what is lost over the
drainable porosity, which grows less with depth. Losses are crop use, percolation through the pan
and seepage through the bunds (common practice, no source); percolation goes with the height of
water above the pan (Darcy).
"""

from dataclasses import dataclass

import numpy as np

from core.arrays import ArrayLike, Floats

# The underside of the pan: it begins below the bottom of a tube, which must not go through it, and
# is a hand thick [mm] (working assumption, no source).
PAN_MM = 350.0
# At this depth no pore of a puddled soil would drain if they went on growing fewer as they do above
# the pan, where about half of those at the surface drain [mm] (working assumption, no source).
DEEP_MM = 700.0


@dataclass(frozen=True)
class Losses:
    """What a field loses beside crop use; arrays of one shape, one value for each course.

    percolation_mm_day : with the water at the surface
    seepage_per_day : share of the ponded depth that leaves through the bunds in a day [1/day]
    porosity : drainable, of the soil at the surface [-]
    """

    percolation_mm_day: Floats
    seepage_per_day: Floats
    porosity: Floats

    def at(self, level_mm: ArrayLike) -> Floats:
        """Percolation and seepage at a level [mm/day]."""
        level = np.asarray(level_mm, float)
        down: Floats = self.percolation_mm_day * np.maximum(1.0 + level / PAN_MM, 0.0)
        out: Floats = down + self.seepage_per_day * np.maximum(level, 0.0)
        return out


def store_mm(level_mm: ArrayLike, porosity: ArrayLike) -> Floats:
    """Water above the surface, or missing below it, at a level [mm].

    Parameters
    ----------
    level_mm, porosity : float or arrays, broadcastable
        Porosity that drains at the surface; it grows less with depth, see `DEEP_MM`.

    Notes
    -----
    At a depth d the pores that drain are phi (1 - d / DEEP_MM): d (1 - d / (2 DEEP_MM)) phi of
    water is missing above it.
    """
    level = np.asarray(level_mm, float)
    deep = np.clip(-level, 0.0, DEEP_MM)
    missing = np.asarray(porosity, float) * deep * (1.0 - deep / (2.0 * DEEP_MM))
    return np.where(level > 0, level, -missing)


def level_of(store: ArrayLike, porosity: ArrayLike) -> Floats:
    """The level of a store of water, see `store_mm` [mm]."""
    water = np.asarray(store, float)
    share = np.clip(-2.0 * water / (np.asarray(porosity, float) * DEEP_MM), 0.0, 1.0)
    return np.where(water > 0, water, -DEEP_MM * (1.0 - np.sqrt(1.0 - share)))


@dataclass(frozen=True)
class Courses:
    """Courses of a field's water; arrays.

    level_mm : shape (courses, steps + 1), at the begin of each step and at the end of the last
    overflow_mm, lost_mm : shape (courses, steps), over the bund; percolated and seeped
    """

    level_mm: Floats
    overflow_mm: Floats
    lost_mm: Floats


def run_water(
    start_mm: Floats,
    losses: Losses,
    days: Floats,
    use_mm: Floats,
    water_mm: Floats,
    bund_mm: Floats | float,
) -> Courses:
    """Let the water of fields stand and fall.

    Parameters
    ----------
    start_mm : array, shape (courses,) [mm], levels
    losses : Losses of shape (courses,)
    days : array, shape (courses, steps) or (steps,) [day], how long each step lasts
    use_mm, water_mm : arrays, shape (courses, steps) [mm], crop use; rain and irrigation
    bund_mm : float or array, shape (courses,) [mm]
    """
    steps = use_mm.shape[1]
    length = np.broadcast_to(days, use_mm.shape)
    level = np.empty((start_mm.size, steps + 1))
    over, lost = np.empty(use_mm.shape), np.empty(use_mm.shape)
    level[:, 0] = start_mm
    store = store_mm(start_mm, losses.porosity)
    for k in range(steps):
        gone = losses.at(level[:, k]) * length[:, k]
        store = store + water_mm[:, k] - use_mm[:, k] - gone
        over[:, k] = np.maximum(store - bund_mm, 0.0)
        lost[:, k] = gone
        store = store - over[:, k]
        level[:, k + 1] = level_of(store, losses.porosity)
    return Courses(level, over, lost)

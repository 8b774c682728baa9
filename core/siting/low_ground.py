"""Ground that water runs to and stands on, by the elevation.

References
----------
.. [1] Barnes, R., Lehman, C., Mulla, D. (2014), Priority-flood: an optimal depression-filling and
   watershed-labeling algorithm for digital elevation models, Computers and Geosciences 62:117-127,
   doi:10.1016/j.cageo.2013.04.024.
"""

import heapq

import numpy as np

from core.arrays import Bools, Floats
from core.siting.raster import Raster

# Shallower hollows are within what an elevation map errs by [m]; common practice, no source.
LEAST_DEPTH_M = 0.15


def hollow_depth(elevation_m: Floats, raster: Raster) -> Floats:
    """How deep water would stand at each cell before it ran off over the block's edge [1]_.

    Parameters
    ----------
    elevation_m : array, shape (cells,) [m]
        NaN where it is not known; water leaves there.

    Returns
    -------
    array, shape (cells,) [m]
        NaN where the elevation is.
    """
    ground = raster.spread_out(elevation_m)
    known = np.isfinite(ground)
    level = np.full(ground.shape, np.inf)
    edge = known & ~_within(known)
    waiting = [(float(ground[r, c]), int(r), int(c)) for r, c in np.argwhere(edge)]
    level[edge] = ground[edge]
    heapq.heapify(waiting)
    rows, cols = ground.shape
    while waiting:
        height, row, col = heapq.heappop(waiting)
        for r in range(max(row - 1, 0), min(row + 2, rows)):
            for c in range(max(col - 1, 0), min(col + 2, cols)):
                if known[r, c] and level[r, c] == np.inf:
                    level[r, c] = max(height, ground[r, c])
                    heapq.heappush(waiting, (float(level[r, c]), r, c))
    depth: Floats = (level - ground)[raster.inside]
    return np.where(np.isfinite(elevation_m), depth, np.nan)


def _within(known: Bools) -> Bools:
    """Whether all eight cells around are known too."""
    wide = np.pad(known, 1)
    around = [
        wide[1 + d : wide.shape[0] - 1 + d, 1 + r : wide.shape[1] - 1 + r]
        for d in (-1, 0, 1)
        for r in (-1, 0, 1)
    ]
    found: Bools = np.logical_and.reduce(around)
    return found


def wet_spots(elevation_m: Floats, raster: Raster) -> Bools:
    """Cells in hollows of at least `LEAST_DEPTH_M`, shape (cells,)."""
    with np.errstate(invalid="ignore"):
        return hollow_depth(elevation_m, raster) >= LEAST_DEPTH_M


def flooded(elevation_m: Floats, level_m: float) -> Bools:
    """Cells below the level that floods reach [m], shape (cells,)."""
    with np.errstate(invalid="ignore"):
        return elevation_m < level_m

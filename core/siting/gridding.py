"""Points of one layer put on the block's raster, with what is known of the error."""

from dataclasses import dataclass
from enum import StrEnum

import numpy as np
from scipy.spatial import cKDTree

from core.arrays import Floats, Ints
from core.sentence import sentence
from core.siting.inverse_distance import inverse_distance
from core.siting.kriging import kriged
from core.siting.problem import SitingProblem
from core.siting.raster import Raster
from core.siting.variogram import Variogram, variogram_of

# Share of the variance that must lie in space for kriging to know better than a mean.
LEAST_STRUCTURE = 0.1
# A cell farther from any point than so many usual distances between points has no value.
REACH = 6.0
# Points outside the block that still tell of its edge [m].
BEYOND_M = 30.0
FEWEST_POINTS = 5


class GriddedBy(StrEnum):
    KRIGING = "kriging"
    INVERSE_DISTANCE = "inverse distance"
    AS_GIVEN = "as given"


@dataclass(frozen=True)
class Gridded:
    """A layer on the raster.

    Parameters
    ----------
    value, error : array, shape (cells,)
        By the raster's cells; NaN where no point is near. The error is a standard error in the
        values' unit.
    by : GriddedBy
    points : int
        Points that it was made of.
    variogram : Variogram or None
        Of the values, where there were enough.
    """

    value: Floats
    error: Floats
    by: GriddedBy
    points: int
    variogram: Variogram | None


def gridded(x: Floats, y: Floats, value: Floats, raster: Raster) -> Gridded:
    """Points on the raster: kriged where they are enough and tell a pattern.

    Points in one cell are put together first. Otherwise the value is by inverse distance, and the
    error what the points differ by from each other.

    Parameters
    ----------
    x, y : array, shape (n,) [m]
        On the raster's map.
    value : array, shape (n,)
        Finite.

    Raises
    ------
    SitingProblem
        When fewer than `FEWEST_POINTS` lie in the block or near it.
    """
    x, y, value = _near_block(x, y, value, raster)
    count = len(x)
    x, y, value = one_a_cell(x, y, value, raster.cell_m)
    if len(x) < FEWEST_POINTS:
        raise SitingProblem(
            sentence(
                "Only {count} points lie in the block; at least {fewest} are needed. Is it another "
                "block, or another projection?",
                count=count,
                fewest=FEWEST_POINTS,
            )
        )
    at_x, at_y = raster.middles()
    variogram = variogram_of(x, y, value)
    if variogram is not None and variogram.structure >= LEAST_STRUCTURE:
        found, error = kriged(x, y, value, variogram, at_x, at_y)
        by = GriddedBy.KRIGING
    else:
        found, one_error = inverse_distance(x, y, value, at_x, at_y)
        error, by = np.full(len(at_x), one_error), GriddedBy.INVERSE_DISTANCE
    far = ~_within_reach(x, y, at_x, at_y)
    return Gridded(np.where(far, np.nan, found), np.where(far, np.nan, error), by, count, variogram)


def _near_block(
    x: Floats, y: Floats, value: Floats, raster: Raster
) -> tuple[Floats, Floats, Floats]:
    east = raster.west + raster.cols * raster.cell_m + BEYOND_M
    south = raster.north - raster.rows * raster.cell_m - BEYOND_M
    near = (x >= raster.west - BEYOND_M) & (x <= east)
    near &= (y >= south) & (y <= raster.north + BEYOND_M)
    return x[near], y[near], value[near]


def one_a_cell(x: Floats, y: Floats, value: Floats, cell_m: float) -> tuple[Floats, Floats, Floats]:
    """The mean place and value of the points in each square of a side, shape (squares,) each."""
    if not len(x):
        return x, y, value
    col = ((x - x.min()) // cell_m).astype(np.int64)
    row = ((y - y.min()) // cell_m).astype(np.int64)
    _, square = np.unique(row * (int(col.max()) + 1) + col, return_inverse=True)
    count = np.bincount(square)
    at_x, at_y, mean = (np.bincount(square, v) / count for v in (x, y, value))
    return at_x, at_y, mean


def _within_reach(x: Floats, y: Floats, at_x: Floats, at_y: Floats) -> Ints:
    points = np.column_stack([x, y])
    tree = cKDTree(points)
    apart = float(np.median(tree.query(points, k=2)[0][:, 1]))
    nearest = tree.query(np.column_stack([at_x, at_y]))[0]
    return nearest <= REACH * apart

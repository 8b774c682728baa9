"""Points that differ from all that lies around them.

References
----------
.. [1] Leys, C. et al. (2013), Detecting outliers: do not use standard deviation around the mean,
   use absolute deviation around the median, J. Exp. Soc. Psychol. 49:764-766,
   doi:10.1016/j.jesp.2013.03.013.
"""

import numpy as np

from core.arrays import Bools, Floats, Ints

# A normal spread is this many median absolute deviations [1]_.
SPREADS_PER_MAD = 1.4826
# Points of a square and its eight neighbours that make a judgement; fewer are left alone.
FEWEST_AROUND = 8
# The least spread around a point, as a share of that of all; common practice, no source.
LEAST_SPREAD = 0.1
# Side of a square [m]: with its neighbours it reaches over four swaths of a usual harvester.
SQUARE_M = 10.0


def local_outliers(x: Floats, y: Floats, value: Floats, spreads: float) -> Bools:
    """Whether a value lies more than so many robust spreads from the median around it.

    Around it are its square of `SQUARE_M` and the eight squares beside it.

    Parameters
    ----------
    x, y : array, shape (n,) [m]
    value : array, shape (n,)
    spreads : float [-]

    Returns
    -------
    array of bool, shape (n,)
    """
    col = ((x - x.min()) // SQUARE_M).astype(np.int64)
    row = ((y - y.min()) // SQUARE_M).astype(np.int64)
    shape = int(row.max()) + 1, int(col.max()) + 1
    square = row * shape[1] + col
    used, index, count = np.unique(square, return_inverse=True, return_counts=True)
    centre = _around(_medians(index, value, count), used, shape)
    off = np.abs(value - centre[index])
    spread = SPREADS_PER_MAD * _around(_medians(index, off, count), used, shape)
    enough = _sums_around(count, used, shape) >= FEWEST_AROUND
    # Where all values around are alike, one that differs by a hair is no error.
    middle = np.median(value)
    least = LEAST_SPREAD * SPREADS_PER_MAD * float(np.median(np.abs(value - middle)))
    return (off > spreads * np.maximum(spread, least)[index]) & enough[index]


def _medians(index: Ints, value: Floats, count: Ints) -> Floats:
    """The median of each square's values, the lower of two in the middle."""
    order = np.lexsort((value, index))
    begin = np.concatenate([[0], np.cumsum(count)[:-1]])
    return value[order][begin + (count - 1) // 2]


def _around(of_square: Floats, used: Ints, shape: tuple[int, int]) -> Floats:
    """The median over each used square and the eight beside it."""
    return np.nanmedian(_neighbours(of_square, used, shape), axis=0)


def _sums_around(count: Ints, used: Ints, shape: tuple[int, int]) -> Floats:
    return np.nansum(_neighbours(count.astype(float), used, shape), axis=0)


def _neighbours(of_square: Floats, used: Ints, shape: tuple[int, int]) -> Floats:
    """Each used square's figure and those of the squares beside it, NaN where there is none."""
    row, col = np.divmod(used, shape[1])
    found = np.full((9, len(used)), np.nan)
    for k, (down, right) in enumerate((d, r) for d in (-1, 0, 1) for r in (-1, 0, 1)):
        near_row, near_col = row + down, col + right
        on = (near_row >= 0) & (near_row < shape[0]) & (near_col >= 0) & (near_col < shape[1])
        wanted = near_row * shape[1] + near_col
        place = np.minimum(np.searchsorted(used, wanted), len(used) - 1)
        there = on & (used[place] == wanted)
        found[k, there] = of_square[place[there]]
    return found

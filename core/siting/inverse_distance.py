"""Values between points by the inverse square of the distance, where no variogram can be made.

References
----------
.. [1] Shepard, D. (1968), A two-dimensional interpolation function for irregularly-spaced data,
   Proc. 23rd ACM National Conference, 517-524, doi:10.1145/800186.810616.
"""

import numpy as np
from scipy.spatial import cKDTree

from core.arrays import Floats

NEAREST = 12
POWER = 2


def inverse_distance(
    x: Floats, y: Floats, value: Floats, at_x: Floats, at_y: Floats
) -> tuple[Floats, float]:
    """Estimates at places, and the error that the points themselves show [1]_.

    Parameters
    ----------
    x, y, value : array, shape (n,) [m], [m], [unit]
        No two at one place.
    at_x, at_y : array, shape (m,) [m]

    Returns
    -------
    value : array, shape (m,)
    error : float
        Root mean square of what each point differs by from what the others say; NaN of one alone.
    """
    places = np.column_stack([x, y])
    tree = cKDTree(places)
    count = min(NEAREST, len(x))
    distance, near = tree.query(np.column_stack([at_x, at_y]), k=[*range(1, count + 1)])
    found = _weighted(distance, value[near])
    if len(x) < 2:
        return found, float("nan")
    others = min(NEAREST + 1, len(x))
    distance, near = tree.query(places, k=[*range(2, others + 1)])
    left_out = _weighted(distance, value[near])
    return found, float(np.sqrt(np.mean((left_out - value) ** 2)))


def _weighted(distance: Floats, value: Floats) -> Floats:
    # A place on a point has that point's value, and no division by zero.
    weight = 1 / np.maximum(distance, 1e-6) ** POWER
    return (weight * value).sum(axis=1) / weight.sum(axis=1)

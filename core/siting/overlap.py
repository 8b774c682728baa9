"""How much of a swath a harvester had harvested before."""

import numpy as np

from core.arrays import Floats, Ints
from core.siting.yield_points import YieldPoints, headings

# Places across the swath that are looked at, as shares of its width from the middle.
ACROSS = np.array([-0.4, -0.2, 0.0, 0.2, 0.4])
# Fields of the ground that is kept in mind, at most; beyond it they are made larger.
MOST_FIELDS = 50_000_000


def harvested_before(points: YieldPoints, of_pass: Ints) -> Floats:
    """Share of the swath at each point that an earlier pass had taken.

    The ground is marked in squares of a fifth of the width, by the pass that came first.

    Parameters
    ----------
    of_pass : array of int, shape (n,)
        Rising; see `passes`.

    Returns
    -------
    array, shape (n,) [-]
        0 where the width is not known.
    """
    share = np.zeros(len(points))
    if points.width_m is None or len(points) < 2:
        return share
    heading = np.radians(headings(points))
    known = np.isfinite(points.width_m) & (points.width_m > 0) & np.isfinite(heading)
    if not known.any():
        return share
    x, y, width = points.x[known], points.y[known], points.width_m[known]
    # To the right of the way: east where it goes north.
    right_x, right_y = np.cos(heading[known]), -np.sin(heading[known])
    off = width[:, None] * ACROSS
    at_x, at_y = x[:, None] + right_x[:, None] * off, y[:, None] + right_y[:, None] * off
    extent = float(np.ptp(at_x)) * float(np.ptp(at_y))
    side = max(float(np.median(width)) / 5, (extent / MOST_FIELDS) ** 0.5)
    col = ((at_x - at_x.min()) // side).astype(np.int64)
    row = ((at_y - at_y.min()) // side).astype(np.int64)
    field = row * (int(col.max()) + 1) + col
    taken = np.repeat(of_pass[known].astype(np.int32), len(ACROSS))
    first = np.empty(int(field.max()) + 1, np.int32)
    # Written from the last to the first: what stays is the pass that came first.
    first[field.ravel()[::-1]] = taken[::-1]
    share[known] = (first[field] < of_pass[known][:, None]).mean(axis=1)
    return share

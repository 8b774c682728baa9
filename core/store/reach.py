"""How deep a wetting went, from the sensors that answered it."""

import numpy as np

from core.arrays import ArrayLike

RISE = 0.04  # share of available water that counts as an answer; working assumption, no source
WINDOW_HOURS = 24.0


def wetting_reach(
    hours: ArrayLike,
    fraction: ArrayLike,
    depth_mm: ArrayLike,
    start_hours: float,
    end_hours: float,
) -> float | None:
    """Depth of the deepest sensor that answered a wetting.

    Parameters
    ----------
    hours : array, shape (times,), rising [h]
    fraction : array, shape (times, sensors) [-]
        Share of available water; NaN where not trusted.
    depth_mm : array, shape (sensors,), rising [mm]
    start_hours, end_hours : float [h]

    Returns
    -------
    float [mm] or None
        A sensor answers when its highest share up to a day after the end lies 0.04 above
        its last one before the start. None when none did, or none was heard before and after.
    """
    t = np.asarray(hours, float)
    share = np.asarray(fraction, float)
    depth = np.asarray(depth_mm, float)
    before = t <= start_hours
    after = (t > start_hours) & (t <= end_hours + WINDOW_HOURS)
    reached = None
    for j in range(depth.size):
        earlier = share[before & ~np.isnan(share[:, j]), j]
        later = share[after & ~np.isnan(share[:, j]), j]
        if earlier.size and later.size and later.max() - earlier[-1] >= RISE:
            reached = float(depth[j])
    return reached

"""Water that is due by a share of what the crop uses."""

import numpy as np

from core.arrays import ArrayLike, Floats


def owed_mm(
    start_mm: ArrayLike, use_mm: Floats, share: ArrayLike, water_mm: Floats, most_mm: ArrayLike
) -> Floats:
    """Share of the use less the water that came, added up by day [mm].

    Parameters
    ----------
    start_mm : array, shape (...) [mm]
    use_mm, water_mm : array, shape (..., days) [mm/day]
        Use without stress; rain that entered and irrigation.
    share : array, broadcastable to (..., days) [-]
    most_mm : array, broadcastable to (..., days) [mm]
        No more is ever due than is missing from the root zone.

    Returns
    -------
    array, shape (..., days + 1) [mm]
        Water beyond what is due is not carried over: it went to the crop or below its roots.
    """
    days = use_mm.shape[-1]
    share = np.broadcast_to(share, use_mm.shape)
    most = np.broadcast_to(most_mm, use_mm.shape)
    out = np.empty((*use_mm.shape[:-1], days + 1))
    out[..., 0] = start_mm
    for d in range(days):
        due = out[..., d] + share[..., d] * use_mm[..., d] - water_mm[..., d]
        out[..., d + 1] = np.clip(due, 0.0, most[..., d])
    return out

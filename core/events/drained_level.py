"""What a sensor reads when its soil has drained: where no more than 1 mm a day passes it.

References
----------
.. [1] Hillel, D. (1998), Environmental Soil Physics, ch. 16: under gravity alone the flux past a
   depth is the conductivity of its content; field capacity is where it has become negligible.
"""

import numpy as np

from core.arrays import Floats
from core.events.draining import DRAINED_MM_DAY, night_slopes
from core.events.reach import Reach
from core.events.record import SiteRecord

# Water has come to rest above a sensor so long after the last of it came [h].
AT_REST_H = 6.0
# Where the first night already loses less than this, the soil was drained before [mm/day].
LEAST_FIRST_MM_DAY = 0.7
# The next sensors below answered too, or dry soil may have drawn the water down.
ANSWERED_BELOW = 2


def drained_levels(
    record: SiteRecord, reach: Reach, at_rest_hours: float, until_hours: float
) -> Floats:
    """Content of each sensor when no more than 1 mm a day passed it at night [1]_.

    Parameters
    ----------
    at_rest_hours : float
        From when on nothing more comes from above.
    until_hours : float
        The next wetting's beginning, or the last reading.

    Returns
    -------
    array, shape (sensors,) [m3/m3]
        NaN where the water did not clearly pass a sensor, or was not seen to drain.

    Notes
    -----
    What passes a sensor at night is what the soil above it loses then, when roots take hardly
    anything. The level lies on the straight line between the last night that lost more and the
    first one that lost no more.
    """
    site = record.site
    out = np.full(site.depth_mm.shape, np.nan)
    passed = [j for j in range(out.size) if _clearly_passed(site.depth_mm, reach, j)]
    if not passed:
        return out
    rows = slice(record.row_at(at_rest_hours), record.row_at(until_hours) + 1)
    theta = record.theta[rows]
    above = record.above(passed)
    silent = np.isnan(theta)
    store = np.where(silent, 0.0, theta) @ above
    # A silent sensor spoils what it has a part in, and nothing else.
    store[silent.astype(float) @ (above > 0) > 0] = np.nan
    middle, loss = night_slopes(site.hours[rows], record.night[rows], store)
    at = np.searchsorted(site.hours[rows], middle, "right") - 1
    for k, j in enumerate(passed):
        out[j] = _crossing(theta[at, j], loss[:, k])
    return out


def _clearly_passed(depth_mm: Floats, reach: Reach, sensor: int) -> bool:
    below = sensor + ANSWERED_BELOW
    if below < depth_mm.size:
        return bool(reach.low_mm >= depth_mm[below])
    return reach.beyond_sensors


def _crossing(level: Floats, loss_mm_day: Floats) -> float:
    """The level at which the loss comes down to 1 mm a day; NaN where it is not seen to."""
    known = ~(np.isnan(level) | np.isnan(loss_mm_day))
    level, loss = level[known], loss_mm_day[known]
    low = loss <= DRAINED_MM_DAY
    # One night may be low by chance: the next one has to be so as well, where there is one.
    drained = np.flatnonzero(low & np.append(low[1:], True))
    if not drained.size:
        return float("nan")
    k = int(drained[0])
    if k == 0:
        return float(level[0]) if loss[0] >= LEAST_FIRST_MM_DAY else float("nan")
    share = (loss[k - 1] - DRAINED_MM_DAY) / (loss[k - 1] - loss[k])
    return float(level[k - 1] + share * (level[k] - level[k - 1]))

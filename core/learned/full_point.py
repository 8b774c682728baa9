"""The full point that a sensor has shown: what it drained to, event by event.

References
----------
.. [1] Efron, B., Tibshirani, R. J. (1993), An Introduction to the Bootstrap, ch. 13: percentile
   intervals, here of a median.
"""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from core.events.stored import EIGHT_OF_TEN

# Fewer events are chance (common practice, no source).
FEWEST_EVENTS = 3
RESAMPLES = 400
# What the way of telling it is off by itself, whatever the count, and the spread of a median beyond
# which nothing is told: set on simulated fields of two truths, see docs/events.md [m3/m3].
OWN_SIGMA = 0.010
WIDEST_SIGMA = 0.006


@dataclass(frozen=True)
class FullPoint:
    """Content when drained: median of events and its middle 80 percent [m3/m3]."""

    events: int
    theta: float
    low: float
    high: float


def full_point(levels: Sequence[float]) -> FullPoint | None:
    """The full point of a sensor from what it drained to after each wetting.

    Parameters
    ----------
    levels : sequence of float [m3/m3]
        Of `core.events.drained_level.drained_levels`, NaN left out.

    Returns
    -------
    FullPoint or None
        None where fewer than three events tell it, or they lie too far apart.

    Notes
    -----
    The spread of the median is that of its bootstrap [1]_ and what the method itself is off by.
    """
    known = np.asarray(levels, float)
    known = known[~np.isnan(known)]
    if known.size < FEWEST_EVENTS:
        return None
    # Every sensor draws the same places: no answer hangs on the order of sensors.
    rng = np.random.default_rng(known.size)
    drawn = known[rng.integers(0, known.size, (RESAMPLES, known.size))]
    spread = float(np.median(drawn, axis=1).std())
    if spread > WIDEST_SIGMA:
        return None
    off = EIGHT_OF_TEN * float(np.hypot(spread, OWN_SIGMA))
    middle = float(np.median(known))
    return FullPoint(int(known.size), middle, middle - off, middle + off)
